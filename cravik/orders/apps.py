from django.apps import AppConfig


class OrdersConfig(AppConfig):
    name = "cravik.orders"
    label = "orders"
