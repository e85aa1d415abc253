from __future__ import annotations

import csv
import doctest
import io
import json
from datetime import UTC, datetime

import time_machine
from django.test import Client, TestCase

from cravik.mailroom.models import Letter
from cravik.orders import search
from cravik.orders.models import Order
from cravik.people.models import Business
from tests.factories import MembershipFactory, make_live
from tests.links import line, make_link
from tests.paying import pay_live


class OrdersTest(TestCase):
    def setUp(self) -> None:
        self.member = MembershipFactory()
        link = make_live(self.member.business)
        for name, email in (("Maren Saltmarsh", "maren@dunes.example"), ("Jonas Vetch", "jonas@harbour.example")):
            pay_live(self.client, link, name=name, email=email)
        self.client.force_login(self.member.user)

    def test_an_empty_list_teaches_the_next_step(self) -> None:
        self.client.force_login(MembershipFactory().user)
        self.assertContains(self.client.get("/orders/"), "No orders yet")

    def test_orders_are_found_by_buyer_thing_and_number(self) -> None:
        for typed, found in (("jonas", 1), ("harbour vetch", 1), ("1001", 1), ("repair", 2), ("%", 0), ("nobody", 0)):
            with self.subTest(typed):
                self.assertEqual(len(self.client.get("/orders/", {"q": typed}).context["page"].object_list), found)

    def test_and_by_reference_amount_day_and_card(self) -> None:
        order = Order.objects.get(number=1002)
        Business.objects.update(time_zone="Europe/Dublin")
        Order.objects.filter(pk=order.pk).update(made_at=datetime(2026, 3, 29, 23, 30, tzinfo=UTC))
        reference = order.checkout.reference
        spaced = f"{reference[:4]}-{reference[4:8]}-{reference[8:]}".lower()
        Order.objects.filter(id=order.pk).update(options="1.2 m, madder red")
        for typed, found in (
            (reference, 1),
            (spaced, 1),
            ("24", 2),
            ("€24.00", 2),
            ("24.01", 0),
            ("4", 0),
            ("0019", 2),
            ("9000", 0),
            ("madder", 1),
            ("madder jonas", 1),
            ("madder maren", 0),
            ("30 March 2026", 1),  # the seller's clock is an hour ahead of UTC by then
            ("jonas 2026-03-30", 1),
            ("30.3.26", 1),
            ("9999-12-31", 0),
            ("29 March 2026", 0),
            ("31 June 2026", 0),
            ("March 2026", 1),
            ("mar. 2026 jonas", 1),
            ("February 2026", 0),
            ("yesterday", 0),
            ("today maren", 1),
        ):
            with self.subTest(typed):
                self.assertEqual(len(self.client.get("/orders/", {"q": typed}).context["page"].object_list), found)

    def test_days_are_read_as_people_write_them(self) -> None:
        self.assertEqual(doctest.testmod(search), doctest.TestResults(0, 4))

    def test_orders_and_letters_lead_to_their_neighbours(self) -> None:
        page = self.client.get("/orders/1001/")
        self.assertEqual((page.context["newer"], page.context["older"]), ("/orders/1002/", ""))
        letters = list(Letter.objects.order_by("id").values_list("id", flat=True))
        page = self.client.get(f"/mailroom/{letters[1]}/")
        self.assertEqual(
            (page.context["newer"], page.context["older"]), (f"/mailroom/{letters[2]}/", f"/mailroom/{letters[0]}/")
        )
        self.assertIn("/orders/1002/", Letter.objects.get(kind="sale_notice", subject__startswith="Jonas").text)

    def test_the_file_holds_what_the_list_shows(self) -> None:
        body = b"".join(self.client.get("/orders/orders.csv", {"q": "jonas"}).streaming_content).decode("utf-8-sig")
        rows = list(csv.DictReader(io.StringIO(body)))
        self.assertEqual(
            [(row["number"], row["buyer_name"], row["total"], row["currency"]) for row in rows],
            [("1002", "Jonas Vetch", "24.00", "EUR")],
        )

    def test_a_row_says_what_was_bought_what_it_cost_the_seller_and_when_by_their_clock(self) -> None:
        member = MembershipFactory(business__time_zone="Pacific/Auckland")
        offer = {
            "codes": [{"code": "WIND", "kind": "percent", "percent": "10"}],
            "fee": {"percent": "2", "fixed": "0.25"},
        }
        link = make_link(line("seat", "Seat", "20", quantity={"max": 9}), business=member.business, offer=offer)
        seen = {"seen_total": "54.00", "seen_now": "54.00"}
        with time_machine.travel("2026-07-01T22:30:00+00:00", tick=False):
            paid = pay_live(Client(), link, **{"quantity.seat": "3", "code": "wind"}, **seen)
        self.assertEqual(paid.status_code, 303)
        self.client.force_login(member.user)
        body = b"".join(self.client.get("/orders/orders.csv").streaming_content).decode("utf-8-sig")
        (row,) = csv.DictReader(io.StringIO(body))
        told = [row[name] for name in ("bought", "quantity", "discount", "fee", "net", "paid_at")]
        # 54.00 × 2 % = 1.08, and 0.25
        self.assertEqual(told, ["3 × Seat", "3", "6.00", "1.33", "52.67", "2026-07-02T10:30:00+12:00"])
        (order,) = json.loads(b"".join(self.client.get("/orders/orders.json").streaming_content))
        self.assertEqual([(each["key"], each["quantity"]) for each in order["lines"]], [("seat", 3)])

    def test_an_order_shows_what_was_paid_and_kept(self) -> None:
        order = Order.objects.get(number=1001)
        page = self.client.get(f"/orders/{order.number}/")
        self.assertContains(page, "€23.39")
        self.assertRedirects(self.client.get(f"/orders/{order.pk}/"), order.path)
        self.assertContains(page, order.attempt.gateway_reference)

    def test_a_confirmation_is_found_by_its_reference_alone(self) -> None:
        reference = Order.objects.get(number=1001).checkout.reference
        self.client.logout()
        spaced = f"{reference[:4]}-{reference[4:8]}-{reference[8:]}".lower()
        page = self.client.get(f"/paid/{spaced}/")
        self.assertContains(page, "This was paid")
        order = Order.objects.get(number=1001)
        for told in ("Maren", "€24.00", order.title, "1001", "ending in", "maren@dunes"):
            self.assertNotContains(page, told)
        self.assertEqual(page["X-Robots-Tag"], "noindex")
        self.assertEqual(self.client.get("/paid/000000000000/").status_code, 404)


