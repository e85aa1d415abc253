"""The ways to pay that a seller chooses among, one a class: its fields, what they show, and the plan that they say.

``PLAN_KINDS`` is the list that everything goes by. The fields of all of them stand in one row of the form, each named
after its kind; only those of the chosen kind count.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import Any, ClassVar

from django import forms

from cravik.core.documents.data import EveryData, PriceData, SimplePlanData, put_or_drop
from cravik.core.pricing.money import Money
from cravik.links.bench.parts.base import refuse_if_missing
from cravik.ui.fields import AmountField, CountField, clean_percent

_TRIALS = [("day", "days"), ("month", "months")]
_MOST_MONTHS = 120
_UNITS = [("day", "days"), ("week", "weeks"), ("month", "months"), ("year", "years")]
#: Reads an amount that was typed into a field of the row, or tells there why it cannot.
ReadAmount = Callable[[forms.Form, str], Money | None]


class PlanRow(forms.Form):
    """The row of the form that the fields of all kinds stand in. ``priced`` are the lines with one fixed price, by key
    and name: each may cost something else with a way to pay, or at first."""

    priced: Sequence[tuple[str, str]] = ()

    @property
    def firsts(self) -> list[forms.BoundField]:
        """What the first payments of what repeats cost."""
        return [self[f"first_{line}"] for line, _ in self.priced]

    def prices(self, read_amount: ReadAmount) -> dict[str, PriceData]:
        """What lines cost with it instead of their own prices, as documents have it."""
        return self._amounts("price", read_amount)

    def first_prices(self, read_amount: ReadAmount) -> dict[str, PriceData]:
        """What they cost with the first payments, as documents have it."""
        return self._amounts("first", read_amount)

    def _amounts(self, of: str, read_amount: ReadAmount) -> dict[str, PriceData]:
        amounts = {line: read_amount(self, f"{of}_{line}") for line, _ in self.priced}
        return {line: {"kind": "fixed", "amount": each.major} for line, each in amounts.items() if each is not None}


class PlanKind:
    """A way to pay. ``read`` gives what the fields show of a plan, or of none, without the kind before their names;
    ``check`` tells at the row's fields what is wrong, and ``piece`` is the plan of a row that was checked."""

    kind: ClassVar[str]
    label: ClassVar[str]

    def named(self, name: str) -> str:
        return f"{self.kind}_{name}"

    def fields(self) -> dict[str, forms.Field]:
        return {}

    def read(self, plan: SimplePlanData) -> dict[str, Any]:
        return {}

    def check(self, row: PlanRow, read_amount: ReadAmount) -> None:
        """Tell at its fields what is wrong or missing."""

    def piece(self, row: PlanRow, read_amount: ReadAmount) -> SimplePlanData:
        return {"kind": self.kind}


class OnceKind(PlanKind):
    kind = "once"
    label = "Once"


class _SteppedKind(PlanKind):
    """Something that comes back in even steps of time."""

    def step_fields(self) -> dict[str, forms.Field]:
        return {
            "every": CountField(label="Every", most=1000),
            "unit": forms.ChoiceField(label="Of what", choices=_UNITS, initial="month", required=False),
        }

    def read_step(self, plan: SimplePlanData) -> dict[str, Any]:
        every = plan.get("every") or {"count": 1, "unit": "month"}
        return {"every": every["count"], "unit": every["unit"]}

    def step(self, row: forms.Form) -> EveryData:
        typed = row.cleaned_data
        return {"count": typed.get(self.named("every")) or 1, "unit": typed.get(self.named("unit")) or "month"}


