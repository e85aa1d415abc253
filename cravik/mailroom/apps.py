from django.apps import AppConfig


class MailroomConfig(AppConfig):
    name = "cravik.mailroom"
    label = "mailroom"

    def ready(self) -> None:
        # Only now, when every model is there.
        from cravik.mailroom.way_back import ask_to_confirm, want_way_back
        from cravik.setup.services import sign_up_asked, way_back_wanted

        way_back_wanted.hang(want_way_back)
        sign_up_asked.hang(ask_to_confirm)
