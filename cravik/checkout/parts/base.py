"""What every part of the buyer's page is made of."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from typing import Any, ClassVar, NamedTuple

from django import forms
from django.http import QueryDict

from cravik.catalogue.queries import ShownItem
from cravik.core.errors import CoreError, Fault
from cravik.core.link.closing import is_too_few
from cravik.core.pricing.basket import Basket
from cravik.core.pricing.offer import Line, Offer
from cravik.core.pricing.quote import Quote
from cravik.core.text.amount_text import parse_signed_amount
from cravik.core.text.money_text import DEFAULT_LOCALE
from cravik.links.life.shown_version import ShownVersion
from cravik.setup.ways import CARD
from cravik.ui.form_data import FormData

#: What a form sends, or what its fields show at first: texts by the fields' names.


@dataclass(frozen=True, slots=True)
class Moment:
    """What of a link changes from one order to the next: whether some code could work, how many orders or pieces are
    left at the present price of a line, where the page tells it, and how many pieces there are left of a line of which
    there are only so many; each by line."""

    a_code_works: bool = True
    left: tuple[tuple[str, int], ...] = ()
    pieces: tuple[tuple[str, int], ...] = ()


@dataclass(frozen=True)
class Offered:
    """What a page is made of: the offer that holds now (without codes), the version whose it is, the seller's
    country, what is known of the items by line, the visitor's number format, the moment at which it is shown, and the
    ways to pay, the first one first."""

    offer: Offer
    version: ShownVersion
    home: str
    items: Mapping[str, ShownItem] = field(default_factory=dict)
    locale: str = DEFAULT_LOCALE
    moment: Moment = Moment()
    ways: tuple[str, ...] = (CARD,)

    def item_of(self, line: Line) -> ShownItem:
        return self.items.get(line.key, ShownItem())

    def pieces_left(self, line: Line) -> int | None:
        """How many pieces are left of the line; None where any number may be sold."""
        return dict(self.moment.pieces).get(line.key)

    def is_gone(self, line: Line) -> bool:
        """Whether nothing is left of the line, whatever is chosen of it."""
        left = self.pieces_left(line)
        return self.item_of(line).is_gone or (left is not None and is_too_few(line, left))

    def most_of(self, line: Line) -> int | None:
        """How many of the line one order can have now; None where there is no bound."""
        for_one = self.version.content.limits.pieces_per_buyer.get(line.key)
        bounds = [each for each in (line.quantity.max, for_one, self.pieces_left(line)) if each is not None]
        return min(bounds, default=None)


@dataclass(frozen=True)
class PricedBasket:
    """A basket that the offer takes, and its quote."""

    basket: Basket
    quote: Quote
    #: The offer with the code that was typed.
    offer: Offer


@dataclass
class Submitted:
    """What stands on a page that is sent beside the basket, as the parts put it together once they are valid.

    ``where`` is what is said of where the buyer is; ``answers`` has key, label as it was shown, and answer of each.
    """

    name: str = ""
    email: str = ""
    where: dict[str, str] = field(default_factory=dict)
    answers: list[dict[str, Any]] = field(default_factory=list)
    #: With what is paid, as the way that takes it understands.
    means: Any = None


class TypedCard(NamedTuple):
    """``number`` and ``security_code`` in digits, ``expiry`` as month and year."""

    number: str
    expiry: tuple[int, int]
    security_code: str


class PartRefused(Exception):
    """What was typed cannot be read; the fault stands ``at`` its field."""

    def __init__(self, *faults: Fault) -> None:
        super().__init__()
        self.faults = faults


class LinePart:
    """What a buyer decides of one line. Its fields are named ``NAME.LINE``, as the contract of the page has them."""

    #: What its fields' names begin with.
    name: ClassVar[str]
    template: ClassVar[str] = "checkout/parts/line.html"
    #: The names of the basket line's parts that it fills; a refusal of one of them stands at its field.
    fills: ClassVar[tuple[str, ...]]
    #: What a buyer reads of the refusals that are its own, by their codes; ``{limit}`` is the bound that was broken.
    refusals: ClassVar[Mapping[str, str]] = {}
    #: A template of what changes at it with what is chosen; empty: nothing does.
    piece: ClassVar[str] = ""

    def fields(self, line: Line, offered: Offered) -> dict[str, forms.Field]:
        """The fields by their names; none where there is nothing to decide."""
        raise NotImplementedError

    def initial_values(self, line: Line, offered: Offered) -> dict[str, str]:
        """What the fields show at first."""
        return {}

    def read(self, key: str, line: Line | None, typed: FormData, currency: str) -> dict[str, Any]:
        """What was typed, as parts of a basket line; absent where nothing was. Raises ``PartRefused``."""
        return {}

    def leaves_out(self, line: Line, typed: FormData, offer: Offer) -> bool:
        """Whether the line of the offer is not in the basket."""
        return False

    def is_gone(self, line: Line, item: ShownItem, typed: FormData) -> bool:
        """Whether what is decided by it is sold out."""
        return False

    def few_left(self, line: Line, item: ShownItem, typed: FormData) -> int | None:
        """How many pieces are left of what is decided by it, where they are few."""
        return None

    def hint(self, line: Line, typed: FormData, locale: str) -> str:
        """What a buyer may like to know of it; empty where there is nothing to say."""
        return ""

    def field_of(self, line: Line, part: str) -> str:
        """The field at which a refusal of ``part`` stands, such as ``options.Size``."""
        return f"{self.name}.{line.key}"

    def line_of(self, field: str) -> str | None:
        """The key of the line that a field of that name decides of, or None where it is not one of this part's."""
        return field.removeprefix(f"{self.name}.") if field.startswith(f"{self.name}.") else None


