"""Setup in the browser: a look mended with one press, delivery and tax from nothing, a message in own words."""

from __future__ import annotations

import tempfile
from pathlib import Path

from django.test import override_settings

from cravik.catalogue.tests.photos import photo
from cravik.links.life.lifecycle import publish
from cravik.links.making.copies import make_link_of_item
from cravik.links.models import Link
from cravik.setup.models import Default, Look, Wording
from tests.browser.base import PHONE, BrowserTestCase, fill_in, open_editor
from tests.factories import BY, NOW, make_item, make_live


class SetupJourneyTest(BrowserTestCase):
    def setUp(self) -> None:
        super().setUp()
        self.folder = Path(self.enterContext(tempfile.TemporaryDirectory()))
        self.enterContext(override_settings(CRAVIK_PICTURES=self.folder / "pictures"))

    def test_the_example_of_tax_follows_what_is_typed(self) -> None:
        page = self.seller_page()
        page.goto("/setup/tax/")
        page.get_by_label("Prices include tax").check()
        page.get_by_label("Name", exact=True).fill("VAT")
        page.get_by_label("Per cent").fill("23")
        page.get_by_text("of which VAT 23 %").wait_for()
        page.get_by_text("and delivery, since no rate of this place").wait_for()
        page.get_by_label("Per cent").fill("2x")
        page.wait_for_timeout(700)
        page.get_by_text("of which VAT 23 %").wait_for()
        page.get_by_label("Exempt foreign businesses with a tax number").check()
        page.get_by_text("You owe the tax if it was wrongly left out.").wait_for()
        self.assert_accessible(page)

    def test_a_kit_with_a_failing_contrast_is_mended_by_one_press_and_worn(self) -> None:
        link = make_live(self.business)
        page = self.seller_page()
        page.goto("/")
        page.get_by_text(self.business.name).click()
        page.get_by_role("link", name="Setup").click()
        page.get_by_role("link", name="Looks").click()
        page.get_by_role("button", name="New look").click()
        sample = page.frame_locator("[data-sample]")
        page.get_by_label("Main button", exact=True).fill("#e2a53c")
        page.get_by_text("1 of 6 pairs is hard to read.").wait_for()
        page.get_by_label("A line on the band").fill("Made behind the dunes")
        sample.get_by_text("Made behind the dunes").wait_for()
        page.get_by_role("button", name="the nearest that passes").click()
        page.get_by_text("Every pair has a contrast").wait_for()
        mended = page.get_by_label("Words on the button", exact=True).input_value()
        self.assertNotEqual(mended, "#ffffff")
        self.assertEqual(page.get_by_label("Words on the button, by eye").input_value(), mended)
        page.get_by_label("Page, by eye").fill("#eef5f4")
        self.assertEqual(page.get_by_label("Page", exact=True).input_value(), "#eef5f4")
        logo = self.folder / "logo.png"
        logo.write_bytes(photo((400, 300), kind="PNG"))
        page.get_by_label("Logo", exact=True).set_input_files(str(logo))
        page.get_by_role("button", name="Save the look").click()
        page.get_by_text("Saved. Drafts use it at once.").wait_for()
        self.assertEqual(Look.objects.get().document["colours"]["button_text"], mended)
        self.assert_accessible(page)
        page.get_by_label(link.name).check()
        page.get_by_role("button", name="Show it in these").click()
        page.get_by_text("Buyers see it in 1 link now.").wait_for()
        buyer = self.new_page(PHONE)
        buyer.goto(link.path)
        buyer.get_by_text("Made behind the dunes").wait_for()
        colour = buyer.evaluate("getComputedStyle(document.querySelector('[data-pay-button]')).backgroundColor")
        self.assertEqual(colour, "rgb(226, 165, 60)")
        self.assertGreater(buyer.locator(".brand-logo").evaluate("each => each.naturalWidth"), 0)
        self.assert_accessible(buyer)

    def test_without_script_a_failing_pair_is_mended_too(self) -> None:
        page = self.seller_page(java_script_enabled=False)
        page.goto("/setup/looks/")
        page.get_by_role("button", name="New look").click()
        page.get_by_label("Links", exact=True).fill("#5aa9a2")
        page.get_by_label("At the foot of the page").fill("The shed")
        page.get_by_role("button", name="Save the look").click()
        page.get_by_role("button", name="the nearest that passes").click()
        page.get_by_text("Every pair has a contrast").wait_for()
        self.assertEqual(page.get_by_label("At the foot of the page").input_value(), "The shed")

    def test_delivery_and_tax_from_nothing_to_a_buyer_abroad(self) -> None:
        item = make_item(self.business, "Delta kite", 4800)
        page = self.seller_page()
        page.goto("/setup/?q=postage")
        page.get_by_role("link", name="Delivery", exact=True).first.click()
        page.get_by_label("By zones").check()
        zone = page.locator(".zone").first
        zone.get_by_label("Zone", exact=True).fill("At home")
        zone.get_by_label("Countries").fill("Ireland")
        zone.get_by_label("Charge", exact=True).first.fill("5")
        zone.get_by_label("Free from, if ever").fill("80")
        page.get_by_text("Add zone").click()
        other = page.locator(".zone").nth(1)
        other.get_by_label("Countries").fill("EU, gb")
        other.get_by_label("Charged").select_option("by_weight")
        for number, (start, charge) in enumerate((("0", "9"), ("500", "14"))):
            row = other.get_by_role("group").nth(number)
            row.get_by_label("From").fill(start)
            row.get_by_label("Charge").fill(charge)
        self.assertFalse(other.get_by_label("For the first").is_visible())
        page.get_by_role("button", name="Save").click()
        page.get_by_text("Saved. Drafts use it at once.").wait_for()
        page.goto("/setup/tax/")
        page.get_by_label("Tax is added to prices").check()
        rate = page.get_by_role("group", name="rate 1")
        rate.get_by_label("Name").fill("VAT")
        rate.get_by_label("Per cent").fill("23")
        page.get_by_role("button", name="Another rate").click()
        second = page.get_by_role("group", name="rate 2")
        second.get_by_label("Country").select_option("FR")
        second.get_by_label("Name").fill("TVA")
        second.get_by_label("Per cent").fill("20")
        page.get_by_role("button", name="Save").click()
        page.get_by_text("Saved. Drafts use it at once.").wait_for()
        self.assertEqual(Default.objects.count(), 2)
        link = publish(make_link_of_item(self.business, item, item.price, NOW, by=BY), NOW, by=BY)

        buyer = self.new_page(PHONE)
        buyer.goto(link.path)
        buyer.get_by_role("button", name="Pay €65.19").wait_for()
        fill_in(buyer)
        buyer.get_by_label("Street and number").fill("Rue du Vent 4")
        buyer.get_by_label("Postcode").fill("22310")
        buyer.get_by_label("Town").fill("Cerfville")
        buyer.get_by_label("Country").select_option("FR")
        buyer.get_by_role("button", name="Pay €68.40").wait_for()
        self.assertIn("delivery to France", buyer.locator("[data-piece=asks]").inner_text())
        self.assert_accessible(buyer)
        self.assert_fits(buyer)
        buyer.get_by_role("button", name="Pay €68.40").click()
        buyer.get_by_role("heading", name="Thank you").wait_for()
        slip = buyer.locator(".slip").inner_text()
        for part in ("Delivery", "€9.00", "TVA 20 %", "€11.40", "€68.40"):
            self.assertIn(part, slip)

    def test_a_link_takes_terms_of_its_own_on_the_bench(self) -> None:
        link = publish(make_live(self.business), NOW, by=BY)
        page = self.seller_page()
        page.goto(f"/links/{link.pk}/")
        open_editor(page, "sending-purpose")
        page.get_by_label("It is sent to the buyer").check()
        page.get_by_role("button", name="sent without a charge for delivery", exact=True).wait_for()
        page.get_by_text("Everything is saved.").wait_for()
        page.get_by_role("button", name="sent without a charge for delivery", exact=True).click()
        page.locator(".settings").get_by_role("link", name="Delivery").click()
        page.get_by_label("This link's own, below").check()
        page.get_by_label("By zones").check()
        page.get_by_label("Countries").first.fill("everywhere else")
        page.get_by_label("Charge", exact=True).first.fill("7.50")
        page.get_by_role("button", name="Save in the draft").click()
        page.locator(".phrase").get_by_text("sent anywhere for €7.50").wait_for()
        page.get_by_text("its own", exact=True).wait_for()
        self.assertTrue(Link.objects.get().has_unpublished_changes)

    def test_a_message_in_own_words(self) -> None:
        page = self.seller_page()
        page.goto("/setup/messages/receipt/")
        sample = page.frame_locator("[data-sample]")
        sample.get_by_role("heading", name="Thank you, Maren Saltmarsh").wait_for()
        page.get_by_label("Heading").fill("It flies, ")
        page.get_by_role("button", name="{buyer}", exact=True).click()
        sample.get_by_role("heading", name="It flies, Maren Saltmarsh").wait_for()
        page.get_by_label("The message").fill("{nobody}")
        page.get_by_role("button", name="Save the message").click()
        page.get_by_text("{nobody} stands for nothing in this message.").wait_for()
        page.get_by_label("The message").fill("Good winds!\n\n{slip}")
        page.get_by_role("button", name="Save the message").click()
        page.get_by_text("Future messages use this wording.").wait_for()
        self.assertEqual(Wording.objects.get().heading, "It flies, {buyer}")
        page.get_by_text("Default wording", exact=True).click()
        page.get_by_role("button", name="Use the default wording").click()
        page.get_by_text("The original message is back.").wait_for()
