"""A buyer withdraws from a contract, or has their data erased; and what their seller sees of it."""

from __future__ import annotations

import json
from datetime import UTC, datetime, timedelta
from importlib import import_module
from typing import Any
from unittest import mock

import time_machine
from django.apps import apps
from django.db import connection
from django.http import HttpResponse
from django.test import Client, TestCase

from cravik.buyers.models import Buyer
from cravik.checkout.models import Checkout
from cravik.mailroom.models import Letter
from cravik.orders.acts.sent import send_order
from cravik.orders.models import IssuedDocument, Order, Parcel, Stage, Wish
from cravik.orders.purchases.asking import ask_for_refund
from cravik.orders.purchases.door import let_in
from cravik.orders.purchases.rights import rights_of
from cravik.orders.purchases.withdrawing import withdraw
from cravik.orders.refunding import RefundWish, refund_order
from cravik.payments.models import Refund
from cravik.payments.ways import present_ways
from cravik.people.models import Business
from tests.factories import BY, MembershipFactory
from tests.links import line, make_link
from tests.paying import FALLS_SILENT, address_in, give_back, pay_as_it_comes, pay_live

BEGAN = datetime(2026, 3, 2, 10, 0, tzinfo=UTC)  # a Monday
EMAIL = "maren@dunes.example"


class Parting(TestCase):
    def setUp(self) -> None:
        self.member = MembershipFactory(business__time_zone="Europe/Dublin")
        self.business: Business = self.member.business
        self.clock = self.enterContext(time_machine.travel(BEGAN, tick=False))
        self.seller = Client()
        self.seller.force_login(self.member.user)

    def bought(
        self, *lines: dict[str, Any], email: str = EMAIL, typed: dict[str, str] | None = None, **without: str
    ) -> Order:
        link = make_link(*lines, business=self.business, no_withdrawal=without)
        if any(each.get("ships") for each in lines):
            typed = address_in("IE") | (typed or {})
        answer = pay_as_it_comes(Client(), link, name="Maren Voss", email=email, **(typed or {}))
        self.assertEqual(answer.status_code, 303)
        return Order.objects.latest("id")

    def as_buyer(self, order: Order) -> Client:
        """A browser in which their purchases are open."""
        client, response = Client(), HttpResponse()
        let_in(response, order.business_id, order.buyer_id or 0, secure=False)
        client.cookies = response.cookies
        return client

    def path(self, order: Order) -> str:
        return f"/purchases/{self.business.pk}/orders/{order.number}/withdraw/"

    def states(self, order: Order) -> list[str]:
        whole = Order.objects.select_related("business", "checkout").get(id=order.pk)
        return [each.state.value for each in rights_of(whole, datetime.now(UTC))]


