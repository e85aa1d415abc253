"""Things on the bench: added, moved, removed, kept in the catalogue."""

from __future__ import annotations

import tempfile
from pathlib import Path

from django.core.files.uploadedfile import SimpleUploadedFile
from django.http import HttpResponse

from cravik.catalogue.models import Item, Variant
from cravik.catalogue.tests.photos import photo
from cravik.core.pricing.money import Money
from cravik.links.bench.shown import bench_of
from cravik.links.models import Link, items_of_draft
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
        gaps = [(gap.code, gap.fields) for gap in link.gaps]
        self.assertEqual((link.draft["items"], gaps), ({"tail-ribbon": "TAIL"}, [("price_missing", {"of": "Repair"})]))
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
        self.assertEqual(self.act(link, "count:kite")["Location"], f"/links/{link.pk}/#panel-stock-kite")
        item = Item.objects.get()
        small, large = item.variants.all()
        typed = {f"row-{small.pk}-seen_count": "", f"row-{small.pk}-count": "3", f"row-{large.pk}-seen_count": ""}
        typed |= {f"row-{large.pk}-sells_beyond": "on"}
        lost = self.act(link, "", **typed)
        self.assertContains(lost, "Save this first, by the button below.", status_code=400)
        self.assertContains(lost, 'value="3"', status_code=400)
        self.act(link, "stock:kite", **typed)
        small.refresh_from_db()
        large.refresh_from_db()
        self.assertEqual((small.count, large.count, large.sells_beyond), (3, None, True))
        Variant.objects.filter(id=small.pk).update(count=2)  # sold meanwhile
        sold = self.act(link, "stock:kite", **typed | {f"row-{small.pk}-seen_count": "3", f"row-{small.pk}-count": "9"})
        self.assertContains(sold, "It changed since you opened the page: it is 2 now", status_code=400)
        wrong = self.act(link, "stock:kite", **typed | {f"row-{small.pk}-count": "many"})
        self.assertContains(wrong, "Write a whole number.", status_code=400)
        self.assertContains(self.act(link, "stock:kite"), "The counts were not sent", status_code=400)
        self.assertContains(self.act(link, "stock:nothing"), "no longer part", status_code=400)

        back = f"/links/{link.pk}/#panel-pictures-kite"
        with tempfile.TemporaryDirectory() as folder, self.settings(CRAVIK_PICTURES=Path(folder)):
            sent = SimpleUploadedFile("kite.jpg", photo((80, 60)), "image/jpeg")
            self.assertEqual(self.client.post(f"/links/{link.pk}/photos/kite/", {"photo": sent})["Location"], back)
        picture = item.pictures.get()
        option = item.option_groups.get().options.last()
        self.act(link, "show:kite", **{f"option-{option.pk}-picture": str(picture.pk)})
        option.refresh_from_db()
        self.assertEqual((option.picture, item.revision + 1), (picture, Item.objects.get().revision))
        self.assertContains(self.act(link, "show:kite"), "The pictures were not sent", status_code=400)

    def test_the_first_picture_file_or_count_keeps_the_line_in_the_catalogue(self) -> None:
        folder = Path(self.enterContext(tempfile.TemporaryDirectory()))
        self.enterContext(self.settings(CRAVIK_PICTURES=folder, CRAVIK_FILES=folder))
        for kind, field, sent in (
            ("photos", "photo", SimpleUploadedFile("kite.jpg", photo((80, 60)), "image/jpeg")),
            ("files", "file", SimpleUploadedFile("pattern.pdf", b"%PDF-1.4", "application/pdf")),
        ):
            link = self.link(line())
            address = f"/links/{link.pk}/{kind}/kite/"
            self.assertContains(self.client.post(address, follow=True), "first.")
            self.assertContains(
                self.client.post(f"/links/{link.pk}/{kind}/other/", {field: sent}, follow=True), "no longer part"
            )
            broken = SimpleUploadedFile("broken.jpg", b"", "image/jpeg")
            self.assertContains(self.client.post(address, {field: broken}, follow=True), "was not taken")
            self.assertEqual(items_of_draft(Link.objects.get(pk=link.pk)), {})
            self.assertContains(self.act(link, "redo"), "nothing left", status_code=400)
            self.assertEqual(Item.objects.filter(sold_in__link=link).count(), 0)
            sent.seek(0)
            shown = self.client.post(address, {field: sent}, follow=True)
            item = Item.objects.latest("id")
            self.assertEqual(
                (item.name, item.pictures.count(), item.files.count()),
                ("Kite", int(kind == "photos"), int(kind == "files")),
            )
            self.assertContains(shown, "1" if kind == "photos" else "pattern.pdf")
        link = self.link(line())
        for typed, told in (
            ("", "Say how many you have."),
            ("many", "Write a whole number"),
            ("0", "from 1 to 1,000,000"),
        ):
            self.assertContains(self.act(link, "count:kite", **{"first-kite-count": typed}), told, status_code=400)
        self.act(link, "count:kite", **{"first-kite-count": "12"})
        self.assertEqual(Variant.objects.latest("id").count, 12)

    def test_what_is_set_stands_in_one_row_and_the_rest_in_one_list(self) -> None:
        link = self.link(line(), labels=["market"], page={"button": "Adopt it"})
        subjects = bench_of(link).subjects
        shown = {each.called: each.value for each in subjects.decided}
        self.assertLessEqual({"Price": "€24.00", "Button": "Adopt it", "Labels": "market"}.items(), shown.items())
        self.assertNotIn("Description", shown)
        offered = [each.words for each in subjects.addable if not each.value]
        self.assertEqual(offered[:4], ["Pictures", "How many I have", "Files to download", "Another item"])
        self.assertIn("Description", offered)
        self.assertNotIn("Labels", offered)
        self.assertEqual([each.value for each in subjects.addable if each.words == "Labels"], ["market"])

    def test_what_no_item_can_have_is_refused(self) -> None:
        many = [{"name": name, "options": [{"name": str(n)} for n in range(16)]} for name in ("Span", "Colour")]
        link = self.link(line(choices=many))
        self.assertContains(self.act(link, "count:kite"), "256 ways; the most is 240", status_code=400)
        link = self.link(line(choices=[{"name": "Span", "options": [{"name": "x" * 41}, {"name": "y"}]}]))
        self.assertContains(self.act(link, "count:kite"), "too long for an item", status_code=400)
        self.assertFalse(Item.objects.exists())
