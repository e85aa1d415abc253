"""Links of every kind in the browser: accessible at each size, bought with and without script, rehearsed where a plan
has later payments."""

from __future__ import annotations

from typing import Any

from django.utils import timezone

from cravik.links.life.lifecycle import end_what_is_due
from cravik.links.models import LinePieces, Link
from cravik.orders.models import Order
from tests.browser.base import PHONE, BrowserTestCase, fill_in
from tests.links import line, make_link

LEVELS = {
    "kind": "levels",
    "levels": [{"key": "low", "name": "Breeze", "amount": "12"}, {"key": "high", "name": "Gale", "amount": "40"}],
}
OPEN = {"kind": "open", "min": "5", "max": None, "suggested": ["10", "20"]}
BREAKS = {"kind": "quantity", "method": "all_units", "breaks": [{"from": 1, "unit": "12"}, {"from": 10, "unit": "9"}]}
PLANS = {
    "kind": "choice",
    "of": [
        {"key": "now", "plan": {"kind": "once"}},
        {"key": "parts", "plan": {"kind": "instalments", "every": {"count": 1, "unit": "month"}, "payments": 6}},
    ],
}


class EveryKindTest(BrowserTestCase):
    def link(self, *lines: dict[str, Any], **more: Any) -> Link:
        return make_link(*lines, business=self.business, **more)

    def kite_and_tail(self) -> Link:
        span = {"name": "Span", "options": [{"name": "1.2 m", "add": "-6.00"}, {"name": "1.8 m"}]}
        return self.link(
            line(
                "kite", "Delta kite", "48.00", choices=[span], quantity={"default": 1, "min": 1, "max": 3}, ships=True
            ),
            line("tail", "Tail ribbon", "3.50", optional=True, quantity={"default": 5, "min": 1, "max": 20}),
            offer={"codes": [{"code": "WIND15", "kind": "percent", "percent": "15"}]},
            asks={"phone": "optional", "note": {"ask": "optional"}, "newsletter": "Tell me of new kites"},
            questions=[
                {"key": "name", "kind": "short_text", "label": "Name on the tail", "required": True},
                {"key": "colours", "kind": "several_of", "label": "Colours", "options": ["red", "blue"]},
                {"key": "sure", "kind": "yes_no", "label": "Is it a present?"},
            ],
        )

    def test_every_kind_is_accessible_at_each_size(self) -> None:
        soon = (timezone.now().replace(year=timezone.now().year + 1)).isoformat()
        past = (timezone.now().replace(year=timezone.now().year - 1)).isoformat()
        shown = [
            self.kite_and_tail(),
            self.link(line(price=LEVELS)),
            self.link(line(price=OPEN)),
            self.link(line(price=BREAKS, quantity={"default": 1, "min": 1, "max": None})),
            self.link(line(amount="0")),
            self.family_day(),
            self.link(limits={"opens_at": soon}),
            self.link(limits={"closes_at": past}),
        ]
        end_what_is_due(timezone.now())
        plans = self.link(line(amount="600"), offer={"plan": PLANS}, published=False)
        bench, rehearsal = f"/links/{plans.pk}/", f"/for/rehearsal/{plans.pk}/"
        sellers = [f"/links/{shown[0].pk}/", f"/links/{shown[0].pk}/hand-out/", bench, rehearsal, "/"]
        for opened, addresses in ((self.new_page, [link.path for link in shown]), (self.seller_page, sellers)):
            self.look_at_each(addresses, opened)

    def test_two_things_options_an_extra_a_code_and_questions_on_a_phone(self) -> None:
        page = self.new_page(PHONE)
        page.goto(self.kite_and_tail().path)
        page.get_by_role("button", name="Pay €42.00").wait_for()
        page.get_by_label("1.8 m").check()
        page.get_by_label("Add it").check()
        page.get_by_role("button", name="Pay €65.50").wait_for()
        page.get_by_label("Discount code").fill("storm")
        page.get_by_label("Your name").focus()
        page.get_by_text("valid here. Check the spelling.").wait_for()
        page.get_by_label("Discount code").fill("wind15")
        page.get_by_label("Your name").focus()
        page.get_by_role("button", name="Pay €55.67").wait_for()
        fill_in(page)
        page.get_by_label("Name on the tail").fill("Maren")
        page.get_by_label("red").check()
        page.get_by_label("Street and number").fill("2 Strand Lane")
        page.get_by_label("Town").fill("Marramport")
        page.get_by_role("button", name="Pay €55.67").click()
        page.get_by_role("heading", name="Thank you").wait_for()
        slip = page.locator(".slip").inner_text()
        for part in ("Delta kite, 1.8 m", "5 × Tail ribbon", "€9.83", "€55.67"):
            self.assertIn(part, slip)
        said = {each["key"]: each["answer"] for each in Order.objects.get().checkout.answers}
        self.assertEqual(said, {"name": "Maren", "colours": ["red"]})

    def test_quantity_by_buttons_and_keys_with_the_break_told(self) -> None:
        page = self.new_page(PHONE)
        page.goto(self.link(line(price=BREAKS, quantity={"default": 8, "min": 1, "max": 12})).path)
        page.get_by_text("10 cost less than 8: €90.00.").wait_for()
        page.get_by_role("button", name="One more").click()
        page.get_by_text("10 cost less than 9: €90.00.").wait_for()
        page.get_by_role("button", name="Pay €108.00").wait_for()
        page.get_by_label("How many").press("ArrowUp")
        page.get_by_role("button", name="Pay €90.00").wait_for()
        for _ in range(5):
            page.get_by_role("button", name="One more").click()
        self.assertEqual(page.get_by_label("How many").input_value(), "12")
        page.get_by_role("button", name="Pay €108.00").wait_for()

    def test_suggestions_levels_and_a_lost_connection(self) -> None:
        page = self.new_page(PHONE)
        page.goto(self.link(line(price=OPEN)).path)
        page.get_by_role("button", name="€20.00").click()
        page.get_by_role("button", name="Pay €20.00").wait_for()
        page.get_by_label("Your amount").fill("4")
        page.get_by_label("Your name").focus()
        page.get_by_text("The least is €5.00.").wait_for()
        page.context.set_offline(True)
        page.get_by_role("button", name="€10.00").click()
        page.get_by_text("There is no connection just now").wait_for()
        page.context.set_offline(False)
        page.get_by_role("button", name="€20.00").click()
        page.get_by_role("button", name="Pay €20.00").wait_for()
        self.assertFalse(page.get_by_text("There is no connection just now").is_visible())
        page.goto(self.link(line(price=LEVELS)).path)
        page.get_by_label("Gale").check()
        page.get_by_role("button", name="Pay €40.00").wait_for()

    def test_without_script_the_total_is_worked_out_by_a_button(self) -> None:
        page = self.new_page(PHONE, java_script_enabled=False)
        page.goto(self.link(line(price=OPEN, quantity={"default": 1, "min": 1, "max": 9})).path)
        page.get_by_label("Your amount").fill("7,50")
        page.get_by_label("How many").fill("2")
        page.get_by_role("button", name="Work out the total again").click()
        page.get_by_role("button", name="Pay €15.00").wait_for()
        fill_in(page)
        page.get_by_role("button", name="Pay €15.00").click()
        page.get_by_role("heading", name="Thank you").wait_for()
        self.assertEqual(Order.objects.get().paid.major, "15.00")

    def family_day(self) -> Link:
        """Twelve places for adults and two for children, of which a buyer takes any."""
        many = {"quantity": {"max": None}, "optional": True}
        limits = {"pieces": {"adult": 12, "child": 2}, "pieces_per_buyer": {"adult": 6}}
        return self.link(line("adult", "Adult", "14", **many), line("child", "Child", "6.50", **many), limits=limits)

    def test_places_stop_at_what_is_left_and_what_one_buyer_may_have(self) -> None:
        link = self.family_day()
        page = self.new_page(PHONE)
        page.goto(link.path)
        adult, child = page.get_by_role("group", name="Adult"), page.get_by_role("group", name="Child")
        adult.get_by_text("12 places.").wait_for()
        for _ in range(4):
            child.get_by_role("button", name="One more").click()
        self.assertEqual(child.get_by_label("How many").input_value(), "2")
        adult.get_by_label("How many").fill("7")
        page.get_by_label("Your name").focus()
        adult.get_by_text("At most 6 places a buyer.").wait_for()
        adult.get_by_label("How many").fill("1")
        page.get_by_label("Your name").focus()
        page.get_by_role("button", name="Pay €27.00").wait_for()
        self.assert_accessible(page)
        fill_in(page)
        page.get_by_role("button", name="Pay €27.00").click()
        page.get_by_role("heading", name="Thank you").wait_for()
        late = self.new_page(PHONE, java_script_enabled=False)
        late.goto(link.path)
        late.get_by_role("group", name="Child").get_by_text("Sold out.").wait_for()
        self.assertTrue(late.get_by_role("group", name="Child").get_by_label("How many").is_disabled())
        late.get_by_role("group", name="Adult").get_by_label("How many").fill("9")
        late.get_by_role("button", name="Work out the total again").click()
        late.get_by_text("At most 6 places a buyer.").wait_for()
        late.get_by_role("group", name="Adult").get_by_label("How many").fill("2")
        late.get_by_role("button", name="Work out the total again").click()
        fill_in(late, email="late@dunes.example")
        late.get_by_role("button", name="Pay €28.00").click()
        late.get_by_role("heading", name="Thank you").wait_for()
        taken = dict(LinePieces.objects.filter(link=link).values_list("line", "paid"))
        self.assertEqual(
            (taken, [each.paid.major for each in Order.objects.order_by("id")]),
            ({"adult": 3, "child": 2}, ["27.00", "28.00"]),
        )

    def test_what_is_free_asks_for_no_card(self) -> None:
        page = self.new_page(PHONE)
        page.goto(self.link(line(amount="0")).path)
        self.assertFalse(page.get_by_label("Card number").is_visible())
        page.get_by_label("Your name").fill("Maren")
        page.get_by_label("E-mail").fill("maren@dunes.example")
        page.get_by_role("button", name="Get it").click()
        page.get_by_text("There was nothing to pay").wait_for()

    def test_a_choice_of_plans_is_rehearsed_and_its_payments_are_listed(self) -> None:
        link = self.link(line(amount="600"), offer={"plan": PLANS}, published=False)
        page = self.seller_page()
        page.goto(f"/for/rehearsal/{link.pk}/")
        page.get_by_role("button", name="Pay €600.00").wait_for()
        page.get_by_label("In 6 equal parts").check()
        page.get_by_role("button", name="Pay €100.00").wait_for()
        page.get_by_text("then 5 × €100.00 on the").first.wait_for()
        fill_in(page)
        page.get_by_role("button", name="Pay €100.00").click()
        page.get_by_role("heading", name="Thank you").wait_for()
        order = Order.objects.get()
        self.assertEqual((order.rehearsal, order.paid.major, order.checkout.dues.count()), (True, "100.00", 6))
        page.goto(order.path)
        self.assertIn("and 1 more after that", page.locator(".slip").inner_text())
