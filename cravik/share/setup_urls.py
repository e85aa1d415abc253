from django.urls import path

from cravik.share import handle_views
from cravik.share.codes import views
from cravik.share.on_pages import site_views

app_name = "share_setup"
urlpatterns = [
    path("handle/", handle_views.handle, name="handle"),
    path("handle/check/", handle_views.handle_check, name="handle_check"),
    path("sites/", site_views.sites, name="sites"),
    path("looks/<id:look_id>/code/", views.look_code, name="look_code"),
    path("looks/<id:look_id>/code/shown/", views.look_code_shown, name="look_code_shown"),
]
