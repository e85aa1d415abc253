from django.urls import re_path

from cravik.ui import views

app_name = "pictures"
urlpatterns = [re_path(r"^(?P<name>[0-9a-f]{32})-(?P<width>[0-9]{1,5})\.webp$", views.show_picture, name="show")]
