from django.apps import AppConfig


class CatalogueConfig(AppConfig):
    name = "cravik.catalogue"
    label = "catalogue"

    def ready(self) -> None:
        # Only now, when every model is there.
        from cravik.catalogue.copy_files import files_of_items
        from cravik.upkeep.archive.manifest import files_named_by_copy

        files_named_by_copy.hang(files_of_items)
