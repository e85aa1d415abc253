from django.urls import path

from cravik.payments.counter import views

app_name = "counter"
urlpatterns = [
    path("cards/", views.cards, name="cards"),
    path("bank/<str:reference>/", views.bank, name="bank"),
]
