"""Documents of links and baskets as parsed JSON, in types: what a draft on the seller's side is made of, and a version.

Each type has the keys of the ``…Document`` of its name, or of all its kinds. None has to be there, since a draft has
gaps; an amount is the text that was typed. What is right is for the reading alone (``read_link``) to say.

>>> line: LineData = {"key": "kite", "name": "Delta kite", "price": {"kind": "fixed", "amount": "48.00"}}
>>> offer: OfferData = {"title": "Delta kite", "currency": "EUR", "lines": [line]}
"""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any, TypedDict, TypeVar, cast

from cravik.core.link.limits import CountWord
from cravik.core.link.withdrawal import Exemption


class LevelData(TypedDict, total=False):
    key: str
    name: str
    amount: str
    words: str


#: ``from`` is no name in Python, so what begins there is written as a table.
BreakData = TypedDict("BreakData", {"from": int, "unit": str, "flat": str}, total=False)


class BundleData(TypedDict, total=False):
    count: int
    amount: str


class PriceData(TypedDict, total=False):
    kind: str
    amount: str
    was: str
    levels: list[LevelData]
    method: str
    breaks: list[BreakData]
    size: int
    unit: str
    bundles: list[BundleData]
    min: str
    max: str | None
    suggested: list[str]
    start: str


class OptionData(TypedDict, total=False):
    name: str
    add: str
    weight_g: int


class OptionGroupData(TypedDict, total=False):
    name: str
    options: list[OptionData]


class QuantityData(TypedDict, total=False):
    default: int
    min: int
    max: int | None


class LineData(TypedDict, total=False):
    key: str
    name: str
    price: PriceData
    sku: str
    quantity: QuantityData
    optional: bool
    choices: list[OptionGroupData]
    ships: bool
    weight_g: int
    tax_category: str
    once: bool


class EveryData(TypedDict, total=False):
    count: int
    unit: str


class FirstPaymentsData(TypedDict, total=False):
    payments: int
    prices: dict[str, PriceData]


class SimplePlanData(TypedDict, total=False):
    kind: str
    every: EveryData
    payments: int
    trial_days: int
    trial_months: int
    first: FirstPaymentsData
    percent: str
    amount: str
    rest_after_days: int
    rest_on: str
    buyer_may_pay_more: bool


class PlanChoiceData(TypedDict, total=False):
    key: str
    plan: SimplePlanData
    prices: dict[str, PriceData]


class PlanData(SimplePlanData, total=False):
    of: list[PlanChoiceData]


class CodeData(TypedDict, total=False):
    code: str
    kind: str
    lines: list[str]
    starts_on: str
    ends_on: str
    minimum: str
    percent: str
    amount: str
    line: str
    unit: str


class WindowData(TypedDict, total=False):
    opens_at: str | None
    closes_at: str | None


class OfferData(TypedDict, total=False):
    format: str
    title: str
    currency: str
    lines: list[LineData]
    plan: PlanData
    codes: list[CodeData]
    #: What Setup decides has forms of its own, by which it is read and written (``setup/sheets``).
    delivery: dict[str, Any]
    tax: dict[str, Any]
    fee: dict[str, Any]
    window: WindowData


StepData = TypedDict(
    "StepData",
    {"line": str, "price": PriceData, "after_orders": int, "after_pieces": int, "from": str},
    total=False,
)


class LimitsData(WindowData, total=False):
    orders: int | None
    orders_per_buyer: int | None
    pieces: dict[str, int]
    pieces_per_buyer: dict[str, int]
    counted_as: dict[str, CountWord]


class LabelledAskData(TypedDict, total=False):
    ask: str
    label: str


class AsksData(TypedDict, total=False):
    phone: str
    address: str
    invoice: str
    note: LabelledAskData
    reference: LabelledAskData
    newsletter: str
    keep_card: bool


class QuestionData(TypedDict, total=False):
    key: str
    kind: str
    label: str
    required: bool
    help: str
    shortest: int
    longest: int
    least: int | float | str | None
    most: int | float | str | None
    whole: bool
    options: list[str]
    earliest: str | None
    latest: str | None


class CodeRuleData(TypedDict, total=False):
    uses: int
    uses_per_buyer: int


class SocialCardData(TypedDict, total=False):
    title: str
    words: str


class PageData(TypedDict, total=False):
    words: str
    button: str
    look: str
    card: SocialCardData
    tells_left: bool


class AfterData(TypedDict, total=False):
    message: str
    go_to: str
    cancelled: str


class ContactData(TypedDict, total=False):
    support_email: str | None
    statement_text: str | None


class LinkData(TypedDict, total=False):
    format: str
    name: str
    offer: OfferData
    follows: list[str]
    items: dict[str, str]
    steps: list[StepData]
    limits: LimitsData
    asks: AsksData
    questions: list[QuestionData]
    code_rules: dict[str, CodeRuleData]
    no_withdrawal: dict[str, Exemption]
    page: PageData
    after: AfterData
    terms: str
    contact: ContactData
    labels: list[str]


class PickedData(TypedDict, total=False):
    """A line of a basket."""

    key: str
    quantity: int | None
    options: dict[str, str]
    level: str | None
    amount: str | None


class PlaceData(TypedDict, total=False):
    country: str
    region: str | None


class BasketData(TypedDict, total=False):
    format: str
    on: str
    at: str | None
    lines: list[PickedData]
    code: str | None
    destination: PlaceData
    tax_number: str | None
    cover_fee: bool
    plan: str | None
    pay_now: str | None


#: A subject of Setup by the names of its fields: a look, terms, or a document of defaults.
DefaultData = dict[str, Any]
#: Prices of other kinds that lines had, by line and kind.
FormerPrices = dict[str, dict[str, PriceData]]


class EffectiveData(TypedDict):
    """What is in effect for a link's buyers: the document with what Setup decides put in, and what stands beside it.

    ``items`` are the ids of the items that its lines sell, by line.
    """

    link: LinkData
    items: dict[str, int]
    look: DefaultData
    conditions: DefaultData
    contact: ContactData


_Data = TypeVar("_Data", bound=Mapping[str, Any])


def without(data: _Data, /, *names: str) -> _Data:
    """``data`` without the parts of those names, whether it has them or not."""
    return cast(_Data, {name: part for name, part in data.items() if name not in names})


def put(data: _Data, /, **parts: Any) -> _Data:
    """``data`` with these parts in place of those that it has."""
    return cast(_Data, {**data, **parts})


def put_or_drop(data: _Data, /, **parts: Any) -> _Data:
    """The same, but that what is empty stands nowhere.

    >>> put_or_drop({"name": "Kites", "labels": ["summer"]}, labels=[], terms="Workshops")
    {'name': 'Kites', 'terms': 'Workshops'}
    """
    return cast(_Data, {**without(data, *parts), **{name: part for name, part in parts.items() if part}})


def without_empty(data: _Data) -> _Data:
    """``data`` without what is empty, which is what its absence means."""
    return cast(_Data, {name: part for name, part in data.items() if part not in ("", None, {}, [], False, 0)})
