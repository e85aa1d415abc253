"""Undo, redo, and the advice that stands beside the phrases of the bench."""

from __future__ import annotations

from datetime import timedelta
from typing import Any
from unittest import mock

import time_machine
from django.http import HttpResponse

from cravik.catalogue.models import Item
from cravik.core.tests.test_mends import CASES
from cravik.links.bench.advising import advice_on
from cravik.links.bench.history import History, history_of
from cravik.links.making.documents import import_link
from cravik.links.models import DraftStep, Link, SoldItem
from tests.bench_form import BenchCase
from tests.factories import BY, NOW, make_item
from tests.links import line


class _Acts(BenchCase):
    def act(self, link: Link, act: str, **typed: str) -> HttpResponse:
        link.refresh_from_db()
        answer = self.save(link, by_script=False, act=act, **typed)
        link.refresh_from_db()
        return answer

    def press(self, link: Link, act: str) -> HttpResponse:
        """Press a button that stands beside the form, as the page's script sends it: nothing was touched."""
        link.refresh_from_db()
        sent = {"revision": link.revision, "act": act}
        answer = self.client.post(f"/links/{link.pk}/", sent, headers={"accept": "application/json"})
        link.refresh_from_db()
        return answer

    def later(self, clock: Any) -> None:
        clock.shift(timedelta(minutes=1))


class HistoryTest(_Acts):
    def setUp(self) -> None:
        super().setUp()
        self.clock = self.enterContext(time_machine.travel(NOW, tick=False))

    def change(self, link: Link, **typed: str) -> None:
        self.later(self.clock)
        link.refresh_from_db()
        self.assertEqual(self.save(link, **typed).status_code, 200)
        link.refresh_from_db()

    def amount(self, link: Link) -> str:
        return str(link.draft["offer"]["lines"][0]["price"]["amount"])

    def test_each_step_is_undone_and_done_again_by_its_name(self) -> None:
        link = self.link(line(name="Kites"))
        self.assertEqual(history_of(link), History())
        self.change(link, amount__kite="26")
        self.change(link, words="From the dunes.", max__kite="3")
        self.act(link, "add", new_thing="Repair")
        drafts = [link.draft]
        self.assertEqual(history_of(link).undo, "Adding “Repair”")
        for words, redo in (
            ("How many and Description", "Adding “Repair”"),
            ("Price", "How many and Description"),
            ("", "Price"),
        ):
            self.act(link, "undo")
            drafts.append(link.draft)
            self.assertEqual((history_of(link).undo, history_of(link).redo), (words, redo))
        self.assertEqual(self.amount(link), "24.00")
        self.assertContains(self.act(link, "undo"), "nothing left to undo", status_code=400)
        for draft in drafts[-2::-1]:
            self.act(link, "redo")
            self.assertEqual(link.draft, draft)
        page = self.client.get(f"/links/{link.pk}/")
        self.assertContains(page, "Undo: Adding “Repair”")
        self.assertNotContains(page, "Redo:")

    def test_what_is_typed_on_is_one_step_and_ends_what_could_be_done_again(self) -> None:
        link = self.link(line(name="Kites"))
        for amount in ("2", "26", "26.5"):
            link.refresh_from_db()
            self.save(link, amount__kite=amount)
        self.assertEqual(DraftStep.objects.count(), 1)
        self.act(link, "undo", amount__kite="27")  # what was typed with it is undone
        self.assertEqual((self.amount(link), history_of(link).redo), ("24.00", "Price"))
        self.change(link, amount__kite="30")
        self.assertEqual((history_of(link).undo, history_of(link).redo), ("Price", ""))

    def test_undoing_brings_back_items_and_prices_of_other_kinds(self) -> None:
        item = make_item(self.member.business, "Tail ribbon", 350, code="TAIL")
        link = self.link(line(name="Kites"))
        self.act(link, "add", new_thing="TAIL")
        self.later(self.clock)
        self.act(link, "remove:tail")
        self.assertFalse(SoldItem.objects.filter(link=link).exists())
        self.act(link, "undo")
        self.assertEqual(SoldItem.objects.get(link=link).item, item)
        self.change(link, kind__kite="free")
        self.assertEqual(link.former_prices["kite"]["fixed"]["amount"], "24.00")
        self.act(link, "undo")
        self.assertEqual((self.amount(link), link.former_prices), ("24.00", {}))
        self.act(link, "redo")
        self.assertEqual(link.former_prices["kite"]["fixed"]["amount"], "24.00")
        # An item that was kept from here is still in the catalogue when the keeping is undone.
        self.change(link, kind__kite="fixed")
        self.act(link, "keep:kite")
        self.act(link, "undo")
        self.assertNotIn("kite", link.draft.get("items", {}))
        self.assertTrue(Item.objects.filter(name="Kites").exists())

    def test_taking_an_items_price_is_a_step_of_whoever_took_it(self) -> None:
        make_item(self.member.business, "Tail ribbon", 350, code="TAIL")
        link = self.link(line(name="Kites"))
        self.act(link, "add", new_thing="TAIL")
        self.change(link, amount__tail="3")
        self.client.post(f"/links/{link.pk}/item-price/")
        link.refresh_from_db()
        step = link.steps.latest("id")
        self.assertEqual(step.after["draft"]["offer"]["lines"][1]["price"]["amount"], "3.50")
        self.assertEqual((step.actor.user_id, history_of(link).undo), (self.member.user_id, "Taking the item's price"))
        self.act(link, "undo")
        self.assertEqual(link.draft, step.before["draft"])

    def test_an_items_price_in_another_currency_leaves_no_former_price_of_the_old_one(self) -> None:
        item = make_item(self.member.business, "Tail ribbon", 350, code="TAIL")
        link = self.link(line(name="Kites"), items={"kite": "TAIL"})
        for kind in ("free", "fixed"):
            self.change(link, kind__kite=kind)
        self.change(link, amount__kite="3")
        self.assertNotEqual(link.former_prices, {})
        Item.objects.filter(id=item.pk).update(currency="JPY")
        self.client.post(f"/links/{link.pk}/item-price/")
        link.refresh_from_db()
        offer = link.draft["offer"]
        self.assertEqual((offer["currency"], offer["lines"][0]["price"]["amount"]), ("JPY", "350"))
        self.assertEqual(link.former_prices, {})
        self.act(link, "undo")
        self.assertEqual(link.draft["offer"]["currency"], "EUR")
        self.assertNotEqual(link.former_prices, {})

    @mock.patch("cravik.links.bench.history.MAX_STEPS", 5)
    def test_steps_are_forgotten_after_a_day_or_so_many_or_when_something_else_changed_the_link(self) -> None:
        link = self.link(line(name="Kites"))
        for number in range(8):
            self.change(link, amount__kite=str(30 + number))
        self.assertEqual(DraftStep.objects.count(), 5)
        Link.objects.filter(id=link.pk).update(revision=link.revision + 1)
        link.refresh_from_db()
        self.assertEqual(history_of(link).undo, "")
        self.change(link, amount__kite="9")
        self.assertEqual(DraftStep.objects.count(), 1)
        self.clock.shift(timedelta(days=2))
        self.change(link, amount__kite="8")
        self.assertEqual(DraftStep.objects.count(), 1)


