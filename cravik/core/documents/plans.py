"""What the plan of an offer may be."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Annotated, Any, Literal, Self, cast

from pydantic import Field, model_validator

from cravik.core.documents.lines import FixedPriceDocument
from cravik.core.documents.parts import (
    MAX_LEVELS,
    Amount,
    Day,
    DocumentPart,
    Percentage,
    Slug,
    no_two,
    read_as,
    wrong,
)
from cravik.core.pricing import schedule

_MAX_YEARS = 100


class EveryDocument(DocumentPart):
    reads = schedule.Every

    count: Annotated[int, Field(ge=1, le=1000)]
    unit: Literal["day", "week", "month", "year"]


def _not_for_ever(every: EveryDocument, payments: int) -> None:
    a_year = {"day": 365, "week": 52, "month": 12, "year": 1}[every.unit]
    if every.count * payments > _MAX_YEARS * a_year:
        raise wrong("plan_too_long", "payments", years=_MAX_YEARS)


class OncePlanDocument(DocumentPart):
    reads = schedule.OncePlan

    kind: Literal["once"]


class FirstPaymentsDocument(DocumentPart):
    reads = schedule.FirstPayments

    payments: Annotated[int, Field(ge=1, le=1200)]
    prices: Annotated[dict[Slug, FixedPriceDocument], Field(min_length=1)]


class RepeatPlanDocument(DocumentPart):
    reads = schedule.RepeatPlan

    kind: Literal["repeat"]
    every: EveryDocument
    payments: Annotated[int, Field(ge=1, le=1200)] | None = None
    trial_days: Annotated[int, Field(ge=0, le=3650)] = 0
    trial_months: Annotated[int, Field(ge=0, le=120)] = 0
    first: FirstPaymentsDocument | None = None

    @model_validator(mode="after")
    def _ends_some_day(self) -> Self:
        _not_for_ever(self.every, self.payments or 1)
        if self.trial_days and self.trial_months:
            raise wrong("trial_twice", "trial_months")
        if self.first and self.payments is not None and self.first.payments >= self.payments:
            raise wrong("first_payments_too_many", "first.payments", payments=self.payments, most=self.payments - 1)
        return self


def read_repeat_plan(document: object, currency: str) -> schedule.RepeatPlan:
    """The plan that ``document`` (parsed JSON) says, its amounts in ``currency``. Raises ``InvalidDocument``."""
    plan: schedule.RepeatPlan = read_as(RepeatPlanDocument, document, currency).read()
    return plan


class InstalmentsPlanDocument(DocumentPart):
    reads = schedule.InstalmentsPlan

    kind: Literal["instalments"]
    every: EveryDocument
    payments: Annotated[int, Field(ge=1, le=1200)]

    @model_validator(mode="after")
    def _ends_some_day(self) -> Self:
        _not_for_ever(self.every, self.payments)
        return self


class DepositPlanDocument(DocumentPart):
    reads = schedule.DepositPlan

    kind: Literal["deposit"]
    # One of the two is absent; neither can be null.
    percent: Percentage = Field(default=cast(Any, None))
    amount: Amount = Field(default=cast(Any, None))
    rest_after_days: Annotated[int, Field(ge=0, le=3650)] = Field(default=cast(Any, None))
    rest_on: Day = Field(default=cast(Any, None))
    buyer_may_pay_more: bool = False

    @model_validator(mode="after")
    def _by_one_of_two(self) -> Self:
        if ("percent" in self.model_fields_set) == ("amount" in self.model_fields_set):
            raise wrong("deposit_not_one_of_two")
        if ("rest_after_days" in self.model_fields_set) == ("rest_on" in self.model_fields_set):
            raise wrong("rest_not_one_of_two")
        return self


SimplePlanDocument = Annotated[
    OncePlanDocument | RepeatPlanDocument | InstalmentsPlanDocument | DepositPlanDocument,
    Field(discriminator="kind"),
]


_BY_KIND: dict[str, Any] = {
    "once": OncePlanDocument,
    "repeat": RepeatPlanDocument,
    "instalments": InstalmentsPlanDocument,
    "deposit": DepositPlanDocument,
}


def read_simple_plan(document: Mapping[str, Any], currency: str) -> schedule.SimplePlan:
    """The same of any plan but a choice of several."""
    plan: schedule.SimplePlan = read_as(_BY_KIND[document["kind"]], document, currency).read()
    return plan


class PlanChoiceDocument(DocumentPart):
    reads = schedule.PlanChoice

    key: Slug
    plan: SimplePlanDocument
    prices: dict[Slug, FixedPriceDocument] = {}


class ChoicePlanDocument(DocumentPart):
    reads = schedule.ChoicePlan

    kind: Literal["choice"]
    of: Annotated[
        list[PlanChoiceDocument],
        Field(min_length=1, max_length=MAX_LEVELS),
        no_two("plan key", lambda choice: choice.key, "key"),
    ]


PlanDocument = Annotated[
    OncePlanDocument | RepeatPlanDocument | InstalmentsPlanDocument | DepositPlanDocument | ChoicePlanDocument,
    Field(discriminator="kind"),
]
