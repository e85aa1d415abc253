"""Notes what tables this version's migrations make, the script that makes them at once, and the digest of every
migration that has landed.

    python -m tools.schemas_of_data

Run it when a version gets its number, or a migration is added. What stands there already is never changed: a migration
that has landed is never edited again.
"""

from __future__ import annotations

import hashlib
import json
import os
import sqlite3
import subprocess
import sys
import tempfile
from collections.abc import Iterator
from contextlib import closing
from pathlib import Path

from cravik import VERSION
from cravik.upkeep.fresh import FRESH
from cravik.upkeep.make import SCHEMAS, digest_of_steps, digest_of_tables, known_schemas

PROJECT = Path(__file__).resolve().parent.parent
MIGRATIONS = PROJECT / "tests" / "data" / "migrations.json"


def digests_of_migrations() -> dict[str, str]:
    """By path, of each migration as it stands here."""
    files = sorted((PROJECT / "cravik").glob("**/migrations/[0-9]*.py"))
    return {str(file.relative_to(PROJECT)): hashlib.sha256(file.read_bytes()).hexdigest()[:20] for file in files}


def written_out(database: sqlite3.Connection) -> Iterator[str]:
    """The lines of the script that makes such a database, without when its migrations ran."""
    tables: list[str] = []
    rest: list[str] = []
    for statement in database.iterdump():
        if not statement.startswith(('INSERT INTO "django_migrations"', "BEGIN", "COMMIT")):
            (tables if statement.startswith("CREATE TABLE") else rest).append(statement)
    ran = "VALUES({},'{}','{}',strftime('%Y-%m-%d %H:%M:%f','now'));"
    had = database.execute("SELECT id, app, name FROM django_migrations ORDER BY id").fetchall()
    # Tables first: a row may name one of another table.
    yield from ("BEGIN TRANSACTION;", *tables, *rest)
    yield from (f'INSERT INTO "django_migrations" {ran.format(*each)}' for each in had)
    yield "COMMIT;"


def main() -> None:
    landed: dict[str, str] = json.loads(MIGRATIONS.read_text()) if MIGRATIONS.exists() else {}
    MIGRATIONS.parent.mkdir(exist_ok=True)
    MIGRATIONS.write_text(json.dumps(digests_of_migrations() | landed, indent=1, sort_keys=True) + "\n")
    with tempfile.TemporaryDirectory() as folder:
        environment = os.environ | {"CRAVIK_DATA_DIR": folder}
        migrate = [sys.executable, "manage.py", "migrate", "--verbosity=0"]
        subprocess.run(migrate, cwd=PROJECT, env=environment, check=True)
        with closing(sqlite3.connect(Path(folder) / "cravik.sqlite3")) as database:
            steps = digest_of_steps(database.execute("SELECT app, name FROM django_migrations").fetchall())
            tables = digest_of_tables(database)
            FRESH.write_text("\n".join(written_out(database)) + "\n", encoding="utf-8")
    known = known_schemas() | {steps: {"version": VERSION, "tables": tables}}
    SCHEMAS.write_text(json.dumps(known, indent=1, sort_keys=True) + "\n")


if __name__ == "__main__":
    main()
