from django.urls import path

from cravik.checkout import views

app_name = "spot"
urlpatterns = [path("<slug:code>/", views.spot_page, name="page")]
