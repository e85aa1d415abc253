from django.apps import AppConfig


class CheckoutConfig(AppConfig):
    name = "cravik.checkout"
    label = "checkout"
