"""Plans made on the bench and paid in a rehearsal, undone and mended, and the table of cases beside them."""

from __future__ import annotations

from playwright.sync_api import Page

from cravik.links.models import Link
from cravik.orders.models import Order
from tests.browser.base import PHONE, BrowserTestCase, fill_in, open_editor
from tests.links import line, make_link


class PlansTest(BrowserTestCase):
    def bench(self, *lines: dict[str, object], **offer: object) -> tuple[Page, Link]:
        link = make_link(*lines, business=self.business, published=False, offer=offer)
        page = self.seller_page()
        page.goto(f"/links/{link.pk}/")
        return page, link

    def saved(self, page: Page) -> None:
        page.get_by_text("Not saved yet").wait_for(state="hidden")
        page.get_by_text("Everything is saved.").wait_for()

    def rehearse(self, page: Page, link: Link, now: str, told: str, pick: str = "") -> None:
        """Pay the draft's page as a buyer would, on a phone."""
        buyer = self.seller_page(PHONE)
        buyer.goto(f"/for/rehearsal/{link.pk}/")
        if pick:
            buyer.locator(f"input[name=plan][value={pick}]").check()
        buyer.get_by_text(told).first.wait_for()
        self.assert_accessible(buyer)
        fill_in(buyer)
        buyer.get_by_role("button", name=now).click()
        buyer.get_by_role("heading", name="Thank you").wait_for()
        self.assertTrue(Order.objects.latest("id").rehearsal)
        buyer.context.close()

    def test_each_plan_is_made_and_rehearsed(self) -> None:
        page, link = self.bench(line(amount="600"))
        open_editor(page, "plan")
        kind = page.get_by_label("It is paid")
        kind.select_option("instalments")
        page.get_by_label("In how many parts").fill("6")
        page.get_by_text("then 5 × €100.00").first.wait_for()
        self.saved(page)
        self.rehearse(page, link, "Pay €100.00", "then 5 × €100.00 on the")
        kind.select_option("repeat")
        page.get_by_text("then €600.00 on the").first.wait_for()
        self.saved(page)
        self.rehearse(page, link, "Pay €600.00", "until it is ended; €7,200.00 for the first year")
        page.get_by_label("Free at first for").fill("14")
        page.get_by_text("Nothing today").first.wait_for()
        self.saved(page)
        buyer = self.seller_page(PHONE)
        buyer.goto(f"/for/rehearsal/{link.pk}/")
        buyer.get_by_role("button", name="Begin").wait_for()
        kind.select_option("deposit")
        page.get_by_text("€180.00 today and €420.00 on").first.wait_for()
        self.saved(page)
        self.rehearse(page, link, "Pay €180.00", "and €420.00 on")
        page.get_by_role("button", name="Another way to pay").click()
        page.get_by_label("It is paid").nth(1).select_option("once")
        page.get_by_label("Price", exact=True).nth(1).fill("570")
        self.saved(page)
        self.assert_accessible(page)
        self.rehearse(page, link, "Pay €570.00", "€600.00 in all, €30.00 more than “Once”", pick="once")
        page.get_by_role("button", name="Publish").first.click()
        page.get_by_text("live").first.wait_for()
        link.refresh_from_db()
        self.assertEqual(link.state, "live")

    def test_what_was_changed_is_undone_and_done_again_by_key(self) -> None:
        page, _ = self.bench(line(name="Kites"))
        page.locator(".phrase[data-phrase^=price]").click()
        page.get_by_label("Amount").fill("31")
        self.saved(page)
        page.get_by_role("button", name="Undo: Price").wait_for()
        page.get_by_role("heading", level=1).click()
        page.keyboard.press("Control+z")
        page.get_by_role("button", name="€24.00", exact=True).wait_for()
        page.get_by_role("button", name="Redo: Price").wait_for()
        page.keyboard.press("Control+Shift+z")
        page.get_by_role("button", name="€31.00", exact=True).wait_for()

    def test_advice_stands_beside_its_phrase_and_is_mended(self) -> None:
        breaks = [{"from": 1, "unit": "12"}, {"from": 10, "unit": "10.50"}]
        price = {"kind": "quantity", "method": "all_units", "breaks": breaks}
        page, link = self.bench(line(price=price, quantity={"max": None}))
        page.locator(".advice-box > summary").click()
        page.locator(".advices").get_by_text("10 cost 105.00 EUR, 9 cost 108.00 EUR.").wait_for()
        self.assert_accessible(page)
        page.get_by_role("button", name="Price each piece at the step that it falls in").click()
        page.get_by_text("for the first 9").first.wait_for()
        self.assertEqual(page.locator(".advice-box").count(), 0)
        link.refresh_from_db()
        self.assertEqual(link.draft["offer"]["lines"][0]["price"]["method"], "incremental")

    def test_the_table_of_cases_answers_while_it_is_filled_in(self) -> None:
        page, link = self.bench(line(quantity={"max": 9}), codes=[{"code": "GUST", "kind": "percent", "percent": "10"}])
        table = page.locator("#what-if")
        table.get_by_label("How many").fill("3")
        table.get_by_text("€72.00").first.wait_for()
        table.get_by_role("button", name="Another case").click()
        table.get_by_label("Code").nth(1).select_option("GUST")
        table.get_by_text("€64.80").first.wait_for()
        page.locator(".phrase[data-phrase^=price]").click()
        page.get_by_label("Amount").fill("30")
        table.get_by_text("€81.00").first.wait_for()  # the draft's change reaches the table
        page.reload()
        table.get_by_text("€81.00").first.wait_for()
        link.refresh_from_db()
        self.assertEqual(len(link.what_if), 2)
        self.assert_fits(page)
