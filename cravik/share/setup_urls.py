from django.urls import path

from cravik.share.codes import views

app_name = "share_setup"
urlpatterns = [
    path("looks/<int:kit_id>/code/", views.kit_code, name="kit_code"),
    path("looks/<int:kit_id>/code/shown/", views.kit_code_shown, name="kit_code_shown"),
]
