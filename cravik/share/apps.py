from django.apps import AppConfig

from cravik.upkeep.hooks import hang


class ShareConfig(AppConfig):
    name = "cravik.share"
    label = "share"

    def ready(self) -> None:
        hang("cravik.setup.home_views.rooms_of_others", "cravik.share.rooms.rooms_of_share")
