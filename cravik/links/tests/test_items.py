from __future__ import annotations

import tempfile

from django.test import TestCase, override_settings

from cravik.catalogue.models import Item
from cravik.catalogue.pictures import add_picture, describe_picture
from cravik.catalogue.tests.photos import photo, upload
from cravik.catalogue.tests.test_items import sheet
from cravik.links.life import lifecycle
from cravik.links.models import Link
from tests.factories import BY, NOW, MembershipFactory, make_item
from tests.paying import pay_live


class LinkOfItemTest(TestCase):
    def setUp(self) -> None:
        self.enterContext(override_settings(CRAVIK_PICTURES=self.enterContext(tempfile.TemporaryDirectory())))
        self.member = MembershipFactory()
        self.client.force_login(self.member.user)
        self.item = make_item(self.member.business, "Delta kite", 4800)

    def made(self, **sent: str) -> Link:
        answer = self.client.post(f"/links/of-item/{self.item.pk}/", sent)
        link = Link.objects.latest("id")
        self.assertRedirects(answer, f"/links/{link.pk}/")
        return link

    def sold_by(self, link: Link) -> Item:
        return link.sold_items.get(version=None).item

    def change(self, **changes: str) -> None:
        fresh = Item.objects.get(id=self.item.pk)
        answer = self.client.post(f"/catalogue/{fresh.pk}/", sheet(revision=fresh.revision, **changes))
        self.assertEqual(answer.status_code, 302)

    def test_one_press_makes_a_draft_of_it(self) -> None:
        link = self.made()
        self.assertEqual(
            (self.sold_by(link), link.offer.title, link.offer.lines[0].price.amount.major),
            (self.item, "Delta kite", "48.00"),
        )
        self.assertContains(self.client.get(f"/catalogue/{self.item.pk}/"), "Delta kite")

    def test_another_of_its_prices_can_be_chosen(self) -> None:
        self.change(**{"price-TOTAL_FORMS": "2", "price-1-label": "To schools", "price-1-amount": "39"})
        link = self.made(price=str(self.item.prices.last().pk))
        self.assertEqual(link.offer.lines[0].price.amount.major, "39.00")

    def test_without_a_price_new_link_asks_for_one(self) -> None:
        self.item.prices.all().delete()
        answer = self.client.post(f"/links/of-item/{self.item.pk}/", follow=True)
        self.assertContains(answer, "The item has no price yet.")
        address = answer.redirect_chain[-1][0]
        self.client.post(address, {"purpose": "x", "amount": "12", "currency": "EUR"})
        self.assertEqual((self.sold_by(Link.objects.get()), Link.objects.get().offer.title), (self.item, "Delta kite"))
        for foreign in (make_item().pk, "9" * 30, "x"):
            self.assertEqual(self.client.get(f"/links/new/?item={foreign}").status_code, 200)

    def test_name_words_and_pictures_follow_at_once_and_the_price_asks(self) -> None:
        link = lifecycle.publish(self.made(), NOW, by=BY)
        content = photo((300, 200))
        picture = add_picture(self.item, upload(content), len(content), NOW, by=BY)
        describe_picture(picture, "A kite", 50, 50, NOW, by=BY)
        self.change(name="Delta, renewed", words="Now **stronger**", **{"price-0-amount": "52"})
        page = self.client.get(link.path)
        self.assertContains(page, "<h1>Delta, renewed</h1>")
        self.assertContains(page, "Now <strong>stronger</strong>")
        self.assertContains(page, 'alt="A kite"')
        self.assertContains(page, "Pay €48.00")
        link.refresh_from_db()
        self.assertEqual(link.version.effective, link.effective)
        self.assertEqual(
            (link.version.number, link.version.offer.title, link.has_unpublished_changes), (2, "Delta, renewed", False)
        )
        asks = self.client.get(f"/catalogue/{self.item.pk}/")
        self.assertContains(asks, "Its draft costs €48.00, the item €52.00.")
        self.assertContains(self.client.get(f"/links/{link.pk}/"), "The item costs €52.00 now.")
        self.client.post(f"/links/{link.pk}/item-price/")
        self.assertContains(self.client.get(link.path), "Pay €48.00")
        lifecycle.publish(Link.objects.get(), NOW, by=BY)
        self.assertContains(self.client.get(link.path), "Pay €52.00")

    def test_a_page_that_is_open_is_paid_as_it_was_seen(self) -> None:
        link = lifecycle.publish(self.made(), NOW, by=BY)
        self.client.logout()
        self.assertEqual(pay_live(self.client, link).status_code, 303)
        self.client.force_login(self.member.user)
        self.change(name="Delta, renewed")
        self.assertContains(self.client.get("/orders/"), "Delta kite")
        self.assertNotContains(self.client.get("/orders/"), "Delta, renewed")

    def test_the_bench_leaves_the_items_name_alone_and_adds_words_of_its_own(self) -> None:
        link = self.made()
        sent = {"title": "Mine", "words": "Mine", "amount.purpose": "50", "currency": "EUR", "revision": link.revision}
        self.client.post(f"/links/{link.pk}/", sent)
        link.refresh_from_db()
        self.assertEqual((link.offer.title, link.draft["page"]["words"]), ("Delta kite", "Mine"))
        self.assertEqual(link.offer.lines[0].price.amount.major, "50.00")
        self.assertContains(self.client.get(f"/links/{link.pk}/"), "Name, words and pictures are those of the item")
