"""The sample's links of every kind of price: levels, breaks, packs, what one wants, free, codes, steps, several things.

``SampleOffer`` is what a link document says; ``picked`` is what one of its buyers took.
"""

from __future__ import annotations

import random
from collections.abc import Mapping
from dataclasses import dataclass, field, replace

from cravik.catalogue.models import Item
from cravik.core.documents.data import (
    CodeData,
    CodeRuleData,
    EveryData,
    LimitsData,
    LineData,
    LinkData,
    OfferData,
    PageData,
    PlanData,
    QuantityData,
    StepData,
    put_or_drop,
    without,
)
from cravik.core.link.content import SUBJECTS
from cravik.core.pricing.basket import BasketLine
from cravik.core.pricing.offer import Line, Offer
from cravik.core.pricing.price import LevelsPrice, OpenPrice
from cravik.links.items.line import line_of_item

_MANY: QuantityData = {"min": 1, "max": None}


class SampleLine(LineData, total=False):
    """A line as documents have it; ``item`` names what it sells of the catalogue."""

    item: str


@dataclass(frozen=True)
class SampleOffer:
    """What a link sells."""

    lines: tuple[SampleLine, ...]
    codes: tuple[CodeData, ...] = ()
    rules: Mapping[str, CodeRuleData] = field(default_factory=dict)
    steps: tuple[StepData, ...] = ()
    page: PageData = field(default_factory=PageData)
    plan: PlanData = field(default_factory=PlanData)
    limits: LimitsData = field(default_factory=LimitsData)

    def document(self, title: str, currency: str, items: Mapping[str, Item]) -> LinkData:
        """The whole link document; it follows Setup in everything."""
        sold = {line["key"]: line["item"] for line in self.lines if "item" in line}
        lines = [
            line_of_item(without(line, "item"), items[line["item"]], currency) if "item" in line else line
            for line in self.lines
        ]
        offer: OfferData = {"format": "cravik.offer/1", "title": title, "currency": currency, "lines": [*lines]}
        return {
            "format": "cravik.link/1",
            "name": title,
            "offer": put_or_drop(offer, codes=list(self.codes), plan=self.plan),
            "follows": list(SUBJECTS),
            "items": sold,
            "steps": list(self.steps),
            "limits": self.limits,
            "code_rules": dict(self.rules),
            "page": self.page,
        }


def picked(offer: Offer, chance: random.Random) -> tuple[BasketLine, ...]:
    """What a buyer took: most take few, some an extra, and of what one wants one of the suggestions."""
    taken = tuple(_picked(line, chance) for line in offer.lines if not line.optional or chance.random() < 0.45)
    return taken or (_picked(offer.lines[0], chance),)


def as_far_as_left(taken: tuple[BasketLine, ...], left: Mapping[str, int]) -> tuple[BasketLine, ...]:
    """What of it can be had of lines of which so many are ``left``: fewer, or nothing where one is sold out."""
    if any(left.get(line.key, 1) < 1 for line in taken):
        return ()
    return tuple(
        replace(line, quantity=min(line.quantity or 1, left[line.key])) if line.key in left else line for line in taken
    )


def _picked(line: Line, chance: random.Random) -> BasketLine:
    least, most = line.quantity.min, line.quantity.max
    quantity = min(least + int(chance.expovariate(0.12 if most is None else 0.8)), most or 120)
    level = amount = None
    match line.price:
        case LevelsPrice(levels=levels):
            level = chance.choices([each.key for each in levels], [4, 3, 1][: len(levels)])[0]
        case OpenPrice(min=bound, suggested=suggested):
            amount = (chance.choice(suggested) if suggested else bound).major
    options = {choice.name: chance.choice(choice.options).name for choice in line.choices}
    return BasketLine(line.key, quantity, options=options, level=level, amount=amount)


