from django.apps import AppConfig
from django.core import checks

from cravik.upkeep.hooks import check_hooks


class UpkeepConfig(AppConfig):
    name = "cravik.upkeep"
    label = "upkeep"

    def ready(self) -> None:
        # Only now, when every model is there.
        from cravik.upkeep import health

        checks.register(check_hooks)
        for check in (health.database, health.tables, health.worker, health.room, health.backups):
            health.health_checks.hang(check)
