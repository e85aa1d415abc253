"""With what a command opens a locked archive: the settings', or a key that is named to it."""

from __future__ import annotations

from pathlib import Path
from typing import Any

from django.conf import settings
from django.core.management.base import CommandError, CommandParser

from cravik.upkeep.archive.locking import Lock, key_in


def add_key_argument(parser: CommandParser) -> None:
    """Let the command be told another key than that of the settings."""
    parser.add_argument("--key-file", type=Path, help="the key that it was locked with, if it is another one now")


def lock_of_options(options: dict[str, Any]) -> Lock:
    """What opens it. Raises ``CommandError`` for a file that holds no key."""
    file: Path | None = options["key_file"]
    if file is None:
        return settings.CRAVIK_BACKUP_LOCK
    try:
        return Lock(key=key_in(file))
    except OSError as trouble:
        raise CommandError(f"{file}: {trouble.strerror}.", returncode=2) from trouble
    except ValueError:
        raise CommandError(f"{file} holds no key.", returncode=2) from None
