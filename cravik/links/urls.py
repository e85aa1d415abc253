from django.urls import path, re_path

from cravik.links import views

app_name = "links"
urlpatterns = [
    path("new/", views.new, name="new"),
    path("<int:link_id>/", views.bench, name="bench"),
    path("<int:link_id>/name/", views.rename, name="rename"),
    path("<int:link_id>/address/", views.change_address, name="change_address"),
    re_path(r"^(?P<link_id>\d{1,18})/(?P<name>publish|pause|resume|end)/$", views.step, name="step"),
]
