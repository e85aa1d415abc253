"""Reading baskets as ``cravik.basket/1`` documents.

A key that means nothing is not a fault of the document but a refusal of the basket, so that it is
reported together with everything else that is wrong.

>>> basket = read_basket({"format": "cravik.basket/1", "on": "2026-11-23", "coed": "GUST"})
>>> basket.on.isoformat(), basket.unknown_keys
('2026-11-23', ('coed',))
"""

from __future__ import annotations

from dataclasses import replace
from typing import Annotated, Any, Literal

from pydantic import Field

from cravik.core.documents.data import BasketData, PlaceData, put, put_or_drop, without
from cravik.core.documents.parts import AmountText, Day, DocumentPart, Instant, PlaceDocument, path, read_as
from cravik.core.documents.writing import written
from cravik.core.pricing.basket import Basket, BasketLine

FORMAT = "cravik.basket/1"

_Text = Annotated[str, Field(max_length=200)]


class BasketLineDocument(DocumentPart):
    reads = BasketLine

    key: _Text
    quantity: Annotated[int, Field(ge=-1_000_000_000, le=1_000_000_000)] | None = None
    options: dict[_Text, _Text] = {}
    level: _Text | None = None
    amount: AmountText | None = None


class BasketDocument(DocumentPart):
    """A basket: what one buyer picked of an offer."""

    reads = Basket

    format: Literal["cravik.basket/1"]
    on: Day
    at: Instant | None = None
    lines: Annotated[list[BasketLineDocument], Field(max_length=100)] = []
    code: _Text | None = None
    destination: PlaceDocument | None = None
    tax_number: _Text | None = None
    cover_fee: bool = False
    plan: _Text | None = None
    pay_now: AmountText | None = None


def read_basket(document: object) -> Basket:
    """The basket that ``document`` (parsed JSON) says. Raises ``InvalidDocument`` with every fault."""
    known, unknown = _without_unknown_keys(document)
    basket: Basket = read_as(BasketDocument, known).read()
    return replace(basket, unknown_keys=tuple(unknown)) if unknown else basket


def _without_unknown_keys(document: object) -> tuple[object, list[str]]:
    """The document without the keys that mean nothing, and their paths."""
    if not isinstance(document, dict):
        return document, []
    unknown: list[str] = []
    known = {**_known(document, BasketDocument, "", unknown)}
    if isinstance(known.get("destination"), dict):
        known["destination"] = _known(known["destination"], PlaceDocument, "destination", unknown)
    if isinstance(known.get("lines"), list):
        known["lines"] = [
            _known(line, BasketLineDocument, path("lines", number), unknown) if isinstance(line, dict) else line
            for number, line in enumerate(known["lines"])
        ]
    return known, unknown


def _known(part: dict[str, Any], model: type[DocumentPart], at: str, unknown: list[str]) -> dict[str, Any]:
    others = part.keys() - model.model_fields.keys()
    if not others:
        return part
    unknown += [f"{at}.{key}" if at else key for key in part if key in others]
    return {key: value for key, value in part.items() if key not in others}


def write_basket(basket: Basket) -> BasketData:
    """The document that reads back to ``basket``; what has its default is left out."""
    fields = without(written(replace(basket, destination=None)), "unknown_keys")
    document = put(BasketData(format=FORMAT), **fields)
    if basket.destination:
        place = PlaceData(country=basket.destination.country)
        document["destination"] = put_or_drop(place, region=basket.destination.region)
    return document
