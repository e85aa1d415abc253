from django.apps import AppConfig

from cravik.upkeep.hooks import hang


class OrdersConfig(AppConfig):
    name = "cravik.orders"
    label = "orders"

    def ready(self) -> None:
        hang("cravik.links.bench.what_if.bought_most", "cravik.orders.bought_most.bought_most_of")
        hang("cravik.setup.readiness.readiness", "cravik.orders.readiness.steps_of_orders")
        hang("cravik.checkout.opening.room_wanted", "cravik.orders.paying.making_room.make_room_now")
        hang("cravik.catalogue.digital_goods.files_added", "cravik.orders.late_files.hand_over_later")
        hang("cravik.mailroom.services.enclosures", "cravik.orders.invoicing.enclosing.enclosed_with")
        hang("cravik.setup.home_views.rooms_of_others", "cravik.orders.invoicing.settings_views.rooms_of_orders")
        hang("cravik.upkeep.archive.manifest.figures_of_copy", "cravik.orders.copy_figures.orders_and_money")
