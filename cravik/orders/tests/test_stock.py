from __future__ import annotations

from django.test import TestCase

from cravik.catalogue.models import Variant
from cravik.checkout.models import Checkout
from cravik.links.life import lifecycle
from cravik.links.models import Link
from cravik.mailroom.models import Letter
from cravik.orders.models import Order
from cravik.orders.paying.reconcile import reconcile
from cravik.payments.models import Attempt
from cravik.payments.ways import present_ways
from tests.factories import BY, NOW, MembershipFactory, make_item
from tests.links import line, make_link
from tests.paying import FALLS_SILENT, NO_FUNDS, filled_in, open_page, pay_live, send


class StockOfAnItemTest(TestCase):
    def setUp(self) -> None:
        self.member = MembershipFactory()
        item = make_item(self.member.business, "Sled kite", 1400)
        self.stock = Variant.objects.filter(item=item)
        self.client.force_login(self.member.user)
        self.client.post(f"/links/of-item/{item.pk}/")
        self.link = lifecycle.publish(Link.objects.get(), NOW, by=BY)
        self.client.logout()

    def pay(self, buyer: str, **more: str) -> int:
        return pay_live(self.client, self.link, email=f"{buyer}@dunes.example", **more).status_code

    def count(self) -> int | None:
        return self.stock.get().count

    def test_a_sale_takes_one_and_a_decline_gives_it_back(self) -> None:
        self.stock.update(count=2)
        self.assertEqual((self.pay("a"), self.count()), (303, 1))
        self.assertEqual((self.pay("b", card_number=NO_FUNDS), self.count()), (200, 1))

    def test_the_last_one_is_sold_once(self) -> None:
        self.stock.update(count=1)
        first, second = open_page(self.client, self.link), open_page(self.client, self.link)
        send(self.client, self.link, first)
        late = send(self.client, self.link, second | {"email": "late@dunes.example"})
        self.assertContains(late, "The last one was sold a moment ago.", status_code=409)
        self.assertContains(late, 'value="late@dunes.example"', status_code=409)
        self.assertEqual((Order.objects.count(), Checkout.objects.count(), self.count()), (1, 1, 0))
        self.assertContains(self.client.get(self.link.path), "Sold out")
        # Sent once more, the page that was paid still leads to its confirmation.
        self.assertEqual(send(self.client, self.link, first).status_code, 303)

    def test_beyond_the_stock_only_where_the_seller_says_so(self) -> None:
        self.stock.update(count=0, sells_beyond=True)
        self.assertEqual((self.pay("a"), self.count()), (303, -1))

    def test_what_is_pending_holds_one_until_it_is_known(self) -> None:
        self.stock.update(count=1)
        self.pay("a", card_number=FALLS_SILENT)
        self.assertEqual(self.count(), 0)
        self.assertContains(self.client.get(self.link.path), "Sold out")
        attempt = Attempt.objects.get()
        reconcile(present_ways(), attempt.begun_at, lambda: attempt.begun_at)
        attempt.refresh_from_db()
        self.assertEqual(self.count(), 0 if attempt.state == "approved" else 1)

    def test_the_seller_is_told_once_at_the_level(self) -> None:
        self.stock.update(count=4, tell_at=2)
        for number in range(4):
            self.pay(f"buyer{number}")
        letters = Letter.objects.filter(kind="stock_low")
        self.assertEqual([letter.subject for letter in letters], ["Sled kite: 2 left"])
        self.assertEqual(letters[0].to_address, self.member.user.email)
        self.assertIn("You asked to be told at 2.", letters[0].text)

    def test_where_nothing_is_counted_and_in_a_rehearsal_nothing_is_taken(self) -> None:
        self.assertEqual((self.pay("a"), self.count()), (303, None))
        self.stock.update(count=0)
        self.client.force_login(self.member.user)
        page = self.client.get(f"/for/rehearsal/{self.link.pk}/")
        paid = self.client.post(f"/for/rehearsal/{self.link.pk}/pay/", filled_in(page))
        self.assertEqual((paid.status_code, self.count()), (303, 0))

    def test_what_is_sold_out_can_still_be_rehearsed_with_what_is_chosen(self) -> None:
        item = make_item(self.member.business, "Box kite", 2000, code="BOX", choices={"Colour": ("red", "blue")})
        many = {"quantity": {"max": 9}, "choices": [{"name": "Colour", "options": [{"name": "red"}, {"name": "blue"}]}]}
        link = make_link(line(**many), business=self.member.business, items={"kite": "BOX"})
        Variant.objects.filter(item=item).update(count=0)
        self.client.force_login(self.member.user)
        page = self.client.get(f"/for/rehearsal/{link.pk}/")
        self.assertContains(page, 'name="option.kite.1"')
        self.assertNotRegex(page.content.decode(), r'name="(?:option|quantity)\.kite[^>]*\bdisabled')
