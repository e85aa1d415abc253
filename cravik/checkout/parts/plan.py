"""When it is paid, where the buyer has a choice; how much now of what has a deposit; and whether they cover the fee."""

from __future__ import annotations

from typing import Any, ClassVar, NamedTuple

from django import forms

from cravik.checkout.parts.base import OrderPart, PricedBasket, one_of, parse_typed_amount, tick
from cravik.core.english import listed
from cravik.core.pricing.schedule import ChoicePlan, DepositPlan, PlanChoice, RepeatPlan, simple_plans
from cravik.core.text.money_text import format_money
from cravik.core.text.plan_words import first_words, plan_words
from cravik.core.text.schedule_words import PlanCost, plan_costs


class PlanOption(NamedTuple):
    """A plan to pick, in words, and what it costs in all."""

    key: str
    words: str
    cost: str


class PlanPart(OrderPart):
    name = "plan"
    template = "checkout/parts/plan.html"
    step = "How to pay"
    decides = True
    refused_at: ClassVar = {"plan": "plan", "pay_now": "pay_now", "cover_fee": "cover_fee"}
    refusals: ClassVar = {
        "plan_missing": "Choose when to pay.",
        "plan_unknown": "Choose one of these.",
        "pay_now_out_of_range": "Pay between the deposit and the whole sum; the limit is {limit}.",
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
                help_text="Leave blank to pay the deposit. You can pay more now, up to the full amount.",
                widget=forms.TextInput(attrs={"inputmode": "decimal", "autocomplete": "off", "class": "is-short"}),
            )
        if offer.fee and offer.fee.buyer_may_cover:
            self.fields["cover_fee"] = tick("I'll pay the card fee too, so that the seller gets the full price")

    def initial_values(self) -> dict[str, str]:
        plan = self.offered.offer.plan
        return {"plan": plan.of[0].key} if isinstance(plan, ChoicePlan) else {}

    def basket(self) -> dict[str, Any]:
        fields: dict[str, Any] = {"cover_fee": True} if self.text("cover_fee") == "yes" else {}
        if plan := self.text("plan"):
            fields["plan"] = plan[:200]
        if pay_now := self.text("pay_now"):
            fields["pay_now"] = parse_typed_amount(pay_now, self.offered.offer.currency, "pay_now")
        return fields

    def options(self, picked: PricedBasket | None) -> list[PlanOption]:
        """The plans to pick from, each with what it costs in all for what is picked."""
        plan = self.offered.offer.plan
        if not isinstance(plan, ChoicePlan):
            return []
        costs = plan_costs(picked.offer, picked.basket) if picked else {}
        return [PlanOption(each.key, self._words(each), self._cost(costs.get(each.key))) for each in plan.of]

    def texts(self, picked: PricedBasket | None) -> dict[str, str]:
        return {f"plan-{option.key}": option.cost for option in self.options(picked)}

    def _words(self, choice: PlanChoice) -> str:
        locale = self.offered.locale
        repeats = isinstance(choice.plan, RepeatPlan)  # of any other, what it is in all says as much
        own = [format_money(price.amount, locale) for price in choice.prices.values()] if repeats else []
        first = first_words(choice.plan, {line.key: line.name for line in self.offered.offer.lines}, locale)
        words = ", ".join(filter(None, (plan_words(choice.plan, locale), listed(own, "and"), first)))
        return words[:1].upper() + words[1:]

    def _cost(self, cost: PlanCost | None) -> str:
        if cost is None:
            return ""
        plan, locale = self.offered.offer.plan, self.offered.locale
        of_all = f"{format_money(cost.in_all.amount, locale)} {'a year' if cost.in_all.of_a_year else 'in all'}"
        if cost.more is None or not isinstance(plan, ChoicePlan):
            return of_all
        cheapest = plan.choice(cost.cheapest)
        than = f" than “{self._words(cheapest)}”" if cheapest else ""
        return f"{of_all}, {format_money(cost.more, locale)} more{than}"
