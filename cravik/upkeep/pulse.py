"""The pulse of background work: a file that the worker touches whenever it comes to that task."""

from __future__ import annotations

from contextlib import suppress
from datetime import UTC, datetime
from pathlib import Path

from django.conf import settings


def beat_now() -> None:
    """Leave a sign of life. A disk that does not take it is told by other checks."""
    with suppress(OSError):
        _file().touch(mode=0o600)


def last_beat() -> datetime | None:
    """When the worker last gave a sign of life; None where it never did."""
    with suppress(OSError):
        return datetime.fromtimestamp(_file().stat().st_mtime, UTC)
    return None


def _file() -> Path:
    return Path(settings.DATA_DIR) / "pulse"
