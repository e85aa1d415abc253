"""Buttons, cards and forms on pages of others, paid through to the order; and what such a page may do to them."""

from __future__ import annotations

import json
from dataclasses import replace
from functools import partial
from itertools import product
from unittest import mock

from django.test import override_settings
from playwright.sync_api import FrameLocator, Route, expect

from cravik.demo.outside.pages import PAGES
from cravik.journal.models import Visit
from cravik.links.life.lifecycle import publish
from cravik.links.places.sites import allow_site
from cravik.orders.models import Order
from cravik.share.models import Sighting
from tests.browser.base import DESK, PHONE, fill_in
from tests.browser.outside import OutsideTestCase
from tests.factories import BY, NOW, change_price
from tests.sampling import sample_of

BANK_ASKS = "9000000000003013"


def fill_frame(frame: FrameLocator, card: str = "9000000000000019", email: str = "maren@dunes.example") -> None:
    fill_in(frame, card, email)  # type: ignore[arg-type]  # a frame finds its fields as a page does


def _answer(body: str | None, route: Route) -> None:
    if body is None:
        route.abort()
    else:
        route.fulfill(status=200, headers={"access-control-allow-origin": "*"}, body=body)


class PaidThroughTest(OutsideTestCase):
    def test_each_kind_is_paid_through_on_each_page_with_its_spot(self) -> None:
        kinds, pages = ("button", "card", "form"), ("builder", "strict", "application", "busy")
        for number, (kind, name) in enumerate(sample_of(list(product(kinds, pages)), 3)):
            with self.subTest(kind=kind, page=name):
                self.design(shows=kind)
                page = self.open_outside(name)
                expect(page.locator(f"cravik-spot[shown={kind}]").first).to_be_attached()
                frame = page.frame_locator("cravik-spot iframe").first if kind == "form" else self.press(page)
                fill_frame(frame, email=f"buyer{number}@dunes.example")
                frame.get_by_role("button", name="Pay").click()
                frame.get_by_role("heading", name="Thank you").wait_for()
                order = Order.objects.order_by("-id")[0]
                self.assertEqual(order.checkout.line.spot_id, self.spot.pk)
                self.wait_until_paid(page)
                self.assertEqual(self.heard(page)[0], ["opened", ""])
                self.assertEqual(self.heard(page)[-1], ["paid", str(order.number)])
                self.assertEqual(Order.objects.count(), number + 1)
                self.assertEqual(Visit.objects.order_by("-id")[0].referrer, "127.0.0.1", "the page's host is kept")
                page.context.close()

    def test_a_newsletter_s_button_leads_to_the_page_and_is_paid(self) -> None:
        page = self.open_outside("newsletter")
        page.get_by_role("link", name="Pay €24.00").nth(1).click()
        fill_in(page)
        page.get_by_role("button", name="Pay").click()
        page.get_by_role("heading", name="Thank you").wait_for()
        self.assertEqual(Order.objects.get().checkout.line.spot_id, self.spot.pk)

    def test_a_bank_s_question_gets_a_window_of_its_own_and_the_frame_goes_on(self) -> None:
        page = self.open_outside("builder")
        frame = self.press(page)
        fill_frame(frame, BANK_ASKS)
        frame.get_by_role("button", name="Pay").click()
        with page.expect_popup() as opened:
            frame.get_by_role("link", name="Go to my bank's page").click()
        bank = opened.value
        bank.get_by_role("button", name="Yes").wait_for()
        self.assertIsNone(bank.evaluate("window.opener"), "a bank's page can't lead this one away")
        bank.get_by_role("button", name="Yes").click()
        frame.get_by_role("heading", name="Thank you").wait_for()
        if not bank.is_closed():
            bank.wait_for_event("close")
        self.assertTrue(bank.is_closed(), "its window goes when it has been answered")
        self.wait_until_paid(page)
        self.assertEqual(Order.objects.count(), 1)

    def test_a_payment_goes_right_where_the_page_around_it_is_closed(self) -> None:
        page = self.open_outside("builder")
        frame = self.press(page)
        fill_frame(frame)
        with page.expect_request("**/pay/**"):
            frame.get_by_role("button", name="Pay").click()
        page.close()
        other = self.open_outside("builder")
        for _ in range(50):
            if Order.objects.exists():
                break
            other.wait_for_timeout(100)
        self.assertEqual(Order.objects.count(), 1)

    def test_a_declined_card_leaves_the_page_filled_in_the_frame(self) -> None:
        frame = self.press(self.open_outside("builder"))
        fill_frame(frame, "9000000000001017")
        frame.get_by_role("button", name="Pay").click()
        frame.get_by_text("Nothing was charged").wait_for()
        expect(frame.get_by_label("Your name")).to_have_value("Maren Saltmarsh")


