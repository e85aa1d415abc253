from django.apps import AppConfig


class UpkeepConfig(AppConfig):
    name = "cravik.upkeep"
    label = "upkeep"
