from django.urls import path, re_path

from cravik.share import sending_views, spot_views, views
from cravik.share.codes import views as code_views
from cravik.share.on_pages import design_views, placing_views, site_views

app_name = "share"
urlpatterns = [
    path("<id:link_id>/hand-out/", views.hand_out, name="hand_out"),
    path("<id:link_id>/findable/", views.findable, name="findable"),
    path("<id:link_id>/send/<slug:channel>/", sending_views.send, name="send"),
    path("<id:link_id>/spots/<id:spot_id>/", spot_views.spot, name="spot"),
    path("<id:link_id>/spots/<id:spot_id>/end/", spot_views.end, name="end"),
    path("<id:link_id>/spots/<id:spot_id>/move/", spot_views.move, name="move"),
    path("<id:link_id>/sites/", site_views.link_sites, name="link_sites"),
    path("<id:link_id>/spots/<id:spot_id>/page/", placing_views.placing, name="placing"),
    path("<id:link_id>/spots/<id:spot_id>/page/pasted/", placing_views.pasted, name="pasted"),
    path("<id:link_id>/spots/<id:spot_id>/page/plain/<slug:kind>/", placing_views.plain_preview, name="plain_preview"),
    path("<id:link_id>/spots/<id:spot_id>/button/", design_views.design, name="button_design"),
    path("<id:link_id>/spots/<id:spot_id>/button/shown/", design_views.shown, name="button_shown"),
    path("<id:link_id>/spots/<id:spot_id>/button/tried/<str:design>/", design_views.tried, name="button_tried"),
    path(
        "<id:link_id>/spots/<id:spot_id>/button/tried/<str:design>/on-page/1.json",
        design_views.tried_answer,
        name="button_tried_answer",
    ),
    path("<id:link_id>/spots/<id:spot_id>/code/", code_views.spot_code, name="spot_code"),
    path("<id:link_id>/spots/<id:spot_id>/code/shown/", code_views.spot_code_shown, name="spot_code_shown"),
    re_path(
        r"^(?P<link_id>\d{1,18})/spots/(?P<spot_id>\d{1,18})/code\.(?P<kind>svg|png|pdf|eps)$",
        code_views.code_file,
        name="code_file",
    ),
]
