"""What costs nothing: a fixed price of 0. No card is asked for."""

from __future__ import annotations

from collections.abc import Iterator

from cravik.core.documents.data import PriceData
from cravik.links.bench.changes import Change
from cravik.links.bench.parts.prices.base import PricePart


class FreePricePart(PricePart):
    kind = "free"
    label = "Free"
    template = "links/bench/prices/free.html"

    @classmethod
    def shows(cls, price: PriceData) -> bool:
        return price.get("kind") == "fixed" and not str(price.get("amount", "")).strip("0.") and "was" not in price

    def changes(self) -> Iterator[Change]:
        """There is nothing to change of it."""
        yield from ()

    @classmethod
    def amount_in(cls, price: PriceData) -> str:
        return ""

    @classmethod
    def begin(cls, amount: str) -> PriceData:
        return {"kind": "fixed", "amount": "0"}
