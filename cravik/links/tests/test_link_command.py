"""Links on the command line: brought in, written out, refused in one line."""

from __future__ import annotations

import copy
import io
import json
import tempfile
from pathlib import Path
from typing import Any
from unittest import mock

from django.core.management import CommandError, call_command
from django.test import TestCase

from cravik.core.errors import Fault
from cravik.core.tests.test_link_documents import FULL
from cravik.links.life import lifecycle
from cravik.links.models import Link, LinkTally, Spot
from cravik.setup.look_services import change_look, make_look, remove_look
from cravik.setup.terms import change_terms, make_terms
from tests.factories import BY, NOW, change_price, make_business, make_item, make_live
from tests.links import document, line, make_link


class LinkCommandTest(TestCase):
    maxDiff = None

    def setUp(self) -> None:
        self.business = make_business()
        make_item(self.business, "Delta kite", code="DELTA", choices={"Span": ("1.2 m", "1.8 m")})
        self.file = Path(self.enterContext(tempfile.TemporaryDirectory())) / "link.json"

    def import_document(self, content: Any, *flags: str) -> str:
        self.file.write_text(content if isinstance(content, str) else json.dumps(content))
        out = io.StringIO()
        call_command("link", "import", str(self.file), *flags, stdout=out)
        return out.getvalue()

    def write_out(self, address: str, *flags: str) -> Any:
        out = io.StringIO()
        call_command("link", "export", address, *flags, stdout=out)
        return json.loads(out.getvalue())

    def refused(self, *arguments: Any) -> tuple[int, str]:
        with self.assertRaises(CommandError) as refused:
            self.import_document(*arguments)
        told = str(refused.exception)
        self.assertNotIn("\n", told)
        return refused.exception.returncode, told

    def test_it_prints_the_address_alone_and_makes_a_draft(self) -> None:
        self.assertEqual(self.import_document(FULL), "http://localhost:8000/for/kites/\n")
        link = Link.objects.get()
        self.assertEqual((link.state, link.name, link.sold_items.get().item.code), ("draft", FULL["name"], "DELTA"))
        self.assertEqual((link.tally, link.spots.get().is_first), (LinkTally.objects.get(), True))

    def test_what_is_exported_is_imported_to_an_equal_one_but_for_its_name(self) -> None:
        first = self.import_document(FULL).strip()
        written = self.write_out(first)
        second = self.import_document(written).strip()
        again = self.write_out(second)
        self.assertEqual(again, written | {"name": "Delta kite, spring 2"})
        for address in ("/for/kites/", "kites", Spot.objects.first().path, Spot.objects.first().code.lower()):
            self.assertEqual(self.write_out(address), written)

    def test_a_version_is_written_as_it_was_published(self) -> None:
        link = make_live(self.business)
        lifecycle.publish(change_price(link, 3000), NOW, by=BY)
        prices = [
            self.write_out("kite-repair", *flags)["offer"]["lines"][0]["price"]["amount"]
            for flags in ((), ("--edition", "1"), ("--edition", "2"))
        ]
        self.assertEqual(prices, ["30.00", "24.00", "30.00"])
        for address, flags in (("kite-repair", ("--edition", "3")), ("nowhere", ()), ("http://[", ())):
            with self.assertRaises(CommandError) as refused:
                self.write_out(address, *flags)
            self.assertEqual(refused.exception.returncode, 2)

    def test_what_is_wrong_is_told_with_its_path_and_nothing_is_kept(self) -> None:
        for content, part in (
            ("{", "is no JSON"),
            ([], "link.json"),
            (document(line(), colour="red"), "colour"),
            (document(line(), items={"kite": "GONE"}), "items.kite: The catalogue has no item with the code “GONE”."),
            (document(line(), page={"look": "Sea"}), "page.look: There is no look called “Sea”."),
            (document(line(), terms="of sale"), "terms: There are no terms called “of sale”."),
            (document(line(), line("kite")), "offer.lines[1].key"),
        ):
            with self.subTest(part):
                status, told = self.refused(content)
                self.assertEqual(status, 2)
                self.assertIn(part, told)
        self.assertFalse(Link.objects.exists())

    def test_publishing_is_refused_with_its_sentence_and_nothing_is_kept(self) -> None:
        with mock.patch(
            "cravik.links.life.lifecycle.why_not_publishable",
            return_value=(Fault("too_few_pieces", "limits.pieces.kite", name="Kite", taken=3, most=2, word="place"),),
        ):
            self.assertEqual(
                self.refused(document(), "--publish"),
                (1, "“Kite”: 3 places are sold or being paid for, so there can't be 2 in all. Make it 3 or more."),
            )
            self.assertFalse(Link.objects.exists())
            self.import_document(document())
            with self.assertRaises(lifecycle.NotReady):
                lifecycle.publish(Link.objects.get(), NOW, by=BY)

    def test_where_there_are_several_businesses_one_is_named(self) -> None:
        other = make_business()
        self.assertEqual(self.refused(document())[0], 2)
        self.assertIn("Name one business", self.refused(document(), "--business", "Nobody")[1])
        self.import_document(document(), "--business", other.name)
        self.assertEqual(Link.objects.get().business, other)


class NamedChoicesTest(TestCase):
    """A look and terms are named; the name may change, and what it stood for may go."""

    def setUp(self) -> None:
        self.business = make_business()
        self.look = make_look(self.business, NOW, by=BY)
        other = make_look(self.business, NOW, like=self.look, by=BY)
        change_look(other, "Sea", other.document | {"header": "By the sea"}, 1, NOW, by=BY)
        self.other = other
        self.version = make_terms(self.business, "terms of sale", "Fair.", NOW, by=BY)
        self.beach = make_terms(self.business, "beach terms", "Sandy.", NOW, by=BY)
        own = {"page": {"look": "Sea"}, "terms": "beach terms", "contact": {"support_email": "beach@kites.example"}}
        self.link = make_link(business=self.business, **copy.deepcopy(own))

    def fresh(self) -> Link:
        return Link.objects.get(id=self.link.pk)

    def test_they_are_the_links_own(self) -> None:
        effective = self.fresh().effective
        self.assertEqual((effective["look"]["header"], effective["conditions"]["name"]), ("By the sea", "beach terms"))
        self.assertEqual(effective["contact"], {"support_email": "beach@kites.example"})
        page = self.client.get(self.link.path)
        self.assertContains(page, "By the sea")
        self.assertContains(page, "beach terms")

    def test_another_name_is_followed(self) -> None:
        self.other.refresh_from_db()
        change_look(self.other, "Ocean", self.other.document, self.other.revision, NOW, by=BY)
        change_terms(self.beach, "dune terms", "Sandy.", 1, NOW, by=BY)
        link = self.fresh()
        self.assertEqual((link.draft["page"]["look"], link.draft["terms"]), ("Ocean", "dune terms"))
        self.assertEqual(link.effective["look"]["header"], "By the sea")

    def test_what_is_gone_is_setups_again(self) -> None:
        remove_look(self.other, NOW, by=BY)
        link = self.fresh()
        self.assertIn("look", link.follows)
        self.assertNotIn("page", link.draft)
        self.assertEqual(link.effective["look"], self.look.document)
