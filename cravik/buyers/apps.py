from django.apps import AppConfig


class BuyersConfig(AppConfig):
    name = "cravik.buyers"
    label = "buyers"
