from django.apps import AppConfig


class SetupConfig(AppConfig):
    name = "cravik.setup"
    label = "setup"

    def ready(self) -> None:
        # Only now, when every model is there.
        from cravik.setup.copy_pictures import pictures_named
        from cravik.setup.readiness import readiness, steps_of_setup
        from cravik.upkeep.archive.manifest import files_named_by_copy

        readiness.hang(steps_of_setup)
        files_named_by_copy.hang(pictures_named)