class WithdrawingTest(Parting):
    def test_a_service_can_be_withdrawn_from_for_fourteen_days_and_no_period_ends_on_a_weekend(self) -> None:
        order = self.bought(line())
        for days, state in ((0, "open"), (14, "open"), (15, "over")):  # the 16th is a Monday
            self.clock.move_to(BEGAN + timedelta(days=days))
            self.assertEqual(self.states(order), [state], days)
        self.clock.move_to(datetime(2026, 3, 28, 12, 0, tzinfo=UTC))  # a Saturday; so is the fourteenth day
        order = self.bought(line())
        for day, state in ((11, "open"), (13, "open"), (14, "over")):
            self.clock.move_to(datetime(2026, 4, day, 22, 30, tzinfo=UTC))
            self.assertEqual(self.states(order), [state], day)

    def test_what_is_sent_can_be_withdrawn_from_until_after_it_came(self) -> None:
        order = self.bought(line(ships=True))
        self.clock.move_to(BEGAN + timedelta(days=90))
        self.assertEqual(self.states(order), ["open"], "it was never sent")
        send_order(order, Parcel(key="p"), datetime.now(UTC), by=BY, tell=False, seen=0)
        for days, state in ((90 + 28, "open"), (90 + 31, "over")):
            self.clock.move_to(BEGAN + timedelta(days=days))
            self.assertEqual(self.states(order), [state], days)

    def test_what_is_exempt_a_business_bought_or_went_back_gives_no_right(self) -> None:
        self.assertEqual(self.states(self.bought(line(), line("seat", "Seat"), seat="dated")), ["open", "exempt"])
        self.assertEqual(self.states(self.bought(line(), kite="at_once", typed={"at_once": "yes"})), ["exempt"])
        self.assertEqual(self.states(self.bought(line(), kite="gift")), [])
        order = self.bought(line())
        give_back(order, "24.00")
        self.assertEqual(self.states(order), [])
        order = self.bought(line())
        Checkout.objects.filter(id=order.checkout_id).update(where={"country": "DE", "company": "Dune GmbH"})
        self.assertEqual(self.states(order), [])
        Business.objects.update(country="US")
        self.assertEqual(self.states(self.bought(line())), [])

    def test_it_takes_two_acts_is_acknowledged_and_waits_for_the_seller(self) -> None:
        order = self.bought(line(), line("seat", "Seat"), line("tail", "Tail"), seat="dated")
        client = self.as_buyer(order)
        page = client.get(f"/purchases/{self.business.pk}/")
        self.assertContains(page, self.path(order))
        self.assertContains(page, "until 16 Mar 2026")
        asked = client.get(self.path(order))
        self.assertContains(asked, "Seat: you can't withdraw, since it is for a set day.")
        self.assertEqual(Wish.objects.count(), 0, "nothing is done by looking")
        self.assertContains(client.post(self.path(order)), "Tick what you withdraw from.", status_code=400)
        forged = client.post(self.path(order), {"line": ["seat", "x" * 500, "\0"]})
        self.assertContains(forged, "You can&#x27;t withdraw from that any more.", status_code=400)
        done = client.post(self.path(order), {"line": ["kite", "seat"]}, follow=True)
        self.assertContains(done, "You withdrew from buying Kite on 2 Mar 2026, 10:00.")
        (wish,) = Wish.objects.all()
        self.assertEqual(wish.lines, [{"key": "kite", "name": "Kite"}])
        received = Letter.objects.get(kind="withdrawal_received")
        self.assertEqual((received.to_address, received.subject), (EMAIL, "You withdrew from buying Kite"))
        for words in ("2 Mar 2026, 10:00 (Europe/Dublin)", order.checkout.reference, "by 16 Mar 2026"):
            self.assertIn(words, received.text)
        self.assertEqual(Letter.objects.get(kind="withdrawn").to_address, self.member.user.email)
        listed = self.seller.get("/orders/")
        self.assertContains(listed, "1 buyer wants money back")
        self.assertEqual([each.pk for each in self.seller.get("/orders/?wish=open").context["page"]], [order.pk])
        self.assertContains(self.seller.get(order.path), "withdrew from buying Kite")
        self.assertContains(self.seller.get(order.path), "Withdrew from buying Kite")
        give_back(order, "72.00")
        self.assertNotContains(self.seller.get("/orders/"), "wants money back")

    def test_its_refund_begins_with_what_was_withdrawn_from(self) -> None:
        order = self.bought(line(), line("tail", "Tail", "6.00"))
        withdraw(order, ["tail"], datetime.now(UTC))
        form = self.seller.get(order.refund_path).context["form"]
        self.assertEqual((form["how"].value(), form["pieces-0"].value(), form["pieces-1"].value()), ("pieces", None, 1))
        withdraw(order, ["kite"], datetime.now(UTC))
        form = self.seller.get(order.refund_path).context["form"]
        self.assertEqual((form["how"].value(), form["pieces-1"].value()), ("all", None))

    def test_a_refund_settles_what_it_answers_and_no_more(self) -> None:
        order = self.bought(line(), line("tail", "Tail", "6.00"))
        ask_for_refund(order, "Bent", BEGAN)
        withdraw(order, ["tail"], BEGAN)
        give_back(order, "1.00")
        self.assertEqual([wish.kind for wish in Wish.objects.filter(settled_at=None)], ["withdrawal"])
        wish = RefundWish(pieces={"tail": 1})
        refund_order(order, wish, "key", present_ways(), lambda: datetime.now(UTC), by=BY)
        self.assertFalse(Wish.objects.filter(settled_at=None).exists())

    def test_each_line_once_however_often_it_is_sent(self) -> None:
        order = self.bought(line(), line("tail", "Tail"))
        now = datetime.now(UTC)
        self.assertIsNotNone(withdraw(order, ["kite"], now))
        self.assertIsNone(withdraw(order, ["kite"], now))
        self.assertIsNotNone(withdraw(order, ["kite", "tail"], now))
        self.assertEqual([each.names for each in Wish.objects.all()], ["Kite", "Tail"])
        self.assertEqual(Letter.objects.filter(kind="withdrawal_received").count(), 2)
        self.assertEqual(self.as_buyer(order).get(self.path(order)).status_code, 302, "nothing is left")

    def test_it_is_nobody_elses(self) -> None:
        order = self.bought(line())
        other = self.bought(line(), email="jonas@dunes.example")
        self.assertEqual(self.as_buyer(other).post(self.path(order), {"line": "kite"}).status_code, 404)
        self.assertEqual(Client().post(self.path(order), {"line": "kite"}).status_code, 302)
        self.assertEqual(Wish.objects.count(), 0)

    def test_its_seller_may_settle_it_without_a_refund_and_no_other(self) -> None:
        order = self.bought(line())
        wish = withdraw(order, ["kite"], datetime.now(UTC))
        stranger = Client()
        stranger.force_login(MembershipFactory().user)
        path = f"/orders/{order.pk}/settle/"
        for client, wish_id, settled in (
            (stranger, wish.pk, False),
            (self.seller, "x", False),
            (self.seller, wish.pk, True),
        ):
            client.post(path, {"wish": wish_id})
            self.assertEqual(Wish.objects.get().settled_at is not None, settled)
        self.seller.post(path, {"wish": wish.pk})
        self.assertContains(self.seller.get(order.path), "Settled what the buyer asked for", count=1)


