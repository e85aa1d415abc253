"""Which pictures a back-up should have.

Every row that keeps a picture has the ``name`` of its files and their ``widths``, as columns or together in a JSON
column (see ``ui.picture_files.keep_picture``), so they are found whichever app the table is of.
"""

from __future__ import annotations

import json
from collections.abc import Iterator
from contextlib import suppress

from cravik.upkeep.archive.manifest import Copy


def pictures_named(copy: Copy) -> Iterator[str]:
    """The files of all pictures that the copy names."""
    for table in copy.tables():
        columns = copy.columns(table)
        if columns.keys() >= {"name", "widths"}:
            for name, widths in copy.rows(f'SELECT name, widths FROM "{table}"'):  # noqa: S608
                yield from _files(name, widths)
        for column, kind in columns.items():
            if kind == "text":
                yield from _inside(copy, table, column)


def _inside(copy: Copy, table: str, column: str) -> Iterator[str]:
    """Those that stand anywhere inside a JSON column."""
    # What is no JSON must not reach json_tree, which fails on it.
    found = copy.rows(
        f"SELECT json_extract(part.value, '$.name'), json_extract(part.value, '$.widths')"  # noqa: S608
        f' FROM (SELECT "{column}" AS document FROM "{table}" WHERE "{column}" LIKE \'%"widths"%\') AS kept,'
        f" json_tree(CASE WHEN json_valid(kept.document) THEN kept.document ELSE 'null' END) AS part"
        f" WHERE part.type = 'object' AND json_type(part.value, '$.widths') = 'array'"
    )
    for name, widths in found:
        yield from _files(name, widths)


def _files(name: object, widths: str) -> Iterator[str]:
    with suppress(ValueError, TypeError):
        for width in json.loads(widths):
            yield f"pictures/{name}-{width}.webp"
