from django.urls import path

from cravik.setup import terms_views

app_name = "terms"
urlpatterns = [path("<str:key>/", terms_views.version, name="version")]
