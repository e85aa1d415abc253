from __future__ import annotations

import json
from typing import Any
from unittest import mock

from django.test import TestCase
from django.urls import reverse

from cravik.links.bench.saving import change_part
from cravik.links.life import archiving, lifecycle
from cravik.links.models import Link
from cravik.links.places.spots import make_spot
from tests.factories import BY, NOW, MembershipFactory, change_price, make_draft, make_item, make_live
from tests.links import line, make_link


class ManyCase(TestCase):
    def setUp(self) -> None:
        member = MembershipFactory()
        self.business = member.business
        self.client.force_login(member.user)

    def many(self, act: str, links: list[Link], *, sure: bool = True, **said: str) -> Any:
        """The look at the act on the links, and what comes of being sure of it."""
        sent = {"many": act, "link": [str(link.pk) for link in links], "said": "yes", **said}
        if act in ("price", "end_at"):
            sent = {"publish": "on", "currency": "EUR", **sent}
        look = self.client.post(reverse("links:many"), sent, follow=True)
        if not sure or look.context is None or not look.context.get("looks"):
            return look
        sent |= {"sure": "yes", "looked": look.context["looked"], "ids": look.context["ids"], "link": []}
        self.sent = sent
        return self.client.post(reverse("links:many"), sent, follow=True)

    def fresh(self, *links: Link) -> list[Link]:
        found = {link.pk: link for link in Link.objects.select_related("version", "business")}
        return [found[link.pk] for link in links]


