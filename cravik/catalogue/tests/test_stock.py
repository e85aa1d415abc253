from __future__ import annotations

from typing import Any

from django.test import TestCase

from cravik.catalogue.models import Item, Variant
from tests.factories import MembershipFactory, make_item


class StockTest(TestCase):
    def setUp(self) -> None:
        self.member = MembershipFactory()
        self.client.force_login(self.member.user)
        spans = {"Span": ("1.2 m", "1.8 m"), "Colour": ("red", "Grün")}
        self.item = make_item(self.member.business, "Delta kite", code="DELTA", choices=spans)
        self.address = f"/catalogue/{self.item.pk}/stock/"

    def sent(self, **changes: Any) -> dict[str, Any]:
        """The page as it stands, with changes by the place of the variant and the field."""
        form: dict[str, Any] = {}
        for place, variant in enumerate(self.item.variants.order_by("id")):
            count = "" if variant.count is None else variant.count
            row = {"code": variant.code, "count": count, "seen_count": count, "tell_at": "", "sells_beyond": ""}
            for field, value in row.items():
                form[f"row-{variant.pk}-{field}"] = changes.get(f"{field}_{place}", value)
        return form

    def variants(self) -> list[Variant]:
        return list(self.item.variants.order_by("id"))

    def test_stock_codes_and_levels_are_kept_by_variant(self) -> None:
        answer = self.client.post(self.address, self.sent(count_0=4, tell_at_0=2, code_1="G12", sells_beyond_2="on"))
        self.assertRedirects(answer, self.address)
        first, second, third, _ = self.variants()
        self.assertEqual((first.count, first.tell_at, second.code, third.sells_beyond), (4, 2, "G12", True))
        self.assertContains(self.client.get("/catalogue/"), "<strong>4</strong> in stock")

    def test_rows_stand_in_the_order_of_groups_and_options(self) -> None:
        page = self.client.get(self.address).content.decode()
        places = [page.index(name) for name in ("1.2 m · red", "1.2 m · Grün", "1.8 m · red", "1.8 m · Grün")]
        self.assertEqual(places, sorted(places))

    def test_proposed_codes_are_shown_and_taken(self) -> None:
        self.assertContains(self.client.get(self.address), 'placeholder="DELTA-12M-GRUN"')
        Variant.objects.filter(id=self.variants()[0].pk).update(code="OWN")
        other = make_item(self.member.business, "Other", code="DELTA-18M-RED")
        Variant.objects.filter(item=other).update(code="DELTA-18M-RED")
        self.client.post(f"{self.address}codes/")
        codes = sorted(variant.code for variant in self.variants())
        self.assertEqual(codes, ["", "DELTA-12M-GRUN", "DELTA-18M-GRUN", "OWN"])

    def test_two_rows_may_swap_their_codes_and_none_may_share_one(self) -> None:
        self.client.post(self.address, self.sent(code_0="A", code_1="B"))
        self.client.post(self.address, self.sent(code_0="B", code_1="A"))
        self.assertEqual([variant.code for variant in self.variants()[:2]], ["B", "A"])
        twice = self.client.post(self.address, self.sent(code_2="B"))
        self.assertContains(twice, "is listed twice", status_code=400)
        other = make_item(self.member.business, "Other")
        Variant.objects.filter(item=other).update(code="C")
        taken = self.client.post(self.address, self.sent(code_2="C"))
        self.assertContains(taken, "“C” is a code of “Other”.", status_code=400)

    def test_a_count_that_changed_meanwhile_is_not_overwritten(self) -> None:
        self.client.post(self.address, self.sent(count_0=4))
        seen = self.sent(count_0=9, tell_at_1=1)
        Variant.objects.filter(id=self.variants()[0].pk).update(count=3)
        answer = self.client.post(self.address, seen)
        self.assertContains(answer, "It changed since you opened the page: it is 3 now.", status_code=400)
        self.assertEqual([(each.count, each.tell_at) for each in self.variants()[:2]], [(3, None), (None, None)])

    def test_mistakes_are_told_at_the_row(self) -> None:
        answer = self.client.post(self.address, self.sent(count_0="many", tell_at_1="-1", count_2="1000001"))
        for told in ("Write a whole number.", "The least is 0.", "The most is 1,000,000."):
            self.assertContains(answer, told, status_code=400)

    def test_an_item_without_options_has_one_row(self) -> None:
        item: Item = make_item(self.member.business, "Sled")
        self.assertContains(self.client.get(f"/catalogue/{item.pk}/stock/"), 'aria-label="Sled"', count=1)
