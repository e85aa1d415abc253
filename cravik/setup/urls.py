from django.urls import path, re_path

from cravik.setup import (
    default_views,
    home_views,
    host_views,
    installation_views,
    look_views,
    message_views,
    running_views,
    terms_views,
)

app_name = "setup"
urlpatterns = [
    path("setup/", home_views.home, name="home"),
    path("setup/business/", home_views.business, name="business"),
    path("setup/looks/", look_views.looks, name="looks"),
    path("setup/looks/new/", look_views.make, name="make_look"),
    path("setup/looks/<id:look_id>/", look_views.look, name="look"),
    path("setup/looks/<id:look_id>/check/", look_views.check, name="look_check"),
    path("setup/looks/<id:look_id>/sample/", look_views.sample, name="look_sample"),
    re_path(r"^setup/looks/(?P<look_id>\d{1,18})/(?P<name>default|remove)/$", look_views.act, name="look_act"),
    path("setup/domain/", host_views.hosts, name="hosts"),
    re_path(r"^setup/domain/(?P<host_id>\d{1,18})/(?P<name>check|main|forget)/$", host_views.host_act, name="host_act"),
    path("setup/installation/", installation_views.installation, name="installation"),
    path("setup/installation/back-up/", installation_views.back_up, name="back_up"),
    path("setup/installation/told/", installation_views.put_aside, name="restore_told"),
    path("setup/installation/<str:name>/", installation_views.download, name="backup_download"),
    path("setup/installation/<str:name>/remove/", installation_views.remove_backup, name="backup_remove"),
    path("setup/installation/<str:name>/verify/", installation_views.verify_backup, name="backup_verify"),
    path("setup/installation/<str:name>/restore/", installation_views.restore, name="backup_restore"),
    path("setup/terms/", terms_views.all_terms, name="all_terms"),
    path("setup/terms/new/", terms_views.new, name="new_terms"),
    path("setup/terms/<id:terms_id>/", terms_views.terms, name="terms"),
    re_path(
        r"^setup/terms/(?P<terms_id>\d{1,18})/(?P<name>default|archive)/$",
        terms_views.act,
        name="terms_act",
    ),
    path("setup/messages/", message_views.all_messages, name="messages"),
    path("setup/messages/<slug:kind>/", message_views.message, name="message"),
    path("setup/messages/<slug:kind>/original/", message_views.original, name="message_original"),
    path("setup/messages/<slug:kind>/sample/", message_views.sample, name="message_sample"),
    path("setup/later-payments/", running_views.running, name="running"),
    path("setup/tax/example/", default_views.example_of_tax, name="tax_example"),
    path("setup/<slug:subject>/", default_views.decision, name="decision"),
]
