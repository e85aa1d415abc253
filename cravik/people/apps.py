from django.apps import AppConfig

from cravik.upkeep.hooks import hang


class PeopleConfig(AppConfig):
    name = "cravik.people"
    label = "people"

    def ready(self) -> None:
        hang("cravik.upkeep.starting.announced_at_start", "cravik.people.first_start.line_at_start")
