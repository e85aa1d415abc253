from django.apps import AppConfig


class CatalogueConfig(AppConfig):
    name = "cravik.catalogue"
    label = "catalogue"
