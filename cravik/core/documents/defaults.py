"""Reading and writing defaults of offers: ``{"currency", "fee", "tax", "delivery"}``, each part as in an offer.

>>> read_defaults({"currency": "EUR", "fee": {"percent": "1.5", "fixed": "0.25"}}).fee.fixed.major
'0.25'
"""

from __future__ import annotations

from typing import Any

from cravik.core.documents.offer import Currency
from cravik.core.documents.parts import DocumentPart, read_as
from cravik.core.documents.whole_order import DeliveryDocument, FeeDocument, TaxDocument
from cravik.core.documents.writing import written
from cravik.core.pricing import defaults
from cravik.core.pricing.defaults import OfferDefaults


class OfferDefaultsDocument(DocumentPart):
    """Terms that hold for every offer which has none of its own."""

    reads = defaults.OfferDefaults

    currency: Currency
    fee: FeeDocument | None = None
    tax: TaxDocument | None = None
    delivery: DeliveryDocument | None = None


def read_defaults(document: object) -> OfferDefaults:
    """The defaults that ``document`` (parsed JSON) says. Raises ``InvalidDocument`` with every fault."""
    read: OfferDefaults = read_as(OfferDefaultsDocument, document).read()
    return read


def write_defaults(of_seller: OfferDefaults) -> dict[str, Any]:
    """The document that reads back to ``of_seller``."""
    return written(of_seller)
