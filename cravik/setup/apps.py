from django.apps import AppConfig


class SetupConfig(AppConfig):
    name = "cravik.setup"
    label = "setup"
