"""The files of prepared pictures, outside of everything that the web server shows by itself."""

from __future__ import annotations

import secrets
from collections.abc import Iterable
from pathlib import Path

from django.conf import settings

from cravik.ui.photo import Prepared


def picture_file(name: str, width: int) -> Path:
    """Where the picture's file of that width lies."""
    return Path(settings.CRAVIK_PICTURES) / f"{name}-{width}.webp"


def keep_files(prepared: Prepared) -> str:
    """Write the files under a name that nobody knows yet, and return it. Nothing under a name ever changes."""
    name = secrets.token_hex(16)
    Path(settings.CRAVIK_PICTURES).mkdir(parents=True, exist_ok=True)
    for width, content in prepared.files.items():
        picture_file(name, width).write_bytes(content)
    return name


def remove_files(name: str, widths: Iterable[int]) -> None:
    """Take a picture's files away; those that are gone already are not missed."""
    for width in widths:
        picture_file(name, width).unlink(missing_ok=True)
