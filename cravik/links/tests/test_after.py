from __future__ import annotations

import hashlib
import hmac
from typing import Any
from urllib.parse import parse_qs, urlsplit

from django.test import Client
from django.urls import reverse

from cravik.links.life import lifecycle
from cravik.links.models import Link
from cravik.links.places.onward import signing_key
from cravik.mailroom.models import Letter
from cravik.orders.models import Order
from tests.bench_form import BenchCase
from tests.factories import BROWSER, BY, NOW, make_draft
from tests.paying import paid_path, pay_live


class AfterPayingTest(BenchCase):
    """What a seller says of the time after paying, and the words of the pay button."""

    def setUp(self) -> None:
        super().setUp()
        self.kite = make_draft(self.member.business)

    def fresh(self) -> Link:
        return Link.objects.select_related("business").get(id=self.kite.pk)

    def set_up(self, **typed: str) -> Any:
        return self.save(self.fresh(), **{"message": "", "go_to": "", "cancelled": "", **typed})

    def page_after(self) -> tuple[str, Order]:
        """What a buyer sees after paying, with its order."""
        lifecycle.publish(self.fresh(), NOW, by=BY)
        answer = pay_live(Client(), self.fresh(), name="<b>*Maren*</b>")
        page = self.client.get(answer["Location"]).content.decode()
        return page, Order.objects.select_related("checkout").get()

    def test_the_message_stands_on_the_page_and_in_the_receipt_with_what_belongs_to_the_order(self) -> None:
        self.set_up(message="**Dear** {buyer}, order {order} for {amount}: {reference}.")
        page, order = self.page_after()
        told = f"order 1001 for €24.00: {order.checkout.reference}."
        self.assertIn(f"<strong>Dear</strong> &lt;b&gt;*Maren*&lt;/b&gt;, {told}", page)
        receipt = Letter.objects.get(kind="receipt")
        self.assertIn(f"Dear <b>*Maren*</b>, {told}", receipt.text)
        self.assertIn("&lt;b&gt;", receipt.html)

    def test_the_next_page_gets_the_reference_with_a_signature_that_its_owner_can_check(self) -> None:
        self.set_up(go_to="https://kites.example/thanks?a=1&order=forged#top")
        page, order = self.page_after()
        self.assertIn("Continue to kites.example", page)
        self.assertIn("goOn.js", page)
        receipt = Letter.objects.get(kind="receipt")
        address = next(word for word in receipt.text.split() if word.startswith("https://kites.example"))
        sent = parse_qs(urlsplit(address).query)
        value, _, signature = sent["order"][0].rpartition(".")
        key = signing_key(self.kite.business_id).encode()
        self.assertEqual((value, sent["a"]), (order.checkout.reference, ["1"]))
        self.assertEqual(signature, hmac.new(key, value.encode(), hashlib.sha256).hexdigest())
        again = self.client.get(paid_path({"Location": order.checkout.path})).content.decode()
        self.assertNotIn("kites.example", again)  # found by its reference later, it leads nowhere

    def test_a_receipt_in_the_sellers_own_words_still_has_what_follows(self) -> None:
        self.set_up(message="See you on the beach.")
        wording = {"subject": "Paid", "heading": "Paid", "body": "Thank you.", "seen": "0"}
        self.client.post(reverse("setup:message", args=["receipt"]), wording)
        self.page_after()
        self.assertIn("Thank you.\n\nSee you on the beach.", Letter.objects.get(kind="receipt").text)

    def test_what_is_no_address_and_what_stands_for_nothing_is_refused_where_it_was_typed(self) -> None:
        for name, typed, told in (
            ("go_to", "http://kites.example/", "begins with https://"),
            ("go_to", "https://user@kites.example/", "begins with https://"),
            ("cancelled", "javascript:alert(1)", "begins with https://"),
            ("go_to", "https://kites.example\\@other.example/", "begins with https://"),
            ("message", "Hello {buyr}", "Do you mean {buyer}?"),
            ("message", "x" * 2001, "the most is 2,000"),
        ):
            with self.subTest(typed[:30]):
                answer = self.set_up(**{name: typed})
                self.assertIn(told, answer.json()["errors"][name][0])
        self.assertNotIn("after", self.fresh().draft)

    def test_who_cancels_has_a_way_and_the_button_never_lacks_the_sum(self) -> None:
        self.set_up(cancelled="https://kites.example/maybe-later")
        cases = {"Book {amount} now": "Book €24.00 now", "Book it": "Book it €24.00", "": "Pay €24.00"}
        for typed, shown in cases.items():
            self.save(self.fresh(), button=typed)
            lifecycle.publish(self.fresh(), NOW, by=BY)
            page = Client().get(self.kite.path, headers={"user-agent": BROWSER})
            self.assertContains(page, f'data-piece="button">{shown}<')
        self.assertContains(page, 'href="https://kites.example/maybe-later"')
        self.assertContains(page, "Cancel, and go to kites.example")
        answer = self.save(self.fresh(), button="Book {sum}")
        self.assertIn("{sum} stands for nothing here.", answer.json()["errors"]["button"][0])
        self.save(self.fresh(), button="Take a seat")
        self.save(self.fresh(), kind__purpose="free")
        lifecycle.publish(self.fresh(), NOW, by=BY)
        self.assertContains(Client().get(self.kite.path), 'data-piece="button">Take a seat<')
