from __future__ import annotations

import copy
import json
import random
import unittest
from dataclasses import replace
from datetime import UTC, datetime
from typing import Any

from hypothesis import given
from hypothesis import strategies as st

from cravik.core.documents.link import read_link, write_link
from cravik.core.documents.link_draft import complete, gaps_in, in_currency
from cravik.core.errors import InvalidDocument
from cravik.core.link.closing import closes_at, opens_at, why_closed
from cravik.core.link.content import LinkContent
from cravik.core.link.counted import Counted
from cravik.core.link.limits import Limits
from cravik.core.link.steps import offer_at
from cravik.core.pricing.offer import Window
from cravik.core.tests.test_damaged_documents import damage
from cravik.core.tests.test_documents import document, line
from cravik.core.tests.test_worked_quotes import CASES
from cravik.core.text.cleared_words import cleared_words
from cravik.core.text.faults import gap_words
from cravik.core.text.price_words import price_in_words

NOON = datetime(2026, 12, 1, 12, tzinfo=UTC)

FULL: dict[str, Any] = {
    "format": "cravik.link/1",
    "name": "Delta kite, spring",
    "offer": document(
        line(choices=[{"name": "Span", "options": [{"name": "1.2 m", "add": "-6.00"}, {"name": "1.8 m"}]}]),
        codes=[
            {"code": "EARLY", "kind": "percent", "percent": "15", "minimum": "20.00"},
            {"code": "FIVE", "kind": "amount", "amount": "5.00"},
        ],
        plan={"kind": "deposit", "amount": "10.00", "rest_after_days": 30},
    ),
    "follows": ["tax", "fee", "look"],
    "items": {"kite": "DELTA"},
    "steps": [
        {"line": "kite", "price": {"kind": "fixed", "amount": "52.00"}, "after_orders": 10},
        {"line": "kite", "price": {"kind": "fixed", "amount": "60.00"}, "from": "2026-12-01T00:00:00+00:00"},
    ],
    "limits": {"closes_at": "2026-12-31T18:00:00+01:00", "orders": 40},
    "asks": {
        "phone": "optional",
        "note": {"ask": "optional", "label": "A note for the maker"},
        "newsletter": "Tell me",
    },
    "questions": [
        {"key": "name-on-tail", "kind": "short_text", "label": "Name on the tail", "longest": 24},
        {"key": "guests", "kind": "number", "label": "How many?", "least": 1, "most": "12.5", "required": True},
        {"key": "colours", "kind": "several_of", "label": "Colours", "options": ["red", "blue"], "most": 2},
        {"key": "day", "kind": "day", "label": "When?", "earliest": "2026-12-01"},
    ],
    "code_rules": {"EARLY": {"uses": 10, "uses_per_buyer": 1}, "FIVE": {"uses": 2}},
    "page": {"words": "By **hand**.", "button": "Pay {amount}", "card": {"title": "A kite"}},
    "after": {"message": "Thank you, {buyer}.", "go_to": "https://kites.example/thanks"},
    "contact": {"support_email": "hello@kites.example"},
    "labels": ["market"],
}


def changed(**changes: Any) -> dict[str, Any]:
    return copy.deepcopy(FULL) | changes


def faults_of(value: object) -> list[tuple[str, str]]:
    try:
        read_link(value)
    except InvalidDocument as refused:
        return sorted((fault.code, fault.at) for fault in refused.faults)
    return []


