"""Tables as CSV (RFC 4180), out to spreadsheets and in from them."""

from __future__ import annotations

import csv
import io
from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass

from charset_normalizer import from_bytes
from django.http import StreamingHttpResponse

from cravik.core.text.refusal import Refusal
from cravik.ui.refusals import TABLES

#: What a cell begins with that is taken for a formula, in full width as well, which spreadsheets read alike.
_FORMULA_SIGNS = (*"=+-@\t\r\n", *"＝＋－＠﹢﹣﹦﹫")
#: What spreadsheets save text in; of Western Europe's single bytes, Windows' own.
_ENCODINGS = ["utf_8", "utf_16", "cp1252"]
_SNIFFED_LINES = 20


class TableRefused(Refusal):
    """The file is no table that can be read."""

    words = TABLES


@dataclass(frozen=True)
class Table:
    """Column names in small letters, and each row that is not empty with its line in the file."""

    head: list[str]
    rows: list[tuple[int, list[str]]]


def as_text(cell: str) -> str:
    """``cell`` so that a spreadsheet never takes it for a formula."""
    return f"'{cell}" if cell.startswith(_FORMULA_SIGNS) else cell


def from_text(cell: str) -> str:
    """``cell`` without the mark that ``as_text`` put before it."""
    return cell[1:] if cell.startswith("'") and cell[1:].startswith(_FORMULA_SIGNS) else cell


def csv_response(name: str, head: Sequence[str], rows: Iterable[Sequence[object]]) -> StreamingHttpResponse:
    """The table as a file to keep, streamed; it begins with a byte-order mark, which spreadsheets look for."""
    writer = csv.writer(_Echo())

    def file() -> Iterator[str]:
        yield "\ufeff" + writer.writerow(head)
        for row in rows:
            yield writer.writerow(row)

    return StreamingHttpResponse(
        file(),
        content_type="text/csv; charset=utf-8",
        headers={"Content-Disposition": f'attachment; filename="{name}"'},
    )


def read_table(content: bytes, most_rows: int) -> Table:
    """The table in the file, whatever common encoding and separator it was saved with. Raises ``TableRefused``."""
    text = _decoded(content)
    reader = csv.reader(io.StringIO(text, newline=""), delimiter=_separator(text), strict=True)
    rows: list[tuple[int, list[str]]] = []
    head: list[str] = []
    try:
        for cells in reader:
            if not any(cell.strip() for cell in cells):
                continue
            if not head:
                head = [cell.strip().lower() for cell in cells]
                continue
            if len(rows) == most_rows:
                raise TableRefused.of("table_too_many_rows", most=most_rows)
            rows.append((reader.line_num, [from_text(cell) for cell in cells]))
    except csv.Error as trouble:
        code = "table_cell_too_long" if "limit" in str(trouble) else "table_quotation_open"
        raise TableRefused.of(code, line=reader.line_num) from None
    if not head:
        raise TableRefused.of("table_empty")
    return Table(head, rows)


def _decoded(content: bytes) -> str:
    if content.startswith(b"PK"):
        raise TableRefused.of("table_is_workbook")
    if not content.strip():
        return ""
    found = from_bytes(content, cp_isolation=_ENCODINGS, threshold=1.0).best()
    text = str(found) if found else "\0"
    if "\0" in text:
        raise TableRefused.of("table_not_text")
    return text.removeprefix("\ufeff")


def _separator(text: str) -> str:
    """The one of the usual separators that the first lines are parted by; a comma where there is but one column."""
    sample = "\n".join(text.splitlines()[:_SNIFFED_LINES])
    try:
        return csv.Sniffer().sniff(sample, delimiters=",;\t").delimiter
    except csv.Error:
        return ","


class _Echo:
    """A file that hands back what is written to it, for ``csv.writer``."""

    def write(self, value: str) -> str:
        return value