class OrderPart(forms.Form):
    """A group of fields of the whole order."""

    name: ClassVar[str]
    template: ClassVar[str]
    #: What its fields are together, as a seller reads it of where buyers stop.
    step: ClassVar[str]
    #: Of its fields, those that a seller can leave out, and those of which nothing is theirs to change; ``*``: all.
    may_go: ClassVar[tuple[str, ...]] = ()
    fixed: ClassVar[tuple[str, ...]] = ()
    #: Whether the price hangs on it.
    decides: ClassVar[bool] = False
    #: The way to pay that it is a part of; what is of none is asked whatever is paid with.
    way: ClassVar[str] = ""
    #: Whether what was typed may be kept, to stand there once more where the payment did not go through.
    is_kept: ClassVar[bool] = True
    #: The places of a basket (``code``, ``destination`` …) whose refusals stand at its fields, and at which.
    refused_at: ClassVar[Mapping[str, str]] = {}
    #: What a buyer reads of the refusals that are its own, by their codes; ``{limit}`` is the bound that was broken.
    refusals: ClassVar[Mapping[str, str]] = {}
    #: Templates of pieces of it that change with what is chosen, by the names under which they stand on the page.
    pieces: ClassVar[Mapping[str, str]] = {}

    def __init__(self, offered: Offered, data: FormData | None = None, initial: FormData | None = None) -> None:
        super().__init__(data, initial=dict(initial or {}))
        self.offered = offered
        self.add_fields()

    def add_fields(self) -> None:
        """Give the form the fields that the offer asks for."""

    @property
    def is_asked(self) -> bool:
        return bool(self.fields)

    def is_needed(self, way: str) -> bool:
        """Whether it has to be filled in by who pays by that way."""
        return not self.way or self.way == way

    @property
    def typed(self) -> FormData:
        """What was sent, or what stands there at first."""
        return self.data if self.is_bound else self.initial

    def text(self, name: str) -> str:
        return str(self.typed.get(name) or "").strip()

    def basket(self) -> dict[str, Any]:
        """What it puts into the basket, as far as it can be read. Raises ``PartRefused``."""
        return {}

    def initial_values(self) -> dict[str, str]:
        """What its fields show at first."""
        return {}

    def fillable(self) -> set[str]:
        """The fields that the address of the page may fill in."""
        return set(self.fields)

    def texts(self, picked: PricedBasket | None) -> dict[str, str]:
        """Short texts of it that change with what is picked, by the names under which they stand on the page."""
        return {}

    def submit(self, to: Submitted) -> None:
        """Add what it says to what is kept beside the basket, once it is valid."""


def one_of(label: str, choices: Sequence[tuple[str, str]], help_text: str = "") -> forms.CharField:
    """A field to pick one of ``choices``. Which of them can be had is not the form's to say but the core's."""
    return forms.CharField(
        label=label, required=False, max_length=500, help_text=help_text, widget=forms.RadioSelect(choices=choices)
    )


def tick(label: str) -> forms.BooleanField:
    """A box that is ticked by ``yes``."""
    widget = forms.CheckboxInput(attrs={"value": "yes"}, check_test=lambda value: value in ("yes", True))
    return forms.BooleanField(label=label, required=False, widget=widget)


def texts_of(typed: FormData, name: str) -> list[str]:
    """Every value that was sent under the name."""
    if isinstance(typed, QueryDict):
        return typed.getlist(name)
    value = typed.get(name)
    return list(value) if isinstance(value, list | tuple) else [] if value is None else [str(value)]


def parse_typed_amount(text: str, currency: str, at: str) -> str:
    """What a buyer typed, as documents write amounts; it may be nothing or more. Raises ``PartRefused``."""
    try:
        money = parse_signed_amount(text, currency, at)
    except CoreError as refused:
        raise PartRefused(*refused.faults) from None
    return money.major
