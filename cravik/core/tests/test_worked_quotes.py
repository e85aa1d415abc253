"""The worked examples of the offer format: each basket comes to exactly the figures that stand beside it."""

from __future__ import annotations

import json
import unittest
from pathlib import Path
from typing import Any

from cravik.core.documents.basket import read_basket
from cravik.core.documents.offer import read_offer, write_offer
from cravik.core.documents.quote import write_quote, write_refusals
from cravik.core.errors import BasketRefused
from cravik.core.pricing.quote import quote
from cravik.core.text.explanation import explain
from cravik.core.text.sentence import sentence

CASES = [
    json.loads(line)
    for name in ("worked-quotes.ndjson", "worked-quotes-2.ndjson", "worked-quotes-3.ndjson")
    for line in (Path(__file__).parent / "data" / name).read_text().splitlines()
]


class WorkedQuotesTest(unittest.TestCase):
    maxDiff = None

    def test_every_worked_example_agrees(self) -> None:
        self.assertEqual(len(CASES), 427)
        for case in CASES:
            with self.subTest(case["id"], why=case["why"]):
                self.assertEqual(quoted(case), case["quote"])

    def test_every_offer_is_written_as_it_was_read(self) -> None:
        for case in CASES:
            with self.subTest(case["id"]):
                offer = read_offer(case["offer"])
                self.assertEqual(read_offer(json.loads(json.dumps(write_offer(offer)))), offer)

    def test_every_quote_can_be_explained_and_every_offer_said(self) -> None:
        for case in CASES:
            with self.subTest(case["id"]):
                offer, basket = read_offer(case["offer"]), read_basket(case["basket"])
                self.assertRegex(
                    "".join(phrase.text for phrase in sentence(offer)), r"^\S.* for .*, paid .*\.$|; paid "
                )
                if "errors" not in case["quote"]:
                    told = "\n".join(explain(offer, basket))
                    for figure in ("total", "due_now", "subtotal"):
                        self.assertIn(case["quote"][figure], told)


def quoted(case: dict[str, Any]) -> dict[str, Any]:
    """The quote, or the refusals without their messages, which the examples leave open."""
    try:
        return write_quote(quote(read_offer(case["offer"]), read_basket(case["basket"])))
    except BasketRefused as refused:
        document = write_refusals(refused.faults)
        for error in document["errors"]:
            assert error.pop("message")
        document["errors"] = in_order(document["errors"])
        case["quote"]["errors"] = in_order(case["quote"]["errors"])
        return document


def in_order(errors: list[dict[str, Any]]) -> list[dict[str, Any]]:
    return sorted(errors, key=lambda error: (error["at"], error["code"]))
