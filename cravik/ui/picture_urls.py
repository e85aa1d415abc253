from django.urls import path

from cravik.ui import views

app_name = "pictures"
urlpatterns = [path("<str:name>-<int:width>.webp", views.show_picture, name="show")]
