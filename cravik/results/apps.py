from django.apps import AppConfig


class ResultsConfig(AppConfig):
    name = "cravik.results"
    label = "results"
