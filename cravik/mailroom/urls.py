from django.urls import path

from cravik.mailroom import views

app_name = "mailroom"
urlpatterns = [
    path("", views.letters, name="letters"),
    path("<int:letter_id>/", views.letter, name="letter"),
    path("<int:letter_id>/again/", views.again, name="again"),
    path("<int:letter_id>/body/", views.letter_body, name="letter_body"),
    path("<int:letter_id>/letter.eml", views.letter_file, name="letter_file"),
]
