from __future__ import annotations

import unittest
from typing import Any

from hypothesis import given

from cravik.core.documents.mends import mend_for
from cravik.core.documents.offer import read_offer, write_offer
from cravik.core.pricing.advice import advise
from cravik.core.pricing.offer import Offer
from cravik.core.tests.offers import offers
from cravik.core.tests.test_advice import ANY, FEE, RATE, RIBBON, priced, zone
from cravik.core.tests.test_documents import document, line
from cravik.core.text.faults import mend_words

LATE = {"code": "LATE", "kind": "percent", "percent": "10", "starts_on": "2026-12-02", "ends_on": "2026-12-01"}
ONE = {"name": "Size", "options": [{"name": "S"}]}
LEVELS = [{"key": "half", "name": "Half", "amount": "60"}, {"key": "full", "name": "Full", "amount": "35"}]
WINDOW = {"opens_at": "2026-12-02T00:00:00+00:00", "closes_at": "2026-12-01T00:00:00+00:00"}
SENT = line(ships=True, quantity=ANY)
#: Offers with one matter each, and the words of the button that mends it; nothing where it is for the seller to decide.
CASES: list[tuple[str, dict[str, Any], str]] = [
    ("was_not_higher", document(priced(kind="fixed", amount="24", was="24")), "Drop the former price"),
    (
        "level_nobody_takes",
        document(priced(kind="levels", levels=LEVELS)),
        "Put the levels in the order of their prices",
    ),
    (
        "more_for_less",
        document(priced(ANY, kind="quantity", method="all_units", breaks=RIBBON)),
        "Price each piece at the step that it falls in",
    ),
    (
        "break_out_of_reach",
        document(priced({"max": 9}, kind="quantity", method="incremental", breaks=RIBBON)),
        "Let buyers take up to 25",
    ),
    (
        "pack_never_full",
        document(priced({"max": 5}, kind="packs", size=6, amount="9")),
        "Let buyers take a whole pack of 6",
    ),
    ("minimum_leaves_nothing", document(priced(kind="open", min="0.25", max=None), fee=FEE), "Ask for €0.26 at least"),
    ("nothing_left", document(priced(kind="fixed", amount="0.20"), fee=FEE), ""),
    ("once_means_nothing", document(line(once=True)), "Charge it like everything else"),
    ("no_choice", document(line(choices=[ONE])), "Drop the choice"),
    (
        "deposit_above_smallest_total",
        document(plan={"kind": "deposit", "amount": "50", "rest_after_days": 30}),
        "Ask for all of it at once",
    ),
    ("code_never_counts", document(codes=[LATE]), "Swap the two days"),
    ("code_does_nothing", document(codes=[{"code": "NIL", "kind": "percent", "percent": "0"}]), "Remove NIL"),
    ("code_makes_free", document(codes=[{"code": "ALL", "kind": "percent", "percent": "100"}]), "Remove ALL"),
    (
        "code_loses_free_delivery",
        document(
            SENT,
            codes=[{"code": "GUST", "kind": "percent", "percent": "10"}],
            delivery={"zones": [zone("IE", free_from="80.00")]},
        ),
        "Remove GUST",
    ),
    ("zone_out_of_reach", document(SENT, delivery={"zones": [zone("IE"), zone("IE", name="Again")]}), "Remove “Again”"),
    (
        "free_anyway",
        document(SENT, delivery={"zones": [zone("IE", charge={"kind": "flat", "amount": "0"}, free_from="5")]}),
        "Drop the bound",
    ),
    ("delivery_of_nothing", document(delivery={"zones": [zone("IE")]}), "Drop the charges for delivery"),
    ("delivery_not_charged", document(SENT), ""),
    (
        "category_not_taxed",
        document(line(tax_category="kites"), tax={"seller_country": "IE", "rates": [RATE]}),
        "Tax it as usual",
    ),
    ("never_open", document(window=WINDOW), "Swap the two"),
]


class MendsTest(unittest.TestCase):
    def test_each_mend_says_what_it_does_and_the_matter_is_gone(self) -> None:
        for code, offer, words in CASES:
            with self.subTest(code):
                advice = next(each for each in advise(read_offer(offer)) if each.code == code)
                mend = mend_for(advice, offer, read_offer(offer))
                self.assertEqual(mend_words(mend.done) if mend else "", words)
                if mend:
                    self.assertNotIn(code, {each.code for each in advise(read_offer(mend.offer))})

    def test_terms_that_are_followed_are_not_mended_in_the_draft(self) -> None:
        offer = document(SENT, delivery={"zones": [zone("IE"), zone("IE", name="Again")]})
        advice = next(each for each in advise(read_offer(offer)) if each.code == "zone_out_of_reach")
        draft = {name: part for name, part in offer.items() if name != "delivery"}
        self.assertIsNone(mend_for(advice, draft, read_offer(offer)))

    @given(offers())
    def test_whatever_is_mended_stays_an_offer_and_is_not_told_again(self, offer: Offer) -> None:
        written = write_offer(offer)
        for advice in advise(offer):
            if mend := mend_for(advice, written, offer):
                told = [each.is_same_as(advice) for each in advise(read_offer(mend.offer))]
                before = [each.is_same_as(advice) for each in advise(offer)]
                self.assertLess(told.count(True), before.count(True))
