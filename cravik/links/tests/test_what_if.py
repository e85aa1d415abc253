"""The what-if table: its figures are the core's for whatever buyer is thought of."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

from django.http import QueryDict
from django.test import SimpleTestCase

from cravik.core.documents.basket import read_basket
from cravik.core.documents.offer import read_offer
from cravik.core.errors import BasketRefused
from cravik.core.pricing.quote import quote
from cravik.links.bench.what_if import MAX_CASES, CaseForm, WhatIf
from cravik.links.models import Link
from tests.bench_form import BenchCase
from tests.links import line
from tests.worked import link_document, worked_cases

#: What the table has no field for.
GUST = {"code": "GUST", "kind": "percent", "percent": "10"}
_UNASKED = ("tax_number", "pay_now")


class WorkedCasesTest(BenchCase):
    def test_the_figures_are_the_core_s_for_every_worked_offer(self) -> None:
        checked = 0
        for case in worked_cases():
            basket = case["basket"]
            if any(basket.get(name) for name in _UNASKED):
                continue
            try:
                quoted = quote(replace(read_offer(case["offer"]), window=None), read_basket(basket))
            except BasketRefused:
                continue
            link = Link(
                business=self.member.business,
                draft={},
                what_if=[{name: part for name, part in basket.items() if name not in ("format", "on", "at")}],
                effective={"link": link_document(case)},
            )
            today = read_basket(basket).on
            with self.subTest(case["id"]):
                shown = WhatIf(link, today).cases[0]
                self.assertEqual(shown.quote, quoted, shown.refusals)
                # As a browser sends the same fields.
                sent = QueryDict(mutable=True)
                sent["case"] = "0"
                for bound in shown.form:
                    if bound.value() not in (None, False):
                        sent[bound.html_name] = "on" if bound.value() is True else str(bound.value())
                again = WhatIf(link, today, sent).cases[0]
                self.assertEqual(again.quote, shown.quote, again.refusals)
                checked += 1
        self.assertGreater(checked, 150)


class WhatIfTest(BenchCase):
    def table(self, link: Link, by_script: bool = True, **sent: Any) -> Any:
        headers = {"accept": "application/json"} if by_script else {}
        fields = {name.replace("__", "."): value for name, value in sent.items()}
        answer = self.client.post(f"/links/{link.pk}/what-if/", fields, headers=headers)
        link.refresh_from_db()
        return answer

    def test_cases_are_changed_added_removed_and_kept_with_the_draft(self) -> None:
        link = self.link(line(quantity={"max": 9}), offer={"codes": [GUST]})
        answer = self.table(link, **{"case": "0", "case-0-quantity__kite": "3", "case-0-code": "GUST"})
        self.assertIn("€64.80", answer.json()["html"])
        self.assertIn("−€7.20", answer.json()["html"])
        kept = {"lines": [{"key": "kite", "quantity": 3}], "code": "GUST"}
        self.assertEqual(link.what_if, [kept])
        first = {"case": "0", "case-0-quantity__kite": "3", "case-0-code": "GUST"}
        self.table(link, **first, act="add")
        self.assertEqual(link.what_if, [kept, kept])
        both = {"case": ["0", "1"], "case-0-quantity__kite": "1", "case-1-quantity__kite": "12", "case-0-code": ""}
        answer = self.table(link, **both)
        self.assertIn("The most of “Kite” is 9", answer.json()["html"])
        self.assertEqual([each["lines"][0]["quantity"] for each in link.what_if], [1, 12])
        self.assertEqual(
            self.table(link, by_script=False, **both, act="remove:1")["Location"], f"/links/{link.pk}/#what-if"
        )
        self.assertEqual(len(link.what_if), 1)
        # What cannot be read is told, and what was kept before stays.
        answer = self.table(link, **{"case": "0", "case-0-quantity__kite": "lots"})
        self.assertIn("Write a whole number", answer.json()["html"])
        self.assertEqual(link.what_if[0]["lines"][0]["quantity"], 1)
        many = {"case": [str(number) for number in range(40)]}
        self.table(link, **many, act="add")
        self.assertEqual(len(link.what_if), MAX_CASES)

    def test_a_case_stays_when_the_offer_no_longer_has_what_it_picked(self) -> None:
        link = self.link(offer={"codes": [GUST]})
        self.table(link, **{"case": "0", "case-0-code": "GUST"})
        self.save(link, **{"codes-TOTAL_FORMS": "0", "codes-INITIAL_FORMS": "0"})
        shown = self.client.get(f"/links/{link.pk}/what-if/", headers={"accept": "application/json"})
        self.assertIn("€24.00", shown.json()["html"])


class OpenCaseTest(SimpleTestCase):
    def test_an_open_price_begins_with_a_suggestion_and_an_extra_without(self) -> None:
        price = {"kind": "open", "min": "5", "max": None, "suggested": ["10", "20"]}
        offer = read_offer(
            {
                "format": "cravik.offer/1",
                "title": "Fund",
                "currency": "EUR",
                "lines": [
                    line("fund", "Fund", price=price) | {"price": price},
                    line("tail", "Tail", "3", optional=True),
                ],
            }
        )
        form = CaseForm(offer, "IE", {}, None, 0)
        self.assertEqual(form.document, {"lines": [{"key": "fund", "amount": "10.00"}]})
