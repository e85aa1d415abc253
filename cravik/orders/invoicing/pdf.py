"""A document as PDF/A-3 (ISO 19005-3), tagged, its fonts in it; an invoice carries its structured form."""

from __future__ import annotations

from pathlib import Path
from typing import Any

from cravik.core.documents.cii import FILE_NAME, write_cii
from cravik.core.documents.issued import read_content
from cravik.core.invoicing.content import Content
from cravik.core.invoicing.structured import why_not
from cravik.core.text.document_sheet import sheet_of
from cravik.orders.models import IssuedDocument
from cravik.ui.paper import TypesettingFailed, typeset

_TEMPLATE = Path(__file__).parent.parent / "paper" / "document.typ"
_WORDS = {"to": "To", "quantity": "Pieces", "what": "What", "net": "Net", "rate": "Tax", "amount": "Amount"}
#: Where paper is not A4 (CLDR's supplemental data).
_LETTER_COUNTRIES = frozenset("BZ CA CL CO CR GT MX NI PA PH PR SV US VE".split())


def pdf_of(document: IssuedDocument) -> bytes:
    """Where a sign of it is in no font that there is, as a PDF that is no archive's: that one may not lack a sign."""
    data = _data(read_content(document.content))
    try:
        return typeset(_TEMPLATE, data, document.issued_at, standard="a-3b")
    except TypesettingFailed:
        return typeset(_TEMPLATE, data, document.issued_at)


def file_name(document: IssuedDocument, ending: str = "pdf") -> str:
    """Such as ``receipt-R-2026-0012.pdf``."""
    plain = "".join(sign if sign.isascii() and (sign.isalnum() or sign in "-.") else "-" for sign in str(document))
    return f"{plain}.{ending}"


def xml_of(document: IssuedDocument) -> bytes | None:
    """Its structured form; None where it has none."""
    content = read_content(document.content)
    return None if why_not(content) else write_cii(content)


def _data(content: Content) -> dict[str, Any]:
    sheet = sheet_of(content)
    xml = None
    if not why_not(content):
        about = f"{sheet.title} {sheet.number}, EN 16931"
        xml = {"name": FILE_NAME, "text": write_cii(content).decode(), "description": about}
    fields = {name: getattr(sheet, name) for name in sheet.__dataclass_fields__}
    fields["rows"] = [row._asdict() for row in sheet.rows]
    fields["sums"] = [each._asdict() for each in sheet.sums]
    return {
        "sheet": fields,
        "words": _WORDS,
        "description": f"{content.order}, {content.reference}",
        "page": "us-letter" if content.seller.country in _LETTER_COUNTRIES else "a4",
        "xml": xml,
    }
