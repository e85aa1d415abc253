"""The database of a new installation, made at once: what all the migrations make of an empty one.

Running them one by one takes a minute on a small machine, and each of them changes what another made. ``fresh.sql`` is
what comes of it, written by ``python -m tools.schemas_of_data`` when a migration is added; a test holds it to what
the migrations make.
"""

from __future__ import annotations

import sqlite3
from pathlib import Path

FRESH = Path(__file__).with_name("fresh.sql")


def make_fresh(database: sqlite3.Connection) -> bool:
    """Make the tables in a database that has none, all or none of them, and note the migrations as run now. Whether
    it had none."""
    if database.execute("SELECT count(*) FROM sqlite_master").fetchone()[0]:
        return False
    database.executescript(FRESH.read_text(encoding="utf-8"))
    return True
