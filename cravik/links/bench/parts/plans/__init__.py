"""When it is paid: one way, or several that the buyer picks from; and what is charged only once of what repeats."""

from __future__ import annotations

from dataclasses import dataclass, replace
from functools import cached_property
from typing import Any, ClassVar, cast

from django import forms
from django.utils import timezone

from cravik.core.documents.data import LineData, PlanChoiceData, PlanData, PriceData, put_or_drop
from cravik.core.documents.parts import MAX_LEVELS
from cravik.core.errors import BasketRefused
from cravik.core.pricing.basket import Basket
from cravik.core.pricing.default_basket import default_basket
from cravik.core.pricing.offer import Offer
from cravik.core.pricing.quote import LaterPayment, quote
from cravik.core.pricing.schedule import ChoicePlan, RepeatPlan, SimplePlan
from cravik.core.text.plan_words import plan_words
from cravik.core.text.schedule_words import schedule_words
from cravik.links.bench.changes import Change, DraftInHand
from cravik.links.bench.parts.base import BenchPart
from cravik.links.bench.parts.plans.form import PlanForm, shown_of
from cravik.links.places.naming import free_key
from cravik.ui.fields import form_rows

PlanRows = form_rows(PlanForm, MAX_LEVELS, 0)
#: The key that a row has until it is kept.
_NEW = "new"
#: So many payments are listed with their days before the rest is counted.
LISTED = 4


@dataclass(frozen=True)
class ShownPlan:
    """What the bench tells of a way to pay: what it is, what a buyer pays when, and the days of the first payments."""

    name: str
    words: str
    payments: tuple[LaterPayment, ...]
    #: What is said of those that are not listed.
    rest: str


