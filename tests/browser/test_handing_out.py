"""A link is handed out: a spot is made, its code designed and scanned, its message sent; a handle is paid."""

from __future__ import annotations

import io

import zxingcpp
from django.test import override_settings
from PIL import Image
from playwright.sync_api import Page

from cravik.catalogue.tests.photos import photo
from cravik.links.models import Spot
from cravik.links.places.spots import first_spot, make_spot
from cravik.orders.models import Order
from cravik.setup.look_services import make_look
from cravik.share.handles import name_handle
from tests.browser.base import DESK, PHONE, BrowserTestCase, fill_in
from tests.factories import BY, NOW, make_live

#: Pixels a millimetre, as style sheets have it.
PIXELS = 96 / 25.4


def read_code(page: Page) -> list[str]:
    """What the QR code on the page says, once all of it is drawn."""
    code = page.locator(".qr")
    code.evaluate("image => image.decode()")
    return read(code.screenshot())


def read(picture: bytes) -> list[str]:
    return [found.text for found in zxingcpp.read_barcodes(Image.open(io.BytesIO(picture)))]


class HandingOutTest(BrowserTestCase):
    def hand_out(self, link_id: int, size: dict[str, int] = DESK) -> Page:
        page = self.seller_page(size)
        page.goto(f"/links/{link_id}/hand-out/")
        return page

    def test_a_spot_is_made_by_keys_alone_scanned_and_paid_at(self) -> None:
        link = make_live(self.business)
        with override_settings(CRAVIK_PUBLIC_ADDRESS=self.live_server_url):
            page = self.hand_out(link.pk)
            page.get_by_label("Where will it be?").focus()
            page.keyboard.type("Stall sign")
            page.keyboard.press("Enter")
            page.get_by_text("has its own address and code now").wait_for()
            (address,) = read_code(page)
        buyer = self.new_page(PHONE)
        buyer.goto(address)
        fill_in(buyer)
        buyer.get_by_role("button", name="Pay").click()
        buyer.get_by_text("Thank you").first.wait_for()
        self.assertEqual(Order.objects.get().spot.name, "Stall sign")
        page.goto(f"/links/{link.pk}/hand-out/?sort=money")
        page.locator(".spot-row", has_text="Stall sign").get_by_text("€24.00").wait_for()

    def test_a_code_is_tried_while_it_is_designed(self) -> None:
        spot = make_spot(make_live(self.business), "Stall sign", NOW, by=BY)
        page = self.seller_page()
        page.goto(f"/links/{spot.link_id}/spots/{spot.pk}/code/")
        page.get_by_text("of 66 tests").wait_for()
        page.get_by_label("Modules", exact=True).fill("#ffd500")
        page.get_by_text("It can't be used like this.").wait_for()
        page.get_by_text("The modules stand out from the ground by").wait_for()
        page.get_by_role("button", name="Save").click()
        page.get_by_text("Not saved: phones could not read").wait_for()
        self.assertEqual(page.get_by_label("Modules", exact=True).input_value(), "#ffd500")
        page.get_by_label("Modules", exact=True).fill("#4f6b2f")
        self.assertFalse(page.get_by_label("The word").is_visible())
        page.locator("#id_middle").select_option("word")
        page.get_by_label("The word").fill("Kite")
        page.get_by_label("Caption under it").fill("Scan to pay")
        page.locator("#id_middle").select_option("picture")
        page.get_by_label("A picture").set_input_files({"name": "a.jpg", "mimeType": "image/jpeg", "buffer": photo()})
        page.locator("[name=kept_picture]").wait_for(state="attached")
        page.get_by_label("Shape of the modules").select_option("dots")
        page.get_by_text("Scanned correctly in").wait_for()
        page.get_by_role("button", name="Save").click()
        page.get_by_text("Saved. What is printed already keeps working.").wait_for()
        self.assertEqual(read_code(page), [f"http://localhost:8000{spot.path}"])

    def test_an_svg_is_as_wide_as_it_says_and_scans(self) -> None:
        spot = first_spot(make_live(self.business))
        page = self.seller_page()
        for wide in (25, 40):
            page.goto(f"/links/{spot.link_id}/spots/{spot.pk}/code.svg?mm={wide}")
            box = page.evaluate(
                "(({width, height}) => [width, height])(document.documentElement.getBoundingClientRect())"
            )
            self.assertAlmostEqual(box[0] / PIXELS, wide, places=1)
            self.assertAlmostEqual(box[1] / PIXELS, wide, places=1)
            self.assertEqual(read(page.screenshot()), [f"http://localhost:8000{spot.path}"])

    def test_a_message_is_copied_and_a_mail_is_opened(self) -> None:
        link = make_live(self.business)
        page = self.hand_out(link.pk)
        page.context.grant_permissions(["clipboard-read", "clipboard-write"])
        page.get_by_role("button", name="Copy a message").click()
        page.get_by_text("Copied.").wait_for()
        spot = Spot.objects.get(channel="copy")
        said = f"Kite repair from {self.business.name}, €24.00: http://localhost:8000{spot.path}"
        self.assertEqual(page.evaluate("navigator.clipboard.readText()"), said)
        plain = self.seller_page(java_script_enabled=False)
        plain.goto(f"/links/{link.pk}/hand-out/")
        plain.get_by_role("button", name="Write an e-mail").click()
        href = plain.get_by_role("link", name="Open it").get_attribute("href") or ""
        self.assertTrue(href.startswith("mailto:?subject=Kite%20repair%20from%20"), href)

    def test_without_script_a_spot_is_moved_after_a_look(self) -> None:
        spot = make_spot(make_live(self.business), "Stall sign", NOW, by=BY)
        other = make_live(self.business, "Tail ribbon", 300)
        page = self.seller_page(PHONE, java_script_enabled=False)
        page.goto(f"/links/{spot.link_id}/spots/{spot.pk}/")
        page.get_by_role("link", name="Move to another link").click()
        page.get_by_role("link", name=other.name).click()
        page.get_by_text("What is printed stays valid").wait_for()
        page.get_by_role("button", name="Lead it there").click()
        page.get_by_text("Moved.").wait_for()
        self.assertEqual(Spot.objects.get(id=spot.pk).link, other)

    def test_a_handle_is_chosen_and_paid_with_a_sum(self) -> None:
        page = self.seller_page()
        page.goto("/setup/handle/")
        page.get_by_label("Your handle").fill("pay")
        page.get_by_text("“pay” is reserved.").wait_for()
        page.get_by_label("Your handle").fill("dunes")
        page.get_by_text("“dunes” is free.").wait_for()
        page.get_by_role("button", name="Use this handle").click()
        page.get_by_text("That is your handle now").wait_for()
        buyer = self.new_page(PHONE)
        buyer.goto("/to/dunes/12.50")
        buyer.get_by_label("What it is for").fill("The kite from Sunday")
        fill_in(buyer)
        buyer.get_by_role("button", name="Pay €12.50").click()
        buyer.get_by_text("Thank you").first.wait_for()
        self.assertEqual(Order.objects.get().paid.major, "12.50")

    def test_its_screens_are_accessible_and_fit(self) -> None:
        look = make_look(self.business, NOW, by=BY)
        link = make_live(self.business, "Ungewöhnlichlangerdrachenname" * 4)
        spot = make_spot(link, "Ungewöhnlichlangerort" * 3, NOW, by=BY)
        name_handle(self.business, "dunes-and-everything-behind-it", NOW, by=BY)
        own = f"/links/{link.pk}/spots/{spot.pk}"
        page = self.seller_page()
        page.context.grant_permissions(["clipboard-read", "clipboard-write"])
        page.goto(f"/links/{link.pk}/hand-out/")
        page.get_by_role("button", name="Copy a message").click()
        page.get_by_text("Copied.").wait_for()
        page.goto("/setup/domain/")
        page.get_by_label("Name", exact=True).fill("pay.windlestraw-kites-and-everything.example")
        page.get_by_role("button", name="Add it").click()
        addresses = (
            *(f"/links/{link.pk}/hand-out/", f"/links/{link.pk}/send/copy/", "/setup/domain/"),
            *(f"{own}/", f"{own}/code/", f"{own}/move/", f"/setup/looks/{look.pk}/code/"),
            *(f"{own}/button/", f"{own}/page/", f"{own}/page/?way=newsletter", "/setup/sites/"),
            *("/setup/handle/?amount=5&currency=EUR&lock=on", "/to/dunes-and-everything-behind-it/x"),
        )
        self.look_at_each(addresses, self.seller_page)
