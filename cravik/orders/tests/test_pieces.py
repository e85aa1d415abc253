"""Places and pieces of a line: held by the press, counted over all orders and versions, bounded for one buyer."""

from __future__ import annotations

import random
from typing import Any

from django.db import IntegrityError, transaction
from django.test import TestCase
from django.utils import timezone

from cravik.catalogue.models import Variant
from cravik.links.life import counting, lifecycle
from cravik.links.life.from_setup import effective_of
from cravik.links.life.lifecycle import end_what_is_used_up
from cravik.links.models import LinePieces, Link
from cravik.orders.models import Order
from cravik.orders.paying.reconcile import reconcile
from cravik.payments.models import Movement
from cravik.payments.ways import present_ways
from cravik.setup.defaults import defaults_of
from tests.factories import BY, NOW, MembershipFactory, make_business, make_item
from tests.links import line, make_link
from tests.paying import FALLS_SILENT, NO_FUNDS, filled_in, open_page, send

MANY: dict[str, Any] = {"quantity": {"max": None}}


def seat(**more: Any) -> dict[str, Any]:
    return line(key="seat", name="Workshop seat", amount="45.00", **MANY | more)


class PiecesTestCase(TestCase):
    def press(self, link: Link, buyer: str = "a", **typed: Any) -> Any:
        """What a buyer is answered who fills the page in, sees the sum, and presses."""
        form = open_page(self.client, link) | {"email": f"{buyer}@dunes.example"} | typed
        shown = self.client.post("/for/visit/slip/", form).json()
        return send(self.client, link, form | {name: shown[name] for name in ("seen_total", "seen_now")})

    def take(self, link: Link, number: int, buyer: str = "a", **typed: Any) -> Any:
        return self.press(link, buyer, **{"quantity.seat": str(number)} | typed)

    def counted(self, link: Link) -> dict[str, tuple[int, int]]:
        return {each.line: (each.paid, each.held) for each in LinePieces.objects.filter(link=link)}


def publish_with(link: Link, **limits: Any) -> Link:
    """The link published once more, with other limits."""
    link.draft = link.draft | {"limits": limits}
    link.effective = effective_of(link.draft, {}, defaults_of(link.business))
    link.save()
    return lifecycle.publish(link, NOW, by=BY)