class DialogTest(OutsideTestCase):
    def test_focus_is_kept_and_given_back_and_the_page_behind_stands_still(self) -> None:
        page = self.open_outside("builder")
        button = page.locator("cravik-spot[shown] a.button")
        button.focus()
        page.keyboard.press("Enter")
        frame = page.frame_locator("dialog iframe")
        frame.get_by_label("Your name").wait_for()
        self.assertEqual(page.evaluate("getComputedStyle(document.documentElement).overflow"), "hidden")
        self.assert_accessible(page)
        self.assertTrue(page.evaluate("document.activeElement.shadowRoot.activeElement.matches('.close')"))
        page.wait_for_timeout(500)
        page.keyboard.press("Escape")
        expect(page.locator("dialog")).to_have_count(0)
        expect(button).to_be_focused()
        self.assertNotEqual(page.evaluate("getComputedStyle(document.documentElement).overflow"), "hidden")
        self.assertEqual(self.heard(page), [["opened", ""], ["closed", ""]])
        name = self.press(page).get_by_label("Your name")
        name.wait_for()
        page.wait_for_timeout(500)
        name.press("Escape")
        expect(page.locator("dialog")).to_have_count(0)
        expect(button).to_be_focused()

    def test_a_double_press_opens_it_and_what_was_typed_is_asked_for_once(self) -> None:
        page = self.open_outside("builder")
        page.locator("cravik-spot[shown] a.button").dblclick()
        frame = page.frame_locator("dialog iframe")
        frame.get_by_label("Your name").fill("Maren")
        page.wait_for_timeout(500)
        page.mouse.click(5, 400)  # beside it
        page.get_by_text("lose what you typed?").wait_for()
        self.assert_accessible(page)
        page.get_by_role("button", name="Keep typing").click()
        expect(frame.get_by_label("Your name")).to_have_value("Maren")
        page.mouse.click(5, 400)
        page.get_by_text("lose what you typed?").wait_for()
        page.mouse.click(5, 400)
        expect(page.locator("dialog")).to_have_count(0)
        self.assertEqual(self.heard(page), [["opened", ""], ["closed", ""]])

    def test_it_does_not_close_while_it_pays_and_the_page_hears_that_it_was_paid(self) -> None:
        page = self.open_outside("builder")
        frame = self.press(page)
        fill_frame(frame)
        held: list[Route] = []
        page.context.route("**/pay/**", lambda route: held.append(route))
        frame.get_by_role("button", name="Pay").click()
        while not held:  # the page around hears of the press before it is sent
            page.wait_for_timeout(50)
        for close in (lambda: page.mouse.click(5, 400), lambda: page.get_by_role("button", name="Close").first.click()):
            close()
            page.get_by_text("The payment is on its way.").wait_for()
            expect(page.locator("dialog")).to_have_count(1)
        held[0].continue_()
        frame.get_by_role("heading", name="Thank you").wait_for()
        self.wait_until_paid(page)
        expect(page.get_by_text("The payment is on its way.")).to_be_hidden()
        page.mouse.click(5, 400)
        expect(page.locator("dialog")).to_have_count(0)
        number = str(Order.objects.get().number)
        self.assertEqual(self.heard(page), [["opened", ""], ["paid", number], ["closed", number]])

    def test_close_is_in_sight_on_a_page_that_is_zoomed(self) -> None:
        page = self.open_outside("builder")
        for where in ("document.documentElement", "document.body"):
            page.evaluate(f"{where}.style.zoom = '1.75'")
            self.press(page).get_by_label("Your name").wait_for()
            box = page.get_by_role("button", name="Close").bounding_box()
            self.assertLessEqual(box["x"] + box["width"], DESK["width"])
            self.assertGreaterEqual(box["y"], 0)
            page.wait_for_timeout(500)
            page.get_by_role("button", name="Close").click()
            expect(page.locator("dialog")).to_have_count(0)

    def test_on_a_phone_it_takes_the_whole_screen(self) -> None:
        page = self.open_outside("builder", PHONE)
        self.press(page).get_by_label("Your name").wait_for()
        box = page.locator("dialog").bounding_box()
        self.assertEqual((box["x"], box["y"], box["width"], box["height"]), (0, 0, PHONE["width"], PHONE["height"]))
        self.assert_accessible(page)
        page.wait_for_timeout(500)
        page.get_by_role("button", name="Close").click()
        self.assert_fits(page)

    def test_every_page_of_the_sample_is_accessible_with_its_buttons(self) -> None:
        for name in ("builder", "newsletter", "strict", "application"):
            with self.subTest(name):
                page = self.open_outside(name)
                page.wait_for_load_state("networkidle")
                self.assert_accessible(page)


