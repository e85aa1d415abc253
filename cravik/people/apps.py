from django.apps import AppConfig


class PeopleConfig(AppConfig):
    name = "cravik.people"
    label = "people"

    def ready(self) -> None:
        # Only now, when every model is there.
        from cravik.people.first_start import line_at_start
        from cravik.upkeep.starting import said_at_start

        said_at_start.hang(line_at_start)
