"""Fields that an address fills in and locks."""

from __future__ import annotations

import io
from typing import Any
from urllib.parse import parse_qs, urlsplit

from django.core.management import CommandError, call_command
from django.test import Client
from django.urls import reverse

from cravik.links.models import Link
from cravik.orders.models import Order
from tests.bench_form import BenchCase
from tests.factories import BROWSER
from tests.links import line, make_link
from tests.paying import filled_in, send

FUND = line("fund", "Fund") | {"price": {"kind": "open", "min": "5.00", "max": None, "suggested": ["10", "20"]}}
LEVELS = [{"key": "half", "name": "Half", "amount": "30"}, {"key": "full", "name": "Full", "amount": "55"}]
PATRON = line("patron", "Patron") | {"price": {"kind": "levels", "levels": LEVELS}}
RIBBON = line("ribbon", "Ribbon", "2.00", quantity={"max": 20})
GUST = {"code": "GUST", "kind": "percent", "percent": "10"}


class LockedTest(BenchCase):
    def setUp(self) -> None:
        super().setUp()
        codes = {"codes": [GUST]}
        self.sold: Link = make_link(FUND, PATRON, RIBBON, business=self.member.business, offer=codes)
        self.fields = {"amount.fund": "25.00", "level.patron": "full", "quantity.ribbon": "3", "code": "GUST"}

    def sign(self, *pairs: str) -> str:
        out = io.StringIO()
        call_command("link", "sign", self.sold.path, *pairs, stdout=out)
        return out.getvalue().strip()

    def open(self, address: str) -> Any:
        return Client().get(address, headers={"user-agent": BROWSER})

    def test_what_is_locked_stands_there_and_is_paid_whatever_is_sent(self) -> None:
        address = self.sign(*(f"{name}={value}" for name, value in self.fields.items()))
        page = self.open(address)
        self.assertContains(page, "This is set by the link you followed.", count=4)
        self.assertRegex(page.content.decode(), r'value="25\.00"[^>]*disabled')
        self.assertNotContains(page, "data-stepper")
        form = filled_in(page)
        sums = {"seen_total": "77.40", "seen_now": "77.40"}
        self.assertContains(page, "€77.40")
        slip = Client().post(reverse("checkout:slip"), form | {"amount.fund": "5"})
        self.assertEqual(slip.json()["seen_total"], "77.40")
        changed = {"amount.fund": "5", "level.patron": "half", "quantity.ribbon": "1", "code": ""}
        answer = send(Client(), self.sold, form | changed | sums)
        self.assertEqual(answer.status_code, 303)
        self.assertEqual(Order.objects.get().paid.major, "77.40")

    def test_an_altered_one_gives_the_page_without_it_and_a_note(self) -> None:
        address = self.sign("amount.fund=25.00", "code=GUST")
        for altered in (
            address.replace("25.00", "5.00"),
            address.replace("code=GUST", "code=gust"),
            address[:-1],
            address.replace("amount.fund%2Ccode", "amount.fund"),
            f"{self.sold.path}?lock=",
            f"{self.sold.path}?amount.fund=9&lock=amount.fund:\u00e9",
        ):
            with self.subTest(altered):
                page = self.open(altered)
                self.assertContains(page, "was changed on its way")
                self.assertNotContains(page, "This is set by the link")
        # Of another link it is worth nothing, and what is not locked with it is still filled in.
        other = make_link(FUND, RIBBON, business=self.member.business)
        query = urlsplit(address).query
        page = self.open(f"{other.path}?{query}&quantity.ribbon=4")
        self.assertContains(page, "was changed on its way")
        self.assertRegex(page.content.decode(), r'name="quantity\.ribbon" value="4"')

    def test_only_what_the_offer_has_can_be_signed(self) -> None:
        for pair, words in (
            ("amount.fund=4", "at least 5.00"),
            ("amount.fund=x", "amount"),
            ("amount.ribbon=4", "not the buyer's choice"),
            ("level.patron=none", "no level"),
            ("quantity.ribbon=21", "from 1 to 20"),
            ("quantity.fund=2", "always one"),
            ("code=NOPE", "no code"),
            ("email=me@dunes.example", "no field of this page that can be locked"),
        ):
            with self.subTest(pair), self.assertRaisesRegex(CommandError, words):
                self.sign(pair)

    def test_a_seller_makes_one_on_the_page_beside_the_bench(self) -> None:
        at = f"/links/{self.sold.pk}/filled/"
        self.assertContains(self.client.get(f"/links/{self.sold.pk}/"), at)
        made = self.client.get(at, {"amount.fund": "25", "lock": "on"}).context["address"]
        query = parse_qs(urlsplit(made).query)
        self.assertEqual(query["amount.fund"], ["25.00"])
        self.assertContains(self.open(made), "This is set by the link")
        open_one = self.client.get(at, {"amount.fund": "25"}).context["address"]
        self.assertNotIn("lock", open_one)
        self.assertContains(self.client.get(at, {"amount.fund": "1"}), "at least 5.00", status_code=400)
        plain = make_link(business=self.member.business)
        self.assertContains(self.client.get(f"/links/{plain.pk}/filled/"), "nothing to fill in")
