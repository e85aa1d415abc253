"""What a buyer meets on a phone: the slip, the pictures, a refusal, and a bank that asks first."""

from __future__ import annotations

import tempfile
from pathlib import Path

from django.test import override_settings
from playwright.sync_api import Route

from cravik.catalogue.models import Option
from cravik.catalogue.pictures import add_picture
from cravik.catalogue.tests.photos import photo, upload
from cravik.links.life.lifecycle import publish
from cravik.links.making.copies import make_link_of_item
from cravik.links.models import Link
from cravik.orders.models import Order
from tests.browser.base import PHONE, BrowserTestCase, fill_in
from tests.factories import BY, NOW, make_draft, make_item, make_live

ASKS_FIRST = "9000000000003013"


class PhoneTest(BrowserTestCase):
    def setUp(self) -> None:
        super().setUp()
        folder = self.enterContext(tempfile.TemporaryDirectory())
        self.enterContext(override_settings(CRAVIK_PICTURES=Path(folder)))

    def test_the_slip_stands_before_the_button_and_the_bar_at_the_foot_opens_it(self) -> None:
        page = self.new_page(PHONE)
        page.goto(make_live(self.business).path)
        self.assertEqual(page.locator(".slip:visible").count(), 1)
        slip, button = page.locator(".slip:visible").bounding_box(), page.locator("[data-pay-button]").bounding_box()
        self.assertLess(slip["y"] + slip["height"], button["y"] + 1)
        page.locator("[data-slip-foot] summary").click()
        opened = page.locator("[data-slip-foot] .slip")
        self.assertIn("Kite repair", opened.inner_text())
        self.assert_accessible(page)

    def link_with_pictures(self) -> Link:
        item = make_item(self.business, choices={"Colour": ("red", "green")})
        for number in range(3):
            content = upload(photo())
            add_picture(item, content, content.size, NOW, by=BY)
            item.pictures.filter(words="").update(words=f"Picture {number + 1}")
        Option.objects.filter(name="green").update(picture=item.pictures.last())
        return publish(make_link_of_item(self.business, item, item.price, NOW, by=BY), NOW, by=BY)

    def test_all_pictures_are_stepped_through_and_follow_the_option(self) -> None:
        page = self.new_page(PHONE)
        page.goto(self.link_with_pictures().path)
        at = page.locator("[data-at]")
        page.get_by_role("button", name="Next picture").click()
        at.get_by_text("2 of 3").wait_for()
        page.locator("[data-pictures-row]").focus()
        page.keyboard.press("ArrowLeft")
        at.get_by_text("1 of 3").wait_for()
        page.get_by_label("green").check()
        at.get_by_text("3 of 3").wait_for()
        self.assert_accessible(page)
        self.assert_fits(page)

    def test_what_was_refused_is_in_sight_and_going_back_sends_nothing_again(self) -> None:
        page = self.new_page(PHONE)
        page.goto(make_live(self.business).path)
        fill_in(page, card="9000000000001017")
        page.locator("[data-pay-button]").click()
        told = page.get_by_text("not enough money on this card")
        told.wait_for()
        self.assertTrue(told.evaluate("each => each.getBoundingClientRect().top < innerHeight"))
        self.assertTrue(page.evaluate("document.activeElement.matches('[data-notices]')"))
        self.assertEqual(page.get_by_label("Security code").input_value(), "")
        fill_in(page)
        page.locator("[data-pay-button]").click()
        page.get_by_role("heading", name="Thank you").wait_for()
        page.go_back()
        page.reload()  # the page that was led to after the decline knows that it is paid by now
        page.get_by_role("heading", name="Thank you").wait_for()
        self.assertEqual(Order.objects.count(), 1)

    def test_what_was_typed_before_all_of_the_page_had_come_stays(self) -> None:
        page = self.new_page(PHONE)
        late: list[Route] = []
        page.route("**/late.png", lambda route: late.append(route))
        page.add_init_script(
            "addEventListener('DOMContentLoaded', () => { document.body.append(new Image()); "
            "document.body.lastChild.src = '/late.png'; })"
        )
        page.goto(make_live(self.business).path, wait_until="domcontentloaded")
        page.evaluate("void (window.shown = new Promise((told) => addEventListener('pageshow', told)))")
        fill_in(page)
        late[0].abort()
        page.evaluate("window.shown")
        self.assertEqual(page.get_by_label("Security code").input_value(), "123")

    def test_a_bank_asks_first_and_who_gives_up_comes_back_to_the_filled_page(self) -> None:
        page = self.new_page(PHONE)
        page.goto(make_live(self.business).path)
        fill_in(page, card=ASKS_FIRST)
        page.locator("[data-pay-button]").click()
        page.get_by_role("button", name="Cancel").click()
        page.get_by_text("left your bank's question unanswered").wait_for()
        self.assertEqual(page.get_by_label("E-mail").input_value(), "maren@dunes.example")
        fill_in(page, card=ASKS_FIRST)
        page.locator("[data-pay-button]").click()
        page.get_by_role("button", name="Yes, approve it").click()
        page.get_by_role("heading", name="Thank you").wait_for()
        self.assertEqual(Order.objects.count(), 1)

    def test_a_bank_asks_inside_the_frame_of_the_bench_as_well(self) -> None:
        seller = self.seller_page()
        seller.goto(f"/links/{make_draft(self.business).pk}/")
        rehearsal = seller.frame_locator("iframe")
        rehearsal.get_by_label("Your name").fill("Orla")
        rehearsal.get_by_label("E-mail").fill("orla@dunes.example")
        for label, typed in (("Card number", ASKS_FIRST), ("Expiry", "09/31"), ("Security code", "123")):
            rehearsal.get_by_label(label).fill(typed)
        rehearsal.locator("[data-pay-button]").click()
        rehearsal.get_by_role("button", name="No, refuse it").click()
        rehearsal.get_by_text("the answer was no").wait_for()
        self.assertEqual(rehearsal.get_by_label("Your name").input_value(), "Orla")
