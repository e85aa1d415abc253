from django.urls import path

from cravik.results import version_views, views

app_name = "results"
urlpatterns = [
    path("", views.links, name="links"),
    path("links/<int:link_id>/versions/", version_views.versions, name="versions"),
]
