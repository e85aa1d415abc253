"""Links of each kind made on the bench and bought on the page, with the acts that it takes counted.

Times are those of the keystroke-level model (Card, Moran and Newell, 1980) for a practised seller: 0.2 s a key,
1.1 s to point, 0.1 s to press or let go of the button, 0.4 s to move the hand, 1.35 s to think before each act.
"""

from __future__ import annotations

from playwright.sync_api import Locator, Page, expect

from cravik.links.models import Link
from cravik.orders.models import Order
from tests.browser.base import PHONE, BrowserTestCase, fill_in, open_editor
from tests.factories import make_item
from tests.links import make_link


class Hands:
    """What a seller's hands do: each act is done on the page, and counted with its time."""

    KEY, POINT, CLICK, MOVE, THINK = 0.2, 1.1, 0.2, 0.4, 1.35

    def __init__(self, page: Page) -> None:
        self.page = page
        self.acts = 0
        self.seconds = 0.0
        self._on_keys = False

    def click(self, what: Locator) -> None:
        self._act(self.POINT + self.CLICK + (self.MOVE if self._on_keys else 0))
        self._on_keys = False
        what.click()

    def type(self, text: str, *, then: str = "") -> None:
        """Type into what has the focus; ``then`` is a key that is pressed after it."""
        keys = len(text) + bool(then)
        self._act(keys * self.KEY + (0 if self._on_keys else self.MOVE))
        self._on_keys = True
        self.page.wait_for_load_state("domcontentloaded")  # a field has the focus before the scripts are there
        self.page.keyboard.type(text)
        if then:
            self.page.keyboard.press(then)

    def _act(self, seconds: float) -> None:
        self.acts += 1
        self.seconds += seconds + self.THINK


