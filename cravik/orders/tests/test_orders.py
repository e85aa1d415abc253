from __future__ import annotations

import csv
import io

from django.test import TestCase

from cravik.orders.models import Order
from tests.factories import MembershipFactory, make_live
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
        for search, found in (("jonas", 1), ("harbour vetch", 1), ("1001", 1), ("repair", 2), ("%", 0), ("nobody", 0)):
            with self.subTest(search):
                self.assertEqual(len(self.client.get("/orders/", {"q": search}).context["page"].object_list), found)

    def test_the_file_holds_what_the_list_shows(self) -> None:
        body = b"".join(self.client.get("/orders/orders.csv", {"q": "jonas"}).streaming_content).decode("utf-8-sig")
        rows = list(csv.DictReader(io.StringIO(body)))
        self.assertEqual(
            [(row["number"], row["buyer_name"], row["total"], row["currency"]) for row in rows],
            [("1002", "Jonas Vetch", "24.00", "EUR")],
        )

    def test_an_order_shows_what_was_paid_and_kept(self) -> None:
        order = Order.objects.get(number=1001)
        page = self.client.get(f"/orders/{order.pk}/")
        self.assertContains(page, "€23.39")
        self.assertContains(page, order.attempt.gateway_reference)

    def test_a_confirmation_is_found_by_its_reference_alone(self) -> None:
        reference = Order.objects.get(number=1001).checkout.reference
        self.client.logout()
        spaced = f"{reference[:4]}-{reference[4:8]}-{reference[8:]}".lower()
        page = self.client.get(f"/paid/{spaced}/")
        self.assertContains(page, "Thank you, Maren Saltmarsh")
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
