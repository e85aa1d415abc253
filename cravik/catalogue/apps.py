from django.apps import AppConfig

from cravik.upkeep.hooks import hang


class CatalogueConfig(AppConfig):
    name = "cravik.catalogue"
    label = "catalogue"

    def ready(self) -> None:
        hang("cravik.upkeep.archive.manifest.files_named_by_copy", "cravik.catalogue.copy_files.files_of_items")