class PlanPart(BenchPart):
    name = "plan"
    heading = "When it is paid"
    called = "Payment"
    found_by = "subscription monthly repeat instalments deposit trial"
    mark = "plans-TOTAL_FORMS"
    has_amounts = True
    template = "links/bench/plans/plan.html"
    phrases = ("plan",)
    pieces: ClassVar = {"plan": "links/bench/plans/_shown.html"}

    @property
    def is_shown(self) -> bool:
        return True

    def opens(self, phrase: str) -> bool:
        return super().opens(phrase) or phrase.endswith("].once")

    @property
    def lines(self) -> list[LineData]:
        lines: list[LineData] = self.link.draft["offer"]["lines"]
        return lines

    @property
    def before(self) -> PlanData:
        plan: PlanData | None = self.link.draft["offer"].get("plan")
        return plan or {"kind": "once"}

    def add_fields(self) -> None:
        priced = [
            (line["key"], line.get("name") or line["key"])
            for line in self.lines
            if line.get("price", {}).get("kind") == "fixed"
        ]
        plan = self.before
        initial = (
            [shown_of(each["plan"], each["key"], each.get("prices")) for each in plan["of"]]
            if plan["kind"] == "choice"
            else [shown_of(plan)]
        )
        self.add_rows("plans", PlanRows, initial, priced=priced)
        if len(self.lines) > 1:
            for line in self.lines:
                label = f"{line.get('name') or line['key']} is charged only with the first payment"
                self.fields[f"once.{line['key']}"] = forms.BooleanField(label=label, required=False)

    def read(self) -> dict[str, Any]:
        return {f"once.{line['key']}": line.get("once", False) for line in self.lines}

    @property
    def kept(self) -> list[PlanForm]:
        """The rows that count."""
        return cast(list[PlanForm], self.lists["plans"].kept)

    def check(self) -> None:
        rows = self.kept
        for row in rows:
            if not row.has_error("kind"):
                row.plan_kind.check(row, self.amount)
            own = [name for name in row.fields if name.startswith("price_") and row.cleaned_data.get(name)]
            for name in own:
                self.amount(row, name)
                if len(rows) == 1:
                    row.add_error(name, "Change the price itself: there is only one way to pay.")
        if len(rows) > 1 and not any(row.errors for row in rows):
            self._check_twins(rows)
        once = [line["key"] for line in self.lines if self.cleaned_data.get(f"once.{line['key']}")]
        for row in rows:
            for line in once:
                if row.cleaned_data.get("kind") == "repeat" and row.cleaned_data.get(f"first_{line}"):
                    row.add_error(f"first_{line}", "It is charged once, so it has no first price.")
        if len(once) == len(self.lines) and any(row.cleaned_data.get("kind") == "repeat" for row in rows):
            self.add_error(f"once.{once[-1]}", "Something has to be charged each time.")

    def _check_twins(self, rows: list[PlanForm]) -> None:
        seen: list[PlanChoiceData] = []
        for row in rows:
            way: PlanChoiceData = {"plan": row.plan_kind.piece(row, self.amount), "prices": row.prices(self.amount)}
            if way in seen:
                row.add_error("kind", "This way to pay is listed twice.")
            seen.append(way)

    @property
    def piece(self) -> dict[str, Any]:
        plans: list[PlanChoiceData] = []
        for row in self.kept:
            plan = row.plan_kind.piece(row, self.amount)
            key, taken = row.cleaned_data["key"], [each["key"] for each in plans]
            if key in ("", _NEW, *taken):
                key = free_key(plan["kind"], taken, "plan")
            prices = self._with_kept(row.prices(self.amount), key)
            plans.append(put_or_drop(PlanChoiceData(key=key, plan=plan), prices=prices))
        once = [line["key"] for line in self.lines if self._is_once(line)]
        return {"plans": plans, "once": once}

    def _is_once(self, line: LineData) -> bool:
        """What was ticked of the line; what stands alone has no box, and stays as it is."""
        name = f"once.{line['key']}"
        return bool(self.cleaned_data.get(name) if name in self.fields else line.get("once"))

    def _with_kept(self, prices: dict[str, PriceData], key: str) -> dict[str, PriceData]:
        """The own prices of a plan; one whose amount is as it was keeps what else its document says of it."""
        former = next((each.get("prices", {}) for each in self.before.get("of", []) if each["key"] == key), {})
        return {
            line: former[line] if line in former and former[line].get("amount") == price["amount"] else price
            for line, price in prices.items()
        }

    @classmethod
    def put(cls, draft: DraftInHand, change: Change) -> None:
        """The only way is the plan; several are a choice. Once is said by nothing."""
        plans, once = change.piece["plans"], change.piece["once"]
        plan: PlanData = {"kind": "choice", "of": plans} if len(plans) > 1 else plans[0]["plan"] if plans else {}
        is_once = plan.get("kind", "once") == "once"
        lines = [put_or_drop(line, once=line["key"] in once) for line in draft.lines]
        draft.put(offer=put_or_drop(draft.document["offer"], plan=None if is_once else plan, lines=lines))

    @cached_property
    def shown(self) -> list[ShownPlan]:
        """What is told of each way to pay, while the draft has a sum."""
        if self.link.effective is None:
            return []
        offer, today = replace(self.link.offer, window=None), timezone.localdate()
        basket = default_basket(offer, today, self.link.business.country)
        if isinstance(offer.plan, ChoicePlan):
            shown = [self._shown_plan(offer, replace(basket, plan=each.key), each.plan) for each in offer.plan.of]
        else:
            shown = [self._shown_plan(offer, basket, offer.plan)]
        return [each for each in shown if each]

    def _shown_plan(self, offer: Offer, basket: Basket, plan: SimplePlan) -> ShownPlan | None:
        try:
            quoted = quote(offer, basket)
        except BasketRefused:
            return None
        payments = (LaterPayment(basket.on, quoted.due_now), *quoted.schedule) if quoted.schedule else ()
        words = schedule_words(plan, quoted, basket.on)
        more = len(payments) - LISTED
        has_no_end = isinstance(plan, RepeatPlan) and plan.payments is None
        rest = "and so on" if has_no_end else f"and {more} more" if more > 0 else ""
        return ShownPlan(plan_words(plan), words[:1].upper() + words[1:], payments[:LISTED], rest)
