from django.apps import AppConfig


class JournalConfig(AppConfig):
    name = "cravik.journal"
    label = "journal"
