from pathlib import Path
from typing import Any

from django.core.management.base import BaseCommand, CommandError, CommandParser

from cravik.upkeep.archive.locking import make_key_file


class Command(BaseCommand):
    help = "Make a key that back-ups are locked with, and say how it is used."
    requires_system_checks: list[str] = []

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("file", type=Path, help="where the key is written; not in the data folder")

    def handle(self, *args: Any, **options: Any) -> None:
        file: Path = options["file"].absolute()
        try:
            public = make_key_file(file)
        except OSError as trouble:
            raise CommandError(f"{file}: {trouble.strerror}. Nothing was changed.", returncode=2) from trouble
        self.stdout.write(
            f"The key is in {file} (public key {public}).\nSet CRAVIK_BACKUP_KEY_FILE={file} and start Cravik again;"
            " every back-up from then on is locked with it.\nKeep a copy of the key somewhere else: without it no"
            " locked back-up can be opened, by anybody."
        )
