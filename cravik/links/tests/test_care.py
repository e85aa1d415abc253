from __future__ import annotations

import json
from typing import Any

from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import Client, TestCase
from django.urls import reverse

from cravik.links.life import archiving, lifecycle
from cravik.links.life.counting import reserve_order
from cravik.links.models import Link, LinkTally
from cravik.orders.models import Order
from tests.factories import BY, NOW, MembershipFactory, change_price, make_draft, make_item, make_live
from tests.links import make_link
from tests.paying import open_page, pay_live, send


class CareCase(TestCase):
    def setUp(self) -> None:
        member = MembershipFactory()
        self.business = member.business
        self.client.force_login(member.user)

    def act(self, name: str, link: Link, **sent: str) -> Any:
        return self.client.post(reverse(f"links:{name}", args=[link.pk]), sent, follow=True)


class ArchivingTest(CareCase):
    def test_what_nobody_paid_is_removed_and_its_address_goes_to_no_other(self) -> None:
        link = make_live(self.business)
        slug, code = link.slug, link.spots.get().code
        self.assertContains(self.act("archive", link), "is removed.")
        self.assertEqual(list(Link.objects.of(self.business)), [])
        for path in (f"/for/{slug}/", f"/k/{code}/", f"/links/{link.pk}/", f"/for/{slug}/card.jpg"):
            self.assertEqual(self.client.get(path).status_code, 404, path)
        again = make_live(self.business)
        self.assertEqual((again.name, again.slug), (link.name, f"{slug}-2"))

    def test_what_was_paid_is_archived_says_so_kindly_and_comes_back_with_its_orders(self) -> None:
        link = make_live(self.business)
        pay_live(Client(), link)
        self.assertContains(self.act("archive", link), "is archived")
        page = Client().get(link.path)
        self.assertContains(page, "No longer offered", status_code=410)
        self.assertNotContains(page, "Tell me", status_code=410)
        home = self.client.get("/")
        self.assertEqual(home.context["rows"], [])
        self.assertContains(self.act("unarchive", link), "It is back")
        lifecycle.resume(Link.objects.get(id=link.pk), NOW, by=BY)
        self.assertContains(Client().get(link.path), "Pay €24.00")
        self.assertEqual(Order.objects.count(), 1)

    def test_nothing_is_removed_while_somebody_pays_and_who_had_the_page_open_is_told(self) -> None:
        link = make_live(self.business)
        form = open_page(Client(), link)
        reserve_order(link.pk)
        self.assertContains(self.act("archive", link), "Somebody is paying")
        self.assertIsNone(Link.objects.get(id=link.pk).removed_at)
        LinkTally.objects.filter(link=link).update(held=0)
        archiving.remove(link, NOW, by=BY)
        self.assertEqual(send(Client(), link, form).status_code, 404)
        self.assertEqual(Order.objects.count(), 0)


class StartingTest(CareCase):
    def test_a_copy_knows_its_origin_and_leads_to_its_price(self) -> None:
        link = make_live(self.business)
        answer = self.client.post(reverse("links:copy", args=[link.pk]))
        copy = Link.objects.latest("id")
        self.assertEqual(answer["Location"], f"/links/{copy.pk}/#edit-price-purpose")
        self.assertContains(self.client.get(f"/links/{copy.pk}/"), f'A copy of <a href="/links/{link.pk}/">')
        archiving.remove(link, NOW, by=BY)
        self.assertNotContains(self.client.get(f"/links/{copy.pk}/"), "A copy of")

    def test_new_link_starts_from_a_link_an_item_or_a_starting_point(self) -> None:
        link, item = make_live(self.business, "Workshop"), make_item(self.business, "Sled kite")
        self.act("keep_as_start", link, keep="yes")
        self.assertContains(self.client.get("/links/new/"), "Or start from")
        for name, title in ((link.name.upper(), "Workshop"), (item.name, "Sled kite")):
            self.client.post(reverse("links:start"), {"start_from": name})
            self.assertEqual(Link.objects.latest("id").title, title)
        for name, told in (("Zeppelin", "No link and no item is called “Zeppelin”."), ("", "Name a link or an item")):
            answer = self.client.post(reverse("links:start"), {"start_from": name})
            self.assertContains(answer, told, status_code=400)


class DocumentTest(CareCase):
    def bring(self, document: Any, *, as_file: bool = False) -> Any:
        text = document if isinstance(document, str) else json.dumps(document)
        sent = {"document": SimpleUploadedFile("a.json", text.encode())} if as_file else {"pasted": text}
        return self.client.post(reverse("links:bring"), sent)

    def test_what_is_exported_is_brought_in_again_as_an_equal_one(self) -> None:
        link = make_link(
            business=self.business, questions=[{"key": "q", "kind": "yes_no", "label": "Wind?"}], labels=["x"]
        )
        answer = self.client.get(reverse("links:export", args=[link.pk]))
        self.assertIn(f'filename="{link.slug}.json"', answer["Content-Disposition"])
        document = answer.json()
        for as_file in (True, False):
            self.bring(document, as_file=as_file)
            made = Link.objects.latest("id")
            self.assertNotEqual(made.pk, link.pk)
            self.assertEqual({**made.draft, "name": link.name}, document)
        change_price(Link.objects.get(id=link.pk), 9900)
        first = self.client.get(reverse("links:export", args=[link.pk]), {"version": "1"}).json()
        self.assertEqual(first["offer"], document["offer"])
        self.assertEqual(self.client.get(reverse("links:export", args=[link.pk]), {"version": "7"}).status_code, 404)

    def test_an_offer_follows_setup_in_what_it_does_not_say_and_a_list_makes_several(self) -> None:
        offer = make_draft(self.business).draft["offer"]
        self.bring(offer)
        self.assertEqual(Link.objects.latest("id").draft["follows"][:3], ["tax", "delivery", "fee"])
        before = Link.objects.count()
        self.bring([offer, offer, offer])
        self.assertEqual(Link.objects.count(), before + 3)

    def test_faults_are_told_by_their_paths_and_nothing_is_kept(self) -> None:
        good = make_draft(self.business).draft
        bad = good | {"limits": {"orders": 0}, "nonsense": 1}
        before = Link.objects.count()
        cases: list[tuple[Any, list[str]]] = [
            ([good, bad], ["[1].limits.orders", "[1].nonsense", "2 things are wrong"]),
            ("{", ["Nothing was imported."]),
            ("[]", ["There are 0 links in it"]),
            ('"text"', ["Nothing was imported."]),
            ({**good, "items": {"purpose": "NO-SUCH"}}, ["no item with the code “NO-SUCH”"]),
            ("<script>", ["Nothing was imported."]),
        ]
        for document, told in cases:
            with self.subTest(str(document)[:40]):
                answer = self.bring(document)
                for words in told:
                    self.assertContains(answer, words, status_code=400)
        self.assertContains(self.bring("  "), "Choose a file, or paste a document.", status_code=400)
        self.assertEqual(Link.objects.count(), before)
