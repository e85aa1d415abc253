"""Reading and writing standing terms: ``{"currency", "fee", "tax", "delivery"}``, each part as in an offer.

>>> read_standing({"currency": "EUR", "fee": {"percent": "1.5", "fixed": "0.25"}}).fee.fixed.major
'0.25'
"""

from __future__ import annotations

from typing import Any

from cravik.core.documents.offer import Currency
from cravik.core.documents.parts import DocumentPart, read_as
from cravik.core.documents.terms import DeliveryDocument, FeeDocument, TaxDocument
from cravik.core.documents.writing import written
from cravik.core.pricing import standing
from cravik.core.pricing.standing import StandingTerms


class StandingDocument(DocumentPart):
    """Terms that hold for every offer which has none of its own."""

    reads = standing.StandingTerms

    currency: Currency
    fee: FeeDocument | None = None
    tax: TaxDocument | None = None
    delivery: DeliveryDocument | None = None


def read_standing(document: object) -> StandingTerms:
    """The terms that ``document`` (parsed JSON) says. Raises ``InvalidDocument`` with every fault."""
    terms: StandingTerms = read_as(StandingDocument, document).read()
    return terms


def write_standing(terms: StandingTerms) -> dict[str, Any]:
    """The document that reads back to ``terms``."""
    return written(terms)
