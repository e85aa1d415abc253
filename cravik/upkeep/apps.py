from django.apps import AppConfig
from django.core import checks

from cravik.upkeep.hooks import check_hooks, hang


class UpkeepConfig(AppConfig):
    name = "cravik.upkeep"
    label = "upkeep"

    def ready(self) -> None:
        checks.register(check_hooks)
        for check in ("database", "tables", "worker", "room", "backups"):
            hang("cravik.upkeep.health.health_checks", f"cravik.upkeep.health.{check}")
