from django.apps import AppConfig


class PaymentsConfig(AppConfig):
    name = "cravik.payments"
    label = "payments"

    def ready(self) -> None:
        # Only now, when every model is there.
        from cravik.payments.health import payments
        from cravik.upkeep.health import health_checks

        health_checks.hang(payments)
