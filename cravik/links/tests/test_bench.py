"""The bench with every kind of link: several lines, prices of every kind, gaps, and another currency."""

from __future__ import annotations

from typing import Any

from django.http import HttpResponse
from django.test import TestCase

from cravik.links import lifecycle
from cravik.links.models import Link
from tests.factories import NOW, MembershipFactory, make_item
from tests.links import line, make_link

LEVELS = {
    "kind": "levels",
    "levels": [{"key": "low", "name": "Low", "amount": "12.00"}, {"key": "high", "name": "High", "amount": "40.00"}],
}


class BenchOfEveryKindTest(TestCase):
    maxDiff = None

    def setUp(self) -> None:
        self.member = MembershipFactory()
        self.client.force_login(self.member.user)

    def link(self, *lines: dict[str, Any], **more: Any) -> Link:
        return make_link(*lines, business=self.member.business, published=False, **more)

    def save(self, link: Link, by_script: bool = True, **typed: str) -> HttpResponse:
        """The bench's form as it stands there, with what is typed."""
        page = self.client.get(f"/links/{link.pk}/")
        sheet = page.context["sheet"]
        sent = {name: form[name].value() for form in [sheet.form, *sheet.all_parts()] for name in form.fields}
        sent = {name: ("on" if value is True else value) for name, value in sent.items() if value not in (None, False)}
        headers = {"accept": "application/json"} if by_script else {}
        sent |= {name.replace("__", "."): value for name, value in typed.items()}
        return self.client.post(f"/links/{link.pk}/", sent, headers=headers)

    def test_a_former_price_is_set_refused_where_it_is_no_higher_and_taken_out(self) -> None:
        link = self.link()
        self.assertEqual(self.save(link, was__kite="30").status_code, 200)
        link.refresh_from_db()
        self.assertEqual(link.draft["offer"]["lines"][0]["price"], {"kind": "fixed", "amount": "24.00", "was": "30.00"})
        self.assertContains(self.client.get(f"/links/{link.pk}/"), "€24.00 instead of €30.00")
        page = self.client.get(f"/for/rehearsal/{link.pk}/")
        self.assertContains(page, '<s class="money">€30.00</s>')
        self.assertContains(page, "(20 %)")
        refused = self.save(link, was__kite="24")
        self.assertEqual((refused.status_code, list(refused.json()["errors"])), (400, ["was.kite"]))
        self.assertEqual(self.save(link, was__kite="3x").status_code, 400)
        self.save(link, was__kite=" ")
        link.refresh_from_db()
        self.assertEqual(link.draft["offer"]["lines"][0]["price"], {"kind": "fixed", "amount": "24.00"})

    def test_saving_drops_nothing_that_it_does_not_show(self) -> None:
        link = self.link(
            line(choices=[{"name": "Span", "options": [{"name": "1.2 m"}, {"name": "1.8 m"}]}]),
            line("patron", "Patron", price=LEVELS, optional=True),
            offer={"codes": [{"code": "GUST", "kind": "percent", "percent": "5"}]},
            limits={"orders": 40},
            labels=["market"],
            page={"words": "Sewn.", "button": "Order for {amount}"},
        )
        before = link.draft
        self.assertEqual(self.save(link).json()["revision"], 1)
        answer = self.save(link, amount__kite="26", name__patron="Friend", words="Sewn by hand.", ships__kite="on")
        self.assertEqual(answer.status_code, 200, answer.content)
        link.refresh_from_db()
        sold = link.draft["offer"]["lines"]
        self.assertEqual(
            sold,
            [
                before["offer"]["lines"][0] | {"price": {"kind": "fixed", "amount": "26.00"}, "ships": True},
                before["offer"]["lines"][1] | {"name": "Friend"},
            ],
        )
        rest = {key: value for key, value in link.draft.items() if key not in ("offer", "page")}
        self.assertEqual(rest, {key: value for key, value in before.items() if key not in ("offer", "page")})
        self.assertEqual(link.draft["page"], {"words": "Sewn by hand.", "button": "Order for {amount}"})
        self.assertEqual(link.draft["offer"]["codes"], before["offer"]["codes"])

    def test_another_currency_clears_what_was_in_the_former_one_and_says_so(self) -> None:
        link = self.link(
            line(),
            line("patron", "Patron", price=LEVELS),
            offer={"codes": [{"code": "FIVE", "kind": "amount", "amount": "5.00"}]},
            code_rules={"FIVE": {"uses": 2}},
        )
        told = self.save(link, by_script=False, currency="GBP", amount__kite="20")
        self.assertEqual(told.status_code, 302)
        page = self.client.get(f"/links/{link.pk}/")
        self.assertContains(page, "Cleared, because they were in EUR: the price of “Patron” and the code FIVE.")
        self.assertContains(page, "“Patron” has no price yet.")
        self.assertContains(page, "an amount")
        self.assertContains(self.client.get("/"), "no price yet")
        self.assertEqual(self.client.get(f"/links/{link.pk}/hand-out/").status_code, 200)
        self.assertEqual(self.client.get(f"/links/{link.pk}/button/").status_code, 404)
        self.assertContains(self.client.get(f"/for/rehearsal/{link.pk}/"), "The page is not finished")
        refused = self.client.post(f"/links/{link.pk}/publish/", follow=True)
        self.assertContains(refused, "Not published. “Patron” has no price yet.")
        link.refresh_from_db()
        self.assertEqual((link.draft["offer"]["currency"], link.effective), ("GBP", None))
        self.save(link, amount__kite="20", amount__patron="9")
        link.refresh_from_db()
        self.assertEqual([each.price.amount.major for each in link.offer.lines], ["20.00", "9.00"])
        self.assertEqual(lifecycle.publish(link, NOW).state, "live")

    def test_a_link_with_later_payments_is_rehearsed_and_not_published(self) -> None:
        plan = {"kind": "instalments", "every": {"count": 1, "unit": "month"}, "payments": 6}
        link = self.link(line(amount="600"), offer={"plan": plan})
        page = self.client.get(f"/links/{link.pk}/")
        self.assertContains(page, lifecycle.LATER_PAYMENTS)
        self.assertContains(page, "of which now")
        refused = self.client.post(f"/links/{link.pk}/publish/", follow=True)
        self.assertContains(refused, "Not published. Later payments are not collected yet")
        rehearsal = self.client.get(f"/for/rehearsal/{link.pk}/")
        self.assertContains(rehearsal, "Pay €100.00")
        self.assertContains(rehearsal, "and 1 more after that")

    def test_a_free_thing_can_be_saved(self) -> None:
        link = self.link(line(amount="0"))
        self.assertEqual(self.save(link, words="Yours.").status_code, 200)
        self.assertContains(self.client.get("/"), "free")

    def test_several_items_in_one_link_follow_each_by_itself(self) -> None:
        for code, name in (("DELTA", "Delta kite"), ("TAIL", "Tail")):
            make_item(self.member.business, name, 5000, code=code)
        link = make_link(
            line(),
            line("tail", "x", optional=True),
            business=self.member.business,
            items={"kite": "DELTA", "tail": "TAIL"},
        )
        page = self.client.get(f"/links/{link.pk}/")
        self.assertContains(page, "Name, words and pictures are those of the item", 2)
        self.assertContains(page, "Delta kite costs €50.00 now.")
        self.client.post(f"/links/{link.pk}/item-price/")
        link.refresh_from_db()
        self.assertEqual([each.price.amount.major for each in link.offer.lines], ["50.00", "50.00"])
        self.assertEqual(link.draft["items"], {"kite": "DELTA", "tail": "TAIL"})