class HostileTest(OutsideTestCase):
    def test_fifty_buttons_ask_once_and_a_page_that_moves_them_about_keeps_them(self) -> None:
        page = self.open_outside("application")
        page.locator("cravik-spot[shown]").wait_for()
        asked: list[str] = []
        page.on("request", lambda request: asked.append(request.url))
        page.evaluate(
            """() => { const first = document.querySelector("#view cravik-spot");
            for (let at = 0; at < 50; at += 1) first.after(first.cloneNode(true)); }"""
        )
        expect(page.locator("#view cravik-spot[shown]")).to_have_count(51)
        self.assertEqual([url for url in asked if "on-page" in url], [])
        self.press(page).get_by_label("Your name").wait_for()
        page.get_by_role("button", name="Tides", include_hidden=True).evaluate("button => button.click()")
        expect(page.locator("dialog")).to_have_count(0)
        self.assertNotEqual(page.evaluate("getComputedStyle(document.documentElement).overflow"), "hidden")
        page.get_by_role("button", name="Shop").click()
        expect(page.locator("#view cravik-spot[shown]")).to_have_count(1)

    def test_a_page_that_puts_other_things_in_the_place_of_the_browser_s_own(self) -> None:
        page = self.new_page()
        page.add_init_script(
            """for (const name of ["map", "forEach", "filter", "push", "includes"])
              Array.prototype[name] = () => { throw new Error("mine"); };
            Object.prototype.mine = "everywhere"; String.prototype.replace = () => "mine";
            Element.prototype.remove = () => {}; window.fetch = window.fetch;"""
        )
        page.goto(self.address("builder"))
        self.press(page).get_by_label("Your name").wait_for()
        self.assertEqual(page.locator("cravik-spot a.button").inner_text(), "Pay €24.00 for Kite repair")

    def test_messages_that_a_page_makes_up_are_not_heard(self) -> None:
        page = self.open_outside("builder")
        self.press(page).get_by_label("Your name").wait_for()
        page.evaluate(
            """() => { for (const said of [{ paid: "FAKE" }, { cravik: 1, paid: "FAKE" }, { leaves: true }, "paid"]) {
            const { shadowRoot } = document.querySelector("cravik-spot");
            postMessage(said, "*"); shadowRoot.querySelector("iframe").contentWindow.postMessage(said, "*"); } }"""
        )
        page.wait_for_timeout(300)
        self.assertEqual(self.heard(page), [["opened", ""]])
        expect(page.locator("dialog")).to_have_count(1)

    def test_without_an_answer_the_plain_link_stays(self) -> None:
        other = '{"version": 2, "words": "Other", "address": "x"}'
        strange = json.dumps(
            {"version": 1, "shows": "button", "opens": "over", "words": "Pay", "frame": "javascript:alert(1)"}
            | {"address": f"{self.live_server_url}{self.spot.path}", "face": {}}
        )
        answers = (("no network", None), ("no json", "<p>"), ("another version", other), ("a script", strange))
        for what, body in answers:
            with self.subTest(what):
                page = self.new_page()
                page.route("**/on-page/1.json", partial(_answer, body))
                page.goto(self.address("builder"))
                page.wait_for_load_state("networkidle")
                link = page.get_by_role("link", name="Get Kite repair")
                self.assertEqual(link.get_attribute("href"), f"{self.live_server_url}{self.spot.path}")
                self.assertEqual(page.locator("cravik-spot[shown]").count(), 0)
        self.assertTrue(all("the plain link stays" in each for each in self.complaints), self.complaints)
        self.complaints.clear()

    def test_an_address_of_anybody_else_is_neither_asked_nor_drawn(self) -> None:
        page = self.new_page()
        asked: list[str] = []
        page.on("request", lambda request: asked.append(request.url))
        page.goto(self.address("builder"))
        page.locator("cravik-spot[shown]").wait_for()
        page.evaluate(
            """() => { const first = document.querySelector("cravik-spot");
            for (const at of ["https://lapsed.example/k/ABC234/", "http://evil.example/k/ABC234/",
              "javascript:alert(1)",
              location.origin + "/k/ABC234/"]) {
              const other = document.createElement("cravik-spot"); other.setAttribute("at", at);
              other.innerHTML = "<a href='/there'>There</a>"; first.after(other); } }"""
        )
        page.wait_for_timeout(300)
        self.assertEqual(page.locator("cravik-spot:not([shown])").count(), 4)
        self.assertEqual([url for url in asked if "ABC234" in url], [])
        self.complaints.clear()

    def test_where_no_script_may_run_the_link_is_there(self) -> None:
        page = self.open_outside("builder", java_script_enabled=False)
        page.get_by_role("link", name="Get Kite repair").click()
        page.get_by_role("heading", name="Kite repair").wait_for()

    @override_settings(CRAVIK_OUTSIDE_ADDRESS="")  # else the sample is one that always may
    def test_a_site_that_is_not_allowed_has_a_plain_link_and_its_seller_is_told(self) -> None:
        allow_site(self.business, None, "kites.example", NOW, subdomains=False, by=BY)
        page = self.open_outside("builder")
        page.locator("cravik-spot[shown] a.button").click()
        page.get_by_label("Your name").wait_for()
        self.assertEqual(page.url, f"{self.live_server_url}{self.spot.path}")
        self.assertEqual([(each.host, each.is_allowed) for each in Sighting.objects.all()], [("localhost", False)])
        seller = self.seller_page()
        seller.goto(f"/links/{self.link.pk}/hand-out/")
        seller.get_by_text("asked for a button of this link").wait_for()
        seller.get_by_role("button", name="Let it open there").click()
        again = self.open_outside("builder")
        self.press(again).get_by_label("Your name").wait_for()

    def test_a_frame_that_may_not_stand_there_leads_on(self) -> None:
        page = self.new_page()
        forbidding = replace(PAGES["builder"], policy="frame-src 'none'")
        with mock.patch.dict(PAGES, builder=forbidding):
            page.goto(self.address("builder"))
        page.locator("cravik-spot[shown] a.button").click()
        with page.expect_popup() as opened:
            page.get_by_role("link", name="Open it in a window of its own").click()
        opened.value.get_by_label("Your name").wait_for()
        self.complaints.clear()  # the browser tells of the policy

    def test_a_button_that_says_an_old_price_opens_the_page_with_the_new_one(self) -> None:
        page = self.open_outside("builder")
        page.locator("cravik-spot[shown]").wait_for()
        publish(change_price(self.link, 2600), NOW, by=BY)
        frame = self.press(page)
        fill_frame(frame)
        frame.get_by_role("button", name="Pay €26.00").click()
        frame.get_by_role("heading", name="Thank you").wait_for()
        self.assertEqual(Order.objects.get().taken_minor, 2600)

    def test_a_change_is_seen_without_pasting_again(self) -> None:
        self.design(words="Mend it", says_price=False)
        self.assertEqual(self.open_outside("builder").locator("a.button").inner_text(), "Mend it")
        self.design(words="Mend mine", opens="new", hover="turned")
        page = self.open_outside("builder")
        with page.expect_popup() as opened:
            page.get_by_role("link", name="Mend mine, €24.00").click()
        opened.value.get_by_label("Your name").wait_for()


