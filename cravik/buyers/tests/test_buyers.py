"""A buyer is one row of a business, made with the first order, with all orders hanging on it."""

from __future__ import annotations

from django.test import TestCase

from cravik.buyers.models import Buyer
from cravik.events.models import Event
from cravik.links.models import Link
from cravik.orders.models import Order
from tests.factories import MembershipFactory, make_live
from tests.paying import NO_FUNDS, filled_in, pay_live


class BuyersTest(TestCase):
    def setUp(self) -> None:
        self.member = MembershipFactory()
        self.link = make_live(self.member.business)

    def buy(self, email: str, name: str = "Maren Saltmarsh", link: Link | None = None, **more: str) -> None:
        pay_live(self.client, link or self.link, email=email, name=name, second="yes", **more)

    def test_one_address_however_it_is_spelt_is_one_buyer_called_as_they_last_called_themselves(self) -> None:
        self.buy("Maren+kites@Dunes.example")
        self.buy("maren@dunes.example", "Maren S.")
        self.buy("other@dunes.example", "Ida")
        buyers = Buyer.objects.order_by("id")
        self.assertEqual(
            [(each.key, each.email, each.name, each.orders.count()) for each in buyers],
            [
                ("maren@dunes.example", "maren@dunes.example", "Maren S.", 2),
                ("other@dunes.example", "other@dunes.example", "Ida", 1),
            ],
        )
        first = Order.objects.order_by("id")[0]
        self.assertEqual((first.buyer_email, first.buyer_name), ("Maren+kites@Dunes.example", "Maren Saltmarsh"))
        self.assertEqual(first.buyer and first.buyer.made_at, first.paid_at)
        told = Event.objects.exclude(order_id=None).values_list("buyer_id", flat=True)
        self.assertEqual(set(told), {each.pk for each in buyers})

    def test_each_business_has_its_own(self) -> None:
        other = make_live(purpose="Box kite")
        self.buy("maren@dunes.example")
        self.buy("maren@dunes.example", link=other)
        self.assertEqual(Buyer.objects.count(), 2)
        self.assertEqual({each.business_id for each in Buyer.objects.all()}, {self.link.business_id, other.business_id})

    def test_neither_a_decline_nor_a_rehearsal_makes_one(self) -> None:
        self.buy("maren@dunes.example", card_number=NO_FUNDS)
        self.client.force_login(self.member.user)
        address = f"/for/rehearsal/{self.link.pk}/"
        self.client.post(f"{address}pay/", filled_in(self.client.get(address)))
        self.assertEqual((Order.objects.get().buyer, Buyer.objects.count()), (None, 0))
