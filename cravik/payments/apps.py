from django.apps import AppConfig


class PaymentsConfig(AppConfig):
    name = "cravik.payments"
    label = "payments"
