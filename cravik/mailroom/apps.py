from django.apps import AppConfig


class MailroomConfig(AppConfig):
    name = "cravik.mailroom"
    label = "mailroom"

    def ready(self) -> None:
        # Only now, when every model is there.
        from cravik.mailroom.way_back import send_way_back
        from cravik.setup.services import way_back_wanted

        way_back_wanted.hang(send_way_back)
