from django.apps import AppConfig


class EventsConfig(AppConfig):
    name = "cravik.events"
    label = "events"
