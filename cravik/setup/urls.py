from django.urls import path, re_path

from cravik.setup import (
    conditions_views,
    default_views,
    home_views,
    host_views,
    installation_views,
    kit_views,
    message_views,
)

app_name = "setup"
urlpatterns = [
    path("setup/", home_views.home, name="home"),
    path("setup/business/", home_views.business, name="business"),
    path("setup/looks/", kit_views.kits, name="kits"),
    path("setup/looks/new/", kit_views.make, name="make_kit"),
    path("setup/looks/<id:kit_id>/", kit_views.kit, name="kit"),
    path("setup/looks/<id:kit_id>/check/", kit_views.check, name="kit_check"),
    path("setup/looks/<id:kit_id>/sample/", kit_views.sample, name="kit_sample"),
    re_path(r"^setup/looks/(?P<kit_id>\d{1,18})/(?P<name>default|remove)/$", kit_views.act, name="kit_act"),
    path("setup/domain/", host_views.hosts, name="hosts"),
    re_path(r"^setup/domain/(?P<host_id>\d{1,18})/(?P<name>check|main|forget)/$", host_views.host_act, name="host_act"),
    path("setup/installation/", installation_views.installation, name="installation"),
    path("setup/installation/back-up/", installation_views.back_up, name="back_up"),
    path("setup/installation/told/", installation_views.put_aside, name="restore_told"),
    path("setup/installation/<str:name>/", installation_views.download, name="backup_download"),
    path("setup/installation/<str:name>/remove/", installation_views.remove_backup, name="backup_remove"),
    path("setup/installation/<str:name>/verify/", installation_views.verify_backup, name="backup_verify"),
    path("setup/installation/<str:name>/restore/", installation_views.restore, name="backup_restore"),
    path("setup/terms/", conditions_views.all_conditions, name="all_conditions"),
    path("setup/terms/new/", conditions_views.new, name="new_conditions"),
    path("setup/terms/<id:conditions_id>/", conditions_views.conditions, name="conditions"),
    re_path(
        r"^setup/terms/(?P<conditions_id>\d{1,18})/(?P<name>default|put-away)/$",
        conditions_views.act,
        name="conditions_act",
    ),
    path("setup/messages/", message_views.all_messages, name="messages"),
    path("setup/messages/<slug:kind>/", message_views.message, name="message"),
    path("setup/messages/<slug:kind>/original/", message_views.original, name="message_original"),
    path("setup/messages/<slug:kind>/sample/", message_views.sample, name="message_sample"),
    path("setup/tax/example/", default_views.example_of_tax, name="tax_example"),
    path("setup/<slug:subject>/", default_views.decision, name="decision"),
]
