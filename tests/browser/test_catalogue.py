"""The catalogue in the browser: an item with two groups of options, pictures and stock."""

from __future__ import annotations

import tempfile
from pathlib import Path

from django.test import override_settings

from cravik.catalogue.models import Item
from cravik.catalogue.tests.photos import photo
from cravik.links.models import Link
from tests.browser.base import PHONE, BrowserTestCase, fill_in


class CatalogueJourneyTest(BrowserTestCase):
    def setUp(self) -> None:
        super().setUp()
        self.folder = Path(self.enterContext(tempfile.TemporaryDirectory()))
        self.enterContext(override_settings(CRAVIK_PICTURES=self.folder / "pictures"))

    def photo(self, name: str, content: bytes) -> str:
        path = self.folder / name
        path.write_bytes(content)
        return str(path)

    def test_an_item_with_options_pictures_and_stock(self) -> None:
        page = self.seller_page()
        page.goto("/")
        page.get_by_role("link", name="Catalogue").click()
        page.get_by_role("link", name="Add the first item").click()
        page.get_by_label("Name", exact=True).fill("Delta kite")
        page.get_by_role("textbox", name="Price").fill("48")
        page.get_by_label("What is chosen").first.fill("Span")
        spans = page.locator("[data-rows=choice-0-option]")
        for number, (name, add) in enumerate((("1.2 m", "-6"), ("1.8 m", ""), ("2.4 m", "12"))):
            if number == 2:
                spans.get_by_role("button", name="Another option").click()
            row = spans.get_by_role("group").nth(number)
            row.get_by_label("Option").fill(name)
            row.get_by_label("Adds", exact=True).fill(add)
        page.get_by_text("Add a group of options").first.click()
        colours = page.locator("[data-rows=choice-1-option]")
        colours.get_by_label("What is chosen").fill("Colour")
        for number, name in enumerate(("red", "green")):
            colours.get_by_role("group").nth(number).get_by_label("Option").fill(name)
        page.get_by_role("button", name="Save the item").click()
        page.get_by_text("Here it is.").wait_for()
        item = Item.objects.get()
        self.assertEqual((item.variants.count(), item.price.major), (6, "48.00"))

        # What is being typed stays while pictures come and go.
        page.get_by_label("Words", exact=True).fill("Not saved yet")
        photos = [
            self.photo("one.jpg", photo()),
            self.photo("two.png", photo(kind="PNG")),
            self.photo("bad.jpg", b"<script>"),
        ]
        page.get_by_label("Add the first picture").set_input_files(photos)
        page.get_by_text("“bad.jpg” was not taken. It is not a JPEG, PNG or WebP picture.").wait_for()
        page.locator("[data-picture]").nth(1).wait_for()
        self.assertTrue(page.get_by_text("“bad.jpg” was not taken.").is_visible())
        second = item.pictures.last().pk
        page.get_by_role("button", name="Later picture 1").click()
        page.locator(f"[data-picture='{second}']:first-child").wait_for()
        first = page.locator("[data-picture]").first
        first.get_by_text("Words and focus").click()
        first.get_by_label("Description for people who can't see it").fill("A delta kite over the dunes")
        first.locator("img").click(position={"x": 10, "y": 100})
        first.get_by_role("button", name="Save picture 1").click()
        page.get_by_alt_text("A delta kite over the dunes").wait_for()
        picture = item.pictures.first()
        self.assertEqual((picture.words, picture.focus_x, picture.focus_y), ("A delta kite over the dunes", 10, 90))
        self.assertEqual(page.get_by_label("Words", exact=True).input_value(), "Not saved yet")
        self.assert_accessible(page)

        page.get_by_role("link", name="Stock").click()
        page.get_by_role("button", name="Use the suggested codes").click()
        row = page.get_by_role("group", name="1.8 m · green")
        row.get_by_label("In stock").fill("7")
        row.get_by_label("Keep selling at 0").check()
        page.get_by_role("button", name="Save the stock").click()
        page.get_by_text("Saved.").wait_for()
        counted = item.variants.get(count=7)
        self.assertEqual((counted.code, counted.sells_beyond), ("DELTAKIT-18M-GREE", True))

        # A buyer chooses on a phone, and the variant that was chosen is one less.
        page.get_by_role("button", name="Make a link of it").click()
        page.get_by_role("button", name="Publish", exact=True).click()
        page.get_by_text("Published.").wait_for()
        buyer = self.new_page(PHONE)
        buyer.goto(Link.objects.get().path)
        buyer.get_by_role("button", name="Pay €42.00").wait_for()
        buyer.get_by_label("1.8 m").check()
        buyer.get_by_label("green").check()
        buyer.get_by_role("button", name="Pay €48.00").wait_for()
        self.assert_accessible(buyer)
        self.assert_fits(buyer)
        fill_in(buyer)
        buyer.get_by_label("Street and number").fill("2 Strand Lane")
        buyer.get_by_label("Town").fill("Marramport")
        buyer.get_by_role("button", name="Pay €48.00").click()
        buyer.get_by_role("heading", name="Thank you").wait_for()
        self.assertIn("Delta kite, 1.8 m, green", buyer.locator(".slip").inner_text())
        counted.refresh_from_db()
        self.assertEqual(counted.count, 6)

    def test_dragging_puts_pictures_in_order(self) -> None:
        page = self.seller_page()
        page.goto("/catalogue/new/")
        page.get_by_label("Name", exact=True).fill("Sled kite")
        page.get_by_role("button", name="Save the item").click()
        page.get_by_label("Add the first picture").set_input_files(
            [self.photo("one.jpg", photo()), self.photo("two.jpg", photo())]
        )
        page.locator("[data-picture]").nth(1).wait_for()
        before = [picture.pk for picture in Item.objects.get().pictures.all()]
        with page.expect_response("**/pictures/order/"):
            page.locator("[data-picture]").nth(1).locator("img").drag_to(
                page.locator("[data-picture]").first.locator("img"), target_position={"x": 5, "y": 5}
            )
        self.assertEqual([picture.pk for picture in Item.objects.get().pictures.all()], before[::-1])

    def test_without_script_on_a_phone(self) -> None:
        page = self.seller_page(PHONE, java_script_enabled=False)
        page.goto("/catalogue/new/")
        page.get_by_label("Name", exact=True).fill("Box kite")
        page.get_by_role("button", name="Save the item").click()
        page.get_by_label("Add the first picture").set_input_files(self.photo("one.jpg", photo()))
        page.get_by_role("button", name="Add", exact=True).click()
        self.assertEqual(page.locator("[data-picture]").count(), 1)
        page.get_by_role("button", name="Remove picture 1").click()
        page.get_by_text("The picture is gone.").wait_for()

    def test_a_spreadsheet_of_5000_rows_with_faults_in_three(self) -> None:
        rows = [f"K{number:04d};Kite {number};goods;{number % 900};{number % 90 + 1},50" for number in range(1, 5001)]
        rows[9] = "K0010;Kite 10;goods;heavy;12,50"
        rows[2499] = "K2500;;goods;10;12,50"
        rows[4998] = "K4999;Kite 4999;balloon;10;1.2.3"
        path = self.folder / "kites.csv"
        path.write_bytes(("code;name;kind;weight_g;prices\n" + "\n".join(rows)).encode("utf-8-sig"))
        page = self.seller_page()
        page.goto("/catalogue/")
        page.get_by_role("link", name="Spreadsheet").or_(
            page.get_by_role("link", name="As a spreadsheet")
        ).first.click()
        page.get_by_label("CSV file").set_input_files(str(path))
        page.get_by_role("button", name="Check it first").click()
        page.get_by_text("4,997").first.wait_for()
        faults = page.locator(".faults").inner_text()
        for line in ("11", "2501", "5000"):
            self.assertIn(line, faults)
        self.assertFalse(Item.objects.exists())
        self.assert_accessible(page)
        page.get_by_role("button", name="good").click()
        page.get_by_text("4,997 added, 0 changed, 0 unchanged. 3 faulty rows were left out.").wait_for()
        page.get_by_role("link", name="To the catalogue").click()
        self.assertEqual(Item.objects.count(), 4997)
        page.get_by_label("Search items").fill("Kite 4321")
        page.get_by_role("button", name="Search").click()
        page.get_by_text("€2.50").wait_for()
