"""Things on the bench: added, moved, removed, kept in the catalogue."""

from __future__ import annotations

from django.http import HttpResponse

from cravik.catalogue.models import Item
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
