"""The bench by thumb and by keys: what is in sight, and how many touches and presses it takes."""

from __future__ import annotations

import tempfile
from pathlib import Path

from django.test import override_settings
from playwright.sync_api import Locator, Page, expect

from cravik.catalogue.models import Item
from cravik.catalogue.tests.photos import photo
from cravik.links.models import Link
from tests.browser.base import DESK, NARROW, BrowserTestCase, open_editor
from tests.factories import make_draft

THUMB = {"width": 390, "height": 844}
_IS_IN_SIGHT = """each => {
    const box = each.getBoundingClientRect();
    const at = document.elementFromPoint(box.left + Math.min(box.width, 200) / 2, box.top + box.height / 2);
    const isOnTop = Boolean(at) && (each.contains(at) || at.contains(each));
    return box.top >= 0 && box.bottom <= innerHeight && isOnTop;
}"""


class BenchTest(BrowserTestCase):
    def setUp(self) -> None:
        super().setUp()
        folder = Path(self.enterContext(tempfile.TemporaryDirectory()))
        self.enterContext(override_settings(CRAVIK_PICTURES=folder, CRAVIK_FILES=folder))
        self.touches = 0

    def touch(self, page: Page, what: Locator) -> None:
        """Touch what is in sight as it stands, and nothing that has to be scrolled to."""
        self.assert_in_sight(page, what)
        what.tap()
        self.touches += 1

    def assert_in_sight(self, page: Page, what: Locator) -> None:
        """It is where a thumb can reach it; looked at again while the page still takes in an answer."""
        for _ in range(20):
            what.wait_for()
            if what.evaluate(_IS_IN_SIGHT):
                return
            page.wait_for_timeout(100)
        self.fail(f"{what} is out of sight on {page.viewport_size}")

    def test_a_link_is_made_priced_pictured_and_published_by_eight_touches(self) -> None:
        page = self.seller_page(THUMB, has_touch=True)
        page.goto("/")
        self.touch(page, page.get_by_role("link", name="New link"))
        page.get_by_label("Say what you sell").fill("Mug 24")
        self.touch(page, page.get_by_role("button", name="Create draft").first)
        page.wait_for_url("**/links/*/")
        amount = page.get_by_label("Amount")
        self.touch(page, amount)
        amount.fill("26")
        self.touch(page, page.locator(".add-subject > summary"))
        self.touch(page, page.locator(".add-menu").get_by_role("button", name="Pictures"))
        chooser = page.get_by_label("Add pictures")
        with page.expect_file_chooser() as chosen:
            self.touch(page, chooser)
        with page.expect_navigation():
            chosen.value.set_files({"name": "mug.jpg", "mimeType": "image/jpeg", "buffer": photo((80, 60))})
        page.locator(".thumbs img").wait_for()
        self.touch(page, page.get_by_role("button", name="Publish", exact=True))
        page.get_by_role("button", name="Copy the address").wait_for()
        self.assertLessEqual(self.touches, 8)
        link = Link.objects.get()
        self.assertEqual((link.state, link.offer.lines[0].price.amount.major), ("live", "26.00"))
        self.assertEqual(Item.objects.get().pictures.count(), 1)

    def test_on_a_phone_the_sheet_has_the_fields_and_its_other_side_the_page(self) -> None:
        for size in (THUMB, NARROW):
            page = self.seller_page(size, has_touch=True)
            page.goto(f"/links/{make_draft(self.business).pk}/")
            for what in (
                ".sentence",
                ".decided-row",
                ".add-subject > summary",
                "[name^='kind.']",
                ".bench-bar [data-publish]",
            ):
                self.assert_in_sight(page, page.locator(what).first)
            self.assert_fits(page)
            self.assert_accessible(page)
            page.get_by_role("button", name="Page", exact=True).tap()
            self.assert_in_sight(
                page, page.frame_locator("iframe").get_by_text("€24.00").first.or_(page.locator(".view-frame")).first
            )
            self.assert_accessible(page)
            page.get_by_role("button", name="Edit", exact=True).tap()
            open_editor(page, "limits")
            field = page.locator(":focus")
            self.assertEqual(field.get_attribute("name"), "pieces.purpose")
            self.assert_in_sight(page, field)
            page.locator(".panel.is-open [data-close-sheet]").tap()
            expect(page.locator(".panel.is-open")).to_be_hidden()
            self.assert_fits(page)
            page.context.close()

    def test_on_a_desk_all_is_in_sight_and_keys_reach_the_fields_at_once(self) -> None:
        page = self.seller_page()
        page.goto(f"/links/{make_draft(self.business).pk}/")
        for what in (".sentence", ".decided-row", "[name^='amount.']"):
            self.assert_in_sight(page, page.locator(what).first)
        self.assert_in_sight(page, page.frame_locator("iframe").locator(".page-price, .lead, h1").first)
        keys = ["Tab", "Tab", "Enter", "Tab"]
        self.press_keys(page, keys)
        self.assertEqual(page.evaluate("document.activeElement.closest('[data-panel]').dataset.panel[0]"), "k")
        self.assertLessEqual(len(keys), 10)

    def test_what_can_be_added_is_found_by_other_words_and_by_keys(self) -> None:
        page = self.seller_page(DESK)
        page.goto(f"/links/{make_draft(self.business).pk}/")
        summary = page.locator(".add-subject > summary")
        summary.focus()
        page.keyboard.press("Enter")
        search = page.get_by_label("Find what to add")
        expect(search).to_be_focused()
        self.assert_accessible(page)
        page.keyboard.type("coup")
        expect(page.locator(".add-menu li:visible")).to_have_text(["Discount code"])
        page.keyboard.type("x")
        page.get_by_text("Nothing here is called that.").wait_for()
        page.keyboard.press("Escape")
        expect(summary).to_be_focused()
        page.keyboard.press("Enter")
        expect(search).to_be_focused()
        page.keyboard.type("price ch")
        page.keyboard.press("Enter")
        expect(page.locator("[data-panel=steps].is-open")).to_be_visible()
