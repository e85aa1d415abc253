from __future__ import annotations

from typing import Any

from django.db import IntegrityError, transaction
from django.test import TestCase

from cravik.catalogue.drafts import MAX_OPTION_GROUPS
from cravik.catalogue.models import Item, Option, Variant
from tests.factories import MembershipFactory, make_item

HOSTILE = "<b>Kite</b> \u202e =1+1 🪁"


def sheet(**changes: Any) -> dict[str, Any]:
    """What the page of an item sends: a name, one price, and no options."""
    groups = {f"choice-{place}-name": "" for place in range(MAX_OPTION_GROUPS)}
    rows = {f"choice-{place}-option-TOTAL_FORMS": 0 for place in range(MAX_OPTION_GROUPS)}
    rows |= {f"choice-{place}-option-INITIAL_FORMS": 0 for place in range(MAX_OPTION_GROUPS)}
    prices = {"price-TOTAL_FORMS": 1, "price-INITIAL_FORMS": 0, "price-0-label": "", "price-0-amount": "48"}
    plain = {"name": "Delta kite", "kind": "goods", "currency": "EUR", "revision": 0}
    return plain | prices | groups | rows | changes


def group(place: int, name: str, *options: tuple[str, str], ids: tuple[int | str, ...] = ()) -> dict[str, Any]:
    prefix = f"choice-{place}"
    sent: dict[str, Any] = {f"{prefix}-name": name, f"{prefix}-option-TOTAL_FORMS": len(options)}
    for number, (option, add) in enumerate(options):
        row = f"{prefix}-option-{number}"
        sent |= {f"{row}-name": option, f"{row}-add": add}
        sent |= {f"{row}-option_id": ids[number] if number < len(ids) else ""}
    return sent