class MakingTest(BrowserTestCase):
    def begin(self) -> tuple[Page, Hands]:
        page = self.seller_page()
        page.goto("/")
        hands = Hands(page)
        hands.click(page.get_by_role("link", name="New link"))
        page.locator("#id_said:focus").wait_for()
        return page, hands

    def saved(self, page: Page) -> None:
        page.get_by_text("Not saved yet").wait_for(state="hidden")
        page.get_by_text("Everything is saved.").wait_for()

    def publish(self, page: Page, hands: Hands) -> str:
        hands.click(page.get_by_role("button", name="Publish").first)
        hands.click(page.get_by_role("button", name="Copy the address"))
        return str(page.locator("#address").get_attribute("href"))

    def buy(self, address: str, total: str) -> None:
        buyer = self.new_page(PHONE)
        buyer.goto(address)
        buyer.get_by_role("button", name=f"Pay {total}").wait_for()
        fill_in(buyer)
        buyer.get_by_role("button", name=f"Pay {total}").click()
        buyer.get_by_role("heading", name="Thank you").wait_for()

    def test_a_said_line_is_a_published_link_in_four_acts_and_twelve_seconds(self) -> None:
        page, hands = self.begin()
        hands.type("Kite repair 24", then="Control+Enter")
        hands.click(page.get_by_role("button", name="Copy the address"))
        self.buy(str(page.locator("#address").get_attribute("href")), "€24.00")
        self.assertLessEqual(hands.acts, 4)
        self.assertLessEqual(hands.seconds, 12)

    def test_what_is_typed_is_understood_named_and_shown_as_a_page(self) -> None:
        page, _ = self.begin()
        page.keyboard.type("48 for a Delta kite, up too 3")
        page.get_by_text("What is “up too 3”?").wait_for()
        self.assert_accessible(page)
        page.keyboard.press("Enter")
        page.get_by_text("What is “up too 3”?").wait_for()
        self.assertEqual(page.get_by_label("Say what you sell").input_value(), "48 for a Delta kite, up too 3")
        page.get_by_role("button", name="600 for a commission in 6 monthly instalments").click()
        page.get_by_text("paid in 6 equal parts, every month").first.wait_for()
        shown = page.frame_locator("iframe")
        shown.get_by_text("then 5 × €100.00 on the").first.wait_for()
        page.get_by_label("Say what you sell").fill("Kite repair 24\nSpar set 12, form 3 10\nTail 9")
        page.get_by_role("button", name="Make the 2 that are understood").click()
        page.get_by_text("2 drafts are made").wait_for()
        self.assertEqual(page.get_by_label("Say what you sell").input_value(), "Spar set 12, form 3 10")
        self.assertEqual(sorted(Link.objects.values_list("name", flat=True)), ["Kite repair", "Tail"])
        page.get_by_label("Say what you sell").fill("Tail 10")
        page.get_by_role("button", name="Create draft").first.dblclick()
        page.get_by_role("button", name="€10.00", exact=True).wait_for()
        self.assertEqual(Link.objects.count(), 3)

    def test_a_plain_link_takes_six_acts_and_its_copy_with_another_price_four(self) -> None:
        page, hands = self.begin()
        hands.type("Kite repair 24", then="Enter")
        page.get_by_role("button", name="€24.00", exact=True).wait_for()
        self.buy(self.publish(page, hands), "€24.00")
        self.assertLessEqual(hands.acts, 4)
        self.assertLessEqual(hands.seconds, 20)
        page.goto(f"/links/{Link.objects.get().pk}/")
        hands = Hands(page)
        hands.click(page.get_by_role("button", name="Make a copy"))
        page.get_by_text("Here is the copy").wait_for()
        page.locator("[name^='amount.']:focus").wait_for()
        hands.type("31")
        self.saved(page)
        hands.click(page.get_by_role("button", name="Publish").first)
        page.get_by_role("button", name="Copy the address").wait_for()
        self.assertEqual(
            [link.offer.lines[0].price.amount.major for link in Link.objects.order_by("id")], ["24.00", "31.00"]
        )
        self.assertLessEqual(hands.acts, 4)
        self.assertLessEqual(hands.seconds, 10)

    def test_what_one_wants_with_three_suggestions(self) -> None:
        page, hands = self.begin()
        hands.type("Festival fund, what you want, suggest 10, 20, 50", then="Enter")
        address = self.publish(page, hands)
        buyer = self.new_page(PHONE)
        buyer.goto(address)
        buyer.get_by_role("button", name="€20.00").click()
        buyer.get_by_role("button", name="Pay €20.00").wait_for()
        fill_in(buyer)
        buyer.get_by_role("button", name="Pay €20.00").click()
        buyer.get_by_role("heading", name="Thank you").wait_for()
        self.assertLessEqual(hands.seconds, 30)

    def test_breaks_with_four_rows(self) -> None:
        page, hands = self.begin()
        hands.type("Sled kites 14", then="Enter")
        hands.click(page.get_by_label("Kind of price"))
        page.get_by_label("Kind of price").select_option("quantity")
        page.get_by_role("button", name="Another row").wait_for()
        for start, unit in (("10", "12.5"), ("25", "11"), ("60", "9.8")):
            hands.click(page.get_by_role("button", name="Another row"))
            hands.type(start, then="Tab")
            page.keyboard.type(unit)
            hands.seconds += len(unit) * hands.KEY
        self.saved(page)
        page.get_by_text("54 to 59 cost more than 60, which cost €588.00.").wait_for()
        self.assert_accessible(page)
        page.reload()
        self.assertEqual(page.get_by_label("Each", exact=True).count(), 4)
        self.buy(self.publish(page, hands), "€14.00")
        self.assertLessEqual(hands.seconds, 45)

    def test_two_things_an_extra_and_options_with_a_code(self) -> None:
        make_item(self.business, "Tail ribbon", 350, code="TAIL")
        page, hands = self.begin()
        hands.type("Delta kite 48", then="Enter")
        hands.click(page.locator(".add-subject > summary"))
        hands.click(page.locator(".add-menu").get_by_role("button", name="Options"))
        page.get_by_label("What buyers choose").fill("Span")
        page.get_by_label("Option", exact=True).fill("1.2 m")
        page.get_by_label("Adds").fill("-6")
        page.get_by_role("button", name="Add an option").first.click()
        page.keyboard.type("1.8 m")
        page.locator(".phrase").get_by_text("1.2 m (€6.00 less) or 1.8 m").wait_for()
        open_editor(page, "things")
        page.keyboard.type("tail")
        page.locator('#item-names option[value="Tail ribbon"]').wait_for(state="attached")
        page.keyboard.type(" ribbon")
        page.get_by_label("An extra").last.check()
        page.get_by_role("button", name="Add it").dblclick()  # which adds it once
        page.locator(".phrase").get_by_text("if wanted").wait_for()
        self.assertEqual(len(Link.objects.get().draft["offer"]["lines"]), 2)
        open_editor(page, "codes")
        page.keyboard.type("WIND15")
        page.keyboard.press("Tab")
        page.keyboard.type("15")
        page.get_by_text("15 % less").wait_for()
        page.get_by_role("button", name="After", exact=True).click()
        page.frame_locator("iframe").get_by_role("heading", name="Thank you, Maren Vetch").wait_for()
        address = self.publish(page, hands)
        buyer = self.new_page(PHONE)
        buyer.goto(f"{address}?code=WIND15")
        buyer.get_by_role("button", name="Pay €35.70").wait_for()
        buyer.get_by_label("Add it").check()
        buyer.get_by_role("button", name="Pay €38.67").wait_for()
        fill_in(buyer)
        buyer.get_by_label("Street and number").fill("2 Strand Lane")
        buyer.get_by_label("Town").fill("Marramport")
        buyer.get_by_role("button", name="Pay €38.67").click()
        buyer.get_by_role("heading", name="Thank you").wait_for()
        self.assertIn("15 % with WIND15", buyer.locator(".slip").inner_text())
        self.assertEqual(Order.objects.get().checkout.line.code.paid, 1)

    def test_a_key_in_a_text_that_is_opened_replaces_nothing_and_end_is_asked_once(self) -> None:
        link = make_link(business=self.business, after={"message": "Thank you.\n\nSee you on the beach."})
        page = self.seller_page()
        page.goto(f"/links/{link.pk}/")
        open_editor(page, "after")
        message = page.get_by_label("Message", exact=True)
        expect(message).to_be_focused()
        page.keyboard.type("x")
        self.assertEqual(len(message.input_value()), len("Thank you.\n\nSee you on the beach.x"))
        page.get_by_text("More", exact=True).click()
        page.get_by_text("End", exact=True).click()
        page.get_by_text("Nobody can pay through it any more").wait_for()
        self.assert_accessible(page)
        self.assertEqual(Link.objects.get().state, "live", "one press ends nothing")
        page.get_by_role("button", name="End it").click()
        page.get_by_text("Ended. Anyone who had").wait_for()
        page.get_by_role("button", name="Resume").click()
        page.get_by_text("Live again.").wait_for()

    def test_a_choice_that_was_not_saved_comes_back_after_a_reload_too(self) -> None:
        page, hands = self.begin()
        hands.click(page.get_by_text("Use a form instead"))
        hands.click(page.get_by_label("What is it for?"))
        hands.type("Class set")
        page.get_by_label("Kind of price").select_option("quantity")
        page.get_by_role("button", name="Create draft").last.click()
        other = page.get_by_label("Each unit at the price of the row that it falls in")
        other.wait_for()
        page.context.set_offline(True)
        other.check()
        page.get_by_text("no connection").wait_for()
        page.context.set_offline(False)
        page.on("dialog", lambda dialog: dialog.accept())
        page.reload()
        page.get_by_text("Everything is saved.").wait_for()
        self.assertTrue(other.is_checked())
        self.assertEqual(Link.objects.get().draft["offer"]["lines"][0]["price"]["method"], "incremental")
        self.complaints.clear()

    def test_it_is_saved_where_the_browser_keeps_nothing(self) -> None:
        page, hands = self.begin()
        refused = "throw new DOMException('refused', 'SecurityError')"
        page.add_init_script(f"Object.defineProperty(window, 'localStorage', {{ get() {{ {refused}; }} }})")
        hands.click(page.get_by_text("Use a form instead"))
        hands.click(page.get_by_label("What is it for?"))
        hands.type("Class set")
        hands.click(page.get_by_label("Amount", exact=True).first)
        hands.type("12")
        page.get_by_role("button", name="Create draft").last.click()
        page.get_by_label("Amount", exact=True).first.fill("15")
        page.get_by_text("Everything is saved.").wait_for()
        self.assertEqual(Link.objects.get().draft["offer"]["lines"][0]["price"]["amount"], "15.00")

    def test_rows_that_were_not_saved_come_back_after_a_reload(self) -> None:
        page, hands = self.begin()
        hands.click(page.get_by_text("Use a form instead"))
        hands.click(page.get_by_label("What is it for?"))
        hands.type("Patron")
        page.get_by_label("Kind of price").select_option("levels")
        page.get_by_role("button", name="Create draft").last.click()
        page.get_by_label("Level", exact=True).first.wait_for()
        page.context.set_offline(True)
        page.get_by_role("button", name="Another level").click()
        page.keyboard.type("Storm")
        page.get_by_text("no connection").wait_for()
        page.context.set_offline(False)
        page.on("dialog", lambda dialog: dialog.accept())
        page.reload()
        page.get_by_text("Everything is saved.").wait_for()
        self.assertEqual(page.get_by_label("Level", exact=True).nth(2).input_value(), "Storm")
        self.assertEqual(
            [level.get("name") for level in Link.objects.get().draft["offer"]["lines"][0]["price"]["levels"]],
            [None, None, "Storm"],
        )
