"""Whether a data folder fits this version of Cravik, before anything in it is touched.

The folder carries the version that it was last served with. Tables are held against what the migrations say, not by the
migrations' names alone: a build in between may have had other ones by the same names.
"""

from __future__ import annotations

import hashlib
import json
import sqlite3
from collections.abc import Collection
from contextlib import closing, suppress
from pathlib import Path

from cravik import VERSION

#: By a digest of the migrations that a database has had: the version that it is of, and a digest of its tables.
#: Written by ``python -m tools.schemas_of_data``; those of versions that have a number are never changed.
SCHEMAS = Path(__file__).with_name("schemas.json")
DATABASE, VERSION_FILE = "cravik.sqlite3", "version"


class OfAnotherMake(Exception):
    """The folder's tables are of another version, which this one cannot carry over."""

    def __init__(self, folder: Path, why: str) -> None:
        made_by = version_of(folder)
        named = f"version {made_by}" if made_by else "another version"
        way_back = _way_back(folder)
        super().__init__(
            f"The data in {folder} is of {named} of Cravik, and this is {VERSION}: {why}. Start the version that made"
            f" it, or name another folder, as in CRAVIK_DATA_DIR=new-folder.{way_back} Nothing in it was changed."
        )


def version_of(folder: Path) -> str:
    """The version that the folder was last served with; nothing where it neither says nor shows.

    Folders say so since 0.2; what an earlier version served is known by the steps that its database has had.
    """
    with suppress(OSError):
        return (folder / VERSION_FILE).read_text(encoding="ascii").strip()[:40]
    with suppress(sqlite3.DatabaseError), closing(opened_untouched(folder / DATABASE)) as opened:
        return known_schemas().get(digest_of_steps(steps_of(opened)), {}).get("version", "")
    return ""


def write_version(folder: Path) -> None:
    """Note that the folder is of this version now; the file's date says since when."""
    if (folder / VERSION_FILE).exists() and version_of(folder) == VERSION:
        return
    draft = folder / f".{VERSION_FILE}"
    draft.write_text(f"{VERSION}\n", encoding="ascii")
    draft.rename(folder / VERSION_FILE)


def refuse_another_make(database: Path, known: Collection[tuple[str, str]]) -> None:
    """Raise ``OfAnotherMake`` where a newer version has served the folder, where the database has had a migration,
    ``(app, name)``, that is not ``known``, or where its tables are not what the migrations it has had make of them."""
    if not database.exists():
        return
    if is_newer(version_of(database.parent)):
        raise OfAnotherMake(database.parent, "an older version does not read what a newer one wrote")
    try:
        with closing(opened_untouched(database)) as opened:
            had = [(app, name) for app, name in steps_of(opened) if app in {app for app, _ in known}]
            foreign = [each for each in had if each not in known]
            otherwise = why_tables_differ(opened)
    except sqlite3.DatabaseError:  # empty, or no database: what comes next says so
        return
    if foreign:
        raise OfAnotherMake(database.parent, f"it knows the step {'.'.join(foreign[0])}, which this one does not have")
    if otherwise:
        raise OfAnotherMake(database.parent, otherwise)


def opened_untouched(database: Path) -> sqlite3.Connection:
    """The database, opened so that SQLite writes nothing at all beside it, unless what a killed process left has to be
    read too. Raises ``sqlite3.DatabaseError`` where there is none."""
    log = database.with_name(f"{database.name}-wal")
    how = "mode=ro" if log.exists() and log.stat().st_size else "mode=ro&immutable=1"
    return sqlite3.connect(f"{database.absolute().as_uri()}?{how}", uri=True)


def steps_of(database: sqlite3.Connection) -> list[tuple[str, str]]:
    """The migrations that it has had, ``(app, name)``, in their order. Raises ``sqlite3.DatabaseError``."""
    return database.execute("SELECT app, name FROM django_migrations ORDER BY id").fetchall()


def why_tables_differ(database: sqlite3.Connection) -> str:
    """Why its tables are not what the migrations that it has had make of them; nothing where they are, or where nobody
    knows these migrations."""
    there = known_schemas().get(digest_of_steps(steps_of(database)))
    if there and there["tables"] != digest_of_tables(database):
        return f"its tables are not those of version {there['version']}, whose steps it has had"
    return ""


def known_schemas() -> dict[str, dict[str, str]]:
    """What tables the migrations of each known version make."""
    found: dict[str, dict[str, str]] = json.loads(SCHEMAS.read_text(encoding="ascii")) if SCHEMAS.exists() else {}
    return found


def digest_of_steps(steps: Collection[tuple[str, str]]) -> str:
    """A short mark of a set of migrations."""
    return hashlib.sha256("\n".join(sorted(f"{app}.{name}" for app, name in steps)).encode()).hexdigest()[:20]


def digest_of_tables(database: sqlite3.Connection) -> str:
    """A short mark of the tables: their columns with types, keys and references, whatever order they stand in."""
    tables = [name for (name,) in database.execute("SELECT name FROM sqlite_master WHERE type = 'table' ORDER BY name")]
    described = []
    for table in tables:
        if table.startswith(("sqlite_", "django_migrations")):
            continue
        columns = database.execute(f"PRAGMA table_info('{table}')").fetchall()
        keys = database.execute(f"PRAGMA foreign_key_list('{table}')").fetchall()
        indexes = database.execute(f"PRAGMA index_list('{table}')").fetchall()
        described.append(
            [
                table,
                sorted([name, kind, needed, key] for _, name, kind, needed, _, key in columns),
                sorted([to, column] for _, _, to, column, *_ in keys),
                sorted([name, unique] for _, name, unique, *_ in indexes if not name.startswith("sqlite_")),
            ]
        )
    return hashlib.sha256(json.dumps(described).encode()).hexdigest()[:20]


def is_newer(version: str) -> bool:
    """Whether that is a number above this version's; what is no number is not."""
    try:
        return tuple(map(int, version.split("."))) > tuple(map(int, VERSION.split(".")))
    except ValueError:
        return False


def _way_back(folder: Path) -> str:
    """The newest back-up that was taken before an upgrade, if there is one."""
    taken = sorted((folder / "backups").glob("before-*"), key=lambda file: file.stat().st_mtime)
    return f" What it was before its last upgrade lies in {taken[-1]}." if taken else ""
