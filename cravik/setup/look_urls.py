from django.urls import path

from cravik.setup import look_views

app_name = "looks"
urlpatterns = [path("<id:version>/<str:colours>.<slug:type_>.<slug:corners>.css", look_views.style, name="style")]
