from django.urls import path

from cravik.catalogue import picture_views

app_name = "pictures"
urlpatterns = [path("<str:name>-<int:width>.webp", picture_views.show, name="show")]
