"""The ways to pay that a seller chooses among, one a class: its fields, what they show, and the plan that they say.

``PLAN_KINDS`` is the list that everything goes by. The fields of all of them stand in one row of the form, each named
after its kind; only those of the chosen kind count.
"""

from __future__ import annotations

from collections.abc import Callable
from typing import Any, ClassVar

from django import forms

from cravik.core.pricing.money import Money
from cravik.links.bench.changes import Document
from cravik.links.bench.parts.base import told_of_missing
from cravik.ui.fields import AmountField, CountField, clean_percent

_UNITS = [("day", "days"), ("week", "weeks"), ("month", "months"), ("year", "years")]
#: Reads an amount that was typed into a field of the row, or tells there why it cannot.
ReadAmount = Callable[[forms.Form, str], Money | None]


class PlanKind:
    """A way to pay. ``read`` gives what the fields show of a plan, or of none, without the kind before their names;
    ``check`` tells at the row's fields what is wrong, and ``piece`` is the plan of a row that was checked."""

    kind: ClassVar[str]
    label: ClassVar[str]

    def named(self, name: str) -> str:
        return f"{self.kind}_{name}"

    def fields(self) -> dict[str, forms.Field]:
        return {}

    def read(self, plan: Document) -> dict[str, Any]:
        return {}

    def check(self, row: forms.Form, read_amount: ReadAmount) -> None:
        """Tell at its fields what is wrong or missing."""

    def piece(self, row: forms.Form, read_amount: ReadAmount) -> Document:
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

    def read_step(self, plan: Document) -> dict[str, Any]:
        every = plan.get("every") or {"count": 1, "unit": "month"}
        return {"every": every["count"], "unit": every["unit"]}

    def step(self, row: forms.Form) -> Document:
        typed = row.cleaned_data
        return {"count": typed.get(self.named("every")) or 1, "unit": typed.get(self.named("unit")) or "month"}


class RepeatKind(_SteppedKind):
    kind = "repeat"
    label = "Again and again"

    def fields(self) -> dict[str, forms.Field]:
        return self.step_fields() | {
            "payments": CountField(label="How many times", most=1200, help_text="Empty: until it is ended."),
            "trial_days": CountField(label="Days of trial first", least=0, most=3650),
        }

    def read(self, plan: Document) -> dict[str, Any]:
        return self.read_step(plan) | {
            "payments": plan.get("payments") or "",
            "trial_days": plan.get("trial_days") or "",
        }

    def piece(self, row: forms.Form, read_amount: ReadAmount) -> Document:
        payments = row.cleaned_data.get(self.named("payments"))
        trial = row.cleaned_data.get(self.named("trial_days"))
        said: Document = {"kind": self.kind, "every": self.step(row)}
        return said | ({"payments": payments} if payments else {}) | ({"trial_days": trial} if trial else {})


class InstalmentsKind(_SteppedKind):
    kind = "instalments"
    label = "In equal parts"

    def fields(self) -> dict[str, forms.Field]:
        return {"payments": CountField(label="In how many parts", most=1200)} | self.step_fields()

    def read(self, plan: Document) -> dict[str, Any]:
        return self.read_step(plan) | {"payments": plan.get("payments") or 3}

    def check(self, row: forms.Form, read_amount: ReadAmount) -> None:
        told_of_missing(row, self.named("payments"), "Say in how many parts.")

    def piece(self, row: forms.Form, read_amount: ReadAmount) -> Document:
        payments = row.cleaned_data[self.named("payments")]
        return {"kind": self.kind, "every": self.step(row), "payments": payments}


class DepositKind(PlanKind):
    kind = "deposit"
    label = "A deposit, and the rest later"

    def fields(self) -> dict[str, forms.Field]:
        return {
            "now": AmountField(label="Deposit", help_text="An amount, or a part such as 30 %."),
            "rest_after_days": CountField(label="The rest after days", least=0, most=3650),
            "more": forms.BooleanField(label="Buyers may pay more of it at once", required=False),
        }

    def read(self, plan: Document) -> dict[str, Any]:
        percent = f"{plan['percent']} %" if plan.get("percent") else ""
        return {
            "now": percent or plan.get("amount") or "30 %",
            "rest_after_days": plan.get("rest_after_days", 30),
            "more": plan.get("buyer_may_pay_more", False),
        }

    def check(self, row: forms.Form, read_amount: ReadAmount) -> None:
        if not told_of_missing(row, self.named("now"), "Say how much is paid at once."):
            self._deposit(row, read_amount)
        told_of_missing(row, self.named("rest_after_days"), "Say after how many days.")

    def _deposit(self, row: forms.Form, read_amount: ReadAmount) -> Document:
        name = self.named("now")
        if "%" in row.cleaned_data[name]:
            percent = clean_percent(row, name)
            return {"percent": percent.text} if percent else {}
        amount = read_amount(row, name)
        return {"amount": amount.major} if amount is not None else {}

    def piece(self, row: forms.Form, read_amount: ReadAmount) -> Document:
        more = {"buyer_may_pay_more": True} if row.cleaned_data.get(self.named("more")) else {}
        days = row.cleaned_data[self.named("rest_after_days")]
        return {"kind": self.kind, **self._deposit(row, read_amount), "rest_after_days": days} | more


#: By their names, in the order in which a seller chooses among them.
PLAN_KINDS: dict[str, PlanKind] = {
    each.kind: each for each in (OnceKind(), RepeatKind(), InstalmentsKind(), DepositKind())
}