KITE_WITH_TAIL = SampleOffer(
    lines=(
        {"key": "kite", "item": "DELTA", "price": {"kind": "fixed", "amount": "45.00", "was": "52.00"}},
        {
            "key": "tail",
            "item": "RIBBON",
            "price": {"kind": "fixed", "amount": "1.20"},
            "optional": True,
            "quantity": {"default": 5, "min": 1, "max": 25},
        },
        {
            "key": "patch",
            "name": "Repair patches",
            "price": {"kind": "fixed", "amount": "4.50"},
            "optional": True,
            "ships": True,
            "weight_g": 10,
        },
    ),
    codes=(
        {"code": "WIND15", "kind": "percent", "percent": "15", "lines": ["kite"]},
        {"code": "POSTFREE", "kind": "free_delivery", "minimum": "40.00"},
    ),
    rules={"WIND15": {"uses": 200, "uses_per_buyer": 1}},
    page={"words": "A delta that flies from a light breeze up, and a tail to go with it."},
)
CLASS_SETS = SampleOffer(
    lines=(
        {
            "key": "sled",
            "item": "SLED",
            "price": {
                "kind": "quantity",
                "method": "all_units",
                "breaks": [
                    {"from": 1, "unit": "14.00"},
                    {"from": 10, "unit": "12.50"},
                    {"from": 25, "unit": "11.00"},
                    {"from": 60, "unit": "9.80"},
                ],
            },
            "quantity": {"default": 25, **_MANY},
        },
    ),
    page={"words": "For schools and summer camps. Each comes flat, with two spars and a line."},
)
SPARS = SampleOffer(
    lines=(
        {
            "key": "spars",
            "item": "SPARS",
            "price": {"kind": "packs", "size": 6, "amount": "14.50"},
            "quantity": {"default": 6, **_MANY},
        },
    ),
)
FESTIVAL_FUND = SampleOffer(
    lines=(
        {
            "key": "fund",
            "name": "Kite festival fund",
            "price": {"kind": "open", "min": "2.00", "max": "500.00", "suggested": ["10.00", "20.00", "50.00"]},
        },
    ),
    page={
        "words": "The festival on the long strand is free for everyone. This pays for it.",
        "button": "Give {amount}",
    },
)
PATRONS = SampleOffer(
    lines=(
        {
            "key": "patron",
            "name": "Festival patron",
            "price": {
                "kind": "levels",
                "levels": [
                    {"key": "breeze", "name": "Breeze", "amount": "25.00", "words": "Your name on the board."},
                    {"key": "gale", "name": "Gale", "amount": "60.00", "words": "Your name on a kite, and two teas."},
                    {
                        "key": "storm",
                        "name": "Storm",
                        "amount": "150.00",
                        "words": "A kite of your own, flown at the opening and yours to keep.",
                    },
                ],
            },
        },
    ),
)
BEACH_WEEKEND = SampleOffer(
    lines=({"key": "weekend", "name": "Beach weekend", "price": {"kind": "fixed", "amount": "150.00"}},),
    steps=({"line": "weekend", "price": {"kind": "fixed", "amount": "200.00"}, "after_orders": 40},),
    page={"words": "Two days of sewing and flying, bed and breakfast at the lighthouse.", "tells_left": True},
)
FLYING_DAY = SampleOffer(
    lines=(
        {
            "key": "place",
            "name": "Place on the flying day",
            "price": {"kind": "fixed", "amount": "0.00"},
            "quantity": {"default": 1, "min": 1, "max": 4},
        },
    ),
    page={"words": "Free, but please say how many of you are coming."},
)
SEWING_DAY = SampleOffer(
    lines=(
        {
            "key": "place",
            "name": "Place at the sewing day",
            "price": {"kind": "fixed", "amount": "58.00"},
            "quantity": {"default": 1, "min": 1, "max": 4},
        },
    ),
    limits={"pieces": {"place": 40}, "pieces_per_buyer": {"place": 4}},
    page={"words": "Machines, ripstop and patterns are there. You go home with a kite in a bag that you sewed."},
)
PRINT = SampleOffer(
    lines=(
        {
            "key": "print",
            "name": "Linocut “Onshore wind”",
            "price": {"kind": "fixed", "amount": "38.00"},
            "quantity": {"default": 1, "min": 1, "max": 2},
            "ships": True,
            "weight_g": 120,
        },
    ),
    limits={"pieces": {"print": 25}},
    page={"words": "Two colours on 300 g paper, 30 × 40 cm, numbered and signed."},
)
STICKERS = SampleOffer(
    lines=(
        {
            "key": "sticker",
            "name": "Kite stickers",
            "price": {
                "kind": "bundles",
                "unit": "2.00",
                "bundles": [{"count": 3, "amount": "5.00"}, {"count": 10, "amount": "15.00"}],
            },
            "quantity": {"default": 3, "min": 1, "max": 200},
            "ships": True,
            "weight_g": 4,
        },
    ),
)
FAMILY_DAY = SampleOffer(
    lines=tuple(
        {
            "key": key,
            "name": name,
            "price": {"kind": "fixed", "amount": amount},
            "quantity": {"default": 1, "min": 1, "max": 6},
            "optional": True,
        }
        for key, name, amount in (("adult", "Adult", "14.00"), ("child", "Child", "6.50"))
    ),
    limits={"pieces": {"adult": 60, "child": 90}},
    page={"words": "Build a kite together in the morning, fly it in the afternoon. Children come with an adult."},
)
_MONTH: EveryData = {"count": 1, "unit": "month"}
GIANT = SampleOffer(
    lines=({"key": "giant", "item": "GIANT", "price": {"kind": "fixed", "amount": "900.00"}},),
    plan={
        "kind": "choice",
        "of": [
            {"key": "once", "plan": {"kind": "once"}},
            {
                "key": "parts",
                "plan": {"kind": "instalments", "every": _MONTH, "payments": 6},
                "prices": {"giant": {"kind": "fixed", "amount": "930.00"}},
            },
            {"key": "deposit", "plan": {"kind": "deposit", "percent": "30", "rest_after_days": 90}},
        ],
    },
)
TAIL_CLUB = SampleOffer(
    lines=(
        {"key": "club", "item": "CLUB", "price": {"kind": "fixed", "amount": "12.00"}},
        {"key": "joining", "name": "Welcome tail", "price": {"kind": "fixed", "amount": "9.00"}, "once": True},
    ),
    plan={
        "kind": "repeat",
        "every": _MONTH,
        "first": {"payments": 3, "prices": {"club": {"kind": "fixed", "amount": "8.00"}}},
    },
)
