"""An offer that is not finished: what of it can be read, with gaps where it cannot.

>>> offer = read_partial_offer({"title": "Kite repair", "lines": [{"name": "Kite repair", "price": {"kind": "fixed"}}]})
>>> offer.title, offer.lines[0].name, offer.lines[0].price
('Kite repair', 'Kite repair', None)
"""

from __future__ import annotations

from dataclasses import replace
from functools import cache
from typing import Any

from pydantic import TypeAdapter, ValidationError

from cravik.core.documents.lines import OptionGroupDocument, PriceDocument, QuantityDocument
from cravik.core.documents.parts import MAX_LINES, DocumentPart
from cravik.core.documents.plans import PlanDocument
from cravik.core.documents.whole_order import CodeDocument, DeliveryDocument, FeeDocument, TaxDocument, WindowDocument
from cravik.core.pricing.currency import known_currency
from cravik.core.pricing.offer import EXACTLY_ONE
from cravik.core.pricing.partial_offer import PartialLine, PartialOffer
from cravik.core.pricing.schedule import ONCE


def read_partial_offer(document: object) -> PartialOffer:
    """What of ``document`` (parsed JSON) can be read; the rest is left out."""
    parts = document if isinstance(document, dict) else {}
    reader = _PartReader(known_currency(parts.get("currency")))
    title = parts.get("title")
    lines = parts.get("lines")
    read = [_line(line, reader) for line in (lines if isinstance(lines, list) else [])[:MAX_LINES]]
    if not read or (len(read) == 1 and not read[0].name):
        only = read[0] if read else PartialLine()
        read = [replace(only, name=title if isinstance(title, str) else "")]
    return PartialOffer(
        title=title if isinstance(title, str) else "",
        lines=tuple(read),
        plan=reader.part("plan", parts.get("plan"), ONCE),
        codes=reader.parts("code", parts.get("codes")),
        delivery=reader.part("delivery", parts.get("delivery"), None),
        tax=reader.part("tax", parts.get("tax"), None),
        fee=reader.part("fee", parts.get("fee"), None),
        window=reader.part("window", parts.get("window"), None),
    )


def _line(document: object, reader: _PartReader) -> PartialLine:
    parts = document if isinstance(document, dict) else {}
    name = parts.get("name")
    key = parts.get("key")
    return PartialLine(
        key=key if isinstance(key, str) else "",
        name=name if isinstance(name, str) else "",
        price=reader.part("price", parts.get("price"), None),
        quantity=reader.part("quantity", parts.get("quantity"), EXACTLY_ONE),
        choices=reader.parts("choice", parts.get("choices")),
        optional=parts.get("optional") is True,
        ships=parts.get("ships") is True,
        once=parts.get("once") is True,
    )


_KINDS: dict[str, Any] = {
    "price": PriceDocument,
    "quantity": QuantityDocument,
    "choice": OptionGroupDocument,
    "plan": PlanDocument,
    "code": CodeDocument,
    "delivery": DeliveryDocument,
    "tax": TaxDocument,
    "fee": FeeDocument,
    "window": WindowDocument,
}


@cache
def _adapter(kind: str) -> TypeAdapter[DocumentPart]:
    """What reads a part of that kind, made once: that takes longer than reading."""
    return TypeAdapter(_KINDS[kind])


class _PartReader:
    def __init__(self, currency: str | None) -> None:
        self.currency = currency

    def part(self, kind: str, document: object, otherwise: Any) -> Any:
        """What ``document`` says as a part of that kind, or ``otherwise``. Amounts need the currency."""
        if document is None or self.currency is None:
            return otherwise
        try:
            read = _adapter(kind).validate_python(document, context={"currency": self.currency})
        except ValidationError:
            return otherwise
        return read.read()

    def parts(self, kind: str, document: object) -> tuple[Any, ...]:
        read = (self.part(kind, each, None) for each in (document if isinstance(document, list) else []))
        return tuple(each for each in read if each is not None)
