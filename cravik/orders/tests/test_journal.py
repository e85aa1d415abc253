"""The accountant's journal adds up to the ledger, the fee and the tax, and names each document."""

from __future__ import annotations

import csv
import io
from collections import Counter
from decimal import Decimal

from django.db.models import Sum
from django.test import TestCase
from django.utils import timezone

from cravik.orders.models import Order
from cravik.orders.refunding import RefundWish, refund_order
from cravik.payments.models import Movement
from cravik.payments.ways import present_ways
from tests.factories import BY, MembershipFactory
from tests.links import line, make_link
from tests.paying import pay_as_it_comes

TAX = {
    "seller_country": "IE",
    "prices_include_tax": True,
    "rates": [{"country": "IE", "name": "VAT", "percent": "23"}],
}


class JournalTest(TestCase):
    def setUp(self) -> None:
        self.member = MembershipFactory()
        offer = {"tax": TAX, "fee": {"percent": "1.5", "fixed": "0.25"}}
        kite = line("kite", "Delta kite", "24", quantity={"default": 2, "min": 1, "max": 9})
        self.link = make_link(kite, business=self.member.business, offer=offer)
        for number in range(3):
            pay_as_it_comes(self.client, self.link, email=f"buyer{number}@dunes.example", country="IE", name="+Maren")
        first = Order.objects.earliest("id")
        refund_order(first, RefundWish(pieces={"kite": 1}, why="Torn"), "k", present_ways(), timezone.now, by=BY)
        self.client.force_login(self.member.user)

    def rows(self, query: str = "") -> list[dict[str, str]]:
        answer = self.client.get(f"/orders/journal.csv{query}")
        text = b"".join(answer.streaming_content).decode("utf-8-sig")  # type: ignore[attr-defined]  # streamed
        return list(csv.DictReader(io.StringIO(text)))

    def test_it_adds_up_to_the_ledger_and_names_each_document(self) -> None:
        rows = self.rows()
        self.assertEqual(Counter(row["kind"] for row in rows), {"payment": 3, "fee": 3, "tax": 4, "refund": 1})
        moved = sum(Decimal(row["amount"]) for row in rows if row["kind"] in ("payment", "refund"))
        ledger = Movement.objects.aggregate(sum=Sum("amount_minor"))["sum"]
        self.assertEqual(moved, Decimal(ledger) / 100)
        tax = [Decimal(row["amount"]) for row in rows if row["kind"] == "tax"]
        self.assertEqual(sum(tax), Decimal("22.45"))  # 3 × 8.98 less 4.49
        self.assertTrue(all(row["document"] for row in rows))
        (refund,) = (row for row in rows if row["kind"] == "refund")
        year = timezone.now().year
        self.assertEqual((refund["amount"], refund["what"], refund["document"]), ("-24.00", "Torn", f"C-{year}-0001"))
        self.assertEqual({row["what"] for row in rows if row["kind"] == "payment"}, {"Kites"})
        self.assertEqual({row["buyer"] for row in rows}, {"'+Maren"})

    def test_it_holds_what_the_list_shows_and_takes_a_fixed_number_of_queries(self) -> None:
        number = Order.objects.latest("id").number
        self.assertEqual({row["order"] for row in self.rows(f"?q={number}")}, {str(number)})
        with self.assertNumQueries(10):
            self.rows()
