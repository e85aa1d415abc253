from django.apps import AppConfig


class ShareConfig(AppConfig):
    name = "cravik.share"
    label = "share"

    def ready(self) -> None:
        # Only now, when every model is there.
        from cravik.setup.home_views import rooms_of_others
        from cravik.share.rooms import rooms_of_share

        rooms_of_others.hang(rooms_of_share)
