from django.apps import AppConfig

from cravik.upkeep.hooks import hang


class SetupConfig(AppConfig):
    name = "cravik.setup"
    label = "setup"

    def ready(self) -> None:
        hang("cravik.setup.readiness.readiness", "cravik.setup.readiness.steps_of_setup")
        hang("cravik.upkeep.archive.manifest.files_named_by_copy", "cravik.setup.copy_pictures.pictures_named")
