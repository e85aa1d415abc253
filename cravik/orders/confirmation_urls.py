from django.urls import path

from cravik.orders import confirmation_views as views
from cravik.orders import preview_views

app_name = "confirmation"
urlpatterns = [
    path("", views.find, name="find"),
    path("file/<str:key>/", views.download, name="download"),
    path("sample/<id:link_id>/", preview_views.after_paying, name="sample"),
    path("<slug:reference>/", views.confirmation, name="page"),
    path("<slug:reference>/call-off/", views.call_off_payment, name="call_off"),
]
