"""How tests are run: on tables that are made at once, as those of a new installation are."""

from __future__ import annotations

import sqlite3
from contextlib import closing
from typing import Any
from unittest import mock

from django.db import connection
from django.test.runner import DiscoverRunner

from cravik.upkeep.fresh import make_fresh


class FreshRunner(DiscoverRunner):
    """A hundred migrations take longer than most of what is tested; ``test_fresh`` holds the two to each other."""

    def setup_databases(self, **options: Any) -> Any:
        make = connection.creation._create_test_db  # type: ignore[attr-defined]  # not in Django's stubs

        def make_with_tables(*arguments: Any) -> str:
            name: str = make(*arguments)
            with closing(sqlite3.connect(name)) as database:
                make_fresh(database)
            return name

        with mock.patch.object(connection.creation, "_create_test_db", make_with_tables):
            return super().setup_databases(**options)
