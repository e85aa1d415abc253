"""What the sample's seller decided in Setup. Rates and charges are made up to be plausible."""

from __future__ import annotations

from datetime import datetime

from cravik.core.documents.standing import read_standing
from cravik.setup.defaults import Document, Subject, decide
from cravik.setup.models import Business

_DECISIONS: dict[str, Document] = {
    Subject.FEE: {"fee": {"percent": "1.5", "fixed": "0.25"}},
    Subject.TAX: {
        "tax": {
            "seller_country": "IE",
            "prices_include_tax": True,
            "rates": [
                {"country": "IE", "name": "VAT", "percent": "23", "categories": ["standard"]},
                {"country": "IE", "name": "VAT", "percent": "13.5", "categories": ["repair"]},
            ],
        }
    },
    Subject.DELIVERY: {
        "delivery": {
            "zones": [
                {
                    "name": "Ireland",
                    "countries": ["IE"],
                    "charge": {"kind": "flat", "amount": "5.00"},
                    "free_from": "80.00",
                },
                {
                    "name": "Britain",
                    "countries": ["GB"],
                    "charge": {"kind": "per_item", "first": "9.50", "next": "3.00"},
                },
                {
                    "name": "On the continent",
                    "countries": ["BE", "DE", "DK", "ES", "FR", "NL"],
                    "charge": {
                        "kind": "by_weight",
                        "bands": [{"from_g": 0, "amount": "11.00"}, {"from_g": 1000, "amount": "16.50"}],
                    },
                },
            ]
        }
    },
}


def decide_all(business: Business, now: datetime) -> None:
    """Make every decision that a link needs."""
    for subject, said in _DECISIONS.items():
        document = {"currency": business.currency, **said}
        read_standing(document)
        decide(business, subject, document, 0, now)
