"""The files of prepared pictures, outside of everything that the web server shows by itself."""

from __future__ import annotations

import re
import secrets
from collections.abc import Iterable
from pathlib import Path
from typing import Any, BinaryIO

from django.conf import settings

from cravik.ui.photo import Prepared, prepare

_NAME = re.compile(r"[0-9a-f]{32}-[0-9]{1,5}\.webp", re.ASCII)


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


def keep_picture(file: BinaryIO, size: int) -> dict[str, Any]:
    """Prepare a photo of ``size`` bytes and keep it: the ``name`` of its files and their ``widths``, as rows store it.

    Raises ``PhotoRefused``.
    """
    prepared = prepare(file, size)
    return {"name": keep_files(prepared), "widths": sorted(prepared.files)}


def remove_files(name: str, widths: Iterable[int]) -> None:
    """Take a picture's files away; those that are gone already are not missed."""
    for width in widths:
        picture_file(name, width).unlink(missing_ok=True)


def name_in_address(address: str) -> str:
    """The last part of a picture's address, which is the name of its file."""
    return address.rpartition("/")[2]


def file_named(name: str) -> Path | None:
    """The file of that name, or None where there is no such picture."""
    path = Path(settings.CRAVIK_PICTURES) / name
    return path if _NAME.fullmatch(name) and path.is_file() else None
