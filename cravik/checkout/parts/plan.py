"""When it is paid, where the buyer has a choice; how much now of what has a deposit; and whether they cover the fee."""

from __future__ import annotations

from typing import Any, ClassVar

from django import forms

from cravik.checkout.parts.base import OrderPart, one_of, parse_typed_amount, tick
from cravik.core.english import listed
from cravik.core.pricing.schedule import ChoicePlan, DepositPlan, PlanChoice, simple_plans
from cravik.core.text.money_text import format_money
from cravik.core.text.plan_words import plan_words


class PlanPart(OrderPart):
    name = "plan"
    template = "checkout/parts/plan.html"
    decides = True
    refused_at: ClassVar = {"plan": "plan", "pay_now": "pay_now", "cover_fee": "cover_fee"}
    refusals: ClassVar = {
        "plan_missing": "Choose when to pay.",
        "plan_unknown": "Choose one of these.",
        "pay_now_out_of_range": "Between the deposit and the whole sum; the bound is {limit}.",
        "cover_not_offered": "The card fee cannot be covered here.",
    }

    def add_fields(self) -> None:
        offer = self.offered.offer
        if isinstance(offer.plan, ChoicePlan):
            choices = [(choice.key, self._words(choice)) for choice in offer.plan.of]
            self.fields["plan"] = one_of("When you pay", choices)
        if any(isinstance(plan, DepositPlan) and plan.buyer_may_pay_more for plan in simple_plans(offer.plan)):
            self.fields["pay_now"] = forms.CharField(
                label=f"What you pay now, in {offer.currency}",
                required=False,
                max_length=60,
                help_text="Leave it empty to pay the deposit. You may pay more now, up to all of it.",
                widget=forms.TextInput(attrs={"inputmode": "decimal", "autocomplete": "off", "class": "is-short"}),
            )
        if offer.fee and offer.fee.buyer_may_cover:
            self.fields["cover_fee"] = tick("I pay the card fee as well, so that all of the price arrives")

    def supposed(self) -> dict[str, str]:
        plan = self.offered.offer.plan
        return {"plan": plan.of[0].key} if isinstance(plan, ChoicePlan) else {}

    def basket(self) -> dict[str, Any]:
        fields: dict[str, Any] = {"cover_fee": True} if self.text("cover_fee") == "yes" else {}
        if plan := self.text("plan"):
            fields["plan"] = plan[:200]
        if pay_now := self.text("pay_now"):
            fields["pay_now"] = parse_typed_amount(pay_now, self.offered.offer.currency, "pay_now")
        return fields

    def _words(self, choice: PlanChoice) -> str:
        plan, locale = choice.plan, self.offered.locale
        deposit = ""
        if isinstance(plan, DepositPlan):
            deposit = (
                f"{plan.percent.text} %" if plan.percent else format_money(plan.amount, locale) if plan.amount else ""
            )
        own = listed([format_money(price.amount, locale) for price in choice.prices.values()], "and")
        words = plan_words(plan, deposit) + (f", {own}" if own else "")
        return words[:1].upper() + words[1:]