class LinkDocumentTest(unittest.TestCase):
    maxDiff = None

    def test_a_full_document_reads_back_from_what_is_written(self) -> None:
        content = read_link(FULL)
        self.assertEqual(read_link(json.loads(json.dumps(write_link(content)))), content)
        self.assertEqual(content.questions[1].most.as_tuple().digits, (1, 2, 5))

    def test_every_worked_offer_makes_a_link_that_reads_back(self) -> None:
        for case in CASES:
            with self.subTest(case["id"]):
                content = read_link({"format": "cravik.link/1", "name": case["id"], "offer": case["offer"]})
                self.assertEqual(read_link(json.loads(json.dumps(write_link(content)))), content)
                self.assertTrue(price_in_words(content.offer))

    def test_what_is_followed_stands_nowhere_else(self) -> None:
        offer = document(fee={"percent": "1", "fixed": "0"})
        found = faults_of(changed(offer=offer, follows=["fee", "contact"], steps=[], code_rules={}))
        self.assertEqual(found, [("invalid_document", "contact"), ("invalid_document", "offer.fee")])

    def test_every_name_of_a_line_or_code_is_one_of_the_offer(self) -> None:
        step = {"line": "tail", "price": {"kind": "fixed", "amount": "1"}, "after_orders": 1}
        found = faults_of(changed(items={"box": "BOX"}, steps=[step], code_rules={"LATE": {"uses": 1}}))
        self.assertEqual([at for _, at in found], ["code_rules.LATE", "items.box", "steps[0].line"])

    def test_unknown_keys_and_unsound_values_are_refused_where_they_stand(self) -> None:
        for at, change in {
            "colour": {"colour": "red"},
            "asks.phone": {"asks": {"phone": "maybe"}},
            "after.go_to": {"after": {"go_to": "javascript:alert(1)"}},
            "after.cancelled": {"after": {"cancelled": "http://kites.example"}},
            "after.message": {"after": {"message": "Dear {card}"}},
            "page.button": {"page": {"button": "Pay {total}"}},
            "questions[0].key": {"questions": [{"key": "A b", "kind": "yes_no", "label": "Sure?"}]},
            "questions[0].longest": {
                "questions": [{"key": "a", "kind": "short_text", "label": "A", "shortest": 9, "longest": 3}]
            },
            "contact.support_email": {"contact": {"support_email": "a@\u200b.de"}},
            "steps[0]": {"steps": [{"line": "kite", "price": {"kind": "fixed", "amount": "1"}}]},
            "steps[0].price": {
                "steps": [{"line": "kite", "price": {"kind": "fixed", "amount": "1"}, "after_orders": 1}]
            },
            "limits.orders": {"limits": {"orders": 0}},
            "follows[1]": {"follows": ["tax", "tax"]},
            "labels[1]": {"labels": ["a", "a"]},
        }.items():
            with self.subTest(at):
                self.assertEqual([where for _, where in faults_of(changed(**change))], [at])

    def test_damage_is_survived_or_told(self) -> None:
        chance = random.Random(9)
        refused = 0
        for _ in range(600):
            broken = copy.deepcopy(FULL)
            damage(broken, chance)
            with self.subTest(document=broken):
                found = faults_of(broken)
                refused += bool(found)
                self.assertTrue(all(code in ("unknown_key", "invalid_document") for code, _ in found))
        self.assertGreater(refused, 100)

    @given(st.recursive(st.none() | st.booleans() | st.text(max_size=5) | st.integers(), st.lists, max_leaves=5))
    def test_noise_is_no_link(self, noise: object) -> None:
        self.assertTrue(faults_of(noise))


class StepsAndLimitsTest(unittest.TestCase):
    def price(self, instant: datetime, orders: int) -> str:
        content = read_link(FULL)
        return price_in_words(offer_at(content.offer, content.steps, instant, Counted(orders)))

    def test_of_the_steps_that_are_reached_the_last_listed_holds(self) -> None:
        before = datetime(2026, 11, 30, 23, 59, 59, tzinfo=UTC)
        self.assertEqual(self.price(before, 9), "€18.00–€24.00")
        self.assertEqual(self.price(before, 10), "€46.00–€52.00")
        self.assertEqual(self.price(datetime(2026, 12, 1, tzinfo=UTC), 0), "€54.00–€60.00")

    def test_a_link_is_closed_by_whichever_comes_first(self) -> None:
        limits = Limits(opens_at=NOON.replace(hour=10), closes_at=NOON, orders=3)
        offer = replace(read_link(FULL).offer, window=Window(NOON.replace(hour=11), NOON.replace(hour=13)))
        link = LinkContent("Kite", offer, limits=limits)
        self.assertEqual((opens_at(link), closes_at(link)), (NOON.replace(hour=11), NOON))
        for hour, orders, why in ((10, 0, "not_open_yet"), (11, 0, None), (11, 3, "count"), (12, 0, "day")):
            with self.subTest(hour=hour, orders=orders):
                self.assertEqual(why_closed(link, NOON.replace(hour=hour), Counted(orders)), why)


class DraftTest(unittest.TestCase):
    def test_a_currency_that_changes_takes_no_amount_along(self) -> None:
        found = in_currency(FULL, "GBP")
        self.assertEqual(
            cleared_words(found.cleared, "EUR"),
            "Cleared, because they were in EUR: the price of “Kite”, what the options of “Kite” add,"
            " the least order of the code EARLY, the code FIVE, the deposit and the prices that change later.",
        )
        self.assertEqual([gap_words(gap) for gap in gaps_in(found.document)], ["“Kite” has no price yet."])
        self.assertIsNone(complete(found.document))
        found.document["offer"]["lines"][0]["price"] = {"kind": "fixed", "amount": "20.00"}
        content = complete(found.document)
        assert content
        self.assertEqual((content.offer.currency, list(content.code_rules)), ("GBP", ["EARLY"]))
        self.assertEqual(in_currency(FULL, "EUR"), (FULL, ()))

    def test_every_worked_offer_can_change_its_currency(self) -> None:
        for case in CASES:
            with self.subTest(case["id"]):
                draft = {"format": "cravik.link/1", "name": "x", "offer": case["offer"]}
                document = in_currency(draft, "CHF").document
                for sold in document["offer"]["lines"]:
                    sold["price"] = {"kind": "fixed", "amount": "1"}
                self.assertEqual(gaps_in(document), ())
