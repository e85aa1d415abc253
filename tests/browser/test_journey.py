"""From nothing to a first payment, and back to what the seller sees of it."""

from __future__ import annotations

from cravik.journal.models import Visit
from cravik.links.models import Link
from cravik.orders.models import Order
from cravik.payments.counter.models import CounterCharge
from tests.browser.base import NARROW, PHONE, BrowserTestCase, fill_in, open_business, open_editor
from tests.factories import make_live


class FirstPaymentTest(BrowserTestCase):
    def test_an_offer_travels_the_whole_way(self) -> None:
        seller = self.seller_page()
        seller.goto("/")
        self.press_keys(seller, "n")
        seller.get_by_label("Say what you sell").fill("Kite repair 24")
        seller.get_by_role("button", name="Create draft").click()
        seller.get_by_role("button", name="€24.00", exact=True).wait_for()

        rehearsal = seller.frame_locator("iframe")
        rehearsal.get_by_label("Your name").fill("Orla")
        rehearsal.get_by_label("E-mail").fill("orla@dunes.example")
        rehearsal.get_by_label("Card number").fill("9000000000000019")
        rehearsal.get_by_label("Expiry").fill("09/31")
        rehearsal.get_by_label("Security code").fill("123")
        rehearsal.get_by_role("button", name="Pay €24.00").click()
        rehearsal.get_by_text("No order was counted").wait_for()

        seller.get_by_role("button", name="Publish").click()
        seller.get_by_role("button", name="Copy the address").wait_for()
        address = seller.locator("#address").get_attribute("href")
        seller.get_by_role("link", name="QR code and button").click()
        seller.frame_locator("iframe").get_by_role("link", name="Pay €24.00 for Kite repair").wait_for()

        buyer = self.new_page(PHONE)
        buyer.goto(address)
        fill_in(buyer, card="9000000000001017")
        buyer.get_by_role("button", name="Pay €24.00").click()
        buyer.get_by_text("not enough money on this card").wait_for()
        self.assertEqual(buyer.get_by_label("Your name").input_value(), "Maren Saltmarsh")
        fill_in(buyer)
        buyer.get_by_role("button", name="Pay €24.00").click()
        buyer.get_by_role("heading", name="Thank you, Maren Saltmarsh").wait_for()
        buyer.reload()
        buyer.get_by_role("heading", name="Thank you, Maren Saltmarsh").wait_for()
        self.assertEqual(buyer.context.cookies(), [])

        seller.goto("/")
        row = seller.locator(".link-row")
        self.assertIn("€24.00\nlast paid just now", row.inner_text())
        self.assertEqual(row.locator("dd").all_inner_texts(), ["1", "1", "1", "1"])
        self.press_keys(seller, "go")
        seller.get_by_text("Maren Saltmarsh").wait_for()
        seller.get_by_text("1 rehearsal is not shown").wait_for()
        self.press_keys(seller, "gm")
        seller.get_by_role("link", name="Your receipt from", exact=False).first.click()
        seller.frame_locator("iframe").get_by_role("heading", name="Thank you").wait_for()

        link = Link.objects.get()
        seller.goto(f"/links/{link.pk}/")
        seller.get_by_text("More", exact=True).click()
        seller.get_by_role("button", name="Pause").click()
        seller.get_by_text("Paused. Anyone who had").wait_for()
        buyer.goto(address)
        buyer.get_by_role("heading", name="Back soon").wait_for()

    def test_the_first_start_leads_to_a_first_link(self) -> None:
        self.user.delete()
        page = self.new_page()
        page.goto("/")
        open_business(page)
        page.get_by_role("heading", name="New link").wait_for()


