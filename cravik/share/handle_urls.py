from django.urls import path, re_path

from cravik.share import handle_views

app_name = "handle"
urlpatterns = [
    path("<slug:name>/", handle_views.paid_to, name="page"),
    re_path(r"^(?P<name>[-a-zA-Z0-9_]+)/(?P<sum_>.+?)/?$", handle_views.paid_to, name="sum"),
]
