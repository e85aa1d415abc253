from django.urls import path

from cravik.orders import views

app_name = "confirmation"
urlpatterns = [path("<slug:reference>/", views.confirmation, name="page")]
