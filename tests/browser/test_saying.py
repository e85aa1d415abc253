"""What is said: questions answered by a press, changes of a link and of many, by keys and without a script."""

from __future__ import annotations

from playwright.sync_api import Page

from cravik.links.models import Link
from tests.browser.base import BrowserTestCase
from tests.browser.test_making import Hands
from tests.factories import make_live


class SayingTest(BrowserTestCase):
    def type_offer(self, text: str) -> Page:
        page = self.seller_page()
        page.goto("/links/new/")
        page.locator("#id_said").fill(text)
        return page

    def test_a_question_is_answered_by_a_press_which_undo_takes_back(self) -> None:
        page = self.type_offer("Concert 20, doors 7")
        page.get_by_text("What is “doors 7”?").wait_for()
        page.get_by_text("The page appears here").wait_for()  # none is shown while something is asked
        self.assert_accessible(page)
        page.set_viewport_size({"width": 320, "height": 640})
        self.assertLessEqual(page.evaluate("document.documentElement.scrollWidth"), 320)
        page.get_by_role("button", name="keep this as a note").click()
        page.get_by_text("still to do: doors 7").wait_for()
        page.keyboard.press("Control+z")
        page.get_by_text("What is “doors 7”?").wait_for()
        self.assertEqual(page.locator("#id_said").input_value(), "Concert 20, doors 7")
        page.get_by_role("button", name="keep this as a note").click()
        page.get_by_text("still to do: doors 7").wait_for()
        page.locator("#id_said").press("Enter")
        page.get_by_text("Still to do: doors 7").wait_for()
        page.get_by_role("button", name="Done: doors 7").click()
        page.get_by_text("Still to do: doors 7").wait_for(state="hidden")

    def test_ten_changes_are_said_in_two_acts_each(self) -> None:
        link = make_live(self.business, "Delta kite", 4800)
        page = self.seller_page()
        said = {
            "52": "€48.00 → €52.00",
            "was 60": "€60.00",
            "up to 3": "up to 3",
            "in red or blue (+4)": "red or blue",
            "10% off with EARLY until Friday": "EARLY",
            "12 places": "12",
            "until 1 March": "until 2 Mar",
            "ask for allergies": "Allergies",
            "58 from 1 February": "€58.00",
            "drop the first question": "Allergies",
        }
        seconds = 0.0
        page.goto(f"/links/{link.pk}/")
        for text, words in said.items():
            hands = Hands(page)
            hands.type("c")
            page.locator("#id_change_said:focus").wait_for()
            hands.type(text)
            page.locator(".said-changes").get_by_text(words).first.wait_for()
            hands.type("", then="Enter")
            page.get_by_text(f"Done: {text}").wait_for()
            seconds += hands.seconds
            self.assertLessEqual(hands.acts, 3, text)
        self.assertLessEqual(seconds / len(said), 10)
        link.refresh_from_db()
        line, asked = link.offer.lines[0], link.draft.get("questions", [])
        self.assertEqual((line.price.amount.major, line.price.was.major, line.quantity.max), ("52.00", "60.00", 3))  # type: ignore[union-attr]
        self.assertEqual((asked, len(link.draft["steps"])), ([], 1))
        self.assert_accessible(page)

    def test_a_change_is_shown_on_a_phone_and_its_examples_are_found(self) -> None:
        link = make_live(self.business, "Delta kite", 4800)
        page = self.seller_page()
        page.goto(f"/links/{link.pk}/")
        page.get_by_text("Examples", exact=True).click()
        page.get_by_label("Find an example").fill("code")
        self.assertEqual(page.locator(".say-examples li:visible").count(), 2)
        page.get_by_role("button", name="10% off with EARLY until Friday").click()
        page.get_by_text("code EARLY added").wait_for()
        self.assert_accessible(page)
        page.set_viewport_size({"width": 320, "height": 640})
        self.assertLessEqual(page.evaluate("document.documentElement.scrollWidth"), 320)
        page.set_viewport_size({"width": 1280, "height": 800})
        page.locator("#id_change_said").fill("tail 5")
        page.get_by_role("button", name="Yes", exact=True).click()
        page.get_by_text("more, if wanted").wait_for()

    def test_what_is_said_in_the_band_is_done_to_many_once_it_was_seen(self) -> None:
        for name in ("Beach kite", "Beach mat", "Bowl"):
            make_live(self.business, name, 2000)
        page = self.seller_page()
        page.goto("/orders/")
        page.locator("#band-q").fill("everything up 5 %")
        page.keyboard.press("Enter")
        page.get_by_text("is about 3 links").wait_for()
        self.assert_accessible(page)
        page.locator("#band-q").fill("pause the beach ones until tomorrow")
        page.keyboard.press("Enter")
        page.get_by_text("is about 2 links").wait_for()
        page.get_by_role("button", name="Preview changes").click()
        self.assertEqual(page.get_by_text("live → paused until").count(), 2)
        page.get_by_role("button", name="Pause them until then").click()
        page.get_by_text("2 links paused").wait_for()
        self.assertEqual(Link.objects.filter(state="paused").count(), 2)

    def test_it_all_goes_without_a_script(self) -> None:
        page = self.seller_page(java_script_enabled=False)
        page.goto("/links/new/")
        page.locator("#id_said").fill("Concert 20, doors 7")
        page.get_by_role("button", name="Create draft").first.click()
        page.get_by_role("button", name="keep this as a note").click()
        self.assertEqual(page.locator("#id_said").input_value(), "Concert 20, note “doors 7”")
        page.get_by_role("button", name="Create draft").first.click()
        page.get_by_text("Still to do:").wait_for()
        page.locator("#id_change_said").fill("24, until 1 March")
        page.get_by_role("button", name="Show what would change").click()
        page.get_by_role("button", name="€20.00 again").click()
        page.get_by_text("€20.00 → €24.00").wait_for()
        page.get_by_role("button", name="Change it").click()
        page.get_by_text("Done: 24.00 until 1 March, then 20.00").wait_for()
        self.assertEqual(Link.objects.get().offer.lines[0].price.amount.major, "24.00")  # type: ignore[union-attr]
