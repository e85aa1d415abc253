from django.apps import AppConfig


class LinksConfig(AppConfig):
    name = "cravik.links"
    label = "links"
