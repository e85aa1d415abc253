from django.apps import AppConfig


class OrdersConfig(AppConfig):
    name = "cravik.orders"
    label = "orders"

    def ready(self) -> None:
        # Only now, when every model is there.
        from cravik.catalogue.digital_goods import files_added
        from cravik.checkout.opening import room_wanted
        from cravik.links.bench.what_if import bought_most
        from cravik.orders.bought_most import bought_most_of
        from cravik.orders.copy_figures import orders_and_money
        from cravik.orders.late_files import hand_over_later
        from cravik.orders.paying.making_room import make_room_now
        from cravik.orders.readiness import steps_of_orders
        from cravik.setup.readiness import readiness
        from cravik.upkeep.archive.manifest import figures_of_copy

        bought_most.hang(bought_most_of)
        readiness.hang(steps_of_orders)
        room_wanted.hang(make_room_now)
        files_added.hang(hand_over_later)
        figures_of_copy.hang(orders_and_money)
