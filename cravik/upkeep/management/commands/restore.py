import os
from pathlib import Path
from typing import Any

from django.conf import settings
from django.core.management.base import BaseCommand, CommandError, CommandParser
from django.utils import timezone

from cravik.upkeep.alone import AlreadyRunning, hold_folder
from cravik.upkeep.archive.locking import WrongKey
from cravik.upkeep.archive.reading import Unreadable
from cravik.upkeep.archive.restoring import NotSound, finish_exchange, restore
from cravik.upkeep.archive.taking import SECRET_KEY
from cravik.upkeep.archive.words import figures_words
from cravik.upkeep.unlocking import add_key_argument, lock_of_options


class Command(BaseCommand):
    requires_system_checks: list[str] = []
    help = (
        "Put a back-up in the place of what the data folder holds, which is kept beside it. Stop the application first."
    )

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("file", type=Path)
        parser.add_argument("--despite-faults", action="store_true", help="take what there is of a damaged one")
        add_key_argument(parser)

    def handle(self, *args: Any, **options: Any) -> None:
        data, file = Path(settings.DATA_DIR), options["file"].absolute()
        try:
            held = hold_folder(data)
        except AlreadyRunning as other:
            raise CommandError(str(other), returncode=2) from other
        with held:
            try:
                finish_exchange(data)
                done = restore(
                    file, data, lock_of_options(options), timezone.now(), despite_faults=options["despite_faults"]
                )
            except NotSound as bad:
                for fault in bad.verdict.faults:
                    self.stderr.write(fault)
                raise CommandError(f"{bad} --despite-faults takes what there is of it.") from bad
            except (Unreadable, WrongKey, OSError) as trouble:
                raise CommandError(f"{trouble} Nothing was changed.") from trouble
        manifest = done.manifest
        for name in manifest.missing:
            self.stdout.write(f"{name} was not there when it was taken, so it is not there now.")
        self.stdout.write(
            f"Restored what was taken {manifest.taken_at:%Y-%m-%d %H:%M} UTC by version {manifest.version}:"
            f" {figures_words(manifest.figures)}."
        )
        if done.replaced:
            self.stdout.write(f"What was there before lies in {done.replaced}; remove it when you no longer need it.")
        kept = (data / SECRET_KEY).read_text(encoding="ascii").strip()
        if os.environ.get("CRAVIK_SECRET_KEY", kept) != kept:
            self.stdout.write(
                "CRAVIK_SECRET_KEY says another key than the back-up has: addresses in letters of that time open with"
                " the back-up's alone. Leave the setting out, and the key in the folder holds."
            )
        self.stdout.write("Start Cravik again.")
