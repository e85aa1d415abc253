"""What is said of files that are not taken."""

from __future__ import annotations

from cravik.core.text.faults.wording import Words

PHOTOS: Words = {
    "photo_too_many_bytes": "It has {megabytes:.0f} MB; the most is {most} MB.",
    "photo_of_another_kind": "It is not a JPEG, PNG or WebP picture.",
    "photo_far_too_large": "It has far more megapixels than {most}, the most.",
    "photo_too_large": "It has {megapixels:,.0f} megapixels ({width} × {height}); the most is {most}.",
    "photo_too_small": "It is {width} × {height} pixels; the least is {least} each way.",
    "photo_animated": "It is animated. Choose a still picture.",
    "photo_damaged": "The file is damaged or not complete.",
}
TABLES: Words = {
    "table_missing": "Choose a file first.",
    "table_too_many_bytes": "It has {megabytes:.0f} MB; the most is {most} MB.",
    "table_too_many_rows": "It has more than {most} rows. Split it and import the parts one by one.",
    "table_cell_too_long": "It cannot be read from line {line} on: a cell is far too long.",
    "table_quotation_open": "It cannot be read from line {line} on: a quotation mark is never closed, or misplaced.",
    "table_empty": "The file is empty.",
    "table_is_workbook": "It is a workbook. Save it as CSV in your spreadsheet, and import that.",
    "table_not_text": "This isn't a text file. Save it as CSV, best in UTF-8, and import that.",
}
