from django.apps import AppConfig


class UiConfig(AppConfig):
    name = "cravik.ui"
    label = "ui"
