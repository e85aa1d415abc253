from django.urls import path

from cravik.results import results_views, version_views, views

app_name = "results"
urlpatterns = [
    path("", views.links, name="links"),
    path("results/", results_views.results, name="results"),
    path("results/guide/", results_views.guide, name="guide"),
    path("links/<id:link_id>/results/", results_views.link_results, name="link"),
    path("links/<id:link_id>/versions/", version_views.versions, name="versions"),
]
