from django.urls import path

from cravik.mailroom import views

app_name = "mailroom"
urlpatterns = [
    path("", views.letters, name="letters"),
    path("<id:letter_id>/", views.letter, name="letter"),
    path("<id:letter_id>/again/", views.again, name="again"),
    path("<id:letter_id>/body/", views.letter_body, name="letter_body"),
    path("<id:letter_id>/letter.eml", views.letter_file, name="letter_file"),
]