class PlacesTest(PiecesTestCase):
    def test_twelve_places_are_twelve_places_however_they_are_ordered(self) -> None:
        link = make_link(seat(), limits={"pieces": {"seat": 12}})
        self.assertContains(self.client.get(link.path), "12 seats.")
        for number, buyer in ((4, "a"), (5, "b")):
            self.assertEqual(self.take(link, number, buyer).status_code, 303)
        page = self.client.get(link.path)
        self.assertContains(page, "3 seats left.")
        self.assertContains(page, 'data-most="3"')
        late = self.take(link, 4, "c")
        self.assertContains(late, "Nothing was charged.", status_code=409)
        self.assertContains(late, "3 seats left, so no more than that.", status_code=409)
        self.assertContains(late, 'value="c@dunes.example"', status_code=409)
        paid = send(self.client, link, filled_in(late, **{"quantity.seat": "3", "email": "c@dunes.example"}))
        self.assertEqual(paid.status_code, 409, "the sum is another one, so it is shown first")
        self.assertEqual(send(self.client, link, filled_in(paid, email="c@dunes.example")).status_code, 303)
        self.assertEqual(self.counted(link), {"seat": (12, 0)})
        link.refresh_from_db()
        self.assertEqual((link.state, link.ended_why), ("ended", "count"))
        self.assertContains(self.client.get(link.path), "All taken", status_code=410)
        self.assertEqual(
            [each.amount.major for each in Movement.objects.order_by("id")], ["180.00", "225.00", "135.00"]
        )

    def test_what_is_being_paid_is_held_and_given_back(self) -> None:
        link = make_link(seat(), limits={"pieces": {"seat": 3}})
        self.take(link, 3, "a", card_number=FALLS_SILENT)
        self.assertEqual(self.counted(link), {"seat": (0, 3)})
        self.assertContains(self.client.get(link.path), "Just taken")
        reconcile(present_ways(), timezone.now(), timezone.now)
        paid = Order.objects.count()
        self.assertEqual(self.counted(link), {"seat": (3, 0) if paid else (0, 0)})

    def test_a_decline_gives_places_back_at_once(self) -> None:
        link = make_link(seat(), limits={"pieces": {"seat": 3}})
        self.take(link, 2, card_number=NO_FUNDS)
        self.assertEqual(self.counted(link), {"seat": (0, 0)})

    def test_two_pages_that_both_want_the_last_places(self) -> None:
        link = make_link(seat(), limits={"pieces": {"seat": 3}})
        seen = {"quantity.seat": "2", "seen_total": "90.00", "seen_now": "90.00"}
        first, second = (open_page(self.client, link) | seen for _ in range(2))
        self.assertEqual(send(self.client, link, first).status_code, 303)
        late = send(self.client, link, second | {"email": "late@dunes.example"})
        self.assertContains(late, "1 seat left, so no more than that.", status_code=409)
        self.assertEqual((Order.objects.count(), self.counted(link)), (1, {"seat": (2, 0)}))

    def test_a_limit_that_comes_later_knows_what_was_sold_before(self) -> None:
        link = make_link(seat())
        self.take(link, 4)
        self.assertEqual(self.counted(link), {"seat": (4, 0)})
        old_page = open_page(self.client, link) | {"quantity.seat": "3", "email": "b@dunes.example"}
        with self.assertRaises(lifecycle.NotReady) as refused:
            publish_with(link, pieces={"seat": 3})
        self.assertEqual(
            str(refused.exception),
            "“Workshop seat”: 4 seats are sold or being paid for, so there can't be 3 in all. Make it 4 or more.",
        )
        publish_with(link, pieces={"seat": 6})
        # What is published now bounds the page of before too; its price is kept.
        late = send(self.client, link, old_page | {"seen_total": "135.00", "seen_now": "135.00"})
        self.assertEqual((late.status_code, self.counted(link)), (409, {"seat": (4, 0)}))

    def test_an_address_may_fill_in_more_than_is_left(self) -> None:
        link = make_link(seat(), limits={"pieces": {"seat": 3}})
        page = self.client.get(f"{link.path}?quantity.seat=9")
        self.assertContains(page, "3 seats")
        sent = filled_in(page) | {"quantity.seat": "9", "seen_total": "405.00", "seen_now": "405.00"}
        self.assertEqual(send(self.client, link, sent).status_code, 409)

    def test_the_smaller_of_stock_and_pieces_holds(self) -> None:
        business = make_business()
        make_item(business, "Sled kite", code="SLED")
        link = make_link(line(**MANY), business=business, items={"kite": "SLED"}, limits={"pieces": {"kite": 6}})
        Variant.objects.update(count=2)
        self.assertContains(self.client.get(link.path), "Only 2 left")
        self.assertEqual(self.press(link, **{"quantity.kite": "3"}).status_code, 409)
        Variant.objects.update(count=40)
        self.assertEqual(self.press(link, **{"quantity.kite": "7"}).status_code, 409)
        self.assertEqual(self.press(link, **{"quantity.kite": "6"}).status_code, 303)
        self.assertEqual((self.counted(link), Variant.objects.get().count), ({"kite": (6, 0)}, 34))

    def test_a_rehearsal_takes_no_place(self) -> None:
        member = MembershipFactory()
        link = make_link(seat(), business=member.business, limits={"pieces": {"seat": 2}})
        self.client.force_login(member.user)
        page = self.client.get(f"/for/rehearsal/{link.pk}/")
        self.assertContains(page, "2 seats.")
        self.assertEqual(self.client.post(f"/for/rehearsal/{link.pk}/pay/", filled_in(page)).status_code, 303)
        self.assertEqual(self.counted(link), {"seat": (0, 0)})


class SeveralLinesTest(PiecesTestCase):
    def setUp(self) -> None:
        adult = line(key="adult", name="Adult", amount="35.00", optional=True, **MANY)
        child = line(key="child", name="Child", amount="20.00", optional=True, **MANY)
        self.link = make_link(adult, child, limits={"pieces": {"adult": 3, "child": 2}})

    def pay(self, adults: int, children: int, buyer: str) -> Any:
        return self.press(self.link, buyer, **{"quantity.adult": str(adults), "quantity.child": str(children)})

    def test_a_line_whose_places_are_gone_is_sold_out_and_the_others_go_on(self) -> None:
        self.assertEqual(self.pay(1, 2, "a").status_code, 303)
        page = self.client.get(self.link.path)
        self.assertContains(page, "Sold out.", count=1)
        self.assertContains(page, "2 places left.")
        late = self.pay(1, 1, "b")
        self.assertContains(late, "No places left.", status_code=409)
        self.assertEqual(self.pay(2, 0, "b").status_code, 303)
        self.assertEqual(self.counted(self.link), {"adult": (3, 0), "child": (2, 0)})
        self.link.refresh_from_db()
        self.assertEqual(self.link.ended_why, "count")


