from django.contrib.auth.views import LogoutView
from django.urls import path, re_path

from cravik.setup import (
    conditions_views,
    default_views,
    home_views,
    host_views,
    kit_views,
    message_views,
    password_views,
    views,
)

app_name = "setup"
urlpatterns = [
    path("start/", views.start, name="start"),
    path("sign-in/", views.SignInView.as_view(), name="sign_in"),
    path("sign-up/", views.sign_up, name="sign_up"),
    path("sign-up/<str:signed>/", views.confirm_sign_up, name="confirm_sign_up"),
    path("sign-out/", LogoutView.as_view(), name="sign_out"),
    path("forgotten/", password_views.forgotten, name="forgotten"),
    path("new-password/<uidb64>/<token>/", password_views.NewPasswordView.as_view(), name="new_password"),
    path("setup/password/", password_views.change_password, name="change_password"),
    path("setup/", home_views.home, name="home"),
    path("setup/business/", home_views.business, name="business"),
    path("setup/no-business/", views.no_business, name="no_business"),
    path("setup/choose/", views.choose, name="choose"),
    path("setup/looks/", kit_views.kits, name="kits"),
    path("setup/looks/new/", kit_views.make, name="make_kit"),
    path("setup/looks/<id:kit_id>/", kit_views.kit, name="kit"),
    path("setup/looks/<id:kit_id>/check/", kit_views.check, name="kit_check"),
    path("setup/looks/<id:kit_id>/sample/", kit_views.sample, name="kit_sample"),
    re_path(r"^setup/looks/(?P<kit_id>\d{1,18})/(?P<name>default|remove)/$", kit_views.act, name="kit_act"),
    path("setup/domain/", host_views.hosts, name="hosts"),
    re_path(r"^setup/domain/(?P<host_id>\d{1,18})/(?P<name>check|main|forget)/$", host_views.host_act, name="host_act"),
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
