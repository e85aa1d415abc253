from django.urls import path

from cravik.ui import views

app_name = "ui"
urlpatterns = [path("samples/", views.samples, name="samples")]
