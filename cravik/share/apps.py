from django.apps import AppConfig


class ShareConfig(AppConfig):
    name = "cravik.share"
    label = "share"
