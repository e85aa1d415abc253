"""The bench and the page beside it say one sum, and what was supposed for it."""

from __future__ import annotations

import re
from typing import Any

from cravik.links.models import Link
from tests.bench_form import BenchCase
from tests.links import line

SIZES = [{"name": "Size", "options": [{"name": "Small", "add": "4"}, {"name": "Large"}]}]
LEVELS = [{"key": "low", "name": "Low", "amount": "12"}, {"key": "high", "name": "High", "amount": "9"}]
MONTHLY = {"kind": "repeat", "every": {"count": 1, "unit": "month"}}
FIRST = {"payments": 1, "prices": {"kite": {"kind": "fixed", "amount": "5"}}}
ZONES = [{"name": "Home", "countries": ["IE"], "charge": {"kind": "flat", "amount": "6"}}]


class FirstSumTest(BenchCase):
    def said(self, link: Link) -> tuple[str, str, str]:
        """What bench and page say is paid, and what is supposed."""
        bench = self.client.get(f"/links/{link.pk}/").content.decode()
        page = self.client.get(f"/for/rehearsal/{link.pk}/").content.decode()
        keeps = re.search(r'class="keeps">A buyer pays\s+<span class="money">(.*?)</span>(.*?), and', bench, re.DOTALL)
        paid = re.search(r"You pay\s+<strong[^>]*>(.*?)</strong>|You pay (nothing)", page)
        assert keeps and paid, (bench[:0], page[:2000])
        return keeps[1], paid[1] or paid[2], re.sub(r"\s+", " ", keeps[2]).strip()

    def test_for_every_kind_of_thing(self) -> None:
        cases: list[tuple[dict[str, Any], dict[str, Any], str, str]] = [
            ({}, {}, "€24.00", ""),
            ({"choices": SIZES}, {}, "€28.00", "(Small)"),
            ({"choices": SIZES, "quantity": {"default": 2, "max": 9}}, {}, "€56.00", "(2 in Small)"),
            ({"price": {"kind": "levels", "levels": LEVELS}}, {}, "€12.00", "(Low)"),
            (
                {"price": {"kind": "packs", "size": 6, "amount": "14"}, "quantity": {"default": 6, "max": None}},
                {},
                "€14.00",
                "(6)",
            ),
            ({"ships": True}, {"delivery": {"zones": ZONES}}, "€30.00", "(sent to Ireland)"),
            ({}, {"plan": MONTHLY | {"first": FIRST}}, "€5.00", ""),
            ({}, {"plan": {"kind": "deposit", "percent": "25", "rest_after_days": 9}}, "€6.00", "now of €24.00"),
        ]
        for sold, offer, sum_, supposed in cases:
            with self.subTest(**sold, **offer):
                link = self.link(line() | sold, offer=offer)
                self.assertEqual(self.said(link), (sum_, sum_, supposed))

    def test_what_nobody_said_is_not_supposed(self) -> None:
        wanted = {"kind": "open", "min": "5", "max": None, "suggested": ["10"]}
        link = self.link(line(price=wanted))
        self.assertNotContains(self.client.get(f"/links/{link.pk}/"), "A buyer pays")
        self.assertNotContains(self.client.get(f"/for/rehearsal/{link.pk}/"), "You pay <strong")
