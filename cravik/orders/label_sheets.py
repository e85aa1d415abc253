"""Sheets of labels as they are sold, by their millimetres.

Sizes are those that are printed on the packets of several makers: A4 (ISO 216) in columns and rows, and US Letter.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass


@dataclass(frozen=True)
class LabelSheet:
    """All lengths in millimetres; ``left`` and ``top`` are where the first label begins."""

    columns: int
    rows: int
    width: float
    height: float
    left: float
    top: float
    gap_x: float = 0
    gap_y: float = 0
    page_width: float = 210
    page_height: float = 297

    @property
    def labels(self) -> int:
        return self.columns * self.rows

    @property
    def words(self) -> str:
        """Such as “24 labels of 70 × 37 mm, A4”."""
        page = "A4" if self.page_width == 210 else "Letter"
        return f"{self.labels} labels of {self.width:g} × {self.height:g} mm, {page}"


LABEL_SHEETS: Mapping[str, LabelSheet] = {
    "a4-24": LabelSheet(3, 8, 70, 37, 0, 0.5),
    "a4-21": LabelSheet(3, 7, 63.5, 38.1, 7.25, 15.15, gap_x=2.5),
    "a4-16": LabelSheet(2, 8, 99.1, 33.9, 4.65, 12.9, gap_x=2.5),
    "a4-14": LabelSheet(2, 7, 99.1, 38.1, 4.65, 15.15, gap_x=2.5),
    "a4-10": LabelSheet(2, 5, 99.1, 57, 4.65, 6, gap_x=2.5),
    "a4-8": LabelSheet(2, 4, 99.1, 67.7, 4.65, 13.1, gap_x=2.5),
    "a4-65": LabelSheet(5, 13, 38.1, 21.2, 4.75, 10.7, gap_x=2.5),
    "letter-30": LabelSheet(3, 10, 66.7, 25.4, 4.8, 12.7, 3.2, 0, 215.9, 279.4),
    "letter-10": LabelSheet(2, 5, 101.6, 50.8, 4, 12.7, 4.7, 0, 215.9, 279.4),
}
USUAL_SHEET = "a4-21"