class ManyActsTest(ManyCase):
    def test_prices_are_changed_after_a_look_and_published_where_nothing_else_waits(self) -> None:
        plain, waiting, draft = (
            make_live(self.business, "A"),
            make_live(self.business, "B"),
            make_draft(self.business, "C"),
        )
        open_price = make_link(line(price={"kind": "open", "min": "5.00", "max": "50.00"}), business=self.business)
        change_part(waiting, "words", "New words.", waiting.revision, NOW, by=BY)
        links = [plain, waiting, draft, open_price]
        look = self.many("price", links, sure=False, change="12.5 %")
        told = {each.link.title: (each.words, each.is_left) for each in look.context["looks"]}
        self.assertEqual(told["A"], ("€24.00 → €27.00", False))
        self.assertEqual(told["B"], ("€24.00 → €27.00; not published: other changes wait", False))
        self.assertEqual(told["C"], ("€24.00 → €27.00; a draft", False))
        self.assertEqual(told[open_price.title], ("The buyer says how much.", True))
        self.assertEqual(self.fresh(plain)[0].offer.lines[0].price.amount.major, "24.00")
        done = self.many("price", links, change="12.5 %")
        self.assertContains(done, "3 links changed.")
        self.assertContains(done, "The buyer says how much.")
        plain, waiting, draft = self.fresh(plain, waiting, draft)
        shown = [link.version.offer.lines[0].price.amount.major for link in (plain, waiting)]
        self.assertEqual((shown, draft.offer.lines[0].price.amount.major), (["27.00", "24.00"], "27.00"))
        self.assertEqual((plain.is_changed, waiting.is_changed), (False, True))
        again = self.client.post(reverse("links:many"), self.sent, follow=True)  # pressed twice
        self.assertContains(again, "0 links changed.")
        self.assertContains(again, "It has changed since you looked.")
        self.assertEqual(self.fresh(plain)[0].offer.lines[0].price.amount.major, "27.00")

    def test_prices_end_as_it_is_wanted(self) -> None:
        kite, ribbon = make_live(self.business, "A"), make_live(self.business, "B", 150)
        look = self.many("price", [kite, ribbon], sure=False, change="5 %", ending="95")
        told = {each.link.title: each.words for each in look.context["looks"]}
        self.assertEqual(told, {"A": "€24.00 → €24.95", "B": "€1.50 → €1.95"})
        self.many("price", [kite], change="5 %", ending="50")
        self.assertEqual(self.fresh(kite)[0].version.offer.lines[0].price.amount.major, "25.50")
        self.assertEqual(self.many("price", [kite], change="5 %", ending="33").status_code, 400)

    def test_an_amount_goes_to_every_price_of_that_currency_and_never_to_nothing(self) -> None:
        levels = {"kind": "levels", "levels": [{"key": k, "name": k, "amount": a} for k, a in (("a", "5"), ("b", "9"))]}
        packs = make_link(line(price={"kind": "packs", "size": 6, "amount": "14.50"}), business=self.business)
        several = make_link(line(price=levels), business=self.business)
        pounds = make_live(self.business, "Pounds")
        change_price(pounds, 500, "GBP")
        look = self.many("price", [packs, several, pounds], sure=False, change="-5.00")
        told = {each.link.pk: each.words for each in look.context["looks"]}
        self.assertEqual(told[packs.pk], "€14.50 → €9.50")
        self.assertEqual(told[several.pk], "Nothing would be left of it.")
        self.assertEqual(told[pounds.pk], "It is in GBP.")
        small = [{"name": "Span", "options": [{"name": "1.2 m", "add": "-6.00"}, {"name": "1.8 m"}]}]
        kite = make_link(line(choices=small), business=self.business)
        (look,) = self.many("price", [kite], sure=False, change="-20.00").context["looks"]
        self.assertEqual((look.is_left, look.words[:28]), (True, "It would cost less than its "))
        for typed in ("", "x", "-100 %", "9999 %", "1.234", "%"):
            with self.subTest(typed):
                self.assertEqual(self.many("price", [packs], change=typed).status_code, 400)

    def test_labels_are_given_and_taken_and_links_found_by_them(self) -> None:
        links = [make_live(self.business, name) for name in "AB"]
        self.many("label", links, give="market, Spring, MARKET")
        self.many("label", links[:1], take="spring")
        self.assertEqual([link.draft["labels"] for link in self.fresh(*links)], [["market"], ["market", "Spring"]])
        self.assertFalse(any(link.is_changed for link in self.fresh(*links)))
        for label, titles in (("market", ["B", "A"]), ("Spring", ["B"])):
            rows = self.client.get("/", {"label": label}).context["rows"]
            self.assertEqual([row.title for row in rows], titles)
        self.assertEqual(self.many("label", links, give="", take="").status_code, 400)
        self.assertEqual(self.many("label", links, give="x" * 41).status_code, 400)

    def test_each_is_given_a_spot_of_one_name(self) -> None:
        links = [make_live(self.business, name) for name in "ABC"]
        make_spot(links[1], "Stall sign", NOW, by=BY)
        self.assertEqual(self.many("spot", links, sure=False, spot="").status_code, 400)
        done = self.many("spot", links, spot="Stall sign")
        self.assertContains(done, "2 links given a spot.")
        self.assertContains(done, "It has a spot “Stall sign” already.")
        self.assertEqual([link.spots.count() for link in links], [2, 2, 2])

    def test_an_end_a_pause_and_archiving(self) -> None:
        type(self.business).objects.update(time_zone="Europe/Dublin")
        links = [make_live(self.business, name) for name in "ABC"]
        lifecycle.pause(links[2], NOW, by=BY)
        told = self.many("end_at", links, sure=False, closes_at="2027-03-28T18:00").context["looks"][0].words
        self.assertIn("no end → ends 28 Mar 2027, 18:00 (Europe/Dublin)", told)
        self.many("end_at", links, closes_at="2027-03-28T18:00")  # the day on which its clocks change
        ends = {link.version.effective["link"]["limits"]["closes_at"] for link in self.fresh(*links)}
        self.assertEqual(ends, {"2027-03-28T18:00:00+01:00"})
        self.assertEqual(self.many("end_at", links, closes_at="soon").status_code, 400)
        self.assertContains(self.many("pause", links), "2 links paused.")
        self.assertContains(self.many("resume", links), "3 links live again.")
        self.many("archive", links)
        self.assertEqual([link.state for link in self.fresh(*links)], ["ended"] * 3)
        self.assertEqual(self.client.get("/").context["rows"], [])
        self.assertContains(self.client.get("/"), "Show the 3 archived")
        self.assertEqual(len(self.client.get("/?state=archived").context["rows"]), 3)

    def test_what_is_exported_together_is_brought_in_together(self) -> None:
        links = [make_live(self.business, name) for name in "AB"]
        answer = self.many("export", links)
        before = Link.objects.count()
        self.client.post(reverse("links:bring"), {"pasted": answer.content.decode()})
        made = Link.objects.order_by("-id")[: Link.objects.count() - before]
        self.assertEqual(sorted(link.title for link in made), ["A", "B"])
        self.assertEqual(len(json.loads(answer.content)), 2)

    def test_all_that_were_found_more_than_a_page_of_them(self) -> None:
        item = make_item(self.business, "Other")
        for number in range(60):
            make_live(self.business, f"Kite {number}")
        make_live(self.business, "Left alone")
        sent = {
            "many": "price",
            "all": "yes",
            "sought": "q=Kite&sort=name&x=y",
            "said": "yes",
            "change": "+1",
            "currency": "EUR",
        }
        look = self.client.post(reverse("links:many"), sent | {"publish": "on"})
        self.assertEqual((look.context["changes"], len(look.context["looks"])), (60, 60))
        ids = look.context["ids"]
        sure = {**sent, "all": "", "ids": ids, "publish": "on", "sure": "yes", "looked": look.context["looked"]}
        other = self.client.post(reverse("links:many"), sure | {"change": "+9"})  # was never looked at
        self.assertEqual(other.context["changes"], 60)
        back = self.client.post(reverse("links:many"), sure)
        self.assertEqual(back["Location"], "/?q=Kite&sort=name")
        prices = [link.version.offer.lines[0].price.amount.minor for link in Link.objects.select_related("version")]
        self.assertEqual((prices.count(2500), prices.count(2400)), (60, 1))
        self.assertEqual(item.name, "Other")

    def test_nothing_ticked_too_many_and_another_business(self) -> None:
        foreign = make_live()
        for links, told in (([], "Tick the links first."), ([foreign], "Tick the links first.")):
            self.assertContains(self.many("pause", links), told)
        self.assertContains(self.many("nonsense", [make_live(self.business)]), "Choose what to do")
        with mock.patch("cravik.links.many.views.MAX_AT_ONCE", 1):
            links = [make_live(self.business, name) for name in "AB"]
            self.assertContains(self.many("pause", links), "These are 2 links; 1 can be changed at once.")
        foreign.refresh_from_db()
        self.assertEqual(foreign.state, "live")