class RepeatKind(_SteppedKind):
    kind = "repeat"
    label = "Repeatedly"

    def fields(self) -> dict[str, forms.Field]:
        return self.step_fields() | {
            "payments": CountField(
                label="How many times", most=1200, help_text="Leave blank to repeat until cancelled."
            ),
            "trial": CountField(label="Free at first for", least=0, most=3650),
            "trial_unit": forms.ChoiceField(label="Days or months", choices=_TRIALS, initial="day", required=False),
            "first": CountField(
                label="First payments at another price", most=1200, help_text="How many; the price stands beside it."
            ),
        }

    def read(self, plan: SimplePlanData) -> dict[str, Any]:
        return self.read_step(plan) | {
            "payments": plan.get("payments") or "",
            "trial": plan.get("trial_months") or plan.get("trial_days") or "",
            "trial_unit": "month" if plan.get("trial_months") else "day",
            "first": (plan.get("first") or {}).get("payments") or "",
        }

    def check(self, row: PlanRow, read_amount: ReadAmount) -> None:
        typed = row.cleaned_data
        if typed.get(self.named("trial_unit")) == "month" and (typed.get(self.named("trial")) or 0) > _MOST_MONTHS:
            row.add_error(self.named("trial"), f"A trial is {_MOST_MONTHS:,} months at most.")
        many, prices, payments = self._first(row), row.first_prices(read_amount), typed.get(self.named("payments"))
        if prices and payments and (many or 1) >= payments:
            words = f"There are {payments:,} payments; {payments - 1:,} at the most can be at another price."
            row.add_error(self.named("first"), words)
        if many and not prices and row.firsts:
            row.add_error(row.firsts[0].name, "Say what the first payments cost.")

    def piece(self, row: PlanRow, read_amount: ReadAmount) -> SimplePlanData:
        typed = row.cleaned_data
        payments, trial, prices = (
            typed.get(self.named("payments")),
            typed.get(self.named("trial")),
            row.first_prices(read_amount),
        )
        months = typed.get(self.named("trial_unit")) == "month"
        return put_or_drop(
            SimplePlanData(kind=self.kind, every=self.step(row)),
            payments=payments,
            trial_months=trial if months else None,
            trial_days=trial if not months else None,
            first={"payments": self._first(row) or 1, "prices": prices} if prices else None,
        )

    def _first(self, row: PlanRow) -> int | None:
        many: int | None = row.cleaned_data.get(self.named("first"))
        return many


class InstalmentsKind(_SteppedKind):
    kind = "instalments"
    label = "In equal parts"

    def fields(self) -> dict[str, forms.Field]:
        return {"payments": CountField(label="In how many parts", most=1200)} | self.step_fields()

    def read(self, plan: SimplePlanData) -> dict[str, Any]:
        return self.read_step(plan) | {"payments": plan.get("payments") or 3}

    def check(self, row: PlanRow, read_amount: ReadAmount) -> None:
        refuse_if_missing(row, self.named("payments"), "Say in how many parts.")

    def piece(self, row: PlanRow, read_amount: ReadAmount) -> SimplePlanData:
        payments = row.cleaned_data[self.named("payments")]
        return {"kind": self.kind, "every": self.step(row), "payments": payments}


class DepositKind(PlanKind):
    kind = "deposit"
    label = "A deposit, and the rest later"

    def fields(self) -> dict[str, forms.Field]:
        return {
            "now": AmountField(label="Deposit", help_text="An amount, or a part such as 30 %."),
            "rest_after_days": CountField(label="The rest after days", least=0, most=3650),
            "rest_on": forms.DateField(
                label="Or on this day",
                required=False,
                help_text="If you set a day, the number of days is ignored.",
                widget=forms.DateInput(attrs={"type": "date"}, format="%Y-%m-%d"),
                error_messages={"invalid": "Write a day, such as 2027-03-01."},
            ),
            "more": forms.BooleanField(label="Buyers may pay more of it at once", required=False),
        }

    def read(self, plan: SimplePlanData) -> dict[str, Any]:
        percent = f"{plan['percent']} %" if plan.get("percent") else ""
        return {
            "now": percent or plan.get("amount") or "30 %",
            "rest_after_days": "" if plan.get("rest_on") else plan.get("rest_after_days", 30),
            "rest_on": plan.get("rest_on") or "",
            "more": plan.get("buyer_may_pay_more", False),
        }

    def check(self, row: PlanRow, read_amount: ReadAmount) -> None:
        if not refuse_if_missing(row, self.named("now"), "Say how much is paid at once."):
            self._deposit(row, read_amount)
        if not row.cleaned_data.get(self.named("rest_on")) and not row.has_error(self.named("rest_on")):
            refuse_if_missing(row, self.named("rest_after_days"), "Say after how many days, or on which day.")

    def _deposit(self, row: PlanRow, read_amount: ReadAmount) -> SimplePlanData:
        name = self.named("now")
        if "%" in row.cleaned_data[name]:
            percent = clean_percent(row, name)
            return {"percent": percent.text} if percent else {}
        amount = read_amount(row, name)
        return {"amount": amount.major} if amount is not None else {}

    def piece(self, row: PlanRow, read_amount: ReadAmount) -> SimplePlanData:
        deposit: SimplePlanData = {"kind": self.kind, **self._deposit(row, read_amount)}
        if day := row.cleaned_data.get(self.named("rest_on")):
            deposit["rest_on"] = day.isoformat()
        else:
            deposit["rest_after_days"] = row.cleaned_data[self.named("rest_after_days")]
        return put_or_drop(deposit, buyer_may_pay_more=row.cleaned_data.get(self.named("more")))


#: By their names, in the order in which a seller chooses among them.
PLAN_KINDS: dict[str, PlanKind] = {
    each.kind: each for each in (OnceKind(), RepeatKind(), InstalmentsKind(), DepositKind())
}
