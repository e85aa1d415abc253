"""Writes the JSON Schemas of the documents to docs/schemas: ``python -m tools.schemas``."""

from __future__ import annotations

from pathlib import Path

from cravik.core.documents.schemas import schemas

FOLDER = Path(__file__).parent.parent / "docs" / "schemas"


def main() -> None:
    FOLDER.mkdir(exist_ok=True)
    for name, text in schemas().items():
        (FOLDER / name).write_text(text)


if __name__ == "__main__":
    main()
