"""Things on the bench: added, moved, removed, kept in the catalogue."""

from __future__ import annotations

import tempfile
from pathlib import Path

from django.core.files.uploadedfile import SimpleUploadedFile
from django.http import HttpResponse

from cravik.catalogue.models import Item, Variant
from cravik.catalogue.tests.photos import photo
from cravik.core.pricing.money import Money
from cravik.links.models import Link
from tests.bench_form import BenchCase
from tests.factories import make_business, make_item
from tests.links import line


class ThingsTest(BenchCase):
    def act(self, link: Link, act: str, **typed: str) -> HttpResponse:
        link.refresh_from_db()
        return self.save(link, by_script=False, act=act, **typed)

    def names(self, link: Link) -> list[str]:
        link.refresh_from_db()
        return [each.get("name", "") for each in link.draft["offer"]["lines"]]

    def test_things_are_added_moved_and_removed_with_what_speaks_of_them(self) -> None:
        make_item(self.member.business, "Tail ribbon", 350, code="TAIL")
        link = self.link(offer={"codes": [{"code": "KITE", "kind": "percent", "percent": "5", "lines": ["kite"]}]})
        added = self.act(link, "add", new_thing="tail RIBBON", new_extra="yes", amount__kite="26")
        self.assertEqual(added["Location"], f"/links/{link.pk}/#panel-kind-tail-ribbon")
        self.act(link, "add", new_thing="Repair")
        self.assertEqual(self.names(link), ["Kites", "Tail ribbon", "Repair"])
        lines = link.draft["offer"]["lines"]
        self.assertEqual(lines[0]["price"]["amount"], "26.00", "what was typed is kept before the act")
        self.assertEqual((lines[1]["price"], lines[1]["optional"]), ({"kind": "fixed", "amount": "3.50"}, True))
        self.assertEqual((link.draft["items"], link.gaps), ({"tail-ribbon": "TAIL"}, ("“Repair” has no price yet.",)))
        self.act(link, "up:repair")
        self.act(link, "down:kite")
        self.assertEqual(self.names(link), ["Repair", "Kites", "Tail ribbon"])
        self.act(link, "remove:kite")
        self.act(link, "remove:repair")
        self.assertEqual(self.names(link), ["Tail ribbon"])
        self.assertNotIn("optional", link.draft["offer"]["lines"][0])
        self.assertEqual(link.draft["offer"].get("codes", []), [])
        self.assertIsNotNone(link.effective)
        for act, words in (
            ("remove:tail-ribbon", "at least one thing"),
            ("up:kite", "no longer part"),
            ("add", "Say what else"),
        ):
            self.assertContains(self.act(link, act), words, status_code=400)

    def test_what_was_typed_is_kept_in_the_catalogue(self) -> None:
        span = {"name": "Span", "options": [{"name": "1.2 m", "add": "-6.00"}, {"name": "1.8 m"}]}
        link = self.link(line(choices=[span], ships=True, weight_g=300))
        self.act(link, "keep:kite")
        item = Item.objects.get()
        self.assertEqual((item.name, item.price, item.kind, item.weight_g), ("Kites", Money(2400, "EUR"), "goods", 300))
        link.refresh_from_db()
        self.assertEqual(link.draft["items"], {"kite": item.code})
        self.assertEqual(link.draft["offer"]["lines"][0]["choices"], [span])
        self.assertContains(self.act(link, "keep:kite"), "in the catalogue already", status_code=400)

    def test_names_of_items_are_offered_after_two_letters(self) -> None:
        make_item(self.member.business, "Tail ribbon", 350)
        make_item(make_business(), "Tailor", 350)
        ask = self.client.get
        self.assertEqual(ask("/links/names/?typed=ta").json(), {"names": ["Tail ribbon"]})
        self.assertEqual(ask("/links/names/?typed=t").json(), {"names": []})

    def test_options_of_a_link_s_own_get_stock_and_pictures_on_the_bench(self) -> None:
        span = {"name": "Span", "options": [{"name": "1.2 m"}, {"name": "1.8 m", "weight_g": 90}]}
        link = self.link(line(choices=[span]))
        self.assertEqual(self.act(link, "count:kite")["Location"], f"/links/{link.pk}/#panel-options-kite")
        item = Item.objects.get()
        small, large = item.variants.all()
        back = f"/links/{link.pk}/#panel-options-kite"
        with tempfile.TemporaryDirectory() as folder, self.settings(CRAVIK_DATA_DIR=Path(folder)):
            sent = SimpleUploadedFile("kite.jpg", photo((80, 60)), "image/jpeg")
            added = self.client.post(f"/catalogue/{item.pk}/pictures/", {"photo": sent, "back": back})
            self.assertEqual(added["Location"], back)
            for other in ("//elsewhere.example/", "https://elsewhere.example/", "/\\elsewhere.example"):
                answer = self.client.post(f"/catalogue/{item.pk}/pictures/", {"back": other})
                self.assertEqual(answer["Location"], f"/catalogue/{item.pk}/#pictures")
        picture = item.pictures.get()
        option = item.option_groups.get().options.last()
        typed = {f"row-{small.pk}-seen_count": "", f"row-{small.pk}-count": "3", f"row-{large.pk}-seen_count": ""}
        typed |= {f"option-{option.pk}-picture": str(picture.pk), f"row-{large.pk}-sells_beyond": "on"}
        lost = self.act(link, "", **typed)
        self.assertContains(lost, "Save this first, by the button below.", status_code=400)
        self.assertContains(lost, 'value="3"', status_code=400)
        self.act(link, "stock:kite", **typed)
        small.refresh_from_db()
        large.refresh_from_db()
        option.refresh_from_db()
        self.assertEqual((small.count, large.count, large.sells_beyond), (3, None, True))
        self.assertEqual((option.picture, item.revision + 1), (picture, Item.objects.get().revision))
        Variant.objects.filter(id=small.pk).update(count=2)  # sold meanwhile
        sold = self.act(link, "stock:kite", **typed | {f"row-{small.pk}-seen_count": "3", f"row-{small.pk}-count": "9"})
        self.assertContains(sold, "It changed since you opened the page: it is 2 now", status_code=400)
        wrong = self.act(link, "stock:kite", **typed | {f"row-{small.pk}-count": "many"})
        self.assertContains(wrong, "Write a whole number.", status_code=400)
        self.assertContains(self.act(link, "stock:kite"), "What is left was not sent", status_code=400)
        self.assertContains(self.act(link, "stock:nothing"), "no longer part", status_code=400)

    def test_what_no_item_can_have_is_refused(self) -> None:
        many = [{"name": name, "options": [{"name": str(n)} for n in range(16)]} for name in ("Span", "Colour")]
        link = self.link(line(choices=many))
        self.assertContains(self.act(link, "count:kite"), "256 ways; the most is 240", status_code=400)
        link = self.link(line(choices=[{"name": "Span", "options": [{"name": "x" * 41}, {"name": "y"}]}]))
        self.assertContains(self.act(link, "count:kite"), "too long for an item", status_code=400)
        self.assertFalse(Item.objects.exists())
