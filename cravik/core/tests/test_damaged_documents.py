"""Worked examples with a value replaced or removed: each is quoted, or refused in words. Nothing crashes."""

from __future__ import annotations

import copy
import random
import unittest
from typing import Any

from cravik.core.documents.basket import read_basket
from cravik.core.documents.offer import read_offer, write_offer
from cravik.core.documents.partial_offer import read_partial_offer
from cravik.core.errors import BasketRefused, InvalidDocument
from cravik.core.pricing.advice import advise
from cravik.core.pricing.quote import quote
from cravik.core.tests.test_worked_quotes import CASES
from cravik.core.text.explanation import explain
from cravik.core.text.faults import fault_words
from cravik.core.text.sentence import sentence

VALUES = (
    *(None, 0, -1, 1.5, True, 10**12, "", "0", "-1", "1e9", "0.01", "9" * 40, "x", "*", "IE", "100", "once", "\u202e"),
    *("0001-01-01", "9999-12-31", "9999-12-31T23:59:59+00:00", (), {"kind": "once"}),
)


class DamagedDocumentsTest(unittest.TestCase):
    def test_damage_is_survived_or_told(self) -> None:
        chance = random.Random(7)
        outcomes = {"quoted": 0, "refused": 0, "invalid": 0}
        for _ in range(1500):
            case = copy.deepcopy(chance.choice(CASES))
            damage(case["offer" if chance.random() < 0.7 else "basket"], chance)
            with self.subTest(offer=case["offer"], basket=case["basket"]):
                outcomes[self.outcome(case)] += 1
        for outcome, times in outcomes.items():
            self.assertGreater(times, 50, outcome)

    def outcome(self, case: dict[str, Any]) -> str:
        self.assertTrue(sentence(read_partial_offer(case["offer"])))
        try:
            offer, basket = read_offer(case["offer"]), read_basket(case["basket"])
        except InvalidDocument as refused:
            self.assertTrue(all(fault_words(fault) for fault in refused.faults))
            return "invalid"
        self.assertEqual(read_offer(write_offer(offer)), offer)
        self.assertTrue(sentence(offer))
        self.assertTrue(all(fault_words(warning) for warning in advise(offer)))
        try:
            self.assertGreaterEqual(quote(offer, basket).total.minor, 0)
        except BasketRefused as refused:
            self.assertTrue(all(fault_words(fault) for fault in refused.faults))
            return "refused"
        self.assertTrue(explain(offer, basket))
        return "quoted"


def damage(document: Any, chance: random.Random) -> None:
    """Replace or remove one value, wherever it stands."""
    holder, key = chance.choice(list(places(document)))
    if chance.random() < 0.8:
        holder[key] = copy.deepcopy(chance.choice(VALUES))
    else:
        del holder[key]


def places(part: Any) -> Any:
    keys = part.keys() if isinstance(part, dict) else range(len(part)) if isinstance(part, list) else ()
    for key in keys:
        yield part, key
        yield from places(part[key])
