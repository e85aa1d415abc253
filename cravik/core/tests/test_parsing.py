"""The offer's sentence, read back: what the core says of an offer is what it reads of it."""

from __future__ import annotations

import json
import unittest
from dataclasses import replace
from datetime import date
from pathlib import Path
from typing import Any
from zoneinfo import ZoneInfo

from hypothesis import given

from cravik.core.documents.link import read_link
from cravik.core.documents.offer import read_offer
from cravik.core.english import day_words
from cravik.core.errors import CoreError
from cravik.core.link.steps import Step
from cravik.core.pricing.offer import Offer
from cravik.core.pricing.partial_offer import as_partial
from cravik.core.tests.offers import offers
from cravik.core.tests.parsing import terms
from cravik.core.tests.test_link_documents import FULL
from cravik.core.text.said.pieces import When
from cravik.core.text.said.reading import read_said
from cravik.core.text.sentence import NAMED_SINGLY, sentence, whole_sentence

DATA = Path(__file__).parent / "data"
WHEN = When(date(2026, 11, 29), ZoneInfo("UTC"))


def worked_offers() -> list[Offer]:
    found = []
    for name in ("worked-quotes.ndjson", "worked-quotes-2.ndjson", "worked-quotes-3.ndjson"):
        for text in (DATA / name).read_text().splitlines():
            try:
                found.append(read_offer(json.loads(text)["offer"]))
            except CoreError:
                continue
    return found


def spoken(offer: Offer) -> Any:
    """The offer's terms without what its sentence only counts: more than four levels, breaks or options."""
    partial = as_partial(offer)
    lines = []
    for line in partial.lines:
        parts = next(
            (getattr(line.price, name) for name in ("levels", "breaks", "bundles") if hasattr(line.price, name)), ()
        )
        few = tuple(group for group in line.choices if len(group.options) <= NAMED_SINGLY)
        lines.append(replace(line, choices=few, price=None if len(parts) > NAMED_SINGLY else line.price))
    return terms(replace(partial, lines=tuple(lines)))


class SentenceReadBackTest(unittest.TestCase):
    maxDiff = None

    def test_every_worked_offer_is_read_back_from_its_sentence(self) -> None:
        read = 0
        for offer in worked_offers():
            whole, usual = whole_sentence(offer), "".join(phrase.text for phrase in sentence(offer))
            with self.subTest(whole):
                parsed = read_said(whole, offer.currency, WHEN)
                self.assertEqual((parsed.is_whole, parsed.currency), (True, offer.currency))
                self.assertEqual(terms(parsed.offer), terms(as_partial(offer)))
                counted = read_said(usual, offer.currency, WHEN)
                self.assertEqual((counted.is_whole, terms(counted.offer)), (True, spoken(offer)))
                self.assertEqual(bool(counted.unsaid), whole != usual)
                read += 1
        self.assertGreater(read, 300)

    @given(offers())
    def test_any_offer_is_read_back_from_its_sentence(self, offer: Offer) -> None:
        parsed = read_said(whole_sentence(offer), offer.currency, WHEN)
        self.assertEqual((parsed.is_whole, terms(parsed.offer)), (True, terms(as_partial(offer))))

    def test_the_day_of_a_rest_is_read_back_in_every_month(self) -> None:
        for month in range(1, 13):
            words = day_words(date(2027, month, 9))
            with self.subTest(words):
                parsed = read_said(f"€30.00 for Kites, paid €10.00 now and the rest on {words}.", "EUR", WHEN)
                plan: Any = parsed.offer.plan
                self.assertEqual((parsed.is_whole, plan.rest_on), (True, date(2027, month, 9)))

    def test_what_is_suggested_is_read_though_the_sentence_does_not_tell_it(self) -> None:
        price: Any = (
            read_said("fund, what you want from 5, suggest 10, 20 or 50, starting at 20", "EUR", WHEN)
            .offer.lines[0]
            .price
        )
        self.assertEqual([each.major for each in price.suggested], ["10.00", "20.00", "50.00"])
        self.assertEqual(price.start.major, "20.00")

    def test_a_links_sentence_is_read_back_with_its_later_prices_and_limits(self) -> None:
        link = read_link(FULL)
        two = replace(
            link,
            offer=replace(
                link.offer, lines=(link.offer.lines[0], replace(link.offer.lines[0], key="two", name="Tail"))
            ),
            steps=(*link.steps, Step("two", link.steps[0].price, after_pieces=7)),
        )
        for content in (link, two):
            for zone in ("UTC", "Europe/Dublin"):
                told = sentence(content.offer, steps=content.steps, limits=content.limits, zone=zone)
                said = read_said("".join(phrase.text for phrase in told), content.offer.currency, WHEN)
                keys = {f"line-{number}": line.key for number, line in enumerate(content.offer.lines, 1)}
                with self.subTest(zone, lines=len(keys)):
                    self.assertTrue(said.is_whole, said.missed)
                    steps = tuple(replace(step, line=keys[step.line]) for step in said.steps)
                    self.assertEqual(steps, content.steps)
                    limits = content.limits
                    self.assertEqual((said.limits.closes_at, said.limits.orders), (limits.closes_at, limits.orders))

    def test_a_figure_may_be_changed_in_a_sentence(self) -> None:
        whole = "€48.00 each for Kite in red or blue, up to 3, sent to Ireland for €5.00, tax included, paid once."
        for text, most in ((whole, 3), (whole.replace("up to 3", "up to 5"), 5)):
            self.assertEqual(read_said(text, "EUR", WHEN).offer.lines[0].quantity.max, most)
