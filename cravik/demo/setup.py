"""What the sample's seller decided in Setup. Rates and charges are made up to be plausible."""

from __future__ import annotations

from datetime import datetime
from typing import Any

from cravik.core.documents.data import DefaultData
from cravik.core.documents.defaults import read_defaults
from cravik.demo.drawings import kite_mark
from cravik.demo.seller import seller_of
from cravik.people.models import Business
from cravik.setup.defaults import Subject, decide
from cravik.setup.look_services import change_look, make_look
from cravik.setup.terms import make_terms
from cravik.ui.picture_files import keep_picture

_DECISIONS: dict[str, DefaultData] = {
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

_COLOURS = ("ground", "sheet", "text", "link", "button", "button_text", "band", "band_text")
_LOOKS: dict[str, dict[str, Any]] = {
    "Shed and sea": {
        "colours": dict(
            zip(
                _COLOURS,
                ("#f7f5ef", "#fffefb", "#1f2e33", "#1b6670", "#a63a28", "#ffffff", "#1d5f63", "#ffffff"),
                strict=True,
            )
        ),
        "type": "stall",
        "corners": "slight",
        "header": "Hand-made behind the dunes",
        "footer": "The Shed, Strand Lane, Marramport\nOpen when the wind is up",
        "socials": [{"name": "The beach today", "address": "https://beach.windlestraw.example"}],
    },
    "Night flying": {
        "colours": dict(
            zip(
                _COLOURS,
                ("#141c26", "#1d2733", "#eef2f4", "#8fd0ff", "#f2b705", "#1a1a1a", "#0c1219", "#f2b705"),
                strict=True,
            )
        ),
        "type": "plain",
        "corners": "round",
        "header": "Lights for after sunset",
    },
}

_TERMS = """**Sending things back.** Within 14 days, as they came; you pay the postage, we pay back the price.

**Repairs.** We write first if one costs more than it says. What nobody collects for three months, we fly.

**Workshops.** Too much wind, or none at all: another day, or your money."""


def decide_all(business: Business, now: datetime) -> None:
    """Make every decision that a link needs."""
    for subject, decided in _DECISIONS.items():
        document = {"currency": business.currency, **decided}
        read_defaults(document)
        decide(business, subject, document, 0, now, by=seller_of(business))

    _make_looks(business, now)
    make_terms(business, "terms of sale", _TERMS, now, by=seller_of(business))


def _make_looks(business: Business, now: datetime) -> None:
    for name, document in _LOOKS.items():
        look = make_look(business, now, by=seller_of(business))
        file = kite_mark()
        kept = keep_picture(file, file.getbuffer().nbytes)
        change_look(look, name, {**document, "logo": kept, "icon": kept}, look.revision, now, by=seller_of(business))
