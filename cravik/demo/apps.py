from django.apps import AppConfig


class DemoConfig(AppConfig):
    name = "cravik.demo"
    label = "demo"
