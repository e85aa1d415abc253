"""Whether a data folder was made by this make of Cravik, before anything in it is touched."""

from __future__ import annotations

import sqlite3
from collections.abc import Collection
from contextlib import closing
from pathlib import Path


class OfAnotherMake(Exception):
    """The folder's tables were made by another version, which this one cannot carry over."""

    def __init__(self, folder: Path, step: str) -> None:
        super().__init__(
            f"The data in {folder} was made by another version of Cravik (it knows the step {step}, which this one does"
            " not have): start with another folder, as in CRAVIK_DATA_DIR=new-folder make serve, or with the version"
            " that made it. Nothing in it was changed."
        )


def refuse_another_make(database: Path, known: Collection[tuple[str, str]]) -> None:
    """Raise ``OfAnotherMake`` where the database has had a migration, ``(app, name)``, that is not ``known``.

    It is opened so that SQLite writes nothing at all beside it.
    """
    if not database.exists():
        return
    try:
        with closing(sqlite3.connect(f"{database.absolute().as_uri()}?mode=ro&immutable=1", uri=True)) as opened:
            rows = opened.execute("SELECT app, name FROM django_migrations ORDER BY id").fetchall()
    except sqlite3.DatabaseError:  # empty, or no database: what comes next says so
        return
    apps = {app for app, _ in known}
    foreign = [(app, name) for app, name in rows if app in apps and (app, name) not in known]
    if foreign:
        raise OfAnotherMake(database.parent, ".".join(foreign[0]))
