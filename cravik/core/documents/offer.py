"""Reading and writing offers as ``cravik.offer/1`` documents.

Reading is strict and reports every fault at once with its path: a key that this version does
not know is refused, so that a typing mistake never changes a price in silence.

>>> offer = read_offer({"format": "cravik.offer/1", "title": "Kite repair", "currency": "EUR", "lines": [
...     {"key": "repair", "name": "Kite repair", "price": {"kind": "fixed", "amount": "24"}}]})
>>> write_offer(offer)["lines"][0]["price"]
{'kind': 'fixed', 'amount': '24.00'}
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from typing import Annotated, Any, Literal

from pydantic import AfterValidator, Field, ValidationInfo, field_validator

from cravik.core.documents.data import OfferData, put
from cravik.core.documents.lines import FixedPriceDocument, LineDocument
from cravik.core.documents.parts import (
    MAX_LINES,
    DocumentPart,
    Name,
    no_two,
    path,
    read_as,
    wrong,
)
from cravik.core.documents.plans import ChoicePlanDocument, OncePlanDocument, PlanDocument, RepeatPlanDocument
from cravik.core.documents.whole_order import (
    CodeDocument,
    DeliveryDocument,
    FeeDocument,
    TaxDocument,
    UnitPriceCodeDocument,
    WindowDocument,
)
from cravik.core.documents.writing import written
from cravik.core.pricing import discounts, offer, schedule
from cravik.core.pricing.currency import known_currency
from cravik.core.pricing.offer import Offer
from cravik.core.pricing.options import least_addition

FORMAT = "cravik.offer/1"


def read_offer(document: object) -> Offer:
    """The offer that ``document`` (parsed JSON) says. Raises ``InvalidDocument`` with every fault."""
    offer: Offer = read_as(OfferDocument, document).read()
    return offer


def write_offer(offer: Offer) -> OfferData:
    """The document that reads back to ``offer``; what has its default is left out."""
    return put(OfferData(format=FORMAT), **written(offer))


def _check_own_prices(plan: Any, lines: Mapping[str, LineDocument]) -> None:
    """A plan's own prices, and those of its first payments, are for lines of the offer whose price is fixed, and that
    no option brings below zero; what is charged once has no first payment."""
    of = plan.of if isinstance(plan, ChoicePlanDocument) else ()
    for number, choice in enumerate(of):
        _check_prices(choice.prices, lines, path("of", number, "prices"))
    plans = [(path("of", number, "plan"), choice.plan) for number, choice in enumerate(of)] or [("", plan)]
    for at, simple in plans:
        if isinstance(simple, RepeatPlanDocument) and simple.first:
            where = f"{at}.first.prices" if at else "first.prices"
            _check_prices(simple.first.prices, lines, where)
            for key in simple.first.prices:
                if lines[key].once:
                    raise wrong("first_price_of_once", f"{where}.{key}", line=lines[key].name)


def _check_prices(prices: Mapping[str, FixedPriceDocument], lines: Mapping[str, LineDocument], where: str) -> None:
    for key, price in prices.items():
        at = f"{where}.{key}"
        if key not in lines:
            raise wrong("line_unknown", at, key=key)
        if not isinstance(lines[key].price, FixedPriceDocument):
            raise wrong("plan_price_not_fixed", at)
        least = least_addition(each.read() for each in lines[key].choices)
        if least and price.amount is not None and (price.amount + least).minor < 0:
            raise wrong("unit_below_zero", at)


def _currency(code: str) -> str:
    if not known_currency(code):
        raise wrong("currency_unknown", text=code[:12])
    return code


Currency = Annotated[str, AfterValidator(_currency), Field(json_schema_extra={"pattern": "^[A-Z]{3}$"})]


class OfferDocument(DocumentPart):
    """An offer: what a link sells, at what price, and how it is paid."""

    reads = offer.Offer

    format: Literal["cravik.offer/1"]
    title: Name
    currency: Currency
    lines: Annotated[
        list[LineDocument],
        Field(min_length=1, max_length=MAX_LINES),
        no_two("line key", lambda line: line.key, "key"),
    ]
    plan: PlanDocument = OncePlanDocument(kind="once")
    codes: Annotated[
        list[CodeDocument],
        Field(max_length=1000),
        no_two("code", lambda code: discounts.normal_code(code.code), "code"),
    ] = []
    delivery: DeliveryDocument | None = None
    tax: TaxDocument | None = None
    fee: FeeDocument | None = None
    window: WindowDocument | None = None

    @field_validator("plan")
    @classmethod
    def _something_repeats(cls, plan: Any, info: ValidationInfo) -> Any:
        lines: Iterable[LineDocument] = info.data.get("lines", ())
        repeats = any(isinstance(each, schedule.RepeatPlan) for each in schedule.simple_plans(plan.read()))
        if repeats and lines and all(line.once for line in lines):
            raise wrong("nothing_repeats")
        if lines:
            _check_own_prices(plan, {line.key: line for line in lines})
        return plan

    @field_validator("codes")
    @classmethod
    def _lines_are_known(cls, codes: list[Any], info: ValidationInfo) -> list[Any]:
        if "lines" not in info.data:
            return codes
        lines = {line.key: line for line in info.data["lines"]}
        for number, code in enumerate(codes):
            for place, key in enumerate(code.lines or ()):
                if key not in lines:
                    raise wrong("line_unknown", path(number, "lines", place), key=key)
            if isinstance(code, UnitPriceCodeDocument):
                if code.line not in lines:
                    raise wrong("line_unknown", path(number, "line"), key=code.line)
                if not isinstance(lines[code.line].price, FixedPriceDocument):
                    raise wrong("code_to_price_not_fixed", path(number, "line"))
        return codes
