"""Writes the faces for paper: each with Latin and its extension in one file, as TrueType, which the typesetter reads.

    python -m tools.paper_faces

It is a step of `make vendor`.
"""

from __future__ import annotations

import tempfile
from pathlib import Path

from fontTools.merge import Merger
from fontTools.ttLib import TTFont
from fontTools.varLib.instancer import instantiateVariableFont

UI = Path(__file__).resolve().parent.parent / "cravik" / "ui"
WOFF, FACES = UI / "static" / "ui" / "fonts", UI / "faces"
#: Each face by its file, its weight (0: the file has one), and the family and style by which templates name it.
_WANTED = (("text", 400, "Cravik Text", "Regular"), ("text", 700, "Cravik Text", "Bold"))
_WANTED += (("heading", 0, "Cravik Heading", "Regular"),)
_FAMILY, _STYLE, _FULL, _POSTSCRIPT, _TYPO_FAMILY, _TYPO_STYLE = 1, 2, 4, 6, 16, 17


def main() -> None:
    FACES.mkdir(exist_ok=True)
    for name, weight, family, style in _WANTED:
        with tempfile.TemporaryDirectory() as folder:
            parts = [_part(name, part, weight, Path(folder)) for part in ("latin", "latin-ext")]
            face = Merger().merge([str(part) for part in parts])
        _call(face, family, style, weight or 400)
        face.save(FACES / f"{name}-{weight or 400}.ttf", reorderTables=True)


def _part(name: str, part: str, weight: int, folder: Path) -> Path:
    font = TTFont(WOFF / f"{name}-{part}.woff2", recalcTimestamp=False)
    if weight:
        instantiateVariableFont(font, {"wght": weight}, inplace=True)
    font.flavor = None
    for table in ("GSUB", "GPOS", "GDEF", "STAT", "DSIG"):  # those of two files are not to be joined
        if table in font and part == "latin-ext":
            del font[table]
    path = folder / f"{part}.ttf"
    font.save(path)
    return path


def _call(face: TTFont, family: str, style: str, weight: int) -> None:
    """Name the face, so that a system's face of the same family is never taken for it."""
    names = face["name"]
    for record in list(names.names):
        if record.nameID in (_TYPO_FAMILY, _TYPO_STYLE, 21, 22, 25):
            names.removeNames(nameID=record.nameID)
    for number, text in (
        (_FAMILY, family),
        (_STYLE, style),
        (_FULL, f"{family} {style}"),
        (_POSTSCRIPT, f"{family} {style}".replace(" ", "")),
    ):
        names.setName(text, number, 3, 1, 0x409)
    face["OS/2"].usWeightClass = weight


if __name__ == "__main__":
    main()
