"""A link from its first line to its last place: what it asks, when it ends, what follows; its versions, copies, many.

Seconds are those of the keystroke-level model, as in ``test_making``.
"""

from __future__ import annotations

import json
import re
from functools import partial
from pathlib import Path
from tempfile import TemporaryDirectory
from urllib.parse import urlsplit

from django.test import Client
from playwright.sync_api import Page

from cravik.links.life import lifecycle
from cravik.links.models import Link, Waiting
from cravik.links.waiting.tasks import write_to_waiting
from cravik.mailroom.models import Letter
from cravik.orders.models import Order
from tests.browser.base import DESK, NARROW, PHONE, BrowserTestCase, fill_in, open_editor
from tests.browser.test_making import Hands
from tests.factories import BY, NOW, make_live
from tests.links import line, make_link
from tests.paying import pay_live
from tests.sampling import count_of

EDITORS = ("questions", "asks", "limits", "words", "button", "card", "after", "labels")


class WholeLinkTest(BrowserTestCase):
    def bench(self, link: Link, size: dict[str, int] = DESK) -> Page:
        page = self.seller_page(size)
        page.goto(f"/links/{link.pk}/")
        return page

    def saved(self, page: Page) -> None:
        page.get_by_text("Not saved yet").wait_for(state="hidden")
        page.get_by_text("Everything is saved.").wait_for()

    def test_a_workshop_is_made_filled_and_sold_out_by_two_buyers_at_once(self) -> None:
        page = self.seller_page()
        page.goto("/links/new/")
        page.locator("#id_said").fill("35 for a Workshop on the beach")
        page.keyboard.press("Enter")
        page.get_by_text("Draft ready").wait_for()
        open_editor(page, "questions")
        for number, question in enumerate(("*Size: S, M, L", "How many kites have you flown?", "Name on the tail"), 1):
            page.locator("#id_new_question").fill(question)
            page.keyboard.press("Enter")
            page.locator(".question-row:visible").nth(number - 1).wait_for()
            page.get_by_text(f"{number + 2 + 3} fields").wait_for()
        open_editor(page, "limits")
        page.get_by_role("button", name="In a week").click()
        page.get_by_label("In all", exact=True).fill("12")
        self.saved(page)
        open_editor(page, "after")
        page.get_by_label("Message", exact=True).fill("See you at the slipway, {buyer}.")
        page.get_by_label("Redirect to").fill("https://kites.example/thanks")
        self.saved(page)
        page.frame_locator("iframe").get_by_text("After ten seconds the buyer goes on to kites.example").wait_for()
        page.get_by_role("button", name="Publish").first.click()
        page.get_by_role("button", name="Copy the address").wait_for()
        link = Link.objects.get()
        for number in range(11):
            pay_live(Client(), link, **{"answer.size": "M", "email": f"b{number}@dunes.example"})
        self.assertEqual(Order.objects.count(), 11)
        buyers = [self.new_page(PHONE) for _ in range(2)]
        for number, buyer in enumerate(buyers):
            buyer.goto(link.path)
            buyer.get_by_label("L", exact=True).check()
            fill_in(buyer, email=f"last{number}@dunes.example")
        for buyer in buyers:
            buyer.get_by_role("button", name="Pay €35.00").click(no_wait_after=True)
        for buyer in buyers:
            buyer.get_by_role("heading", name="Thank you").or_(buyer.get_by_text("The last one was taken")).wait_for()
        # Who pressed first is not said; one of them was.
        won = next(at for at, buyer in enumerate(buyers) if buyer.get_by_role("heading", name="Thank you").is_visible())
        winner, loser = buyers[won], buyers[1 - won]
        winner.get_by_text("See you at the slipway, Maren Saltmarsh.").wait_for()
        winner.get_by_text("seconds this page goes on to kites.example").wait_for()
        self.assert_accessible(winner)
        winner.get_by_role("button", name="Stay here").click()
        loser.get_by_text("The last one was taken a moment ago").wait_for()
        self.assertEqual(Order.objects.count(), 12)
        late = self.new_page(PHONE)
        late.goto(link.path)
        late.get_by_role("heading", name="All taken").wait_for()
        self.assert_accessible(late)
        late.get_by_label("Hear when it is back").fill("late@dunes.example")
        late.get_by_role("button", name="Tell me").click()
        late.get_by_text("Check your e-mail.").wait_for()
        late.goto(f"/for/visit/hear/{Waiting.objects.get().key}/")
        self.assert_accessible(late)
        late.get_by_role("button", name="Yes, tell me").click()
        late.get_by_role("heading", name="You will hear of it").wait_for()
        receipt = Letter.objects.get(kind="receipt", to_address=f"last{won}@dunes.example")
        self.assertIn("See you at the slipway, Maren Saltmarsh.", receipt.text)
        self.assertIn("Size: L", receipt.text)
        self.assertRegex(receipt.text, r"https://kites\.example/thanks\?order=\w+\.[0-9a-f]{64}")
        # Two more places, and who waits is told.
        page.goto(f"/links/{link.pk}/")
        open_editor(page, "limits")
        page.get_by_label("In all", exact=True).fill("14")
        self.saved(page)
        page.get_by_text("Publishing changes 1 thing for buyers").wait_for()
        page.get_by_role("button", name="Publish changes").click()
        page.get_by_text("12 places → ").first.wait_for()
        page.get_by_role("link", name="Waiting: 1").click()
        self.assert_accessible(page)
        page.get_by_role("button", name="Email this person").click()
        page.get_by_text("1 letter is on the way").wait_for()
        write_to_waiting.call()
        self.assertEqual((Letter.objects.filter(kind="can_be_bought").count(), Waiting.objects.count()), (1, 0))
        late.goto(link.path)
        late.get_by_role("button", name="Pay €35.00").wait_for()

    def test_a_question_and_an_end_take_five_seconds_each(self) -> None:
        page = self.bench(make_link(business=self.business, published=False))
        hands = Hands(page)
        page.get_by_role("heading", level=1).wait_for()
        hands.type("a")
        page.locator("#add-search:focus").wait_for()
        hands.type("que", then="Enter")
        page.locator("#id_new_question:focus").wait_for()
        hands.type("Size: S, M, L", then="Enter")
        page.locator(".question-row:visible").first.wait_for()
        thinking = hands.acts * Hands.THINK
        self.assertLessEqual(hands.seconds - thinking, 5)
        hands = Hands(page)
        hands.click(page.locator(".add-subject > summary"))
        hands.click(page.locator(".add-menu [data-phrase=limits]"))
        hands.click(page.get_by_role("button", name="In a week"))
        self.saved(page)
        self.assertLessEqual(hands.seconds - hands.acts * Hands.THINK, 5)

    def test_questions_are_put_in_order_by_the_mouse(self) -> None:
        asked = [{"key": key, "kind": "yes_no", "label": f"Question {key}?"} for key in "abc"]
        link = make_link(business=self.business, published=False, questions=asked)
        page = self.bench(link)
        open_editor(page, "questions")
        rows = page.locator(".question-row:visible")
        handle = rows.nth(0).locator("[data-handle]")
        handle.scroll_into_view_if_needed()
        box = handle.bounding_box()
        assert box
        x, y = box["x"] + 20, box["y"] + 20
        page.mouse.move(x, y)
        page.mouse.down()
        below = rows.nth(2).bounding_box()  # as it is while only the heads are in sight
        assert below
        page.mouse.move(x, below["y"] + below["height"] - 10, steps=8)
        page.mouse.up()
        self.saved(page)
        order = [question["key"] for question in Link.objects.get().draft["questions"]]
        self.assertEqual(order, ["b", "c", "a"])

    def test_words_are_written_with_buttons_and_taken_back(self) -> None:
        link = make_link(business=self.business, published=False)
        page = self.bench(link)
        open_editor(page, "words")
        page.keyboard.type("By hand")
        page.keyboard.press("Control+a")
        page.get_by_role("button", name="Bold").click()
        page.keyboard.press("End")
        page.keyboard.type("\nlinen")
        page.get_by_role("button", name="List").click()
        self.saved(page)
        page.frame_locator("iframe").locator(".words strong").get_by_text("By hand").wait_for()
        page.frame_locator("iframe").locator(".words li").get_by_text("linen").wait_for()
        self.assertEqual(Link.objects.get().draft["page"]["words"], "**By hand**\n\n- linen")

    def test_the_next_page_comes_by_itself_once(self) -> None:
        link = make_link(business=self.business, after={"go_to": "https://kites.example/thanks"})
        buyer = self.new_page(PHONE)
        gone: list[str] = []
        page_of_the_seller = re.compile(r"https://kites\.example/.*")
        buyer.route(page_of_the_seller, lambda route: route.fulfill(body="Thanks"))
        buyer.on("request", lambda sent: gone.append(sent.url) if page_of_the_seller.match(sent.url) else None)
        buyer.clock.install()
        buyer.goto(link.path)
        fill_in(buyer)
        buyer.get_by_role("button", name="Pay €24.00").click()
        buyer.get_by_text("seconds this page goes on").wait_for()
        buyer.clock.run_for(11_000)
        buyer.wait_for_url("https://kites.example/**")
        self.assertRegex(urlsplit(gone[0]).query, r"^order=\w{12}\.[0-9a-f]{64}$")
        buyer.go_back()
        buyer.get_by_role("link", name="Continue to kites.example").wait_for()
        buyer.clock.run_for(15_000)
        self.assertEqual(len(gone), 1)

    def test_versions_there_and_back_export_and_import(self) -> None:
        link = make_live(self.business)
        page = self.bench(link)
        page.get_by_label("Amount", exact=True).fill("26")
        self.saved(page)
        page.get_by_role("button", name="Publish changes").click()
        page.get_by_text("Changed: €24.00 → €26.00").wait_for()
        page.get_by_role("link", name="Versions").click()
        self.assert_accessible(page)
        page.get_by_role("button", name=re.compile("Restore")).click()
        page.get_by_text("Version 1 is the current draft").wait_for()
        page.get_by_role("button", name="Undo: Going back to version 1").click()
        page.get_by_role("button", name="€26.00", exact=True).wait_for()
        page.get_by_text("More", exact=True).click()
        with page.expect_download() as download, TemporaryDirectory() as folder:
            page.get_by_role("link", name="Export as a document").click()
            file = Path(folder) / "link.json"
            download.value.save_as(file)
            document = json.loads(file.read_text())
            page.goto("/links/new/")
            page.get_by_text("A document", exact=True).click()
            page.get_by_label("A link or an offer as JSON").set_input_files(file)
            page.get_by_role("button", name="Make drafts of it").click()
            page.get_by_text("Draft ready").wait_for()
        made = Link.objects.latest("id")
        self.assertEqual({**made.draft, "name": link.name}, document)

    def test_many_links_are_changed_at_once(self) -> None:
        count = count_of(200, 60)
        for number in range(count):
            make_live(self.business, f"Kite {number:03}")
        page = self.seller_page()
        page.goto("/")
        page.get_by_label(f"All {count} found").check()
        self.assert_accessible(page)
        page.get_by_label("What to do with them").select_option("price")
        page.get_by_role("button", name="Continue").click()
        page.get_by_label("By", exact=True).fill("10 %")
        page.get_by_role("button", name="Preview changes").click()
        page.get_by_text(f"{count} of them change.").wait_for()
        self.assert_accessible(page)
        page.get_by_role("button", name="Change their prices").click()
        page.get_by_text(f"{count} links changed.").wait_for()
        versions = [link.version for link in Link.objects.select_related("version")]
        self.assertEqual({version.offer.lines[0].price.amount.major for version in versions if version}, {"26.40"})

    def test_every_editor_is_accessible_and_fits(self) -> None:
        asked = [{"key": "a", "kind": "one_of", "label": "Size", "options": ["S", "M"]}]
        link = make_link(business=self.business, published=False, questions=asked, labels=["market"])
        self.look_at_each(EDITORS, partial(self.bench, link), open_editor)

    def test_every_state_of_a_page_is_accessible_and_fits(self) -> None:
        soon = "2999-01-01T00:00:00+00:00"
        opening = make_link(business=self.business, limits={"opens_at": soon})
        paused, ended, over, counted, away = (make_live(self.business, f"{'Long' * 20} {n}") for n in range(5))
        lifecycle.pause(paused, NOW, by=BY)
        lifecycle.end(ended, NOW, by=BY)
        Link.objects.filter(id=over.pk).update(state="ended", ended_why="day")
        Link.objects.filter(id=counted.pk).update(state="ended", ended_why="count")
        Link.objects.filter(id=away.pk).update(state="ended", ended_why="by_hand", archived_at=NOW)
        follows = make_link(line(), business=self.business, after={"cancelled": "https://kites.example/"})
        for size in (DESK, NARROW):
            page = self.new_page(size)
            for link in (opening, paused, ended, over, counted, away, follows):
                with self.subTest(f"{link.path} at {size['width']}"):
                    page.goto(link.path)
                    self.assert_accessible(page)
                    self.assert_fits(page)
            page.goto(paused.path)
            page.get_by_label("Hear when it is back").fill("nobody")
            page.get_by_role("button", name="Tell me").click()
            page.get_by_text("That is not an e-mail address").wait_for()
            self.assert_accessible(page)
            self.assertTrue(re.search("wait", page.url))
