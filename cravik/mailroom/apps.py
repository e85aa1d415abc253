from django.apps import AppConfig


class MailroomConfig(AppConfig):
    name = "cravik.mailroom"
    label = "mailroom"

    def ready(self) -> None:
        # Only now, when every model is there.
        from cravik.mailroom.health import letters
        from cravik.mailroom.upkeep_letters import tell_of_failing_backups
        from cravik.mailroom.way_back import ask_to_confirm, want_way_back
        from cravik.people.services import sign_up_asked, way_back_wanted
        from cravik.upkeep.archive.daily import backups_began_to_fail
        from cravik.upkeep.health import health_checks

        way_back_wanted.hang(want_way_back)
        sign_up_asked.hang(ask_to_confirm)
        backups_began_to_fail.hang(tell_of_failing_backups)
        health_checks.hang(letters)