class ItemPageTest(TestCase):
    def setUp(self) -> None:
        self.member = MembershipFactory()
        self.client.force_login(self.member.user)

    def made(self, **changes: Any) -> Item:
        answer = self.client.post("/catalogue/new/", sheet(**changes))
        self.assertEqual(answer.status_code, 302, answer.content.decode()[-3000:] if answer.status_code != 302 else "")
        return Item.objects.latest("id")

    def test_a_name_is_enough(self) -> None:
        item = self.made(**{"price-0-amount": ""})
        self.assertEqual((item.name, item.price, item.variants.count()), ("Delta kite", None, 1))
        self.assertContains(self.client.get("/catalogue/"), "no price yet")

    def test_prices_options_and_their_variants(self) -> None:
        item = self.made(
            **group(0, "Span", ("1.2 m", "−6"), ("1.8 m", "")),
            **group(1, "Colour", ("red", "0"), ("green", "4,50"), ("", "")),
            **{"price-TOTAL_FORMS": 2, "price-1-label": "To schools", "price-1-amount": "€39.00"},
        )
        self.assertEqual(
            [(price.label, price.amount.major) for price in item.prices.all()], [("", "48.00"), ("To schools", "39.00")]
        )
        adds = [(option.name, option.add_minor) for option in Option.objects.order_by("id")]
        self.assertEqual(adds, [("1.2 m", -600), ("1.8 m", 0), ("red", 0), ("green", 450)])
        self.assertEqual(item.variants.count(), 4)

    def test_options_keep_their_stock_when_they_are_renamed_or_swapped(self) -> None:
        item = self.made(**group(0, "Span", ("1.2 m", ""), ("1.8 m", "")))
        small, large = Option.objects.order_by("id")
        item.variants.filter(key=str(small.pk)).update(count=4)
        swapped = group(0, "Width", ("1.8 m", ""), ("1.2 m", ""), ("2.4 m", ""), ids=(large.pk, small.pk))
        swapped["choice-0-option-INITIAL_FORMS"] = 2
        self.client.post(f"/catalogue/{item.pk}/", sheet(revision=1, **swapped))
        self.assertEqual([option.name for option in Option.objects.order_by("position")], ["1.8 m", "1.2 m", "2.4 m"])
        self.assertEqual(item.variants.get(key=str(small.pk)).count, 4)
        self.assertEqual(item.variants.count(), 3)
        dropped = self.client.post(f"/catalogue/{item.pk}/", sheet(revision=2), follow=True)
        self.assertContains(dropped, "Removing the options also removed the stock of a variant (4).")
        self.assertEqual(Variant.objects.get().key, "")

    def test_every_mistake_is_told_at_its_field_and_nothing_is_lost(self) -> None:
        answer = self.client.post(
            "/catalogue/new/",
            sheet(
                **group(0, "", ("red", "abc"), ("Red", "")),
                **group(1, "Span"),
                **{"name": "", "weight_g": "heavy", "price-0-amount": "12.345", "code": "x" * 41},
            ),
        )
        for told in ("Give the item a name", "Write whole grams", "the most is 40"):
            self.assertContains(answer, told, status_code=400)
        answer = self.client.post(
            "/catalogue/new/",
            sheet(
                **group(0, "", ("red", "abc"), ("Red", "")),
                **group(1, "Span"),
                **group(2, "Tail", ("", "5")),
                **{
                    "price-0-amount": "12.3",
                    "price-TOTAL_FORMS": 3,
                    "price-1-label": "To schools",
                    "price-2-amount": "-1",
                },
            ),
        )
        for told in (
            "Say what buyers choose, such as Span.",
            "Another option has that name.",
            "“abc” is no amount",
            "Add at least one option below",
            "Name the option, or remove the row.",
            "Write the price, or remove the row.",
            "Give it a label: there is another price.",
            "be below zero.",
            'value="To schools"',
        ):
            self.assertContains(answer, told, status_code=400)
        self.assertFalse(Item.objects.exists())

    def test_a_hostile_name_is_shown_harmlessly_and_words_are_cleaned(self) -> None:
        item = self.made(
            name=HOSTILE, words="**strong** <script>alert(1)</script> [x](javascript:alert(1)) [y](https://a.example)"
        )
        page = self.client.get(f"/catalogue/{item.pk}/")
        self.assertContains(page, "&lt;b&gt;Kite&lt;/b&gt; =1+1 🪁")
        self.assertContains(page, "<strong>strong</strong> &lt;script&gt;")
        self.assertNotContains(page, 'href="javascript:')
        self.assertContains(page, 'href="https://a.example" rel="nofollow noopener noreferrer"')

    def test_a_second_tab_is_told(self) -> None:
        item = self.made()
        self.client.post(f"/catalogue/{item.pk}/", sheet(name="Delta, first", revision=1))
        late = self.client.post(f"/catalogue/{item.pk}/", sheet(name="Delta, second", revision=1))
        self.assertContains(late, "changed in another tab", status_code=409)
        self.assertContains(late, 'value="Delta, second"', status_code=409)
        self.assertEqual(Item.objects.get().name, "Delta, first")

    def test_a_code_belongs_to_one_item(self) -> None:
        self.made(code="DELTA")
        self.assertContains(self.client.post("/catalogue/new/", sheet(code="DELTA")), "is the code of", status_code=400)
        other = make_item(MembershipFactory().business, "Elsewhere", code="DELTA")
        self.assertEqual(other.code, "DELTA")
        with self.assertRaises(IntegrityError), transaction.atomic():
            Item.objects.filter(id=other.pk).update(business=self.member.business)

    def test_options_of_another_item_are_not_taken_over(self) -> None:
        other = self.made(**group(0, "Span", ("1.2 m", "")))
        foreign = Option.objects.get()
        self.made(**group(0, "Span", ("mine", ""), ids=(foreign.pk,)))
        foreign.refresh_from_db()
        self.assertEqual((foreign.name, foreign.group.item_id), ("1.2 m", other.pk))

    def test_the_list_is_searched_filtered_and_put_away(self) -> None:
        delta, pattern = self.made(), self.made(name="Delta pattern", kind="download", code="PAT")
        for query, seen, unseen in (
            ("?q=delta+patt", "Delta pattern", ">Delta kite<"),
            ("?q=pat", "Delta pattern", ">Delta kite<"),
            ("?kind=download", "Delta pattern", ">Delta kite<"),
            ("?kind=goods", "Delta kite", "Delta pattern"),
            ("?q=zeppelin", "No item matches", "Delta pattern"),
        ):
            with self.subTest(query):
                answer = self.client.get(f"/catalogue/{query}")
                self.assertContains(answer, seen)
                self.assertNotContains(answer, unseen)
        self.client.post(f"/catalogue/{pattern.pk}/archive/")
        self.assertNotContains(self.client.get("/catalogue/"), "Delta pattern")
        self.assertContains(self.client.get("/catalogue/"), "1 item is archived and not shown here.")
        self.assertContains(self.client.get("/catalogue/?where=archived"), "Delta pattern")
        self.client.post(f"/catalogue/{pattern.pk}/unarchive/")
        self.assertContains(self.client.get("/catalogue/"), "Delta pattern")
        self.assertContains(self.client.get("/catalogue/"), delta.name)

    def test_it_is_removed_unless_a_link_sells_it(self) -> None:
        spare, sold = self.made(), self.made(name="Sold", code="SOLD")
        self.client.post(f"/links/of-item/{sold.pk}/")
        self.assertContains(self.client.post(f"/catalogue/{spare.pk}/remove/", follow=True), "is removed.")
        kept = self.client.post(f"/catalogue/{sold.pk}/remove/", follow=True)
        self.assertContains(kept, "so it cannot be removed. It can be archived.")
        self.assertEqual(Item.objects.get(), sold)

    def test_a_tampered_form_is_refused_without_harm(self) -> None:
        for broken in (
            {"price-TOTAL_FORMS": "x"},
            {"price-TOTAL_FORMS": "5000"},
            {"choice-0-option-TOTAL_FORMS": "25"},
        ):
            rows = {f"choice-0-option-{number}-name": f"o{number}" for number in range(11)}
            with self.subTest(broken):
                answer = self.client.post("/catalogue/new/", sheet(**{"choice-0-name": "Span"} | rows | broken))
                self.assertEqual(answer.status_code, 400)
        self.assertFalse(Item.objects.exists())
