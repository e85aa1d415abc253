from django.apps import AppConfig


class CounterConfig(AppConfig):
    name = "cravik.payments.counter"
    label = "counter"
