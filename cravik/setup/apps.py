from django.apps import AppConfig


class SetupConfig(AppConfig):
    name = "cravik.setup"
    label = "setup"

    def ready(self) -> None:
        # Only now, when every model is there.
        from cravik.setup.readiness import readiness, steps_of_setup

        readiness.hang(steps_of_setup)
