from django.apps import AppConfig
from django.urls import register_converter

from cravik.ui.converters import IdConverter


class UiConfig(AppConfig):
    name = "cravik.ui"
    label = "ui"

    def ready(self) -> None:
        register_converter(IdConverter, "id")
