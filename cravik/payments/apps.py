from django.apps import AppConfig

from cravik.upkeep.hooks import hang


class PaymentsConfig(AppConfig):
    name = "cravik.payments"
    label = "payments"

    def ready(self) -> None:
        hang("cravik.upkeep.health.health_checks", "cravik.payments.health.payments")
