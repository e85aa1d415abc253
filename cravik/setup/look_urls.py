from django.urls import path

from cravik.setup import kit_views

app_name = "looks"
urlpatterns = [path("<id:edition>/<str:colours>.<slug:type_>.<slug:corners>.css", kit_views.style, name="style")]
