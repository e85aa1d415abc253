"""One way to pay as a row of the bench's form."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any, NamedTuple

from django import forms

from cravik.core.documents.data import PriceData, SimplePlanData
from cravik.links.bench.parts.plans.kinds import PLAN_KINDS, PlanKind, PlanRow
from cravik.ui.fields import AmountField


class KindFields(NamedTuple):
    """The fields of one kind, as the row shows them."""

    kind: PlanKind
    fields: list[forms.BoundField]


class PlanForm(PlanRow):
    """A way to pay; ``key`` is what orders know it by."""

    key = forms.CharField(required=False, max_length=80, widget=forms.HiddenInput)
    kind = forms.ChoiceField(label="It is paid", initial="once")

    def __init__(self, *args: Any, priced: Sequence[tuple[str, str]] = (), **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        self.priced = priced
        self.fields["kind"].choices = [(kind, each.label) for kind, each in PLAN_KINDS.items()]  # type: ignore[attr-defined]  # a choice field
        for each in PLAN_KINDS.values():
            first = each.read({})
            for name, field in each.fields().items():
                field.initial = first[name]
                self.fields[each.named(name)] = field
        for line, name in priced:
            label = "Price" if len(priced) == 1 else f"Price of {name}"
            self.fields[f"price_{line}"] = AmountField(label=label)
            label = "Their price" if len(priced) == 1 else f"Their price of {name}"
            self.fields[f"first_{line}"] = AmountField(label=label)

    @property
    def of_kinds(self) -> list[KindFields]:
        """The fields of each kind that has some."""
        shown = [
            KindFields(
                each,
                [*(self[each.named(name)] for name in each.fields()), *(self.firsts if each.kind == "repeat" else ())],
            )
            for each in PLAN_KINDS.values()
        ]
        return [each for each in shown if each.fields]

    @property
    def own_prices(self) -> list[forms.BoundField]:
        return [self[f"price_{line}"] for line, _ in self.priced]

    @property
    def plan_kind(self) -> PlanKind:
        return PLAN_KINDS[self.cleaned_data.get("kind") or "once"]


def shown_of(plan: SimplePlanData, key: str = "", prices: dict[str, PriceData] | None = None) -> dict[str, Any]:
    """What a row shows of a plan of a draft."""
    kind = PLAN_KINDS[plan["kind"]]
    shown = {each.named(name): value for each in PLAN_KINDS.values() for name, value in each.read({}).items()}
    shown |= {kind.named(name): value for name, value in kind.read(plan).items()}
    own = {f"price_{line}": price["amount"] for line, price in (prices or {}).items()}
    own |= {f"first_{line}": price["amount"] for line, price in (plan.get("first") or {}).get("prices", {}).items()}
    return {"key": key, "kind": plan["kind"]} | shown | own
