from django.urls import path

from cravik.orders import views

app_name = "confirmation"
urlpatterns = [
    path("file/<str:key>/", views.download, name="download"),
    path("<slug:reference>/", views.confirmation, name="page"),
]
