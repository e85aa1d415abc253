"""Which files for download a back-up should have."""

from __future__ import annotations

from collections.abc import Iterator

from cravik.upkeep.archive.manifest import Copy


def files_of_items(copy: Copy) -> Iterator[str]:
    """Those of every item, also the ones that go to no new buyer."""
    for (key,) in copy.rows("SELECT key FROM catalogue_itemfile"):
        yield f"files/{key}"
