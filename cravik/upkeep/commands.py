"""Commands on the data of an installation."""

from __future__ import annotations

from typing import Any

from django.conf import settings
from django.core.management.base import BaseCommand, CommandError


class DataCommand(BaseCommand):
    """A command that needs an installation's data: a folder that holds none is refused, and left as it is."""

    # Which import every page; ``serve`` does them before it opens.
    requires_system_checks: list[str] = []

    def execute(self, *args: Any, **options: Any) -> str | None:
        """Raises ``CommandError`` where there is no database."""
        if not settings.IS_A_CRAVIK:
            raise CommandError(
                f"{settings.DATA_DIR} holds no Cravik: nothing was done. Name its folder, as in CRAVIK_DATA_DIR=…",
                returncode=2,
            )
        return super().execute(*args, **options)