class BuyerTest(BrowserTestCase):
    def setUp(self) -> None:
        super().setUp()
        self.link = make_live(self.business)

    def test_without_a_script_the_page_pays_just_the_same(self) -> None:
        page = self.new_page(NARROW, java_script_enabled=False)
        page.goto(self.link.path)
        fill_in(page, card="9000000000000018")
        page.get_by_role("button", name="Pay €24.00").click()
        self.assertIn("check digit does not fit", page.content())
        fill_in(page)
        page.get_by_role("button", name="Pay €24.00").click()
        self.assertIn("Thank you, Maren Saltmarsh", page.content())

    def test_pressing_again_and_again_pays_once(self) -> None:
        page = self.new_page()
        page.goto(self.link.path)
        fill_in(page, card="9000000000002015")
        page.evaluate("for (let i = 0; i < 5; i++) document.querySelector('[data-pay-button]').click()")
        page.get_by_role("heading", name="Thank you").wait_for()
        self.assertEqual((Order.objects.count(), CounterCharge.objects.count()), (1, 1))

    def test_going_back_and_paying_again_leads_to_the_receipt_or_asks(self) -> None:
        page = self.new_page()
        page.goto(self.link.path)
        fill_in(page)
        page.get_by_role("button", name="Pay €24.00").click()
        page.get_by_role("heading", name="Thank you").wait_for()
        page.go_back()
        fill_in(page)
        page.get_by_role("button", name="Pay €24.00").click()
        page.get_by_text("Thank you").or_(page.get_by_text("You paid for this a moment ago")).first.wait_for()
        self.assertEqual(CounterCharge.objects.count(), 1)

    def test_two_tabs_of_one_buyer_are_asked_about(self) -> None:
        one = self.new_page()
        one.goto(self.link.path)
        two = one.context.new_page()
        two.goto(self.link.path)
        for page in (one, two):
            fill_in(page)
            page.get_by_role("button", name="Pay €24.00").click()
            page.get_by_role("heading", name="Thank you").or_(page.get_by_text("You paid for this")).first.wait_for()
        self.assertEqual(Order.objects.count(), 1)
        two.get_by_label("Yes, I want to pay a second time.").check()
        two.get_by_label("Security code").fill("123")
        two.get_by_role("button", name="Pay €24.00").click()
        two.get_by_role("heading", name="Thank you").wait_for()
        self.assertEqual(Order.objects.count(), 2)

    def test_typing_is_noted_as_started(self) -> None:
        page = self.new_page()
        page.goto(self.link.path)
        with page.expect_response("**/for/visit/started/"):
            page.get_by_label("Your name").press_sequentially("Ma")
        self.assertEqual(Visit.objects.get().rung, 2)

    def test_everything_can_be_done_with_the_keyboard_alone(self) -> None:
        page = self.new_page()
        page.goto(self.link.path)
        reached = []
        for _ in range(12):
            page.keyboard.press("Tab")
            reached.append(page.evaluate("document.activeElement.name || document.activeElement.textContent.trim()"))
            typed = {
                "name": "Maren",
                "email": "m@dunes.example",
                "card_number": "9000000000000019",
                "expiry": "0931",
                "security_code": "123",
            }
            if reached[-1] in typed:
                page.keyboard.type(typed[reached[-1]])
            if reached[-1].startswith("Pay"):
                page.keyboard.press("Enter")
                break
        page.get_by_role("heading", name="Thank you, Maren").wait_for()
        fields = [name for name in reached if name in ("name", "email", "card_number", "expiry", "security_code")]
        self.assertEqual(fields, ["name", "email", "card_number", "expiry", "security_code"])


class BenchTest(BrowserTestCase):
    def setUp(self) -> None:
        super().setUp()
        self.link = make_live(self.business)
        self.bench = f"/links/{self.link.pk}/"

    def test_what_is_typed_is_saved_by_itself_and_shown(self) -> None:
        page = self.seller_page()
        page.goto(self.bench)
        page.get_by_role("button", name="€24.00", exact=True).click()
        page.keyboard.type("30")
        page.get_by_text("Everything is saved.").wait_for()
        page.get_by_role("button", name="€30.00", exact=True).wait_for()
        page.frame_locator("iframe").get_by_role("button", name="Pay €30.00").wait_for()
        page.get_by_text("€29.30").first.wait_for()
        page.get_by_label("Amount").fill("1,234")
        page.get_by_text("can be read in two ways").wait_for()
        page.get_by_label("Amount").fill("31")
        page.keyboard.press("Control+Enter")
        page.get_by_text("Published. This is what buyers see now.").wait_for()
        self.link.refresh_from_db()
        self.assertEqual(self.link.version.offer.lines[0].price.amount.minor, 3100)

    def test_a_second_tab_is_told_and_loses_nothing(self) -> None:
        one = self.seller_page()
        one.goto(self.bench)
        two = one.context.new_page()
        two.goto(self.bench)
        one.get_by_label("Amount").fill("30")
        one.get_by_text("Everything is saved.").wait_for()
        one.get_by_role("button", name="€30.00", exact=True).wait_for()
        two.get_by_label("Amount").fill("40")
        two.get_by_text("changed in another tab").wait_for()
        self.assertEqual(two.get_by_label("Amount").input_value(), "40")

    def test_a_lost_connection_keeps_what_was_typed(self) -> None:
        page = self.seller_page()
        page.goto(self.bench)
        page.context.set_offline(True)
        open_editor(page, "words")
        page.get_by_label("Description", exact=True).fill("Sewn by hand.")
        page.get_by_text("no connection").wait_for()
        page.context.set_offline(False)
        page.get_by_text("Everything is saved.").wait_for()
        self.link.refresh_from_db()
        self.assertEqual(self.link.draft["page"]["words"], "Sewn by hand.")
        self.complaints.clear()

    def test_without_a_script_the_bench_saves_too(self) -> None:
        page = self.seller_page(java_script_enabled=False)
        page.goto(self.bench)
        page.get_by_label("Amount").fill("30")
        page.get_by_role("button", name="Save").click()
        self.assertIn("Saved.", page.content())

    def test_phrases_are_stepped_through_with_keys(self) -> None:
        page = self.seller_page()
        page.goto(self.bench)
        page.keyboard.press("]")
        self.assertEqual(page.evaluate("document.activeElement.textContent"), "€24.00")
        page.keyboard.press("]")
        page.keyboard.press("Enter")
        self.assertEqual(page.evaluate("document.activeElement.name"), "title")
