from django.urls import path

from cravik.share import handle_views
from cravik.share.codes import views
from cravik.share.on_pages import site_views

app_name = "share_setup"
urlpatterns = [
    path("handle/", handle_views.handle, name="handle"),
    path("handle/check/", handle_views.handle_check, name="handle_check"),
    path("sites/", site_views.sites, name="sites"),
    path("looks/<id:kit_id>/code/", views.kit_code, name="kit_code"),
    path("looks/<id:kit_id>/code/shown/", views.kit_code_shown, name="kit_code_shown"),
]
