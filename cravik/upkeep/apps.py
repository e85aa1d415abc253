from django.apps import AppConfig
from django.core import checks

from cravik.upkeep.hooks import check_hooks


class UpkeepConfig(AppConfig):
    name = "cravik.upkeep"
    label = "upkeep"

    def ready(self) -> None:
        checks.register(check_hooks)
