from django.apps import AppConfig

from cravik.upkeep.hooks import hang


class MailroomConfig(AppConfig):
    name = "cravik.mailroom"
    label = "mailroom"

    def ready(self) -> None:
        hang("cravik.people.services.way_back_wanted", "cravik.mailroom.way_back.want_way_back")
        hang("cravik.people.services.sign_up_asked", "cravik.mailroom.way_back.ask_to_confirm")
        hang(
            "cravik.upkeep.archive.daily.backups_began_to_fail",
            "cravik.mailroom.upkeep_letters.tell_of_failing_backups",
        )
        hang("cravik.upkeep.health.health_checks", "cravik.mailroom.health.letters")
