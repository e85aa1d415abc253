"""What buyers are told of their right to withdraw, and the tick of who has something at once."""

from __future__ import annotations

from typing import Any

from django.test import TestCase

from cravik.links.models import Link
from cravik.orders.models import Order
from tests.factories import BusinessFactory
from tests.links import line, make_link
from tests.paying import pay_as_it_comes

SENT = "You can withdraw from this purchase within 14 days of receiving it."
TICK = "I want Pattern at once, and know that I can&#x27;t withdraw from the purchase once I have it."


class WithdrawalTest(TestCase):
    def link(self, *lines: dict[str, Any], country: str = "IE", **without: str) -> Link:
        return make_link(*lines, business=BusinessFactory(country=country), no_withdrawal=without)

    def page(self, link: Link) -> str:
        return " ".join(self.client.get(link.path).content.decode().split())

    def test_what_holds_for_each_thing_is_told_before_paying(self) -> None:
        kite, seat = line("kite", "Delta kite", ships=True), line("seat", "Seat")
        for lines, without, told in (
            ([kite], {}, SENT),
            ([seat], {}, "You can withdraw from this purchase within 14 days."),
            ([seat], {"seat": "dated"}, "It is for a set day, so you can&#x27;t withdraw from this purchase."),
            ([kite, seat], {"seat": "dated"}, f"{SENT} Not from Seat: it is for a set day."),
            (
                [kite, seat],
                {"seat": "dated", "kite": "made_to_order"},
                "You can&#x27;t withdraw from buying Delta kite: it is made to your wishes. "
                "You can&#x27;t withdraw from buying Seat: it is for a set day.",
            ),
        ):
            with self.subTest(told):
                self.assertIn(told, self.page(self.link(*lines, **without)))
        for country, without in (("US", {}), ("CH", {"seat": "dated"}), ("IE", {"seat": "gift"})):
            with self.subTest(country):
                self.assertNotIn("withdraw", self.page(self.link(seat, country=country, **without)))

    def test_who_has_something_at_once_ticks_that_first_and_it_is_kept(self) -> None:
        link = self.link(line("pattern", "Pattern"), pattern="at_once")
        self.assertIn(TICK, self.page(link))
        refused = pay_as_it_comes(self.client, link)
        self.assertContains(refused, "Tick this to have it at once.", status_code=400)
        self.assertEqual(pay_as_it_comes(self.client, link, at_once="yes").status_code, 303)
        self.assertEqual(Order.objects.get().checkout.typed["at_once"], "yes")
        self.assertNotIn("checked", self.page(link).partition("at_once")[2].partition(">")[0])
        filled = self.client.get(f"{link.path}?at_once=yes").content.decode()
        self.assertNotIn("checked", filled.partition('name="at_once"')[2].partition(">")[0], "consent is their own act")

    def test_an_extra_that_is_left_out_needs_no_tick(self) -> None:
        link = self.link(line(), line("pattern", "Pattern", optional=True), pattern="at_once")
        self.assertEqual(pay_as_it_comes(self.client, link).status_code, 303)
        taken = {"take.pattern": "yes", "email": "b@dunes.example"}
        self.assertEqual(pay_as_it_comes(self.client, link, **taken).status_code, 400)
        self.assertEqual(pay_as_it_comes(self.client, link, **taken, at_once="yes").status_code, 303)