class MailroomTest(TestCase):
    def setUp(self) -> None:
        self.member = MembershipFactory()
        pay_live(self.client, make_live(self.member.business))
        self.client.force_login(self.member.user)

    def test_letters_are_read_in_a_frame_that_can_do_nothing(self) -> None:
        letter = self.client.get("/mailroom/", {"q": "receipt"}).context["page"].object_list[0]
        self.assertContains(self.client.get(f"/mailroom/{letter.pk}/"), "As plain text")
        body = self.client.get(f"/mailroom/{letter.pk}/body/")
        policy = body["Content-Security-Policy"]
        self.assertIn("default-src 'none'", policy)
        self.assertRegex(policy, r"style-src 'sha256-[^']+'")
        self.assertIn("sandbox", policy)
        self.assertNotIn("unsafe", policy)

    def test_a_letter_is_a_message_in_the_standards_form(self) -> None:
        letter = self.client.get("/mailroom/", {"q": "receipt"}).context["page"].object_list[0]
        message = self.client.get(f"/mailroom/{letter.pk}/letter.eml")
        self.assertEqual(message["Content-Type"], "message/rfc822")
        self.assertIn(b"multipart/alternative", message.content)
        self.assertRegex(message.content, rb'\nTo: "?Maren Saltmarsh"? <maren@dunes.example>\n')