class AdviceTest(_Acts):
    def test_each_is_told_with_its_figures_mended_by_its_button_and_gone(self) -> None:
        for code, offer, words in CASES:
            with self.subTest(code):
                document = {"format": "cravik.link/1", "name": code, "offer": offer}
                link = import_link(self.member.business, document, NOW, by=BY)
                told = advice_on(link)
                page = self.client.get(f"/links/{link.pk}/")
                self.assertContains(page, told[0].words.split("“")[0].split(" EUR")[0])
                if not words:
                    self.assertEqual({each.mend_words for each in told}, {""})
                    continue
                advice = next(each for each in told if each.mend_words == words)
                self.assertContains(page, f"mend:{advice.key}")
                self.assertEqual(self.press(link, f"mend:{advice.key}").status_code, 200)
                self.assertNotIn(advice.words, [each.words for each in advice_on(link)])
                self.assertEqual(history_of(link).undo, words)
                again = self.press(link, f"mend:{advice.key}")
                self.assertEqual(again.json()["errors"], {"__all__": ["That advice no longer holds."]})

    def test_a_dismissed_one_returns_when_its_figures_change(self) -> None:
        link = self.link(offer={"codes": [{"code": "ALL", "kind": "percent", "percent": "100"}]})
        (advice,) = advice_on(link)
        self.press(link, f"dismiss:{advice.key}")
        self.assertEqual(advice_on(link), [])
        self.assertNotContains(self.client.get(f"/links/{link.pk}/"), "costs nothing with ALL")
        answer = self.save(link, amount__kite="25")
        self.assertIn("An order of 25.00 EUR costs nothing with ALL", answer.json()["pieces"]["advice"])
        link.refresh_from_db()
        self.save(link, amount__kite="24")
        link.refresh_from_db()
        self.assertEqual(advice_on(link), [])

    def test_what_is_an_item_s_is_not_mended_here(self) -> None:
        link = self.link(line(choices=[{"name": "Size", "options": [{"name": "S"}]}]))
        self.assertEqual([each.mend_words for each in advice_on(link)], ["Drop the choice"])
        self.act(link, "keep:kite")
        self.assertEqual([each.mend for each in advice_on(Link.objects.get(id=link.pk))], [None])