class FindingTest(ManyCase):
    def test_each_filter_finds_and_what_hides_is_told_with_the_way_out(self) -> None:
        item = make_item(self.business, "Delta kite")
        plain, changed, sells = make_live(self.business, "Plain"), make_live(self.business, "Changed"), None
        self.client.post(reverse("links:sell_item", args=[item.pk]))
        sells = Link.objects.latest("id")
        change_price(changed, 9900)
        away = make_live(self.business, "Away")
        archiving.archive(away, NOW, by=BY)
        cases: dict[str, list[str]] = {
            "": ["Changed", "Plain", "Delta kite"],
            "q=plain": ["Plain"],
            "state=draft": ["Delta kite"],
            "state=archived": ["Away"],
            f"item={item.pk}": ["Delta kite"],
            "item=x": ["Changed", "Plain", "Delta kite"],
            "changed=yes": ["Changed"],
            "sort=name": ["Changed", "Delta kite", "Plain"],
            "sort=-name": ["Plain", "Delta kite", "Changed"],
            "sort=newest": ["Delta kite", "Changed", "Plain"],
            "sort=nonsense": ["Changed", "Plain", "Delta kite"],
            **{f"sort={name}": ["Delta kite", "Changed", "Plain"] for name in ("visits", "rate", "money", "paid")},
        }
        for query, titles in cases.items():
            with self.subTest(query):
                rows = self.client.get(f"/?{query}").context["rows"]
                self.assertEqual([row.title for row in rows], titles)
        empty = self.client.get("/?q=plain&state=ended&changed=yes")
        self.assertContains(empty, "No link matches “plain” and is ended and has changes that are not published.")
        self.assertContains(empty, "Any state")
        self.assertEqual((plain.name, sells.state), ("Plain", "draft"))

    def test_the_column_that_tells_of_changes_agrees_with_the_documents(self) -> None:
        link = make_live(self.business)
        for step in (
            lambda: change_price(self.fresh(link)[0], 9900),
            lambda: lifecycle.publish(self.fresh(link)[0], NOW, by=BY),
        ):
            step()
            (fresh,) = self.fresh(link)
            self.assertEqual(fresh.is_changed, fresh.has_unpublished_changes)
