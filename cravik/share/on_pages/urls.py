from django.urls import path

from cravik.share.on_pages import views

app_name = "on_page"
urlpatterns = [
    path("k/<slug:code>/on-page/1.json", views.answer, name="answer"),
    path("k/<slug:code>/on-page/button.png", views.picture, name="picture"),
    path("on-page/1.js", views.script, name="script"),
]
