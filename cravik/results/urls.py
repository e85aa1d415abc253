from django.urls import path

from cravik.results import views

app_name = "results"
urlpatterns = [path("", views.links, name="links")]
