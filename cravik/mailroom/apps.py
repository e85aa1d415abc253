from django.apps import AppConfig


class MailroomConfig(AppConfig):
    name = "cravik.mailroom"
    label = "mailroom"
