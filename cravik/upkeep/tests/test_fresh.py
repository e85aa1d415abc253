"""The database of a new installation is what the migrations make."""

from __future__ import annotations

import os
import sqlite3
import subprocess
import sys
import tempfile
from contextlib import closing
from pathlib import Path
from typing import Any
from unittest import TestCase

from django.conf import settings

from cravik.upkeep.fresh import make_fresh
from cravik.upkeep.make import why_tables_differ


def _fresh() -> sqlite3.Connection:
    database = sqlite3.connect(":memory:")
    database.execute("PRAGMA foreign_keys=ON")
    assert make_fresh(database)
    return database


def _all(database: Any, statement: str) -> list[tuple[Any, ...]]:
    return sorted(map(tuple, database.execute(statement).fetchall()), key=str)


class FreshTest(TestCase):
    def test_it_has_every_table_index_and_row_that_the_migrations_make(self) -> None:
        schema = "SELECT type, name, tbl_name, sql FROM sqlite_master WHERE name NOT LIKE 'sqlite_%'"
        folder = self.enterContext(tempfile.TemporaryDirectory())
        migrate = [sys.executable, "manage.py", "migrate", "--verbosity=0", "--settings", "cravik.config.settings"]
        subprocess.run(migrate, cwd=settings.PROJECT_DIR, env=os.environ | {"CRAVIK_DATA_DIR": folder}, check=True)
        there = sqlite3.connect(Path(folder) / "cravik.sqlite3")
        with closing(_fresh()) as fresh, closing(there) as migrated:
            self.assertEqual(_all(fresh, schema), _all(migrated, schema))
            for (table,) in _all(
                fresh, "SELECT name FROM sqlite_master WHERE type='table' AND name NOT LIKE 'sqlite_%'"
            ):
                rows = "app, name" if table == "django_migrations" else "*"
                statement = f'SELECT {rows} FROM "{table}"'  # of our own names
                self.assertEqual(_all(fresh, statement), _all(migrated, statement), table)
            self.assertEqual(why_tables_differ(fresh), "")
            self.assertEqual(fresh.execute("PRAGMA foreign_key_check").fetchall(), [])

    def test_what_has_tables_is_left_alone(self) -> None:
        with closing(sqlite3.connect(":memory:")) as database:
            database.execute("CREATE TABLE had (id integer)")
            self.assertFalse(make_fresh(database))
            self.assertEqual(database.execute("SELECT name FROM sqlite_master").fetchall(), [("had",)])

    def test_a_new_row_has_an_id_after_those_that_are_there(self) -> None:
        with closing(_fresh()) as fresh:
            fresh.execute("INSERT INTO auth_group (name) VALUES ('sellers')")
            last = fresh.execute("SELECT max(id) FROM django_content_type").fetchone()[0]
            fresh.execute("INSERT INTO django_content_type (app_label, model) VALUES ('later', 'thing')")
            self.assertEqual(fresh.execute("SELECT max(id) FROM django_content_type").fetchone()[0], last + 1)
