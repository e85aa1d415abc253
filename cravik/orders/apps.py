from django.apps import AppConfig


class OrdersConfig(AppConfig):
    name = "cravik.orders"
    label = "orders"

    def ready(self) -> None:
        # Only now, when every model is there.
        from cravik.orders.readiness import steps_of_orders
        from cravik.setup.readiness import readiness

        readiness.hang(steps_of_orders)
