from pathlib import Path
from typing import Any

from django.core.management.base import BaseCommand, CommandError, CommandParser

from cravik.upkeep.archive.locking import WrongKey
from cravik.upkeep.archive.reading import Unreadable, verify
from cravik.upkeep.archive.taking import BackupFailed
from cravik.upkeep.archive.words import figures_words
from cravik.upkeep.unlocking import add_key_argument, lock_of_options


class Command(BaseCommand):
    help = "Restore a back-up into an empty folder, compare it with what it says of itself, and remove that folder."
    requires_system_checks: list[str] = []

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("file", type=Path)
        add_key_argument(parser)

    def handle(self, *args: Any, **options: Any) -> None:
        try:
            verdict = verify(options["file"].absolute(), lock_of_options(options))
        except (Unreadable, WrongKey, BackupFailed, OSError) as trouble:
            raise CommandError(str(trouble)) from trouble
        manifest = verdict.manifest
        self.stdout.write(
            f"Taken {manifest.taken_at:%Y-%m-%d %H:%M} UTC by version {manifest.version}: "
            f"{figures_words(manifest.figures)}, {len(manifest.files)} files."
        )
        for name in verdict.missing:
            self.stdout.write(f"{name} was not there when it was taken.")
        for fault in verdict.faults:
            self.stdout.write(fault)
        if verdict.faults:
            raise CommandError(f"{options['file'].name} is not sound.")
        self.stdout.write("It is sound.")
