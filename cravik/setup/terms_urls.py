from django.urls import path

from cravik.setup import conditions_views

app_name = "terms"
urlpatterns = [path("<str:key>/", conditions_views.version, name="version")]
