from django.urls import path, re_path

from cravik.share import views

app_name = "share"
urlpatterns = [
    path("<int:link_id>/hand-out/", views.hand_out, name="hand_out"),
    re_path(r"^(?P<link_id>\d{1,18})/qr\.(?P<kind>svg|png)$", views.qr_picture, name="qr_picture"),
    path("<int:link_id>/button/", views.button_preview, name="button_preview"),
]
