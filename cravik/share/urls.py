from django.urls import path, re_path

from cravik.share import sending_views, spot_views, views
from cravik.share.codes import views as code_views

app_name = "share"
urlpatterns = [
    path("<int:link_id>/hand-out/", views.hand_out, name="hand_out"),
    path("<int:link_id>/findable/", views.findable, name="findable"),
    path("<int:link_id>/send/<slug:channel>/", sending_views.send, name="send"),
    path("<int:link_id>/spots/<int:spot_id>/", spot_views.spot, name="spot"),
    path("<int:link_id>/spots/<int:spot_id>/end/", spot_views.end, name="end"),
    path("<int:link_id>/spots/<int:spot_id>/move/", spot_views.move, name="move"),
    path("<int:link_id>/spots/<int:spot_id>/button/", spot_views.button_preview, name="button_preview"),
    path("<int:link_id>/spots/<int:spot_id>/button/pasted/", spot_views.pasted, name="pasted"),
    path("<int:link_id>/spots/<int:spot_id>/code/", code_views.spot_code, name="spot_code"),
    path("<int:link_id>/spots/<int:spot_id>/code/shown/", code_views.spot_code_shown, name="spot_code_shown"),
    re_path(
        r"^(?P<link_id>\d{1,18})/spots/(?P<spot_id>\d{1,18})/code\.(?P<kind>svg|png|pdf|eps)$",
        code_views.code_file,
        name="code_file",
    ),
]
