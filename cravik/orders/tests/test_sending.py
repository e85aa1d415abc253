"""What a seller does with an order: parcels, stages, notes, letters once more; pressed twice, by two, and mistyped."""

from __future__ import annotations

import re
from typing import Any

from django.test import TestCase

from cravik.events.reading import events_of_order
from cravik.mailroom.models import Letter
from cravik.orders.models import Order, Parcel
from cravik.orders.tries import REASONS
from cravik.payments.gateway import DeclineReason
from cravik.payments.models import Attempt
from tests.factories import MembershipFactory, make_live
from tests.links import line, make_link
from tests.paying import NO_FUNDS, open_page, pay_live, send


class SendingTest(TestCase):
    def setUp(self) -> None:
        self.member = MembershipFactory()
        link = make_link(line("kite", "Delta kite", "48.00", ships=True), business=self.member.business)
        form = open_page(self.client, link) | {"street": "2 Strand Lane\nBack door", "town": "Marramport"}
        send(self.client, link, form | {"postcode": "D02 X285"})
        self.order = Order.objects.get()
        self.client.force_login(self.member.user)

    def page(self) -> str:
        return self.client.get(self.order.path).content.decode()

    def fields(self) -> dict[str, str]:
        """The form for a parcel as it stands on the page."""
        named = re.findall(r'<input[^>]*name="parcel-(\w+)"(?:[^>]*value="([^"]*)")?', self.page())
        return {f"parcel-{name}": value or "" for name, value in named} | {"parcel-tell": "on"}

    def sent(self, fields: dict[str, str], **typed: str) -> Any:
        data = fields | {f"parcel-{name}": value for name, value in typed.items()}
        return self.client.post(f"/orders/{self.order.pk}/send/", data, follow=True)

    def words(self) -> list[str]:
        return [each.words for each in events_of_order(self.order.pk)]

    def fresh(self) -> Order:
        self.order.refresh_from_db()
        return self.order

    def test_a_parcel_is_noted_once_told_once_and_followed(self) -> None:
        self.assertEqual(self.order.state, "to do")
        fields = self.fields()
        address = "https://dunepost.example/f?n=1&x=2"
        first, again = (self.sent(fields, carrier="Dune Post", tracking=address) for _ in range(2))
        self.assertContains(first, "Marked as sent. Maren Saltmarsh gets a letter.")
        self.assertNotContains(again, "Marked as sent")
        self.assertEqual((self.fresh().state, Parcel.objects.count()), ("sent", 1))
        letter = Letter.objects.get(kind="on_its_way")
        self.assertEqual((letter.to_address, letter.order_id), (self.order.buyer_email, self.order.pk))
        self.assertIn(f"Carried by Dune Post\nFollow it: {address}", letter.text)
        self.assertIn("2 Strand Lane\n  Back door", letter.text)
        self.assertIn('href="https://dunepost.example/f?n=1&amp;x=2"', letter.html)
        self.assertEqual(self.words()[-1], f"Sent by Dune Post ({address})")
        self.assertIn('href="https://dunepost.example/f?n=1&amp;x=2"', self.page())

    def test_who_comes_second_is_told_and_may_note_another_parcel(self) -> None:
        early = self.fields()
        self.sent(self.fields(), carrier="Dune Post")
        late = self.sent(early, carrier="Gull Freight", tracking="GF 1")
        self.assertContains(late, "somebody else did meanwhile", status_code=409)
        self.assertContains(late, 'value="Gull Freight"', status_code=409)
        self.assertEqual((Parcel.objects.count(), Letter.objects.filter(kind="on_its_way").count()), (1, 1))
        self.sent(early, carrier="Gull Freight", tracking="GF 1", seen="1")
        self.assertEqual([each.tracking for each in Parcel.objects.all()], ["", "GF 1"])

    def test_what_is_no_tracking_is_told_at_its_field_and_loses_nothing(self) -> None:
        for typed in ("javascript://alert(1)", "ftp://dunepost.example/", "https://", "x" * 301):
            answer = self.sent(self.fields(), carrier="Dune Post", tracking=typed)
            self.assertEqual(answer.status_code, 400, typed)
            self.assertContains(answer, 'value="Dune Post"', status_code=400)
        for spoiled in ({"seen": "x"}, {"press": ""}, {"press": "p" * 30}, {"seen": "-1"}):
            self.assertContains(self.sent(self.fields(), **spoiled), "Nothing was noted: the page was incomplete.")
        self.assertEqual((self.fresh().state, Parcel.objects.count()), ("to do", 0))

    def test_without_a_letter_where_the_seller_says_so(self) -> None:
        fields = self.fields()
        del fields["parcel-tell"]
        self.assertContains(self.sent(fields), "Maren Saltmarsh gets no letter.")
        self.assertFalse(Letter.objects.filter(kind="on_its_way").exists())
        self.assertEqual(self.words()[-1], "Sent, without a letter")

    def test_it_is_to_do_again_or_done_and_said_once(self) -> None:
        self.sent(self.fields(), carrier="Dune Post")
        for stage, state in (("to_do", "to do"), ("to_do", "to do"), ("done", "done"), ("sent", "done"), ("x", "done")):
            self.client.post(f"/orders/{self.order.pk}/stage/", {"stage": stage})
            self.assertEqual(self.fresh().state, state)
        self.assertEqual(self.words()[-2:], ["To do again", "Done"])
        self.assertFalse(Parcel.objects.exists())

    def test_a_note_stands_in_its_history_as_it_was_typed(self) -> None:
        note = "Call <b>first</b>\n{buyer} & {kept}"
        self.client.post(f"/orders/{self.order.pk}/note/", {"note": note})
        self.client.post(f"/orders/{self.order.pk}/note/", {"note": "  \n "})
        self.assertEqual(self.words()[-1], f"“{note}”")
        self.assertIn("Call &lt;b&gt;first&lt;/b&gt;\n{buyer} &amp; {kept}", self.page())
        refused = self.client.post(f"/orders/{self.order.pk}/note/", {"note": "n" * 1001})
        self.assertContains(refused, "This has 1,001 characters; the most is 1,000.", status_code=400)

    def test_a_letter_goes_again_once_to_where_the_buyer_is_written_to_now(self) -> None:
        receipt = Letter.objects.get(kind="receipt")
        Order.objects.update(buyer_email="maren@new.example")
        path, seen = f"/orders/{self.order.pk}/letters/{receipt.pk}/again/", {"seen": Letter.objects.count()}
        for _ in range(2):
            self.client.post(path, seen)
        again = Letter.objects.filter(kind="receipt").latest("id")
        self.assertEqual((again.to_address, again.text), ("maren@new.example", receipt.text))
        self.assertEqual(Letter.objects.filter(kind="receipt").count(), 2)
        notice = Letter.objects.get(kind="sale_notice")
        self.client.post(path.replace(str(receipt.pk), str(notice.pk), 1), {"seen": Letter.objects.count()})
        self.assertEqual(Letter.objects.filter(kind="sale_notice").count(), 1)
        self.assertIn("sent again to maren@new.example", self.words()[-1])

    def test_nothing_of_it_is_done_for_another_business(self) -> None:
        letter = Letter.objects.get(kind="receipt")
        self.client.force_login(MembershipFactory().user)
        for path in ("send/", "stage/", "note/", f"letters/{letter.pk}/again/"):
            self.assertEqual(self.client.post(f"/orders/{self.order.pk}/{path}", {"stage": "done"}).status_code, 404)

    def test_what_is_not_sent_is_done_and_what_was_refunded_whole_says_so(self) -> None:
        pay_live(self.client, make_live(self.member.business))
        order = Order.objects.latest("id")
        self.assertEqual(order.state, "done")
        html = self.client.get(f"{order.path}refund/").content.decode()
        fields = dict(re.findall(r'<input[^>]*name="(\w+)"[^>]*value="([^"]*)"', html)) | {"note": ""}
        self.client.post(f"{order.path}refund/", fields | {"amount": "4.00"})
        order.refresh_from_db()
        self.assertEqual(order.state, "done")
        left = {"amount": "20.00", "seen": "20.00", "press": "another"}
        self.client.post(f"{order.path}refund/", fields | left)
        order.refresh_from_db()
        self.assertEqual(order.state, "refunded")

    def test_each_try_stands_there_with_its_reason(self) -> None:
        self.assertNotIn("Tries to pay", self.page())
        self.client.logout()
        link = make_live(self.member.business)
        form = open_page(self.client, link)
        send(self.client, link, form | {"card_number": NO_FUNDS})
        send(self.client, link, form | {"press": "again"})
        self.order = Order.objects.latest("id")
        self.client.force_login(self.member.user)
        html = " ".join(self.page().split())
        self.assertIn("declined: there was not enough money on the card", html)
        self.assertLessEqual({*DeclineReason, Attempt.CALLED_OFF}, REASONS.keys())
