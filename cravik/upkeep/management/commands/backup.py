from typing import Any

from django.core.management.base import CommandError
from django.utils import timezone

from cravik.upkeep.archive.shelf import check
from cravik.upkeep.archive.taking import BackupFailed, take_by_hand
from cravik.upkeep.archive.words import known_lines
from cravik.upkeep.commands import DataCommand


class Command(DataCommand):
    help = "Take a back-up of everything while the application goes on, verify it, and print where it is."

    def handle(self, *args: Any, **options: Any) -> None:
        now = timezone.now()
        try:
            taken = take_by_hand(now)
            known = check(taken, now)
        except BackupFailed as failed:
            raise CommandError(str(failed)) from failed
        self.stdout.write(str(taken))
        for line in known_lines(known):
            self.stderr.write(line)
        if known.faults:
            raise CommandError(f"{taken.name} is not sound.")
