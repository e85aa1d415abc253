"""Options of an item on the buyer's page: their price, and the stock of each variant."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

from django.test import TestCase

from cravik.catalogue.drafts import ItemDraft, OptionDraft, OptionGroupDraft, PriceDraft
from cravik.catalogue.models import Item, Variant
from cravik.catalogue.services import change_item, make_item
from cravik.core.pricing.money import Money
from cravik.links.life import lifecycle
from cravik.links.making.copies import make_link_of_item
from cravik.mailroom.models import Letter
from cravik.orders.models import Order
from tests.factories import BY, NOW, MembershipFactory
from tests.paying import APPROVES, NO_FUNDS, filled_in, open_page, pay_live, send


class OptionsOnThePageTest(TestCase):
    def setUp(self) -> None:
        self.member = MembershipFactory()
        self.business = self.member.business
        spans = (("1.2 m", -600), ("1.8 m", 0), ("2.4 m", 1200))
        self.draft = ItemDraft(
            name="Delta kite",
            words="",
            kind="service",
            code="DELTA",
            weight_g=0,
            tax_category="standard",
            currency="EUR",
            prices=(PriceDraft("", Money(4800, "EUR")),),
            option_groups=(
                OptionGroupDraft("Span", tuple(OptionDraft(name, Money(add, "EUR")) for name, add in spans)),
                OptionGroupDraft("Colour", tuple(OptionDraft(name, Money(0, "EUR")) for name in ("red", "green"))),
            ),
        )
        self.item = make_item(self.business, self.draft, NOW, by=BY)
        self.link = lifecycle.publish(
            make_link_of_item(self.business, self.item, self.item.price, NOW, by=BY), NOW, by=BY
        )

    def stock(self, place: int, **values: Any) -> Variant:
        """Set the stock of a variant by its place: red and green of each span in turn."""
        variant = self.item.variants.order_by("id")[place]
        Variant.objects.filter(id=variant.pk).update(**values)
        return variant

    def test_the_first_of_each_group_stands_there_and_others_are_reckoned(self) -> None:
        page = self.client.get(self.link.path)
        self.assertContains(page, "Pay €42.00")
        self.assertContains(page, "1.2 m (−€6.00)")
        self.assertContains(page, "2.4 m (+€12.00)")
        form = open_page(self.client, self.link)
        asked = {"page": form["page"], "option.purpose.1": "2.4 m", "option.purpose.2": "green"}
        answer = self.client.post("/for/visit/slip/", asked).json()
        self.assertEqual(answer["seen_total"], "60.00")
        self.assertIn("Delta kite, 2.4 m, green", answer["pieces"]["slip"])

    def test_what_was_chosen_is_charged_kept_and_told(self) -> None:
        form = open_page(self.client, self.link) | {"option.purpose.1": "2.4 m", "option.purpose.2": "green"}
        answer = send(self.client, self.link, form)
        self.assertContains(answer, "It comes to €60.00", status_code=409)
        paid = send(self.client, self.link, form | {"seen_total": "60.00", "seen_now": "60.00"})
        self.assertContains(self.client.get(paid["Location"]), "Delta kite, 2.4 m, green")
        order = Order.objects.get()
        self.assertEqual(order.checkout.line.picked, [("Delta kite", "2.4 m, green")])
        self.client.force_login(self.member.user)
        self.assertContains(self.client.get(order.path), "2.4 m")
        self.assertContains(self.client.get("/orders/orders.csv"), "2.4 m, green")

    def test_what_is_no_option_is_refused(self) -> None:
        form = open_page(self.client, self.link)
        self.assertContains(
            send(self.client, self.link, form | {"option.purpose.1": "9 m"}), "Choose one of these.", status_code=400
        )
        del form["option.purpose.2"]
        self.assertContains(send(self.client, self.link, form), "Choose one of these.", status_code=400)

    def test_each_variant_has_its_own_stock(self) -> None:
        red = self.stock(0, count=1)
        other = open_page(self.client, self.link)
        declined = pay_live(self.client, self.link, card_number=NO_FUNDS)
        red.refresh_from_db()
        self.assertEqual(red.count, 1)
        send(self.client, self.link, filled_in(declined) | {"card_number": APPROVES})
        red.refresh_from_db()
        self.assertEqual(red.count, 0)
        kept = Order.objects.get().checkout.holds.get(kind="stock", state="confirmed")
        self.assertEqual((kept.variant, kept.quantity), (red, 1))
        late = send(self.client, self.link, other | {"email": "b@dunes.example"})
        self.assertContains(late, "The last one was sold a moment ago.", status_code=409)
        page = self.client.get(self.link.path)
        self.assertContains(page, "Sold out: 1.2 m, red.")
        self.assertRegex(page.content.decode(), r'value="green"[^>]* checked')
        gone = {"page": other["page"], "option.purpose.1": "1.2 m", "option.purpose.2": "red"}
        self.assertIn("This is sold out.", self.client.post("/for/visit/slip/", gone).json()["pieces"]["gone"])

    def test_a_renamed_option_is_renamed_for_buyers_and_sells_from_the_same_stock(self) -> None:
        seen = open_page(self.client, self.link)
        red = self.stock(0, count=5)
        groups = Item.objects.get(id=self.item.pk).option_groups.all()
        choices = tuple(
            OptionGroupDraft(
                group.name,
                tuple(
                    OptionDraft("scarlet" if each.name == "red" else each.name, each.add, option_id=each.pk)
                    for each in group.options.all()
                ),
            )
            for group in groups
        )
        change_item(self.item, replace(self.draft, option_groups=choices), self.item.revision, NOW, by=BY)
        page = self.client.get(self.link.path)
        self.assertContains(page, 'value="scarlet"')
        self.assertNotContains(page, 'value="red"')
        # Who has the page open from before pays for “red”, out of the same stock.
        self.assertEqual(send(self.client, self.link, seen).status_code, 303)
        pay_live(self.client, self.link, email="b@dunes.example")
        red.refresh_from_db()
        self.assertEqual(red.count, 3)

    def test_few_that_are_left_and_options_that_are_gone_are_said(self) -> None:
        for place in (0, 1):
            self.stock(place, count=0)
        self.stock(2, count=2)
        page = self.client.get(self.link.path)
        self.assertContains(page, "1.2 m (−€6.00) – sold out")
        self.assertContains(page, "Only 2 left.")
        self.assertNotContains(page, "1.8 m – sold out")
        pay_live(self.client, self.link, email="a@dunes.example")
        self.assertContains(self.client.get(self.link.path), "Only 1 left.")

    def test_sold_out_is_only_said_when_nothing_is_left(self) -> None:
        for place in range(6):
            self.stock(place, count=0)
        self.assertContains(self.client.get(self.link.path), "Sold out")
        self.stock(5, sells_beyond=True)
        self.assertContains(self.client.get(self.link.path), "Pay €60.00")

    def test_the_seller_is_told_once_at_the_level_of_the_variant(self) -> None:
        self.stock(0, count=3, tell_at=2)
        for number in range(2):
            pay_live(self.client, self.link, email=f"{number}@dunes.example")
        told = Letter.objects.filter(kind="stock_low")
        self.assertEqual([each.subject for each in told], ["Delta kite, 1.2 m, red: 2 left"])

    def test_a_price_that_an_option_would_take_below_nothing_is_refused(self) -> None:
        self.client.force_login(self.member.user)
        sent = {"amount.purpose": "6", "currency": "EUR", "revision": str(self.link.revision)}
        answer = self.client.post(f"/links/{self.link.pk}/", sent)
        self.assertContains(answer, "An option takes off more than that. The least is 6.01.", status_code=400)
        for amount in ("6", "6.01"):
            made = self.client.post(
                f"/links/new/?item={self.item.pk}", {"purpose": "x", "amount": amount, "currency": "EUR"}
            )
            self.assertEqual(made.status_code, 400 if amount == "6" else 302)
        self.item.prices.update(amount_minor=600)
        refused = self.client.post(f"/links/of-item/{self.item.pk}/", follow=True)
        self.assertContains(refused, "6.00 is too low for a link. An option takes off more than that.")
        kept = self.client.post(f"/links/{self.link.pk}/item-price/", follow=True)
        self.assertContains(kept, "The link keeps its price.")

    def test_what_options_add_comes_back_with_the_currency(self) -> None:
        self.client.force_login(self.member.user)

        def adds_in(currency: str) -> list[str | None]:
            self.link.refresh_from_db()
            sent = {"amount.purpose": "40", "currency": currency, "revision": str(self.link.revision)}
            self.client.post(f"/links/{self.link.pk}/", sent)
            self.link.refresh_from_db()
            options = self.link.offer.lines[0].choices[0].options
            return [option.add.major if option.add else None for option in options]

        self.assertEqual(adds_in("GBP"), [None, None, None])
        self.assertEqual(adds_in("EUR"), ["-6.00", None, "12.00"])
