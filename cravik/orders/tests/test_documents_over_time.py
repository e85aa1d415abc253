"""Documents of what is paid in several parts: which invoices there are, and what a final one takes off."""

from __future__ import annotations

from typing import Any
from unittest import mock

from django.test import TestCase
from django.utils import timezone

from cravik.core.documents.issued import read_content
from cravik.core.invoicing.content import Content
from cravik.core.text.document_sheet import sheet_of
from cravik.orders.invoicing.issuing import issue_what_is_due
from cravik.orders.models import Order, OrderSettings
from cravik.orders.running.collecting import collect
from cravik.payments.ways import present_ways
from cravik.people.actors import CLOCK
from tests.factories import MembershipFactory
from tests.links import line, make_link
from tests.paying import filled_in, pay_live

MONTHLY = {"count": 1, "unit": "month"}
TAX = {
    "seller_country": "IE",
    "prices_include_tax": True,
    "rates": [{"country": "IE", "name": "VAT", "percent": "23"}],
}


class OverTimeTest(TestCase):
    def setUp(self) -> None:
        self.business = MembershipFactory().business
        OrderSettings.objects.create(business=self.business, invoices=OrderSettings.Invoices.ALWAYS)

    def bought(self, plan: dict[str, Any]) -> Order:
        with mock.patch("cravik.links.life.lifecycle.why_not_publishable", return_value=()):
            link = make_link(line(amount="600"), business=self.business, offer={"plan": plan, "tax": TAX})
        pay_live(self.client, link, country="IE")
        return Order.objects.latest("id")

    def pay_next(self, order: Order, *positions: int) -> None:
        collect(order, positions, f"k{positions}", present_ways(), timezone.now, by=CLOCK)
        issue_what_is_due(timezone.now())

    def issued(self, order: Order) -> list[tuple[str, str, str, str]]:
        """Of each document its kind, what it is of, its total, and what is still to pay."""
        contents = [read_content(each.content) for each in order.documents.all()]
        return [(each.kind, each.of, each.left.major, each.to_pay.major) for each in contents]

    def invoices(self, order: Order) -> list[Content]:
        return [read_content(each.content) for each in order.documents.filter(kind="invoice")]

    def test_instalments_have_one_invoice_and_then_receipts(self) -> None:
        order = self.bought({"kind": "instalments", "every": MONTHLY, "payments": 3})
        for position in (1, 2):
            self.pay_next(order, position)
        receipt = ("receipt", "period", "200.00", "0.00")
        self.assertEqual(self.issued(order), [receipt, ("invoice", "whole", "600.00", "400.00"), receipt, receipt])
        (invoice,) = self.invoices(order)
        self.assertEqual(
            (invoice.tax.major, [row.words for row in sheet_of(invoice).sums][-1]), ("112.20", "Still to pay")
        )

    def test_a_deposit_has_an_invoice_of_its_own_that_the_final_one_takes_off(self) -> None:
        order = self.bought({"kind": "deposit", "percent": "30", "rest_after_days": 30})
        self.pay_next(order, 1)
        receipts = [("receipt", "period", "180.00", "0.00"), ("receipt", "period", "420.00", "0.00")]
        prepayment, final = ("invoice", "prepayment", "180.00", "0.00"), ("invoice", "final", "420.00", "0.00")
        self.assertEqual(self.issued(order), [receipts[0], prepayment, receipts[1], final])
        first, last = self.invoices(order)
        self.assertEqual(([each.number for each in last.deducted], last.total.major), ([first.number], "600.00"))
        words = [each.words for each in sheet_of(last).sums]
        self.assertTrue(
            any(f"Less prepayment invoice {first.number}" in each and "€33.66 of tax" in each for each in words)
        )
        self.assertEqual([row.words for row in sheet_of(first).rows], ["Prepayment: Kite"])

    def test_what_repeats_has_an_invoice_a_period(self) -> None:
        order = self.bought({"kind": "repeat", "every": MONTHLY, "payments": 3})
        self.pay_next(order, 1)
        each = [("receipt", "period", "600.00", "0.00"), ("invoice", "period", "600.00", "0.00")]
        self.assertEqual(self.issued(order), each * 2)

    def test_a_part_of_a_payment_has_a_receipt_of_that_part(self) -> None:
        order = self.bought({"kind": "instalments", "every": MONTHLY, "payments": 3})
        half = order.checkout.dues.get(position=1).amount
        collect(order, [1], "k", present_ways(), timezone.now, by=CLOCK, amount=type(half)(7_001, "EUR"))
        self.pay_next(order, 1, 2)
        totals = [row[2] for row in self.issued(order) if row[0] == "receipt"]
        self.assertEqual(totals, ["200.00", "70.01", "329.99"])
        taxes = [read_content(each.content).tax.minor for each in order.documents.filter(kind="receipt")]
        self.assertEqual(sum(taxes), 112_20)

    def test_a_rehearsal_has_documents_of_its_own_that_say_so(self) -> None:
        plan = {"kind": "instalments", "every": MONTHLY, "payments": 3}
        link = make_link(line(amount="600"), business=self.business, offer={"plan": plan, "tax": TAX}, published=False)
        self.client.force_login(self.business.members.get())
        address = f"/for/rehearsal/{link.pk}/"
        self.client.post(f"{address}pay/", filled_in(self.client.get(address), country="IE"))
        order = Order.objects.get(rehearsal=True)
        receipt, invoice = order.documents.all()
        year = timezone.now().year
        self.assertEqual((receipt.label, invoice.label), (f"REHEARSAL R-{year}-0001", f"REHEARSAL I-{year}-0001"))
        self.assertIn("This is a rehearsal", sheet_of(read_content(receipt.content)).notes[0])
        self.assertContains(self.client.get(receipt.path), "This is a rehearsal")
