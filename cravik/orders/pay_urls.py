from django.urls import path

from cravik.orders import pay_views

app_name = "pay"
urlpatterns = [
    path("rehearsal/<int:link_id>/pay/", pay_views.pay_rehearsal, name="rehearsal"),
    path("<slug:slug>/pay/", pay_views.pay, name="live"),
]