class OneBuyerTest(PiecesTestCase):
    def test_one_buyer_has_so_many_over_all_their_orders(self) -> None:
        link = make_link(seat(), limits={"pieces_per_buyer": {"seat": 4}})
        self.assertContains(self.client.get(link.path), 'data-most="4"')
        self.assertContains(self.take(link, 5), "At most 4 seats a buyer.", status_code=400)
        self.assertEqual(self.take(link, 3).status_code, 303)
        again = self.take(link, 2, buyer="A", second="yes")
        self.assertContains(again, "At most 4 seats a buyer; you have 3 already.", status_code=400)
        self.assertEqual(self.take(link, 1, buyer="A+again", second="yes").status_code, 303)
        self.assertEqual(self.take(link, 4, buyer="b").status_code, 303)
        self.assertEqual(self.counted(link), {"seat": (8, 0)})


class LaterPriceTest(PiecesTestCase):
    def test_a_price_after_so_many_pieces_and_what_goes_beyond_it(self) -> None:
        dearer = {"line": "seat", "price": {"kind": "fixed", "amount": "60.00"}, "after_pieces": 5}
        link = make_link(seat(), steps=[dearer], page={"tells_left": True})
        self.assertContains(self.client.get(link.path), "5 seats left at this price.")
        self.assertEqual(self.take(link, 3, "a").status_code, 303)
        early = open_page(self.client, link) | {"quantity.seat": "2", "seen_total": "90.00", "seen_now": "90.00"}
        self.assertEqual(self.take(link, 4, "b").status_code, 303, "two of them lie beyond, at the old price")
        late = send(self.client, link, early | {"email": "c@dunes.example"})
        self.assertContains(late, "comes to €120.00", status_code=409)
        self.assertEqual(send(self.client, link, filled_in(late, email="c@dunes.example")).status_code, 303)
        paid = [each.amount.major for each in Movement.objects.order_by("id")]
        self.assertEqual(paid, ["135.00", "180.00", "120.00"])


class CountingTest(TestCase):
    def test_what_is_held_and_sold_is_what_a_plain_count_says_and_never_more_than_there_is(self) -> None:
        link, chance = make_link(seat()), random.Random(30)
        held: list[int] = []
        sold, most = 0, 12
        row = LinePieces.objects.create(link=link, line="seat", most=most)
        for _ in range(600):
            act, number = chance.choice(("hold", "hold", "sell", "give back", "another limit")), chance.randint(1, 4)
            if act == "hold":
                fits = sold + sum(held) + number <= most
                try:
                    counting.reserve_pieces(link.pk, "seat", number)
                    self.assertTrue(fits)
                    held.append(number)
                except counting.TooFewLeft:
                    self.assertFalse(fits)
            elif act == "another limit":
                most = max(sold + sum(held), chance.randint(0, 40))
                LinePieces.objects.filter(pk=row.pk).update(most=most)
            elif held:
                taken = held.pop(chance.randrange(len(held)))
                (counting.confirm_pieces if act == "sell" else counting.release_pieces)(link.pk, "seat", taken)
                sold += taken if act == "sell" else 0
            counted = counting.pieces_of(link.pk)
            self.assertEqual((counted.paid.get("seat", 0), counted.taken.get("seat", 0)), (sold, sold + sum(held)))
            self.assertLessEqual(counted.taken.get("seat", 0), most)
        self.assertGreater(sold, 20)
        with self.assertRaises(IntegrityError), transaction.atomic():
            LinePieces.objects.filter(pk=row.pk).update(most=sold - 1)

    def test_a_link_that_was_full_on_terms_that_did_not_count_ends_by_the_clock(self) -> None:
        link = make_link(seat(), limits={"pieces": {"seat": 2}})
        LinePieces.objects.filter(link=link).update(paid=2)
        self.assertEqual((end_what_is_used_up(NOW), end_what_is_used_up(NOW)), (1, 0))
        link.refresh_from_db()
        self.assertEqual(link.ended_why, "count")
