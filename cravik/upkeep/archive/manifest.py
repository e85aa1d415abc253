"""What an archive says of itself: the version, every file with its digest, and counts and sums of the database."""

from __future__ import annotations

import hashlib
import json
import sqlite3
from collections.abc import Iterable, Mapping
from contextlib import suppress
from dataclasses import asdict, dataclass, field
from datetime import datetime
from pathlib import Path
from typing import Any

from cravik.upkeep.hooks import Hook

FORMAT = 1
_CHUNK = 1 << 20

Rows = list[tuple[Any, ...]]


class Copy:
    """A copy of the database, of whichever version: what its tables do not have is not there, and no error."""

    def __init__(self, database: sqlite3.Connection) -> None:
        self._database = database

    def rows(self, statement: str) -> Rows:
        """What the statement finds; nothing where a table or a column is missing."""
        with suppress(sqlite3.OperationalError):
            return self._database.execute(statement).fetchall()
        return []

    def tables(self) -> list[str]:
        return [name for (name,) in self.rows("SELECT name FROM sqlite_master WHERE type = 'table' ORDER BY name")]

    def columns(self, table: str) -> dict[str, str]:
        """Each column with its type, in small letters."""
        return {name: kind.lower() for _, name, kind, *_ in self.rows(f"PRAGMA table_info('{table}')")}


#: What a copy holds in figures that a person knows, such as how many orders and what they came to.
figures_of_copy: Hook[[Copy], Mapping[str, int]] = Hook("cravik.upkeep.archive.manifest.figures_of_copy")
#: Which files a copy of the database names, as paths below the data folder.
files_named_by_copy: Hook[[Copy], Iterable[str]] = Hook("cravik.upkeep.archive.manifest.files_named_by_copy")


@dataclass(frozen=True)
class Kept:
    """One file of an archive."""

    bytes: int
    sha256: str


@dataclass(frozen=True)
class Manifest:
    """``why`` is ``daily``, ``by-hand`` or ``upgrade``; ``tables`` the rows of each table and the sums of its whole
    numbers; ``missing`` the files that the database names and that were not there."""

    version: str
    taken_at: datetime
    why: str
    steps: str
    files: dict[str, Kept]
    tables: dict[str, dict[str, int]]
    figures: dict[str, int]
    missing: list[str] = field(default_factory=list)

    def as_json(self) -> str:
        document = asdict(self) | {"format": FORMAT, "product": "cravik", "taken_at": self.taken_at.isoformat()}
        return json.dumps(document, indent=1, sort_keys=True, ensure_ascii=False) + "\n"

    @classmethod
    def read(cls, text: str) -> Manifest:
        """Raises ``ValueError`` for what is no manifest, or one of a later format."""
        try:
            document = json.loads(text)
            later = document.pop("format") > FORMAT
            if later or document.pop("product") != "cravik":
                raise ValueError("of a later format" if later else "of something else")
            document["taken_at"] = datetime.fromisoformat(document["taken_at"])
            document["files"] = {path: Kept(**kept) for path, kept in document["files"].items()}
            return cls(**document)
        except (TypeError, KeyError, AttributeError) as trouble:
            raise ValueError(f"no manifest: {trouble}") from trouble


def counts_of(copy: Copy) -> dict[str, dict[str, int]]:
    """Of each table its ``rows``, and the sum of each column of whole numbers that is no key. A sum beyond 64 bits,
    which SQLite refuses, is left out."""
    found = {}
    for table in copy.tables():
        if table.startswith("sqlite_"):
            continue
        counted = {"rows": copy.rows(f'SELECT count(*) FROM "{table}"')[0][0]}  # noqa: S608  # SQLite's own names
        for column, kind in copy.columns(table).items():
            if "int" in kind and column != "id" and not column.endswith("_id"):
                for (total,) in copy.rows(f'SELECT sum("{column}") FROM "{table}"'):  # noqa: S608
                    counted[column] = total or 0
        found[table] = counted
    return found


def figures_of(copy: Copy) -> dict[str, int]:
    """What all apps tell of the copy in figures."""
    return {name: value for figures in figures_of_copy.call(copy) for name, value in figures.items()}


def named_files(copy: Copy) -> list[str]:
    """What all apps say that the copy names, each once."""
    return sorted({path for named in files_named_by_copy.call(copy) for path in named})


def digest_of_file(path: Path) -> Kept:
    """Its length and SHA-256."""
    digest, length = hashlib.sha256(), 0
    with path.open("rb") as file:
        while chunk := file.read(_CHUNK):
            digest.update(chunk)
            length += len(chunk)
    return Kept(length, digest.hexdigest())
