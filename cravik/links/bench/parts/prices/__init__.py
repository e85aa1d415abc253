"""The kinds of price that the bench can make, one a file. ``PRICE_PARTS`` is the list that everything goes by."""

from __future__ import annotations

from cravik.core.documents.data import PriceData
from cravik.links.bench.parts.prices.base import PricePart
from cravik.links.bench.parts.prices.bundles import BundlesPricePart
from cravik.links.bench.parts.prices.fixed import FixedPricePart
from cravik.links.bench.parts.prices.free import FreePricePart
from cravik.links.bench.parts.prices.levels import LevelsPricePart
from cravik.links.bench.parts.prices.open import OpenPricePart
from cravik.links.bench.parts.prices.packs import PacksPricePart
from cravik.links.bench.parts.prices.quantity import QuantityPricePart

#: By their names, in the order in which a seller chooses among them.
PRICE_PARTS: dict[str, type[PricePart]] = {
    part.kind: part
    for part in (
        FixedPricePart,
        FreePricePart,
        LevelsPricePart,
        QuantityPricePart,
        BundlesPricePart,
        PacksPricePart,
        OpenPricePart,
    )
}

__all__ = ["PRICE_PARTS", "FixedPricePart", "PricePart", "kind_of"]


def kind_of(price: PriceData | None) -> str:
    """The kind under which the bench shows a price; one that is not there yet begins as a fixed one."""
    if not price:
        return FixedPricePart.kind
    return next((kind for kind, part in PRICE_PARTS.items() if part.shows(price)), str(price.get("kind", "")))