class CarriedOverTest(Parting):
    def test_refunds_that_were_asked_for_before_wait_still_unless_the_money_went_back(self) -> None:
        orders = [self.bought(line()) for _ in range(2)]
        for order in orders:
            ask_for_refund(order, f"Bent {order.number}", BEGAN)
        give_back(orders[0], "24.00")
        Wish.objects.all().delete()
        for _ in range(2):
            import_module("cravik.orders.migrations.0019_wishes").carry_over(apps, None)
        settled = [(wish.order, wish.words, wish.settled_at is not None) for wish in Wish.objects.order_by("order")]
        self.assertEqual(settled, [(order, f"Bent {order.number}", order == orders[0]) for order in orders])


class ErasingTest(Parting):
    def test_nothing_that_tells_who_they_were_is_left_but_in_documents(self) -> None:
        question = {"key": "tail", "kind": "short_text", "label": "Name on the tail"}
        link = make_link(line(), business=self.business, questions=[question])
        pay_as_it_comes(Client(), link, name="Maren Voss", email="Maren@Dunes.example", **{"answer.tail": "Blåvær"})
        order = Order.objects.get()
        self.as_buyer(order).post(
            f"/purchases/{self.business.pk}/refund/", {"order": order.number, "wish": "Bent, says Maren"}
        )
        self.seller.post(f"/orders/{order.pk}/note/", {"note": "Maren rang"})
        Refund.objects.filter(id=give_back(order, "4.00").pk).update(why="Maren was right")
        pay_live(Client(), link, email="jonas@dunes.example", name="Jonas Vetch")
        money = Order.objects.get(id=order.pk).taken_minor
        client = self.as_buyer(order)
        page = client.get(f"/purchases/{self.business.pk}/erase/")
        self.assertContains(page, "invoices, receipts and credit notes")
        done = client.post(f"/purchases/{self.business.pk}/erase/")
        self.assertContains(done, "Your data is erased")
        for words in ("maren", "voss", "blåvær", "bl\\u00e5"):
            with self.subTest(words):
                self.assertEqual(
                    _tables_with(words), {"orders_issueddocument"} if words in ("maren", "voss") else set()
                )
        self.assertGreater(IssuedDocument.objects.filter(order=order).count(), 1)
        self.assertEqual(Order.objects.get(id=order.pk).taken_minor, money)
        self.assertContains(client.get(f"/purchases/{self.business.pk}/"), "E-mail address that you bought with")
        self.assertContains(self.as_buyer(order).get(f"/purchases/{self.business.pk}/"), "E-mail address")
        for path in ("/orders/", order.path, "/orders/orders.csv", "/orders/journal.csv", order.refund_path):
            self.assertEqual(self.seller.get(path).status_code, 200, path)
        self.assertContains(self.seller.get(order.path), "Had their data erased")
        self.assertEqual(Letter.objects.filter(to_address="jonas@dunes.example").count(), 1)
        give_back(order, "1.00")
        self.assertFalse(Letter.objects.filter(to_address="").exists())
        pay_live(Client(REMOTE_ADDR="192.0.2.7"), link, email=EMAIL, name="Maren Voss")
        self.assertEqual(Buyer.objects.filter(name="Maren Voss").count(), 1, "who comes again is new")

    def test_not_as_long_as_it_is_needed(self) -> None:
        order = self.bought(line(ships=True))
        client, path = self.as_buyer(order), f"/purchases/{self.business.pk}/erase/"
        self.assertContains(client.get(path), "1 order is still to be sent or done.")
        self.assertContains(client.post(path), "Not yet", status_code=409)
        withdraw(order, ["kite"], datetime.now(UTC))
        Order.objects.update(stage=Stage.DONE)
        self.assertContains(client.post(path), "hasn&#x27;t been answered yet", status_code=409)
        Wish.objects.update(settled_at=BEGAN)
        self.assertEqual(client.post(path).status_code, 200)
        self.assertEqual(client.post(path).status_code, 302, "once")

    def test_nobody_whose_payment_is_being_decided(self) -> None:
        order = self.bought(line())
        pay_as_it_comes(Client(), make_link(line(), business=self.business), email=EMAIL, card_number=FALLS_SILENT)
        answer = self.as_buyer(order).post(f"/purchases/{self.business.pk}/erase/")
        self.assertContains(answer, "A payment of yours is being decided.", status_code=409)
        self.assertEqual(Buyer.objects.get().email, EMAIL)

    def test_who_still_has_to_pay_cannot(self) -> None:
        plan = {"kind": "instalments", "every": {"count": 1, "unit": "month"}, "payments": 3}
        with mock.patch("cravik.links.life.lifecycle.why_not_publishable", return_value=()):
            link = make_link(line(), business=self.business, offer={"plan": plan})
        pay_as_it_comes(Client(), link, name="Maren Voss", email=EMAIL)
        order = Order.objects.get()
        answer = self.as_buyer(order).post(f"/purchases/{self.business.pk}/erase/")
        self.assertContains(answer, "1 order has a payment to come.", status_code=409)

    def test_data_to_take_away_has_what_was_asked_for(self) -> None:
        order = self.bought(line())
        withdraw(order, ["kite"], datetime.now(UTC))
        data = json.loads(self.as_buyer(order).get(f"/purchases/{self.business.pk}/data.json").content)
        self.assertEqual(data["orders"][0]["asked"][0]["of"], "Kite")


def _tables_with(words: str) -> set[str]:
    """The tables of the database in some text of which the words stand, in any case."""
    found = set()
    with connection.cursor() as cursor:
        for table in connection.introspection.table_names(cursor):
            cursor.execute(f'SELECT * FROM "{table}"')
            if any(words in str(value).lower() for row in cursor.fetchall() for value in row):
                found.add(table)
    return found