class SellerTest(OutsideTestCase):
    def test_a_seller_designs_a_button_puts_it_on_a_page_and_sees_that_it_arrived(self) -> None:
        page = self.seller_page()
        page.goto(f"/links/{self.link.pk}/spots/{self.spot.pk}/page/")
        page.get_by_role("link", name="how the button looks").click()
        shown = page.frame_locator("iframe.tried-frame")
        for kind in ("form", "card", "button"):
            page.get_by_label("What people see").select_option(kind)
            shown.locator(f"cravik-spot[shown={kind}]").first.wait_for()
            if kind == "form":
                form = shown.frame_locator("cravik-spot iframe").first
                form.get_by_label("Your name").wait_for()
        page.get_by_label("Colour", exact=True).fill("#ffee88")
        page.get_by_text("At least 4.5 : 1 is needed").wait_for()
        page.get_by_role("button", name="Save").click()
        page.get_by_text("These words can't be read on that colour.").first.wait_for()
        page.get_by_role("button", name="the nearest that passes").click()
        page.get_by_label("Words on the button").fill("Mend mine")
        page.get_by_role("button", name="Save").click()
        page.get_by_text("Saved. Wherever").wait_for()
        shown.get_by_role("link", name="Mend mine, €24.00").first.wait_for()
        self.assert_accessible(page)
        page.get_by_role("link", name=f"{self.spot.name} on a page").click()
        self.assert_accessible(page)
        page.get_by_label("Address of the page").fill("no page")
        page.get_by_role("button", name="Check").click()
        page.get_by_text("Write a site such as").wait_for()
        page.get_by_label("Address of the page").fill(self.address("builder"))
        page.get_by_role("button", name="Check").click()
        page.get_by_text("Not seen on localhost yet.").wait_for()
        with page.expect_popup() as opened:
            page.get_by_role("link", name="a builder's page").click()
        opened.value.locator("cravik-spot[shown]").wait_for()
        page.reload()
        page.get_by_text("Seen on localhost just now.").wait_for()
        for size in (DESK, {"width": 320, "height": 640}):
            page.set_viewport_size(size)
            for path in ("page/?way=code", "page/?way=newsletter&kind=drawn", "page/?way=link", "button/", ""):
                page.goto(f"/links/{self.link.pk}/spots/{self.spot.pk}/{path}")
                self.assert_fits(page)
        page.goto("/setup/sites/")
        self.assert_accessible(page)
