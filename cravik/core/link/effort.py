"""What a page asks of its buyer: how many fields, and how long they take to fill in on a phone.

The seconds are an estimate by the keystroke-level model (Card, Moran and Newell, “The keystroke-level model for
user performance time with interactive systems”, Communications of the ACM 23, 1980): 1.35 s to think before each
field, 1.1 s to point at it, and 0.28 s for each key of an average typist; how many keys a field takes is our own
estimate.

>>> from cravik.core.pricing.money import Money
>>> from cravik.core.pricing.offer import simple_offer
>>> effort = effort_of(LinkContent("Repair", simple_offer("Repair", Money(2400, "EUR"))))
>>> len(effort.fields), effort.required, round(effort.seconds)
(5, 5, 29)
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

from cravik.core.link.content import LinkContent
from cravik.core.link.questions import (
    DayQuestion,
    LongTextQuestion,
    NumberQuestion,
    OneOfQuestion,
    Question,
    SeveralOfQuestion,
    YesNoQuestion,
)
from cravik.core.pricing.destination import asked_of

THINK, POINT, KEY = 1.35, 1.1, 0.28
#: Keys of what is asked always and of what is built in.
_NAME, _EMAIL, _PHONE, _CARD, _EXPIRY, _SECURITY = 14, 22, 11, 16, 4, 3
_STREET, _POSTCODE, _TOWN, _COMPANY, _TAX_NUMBER, _REFERENCE, _NOTE = 18, 7, 10, 15, 11, 8, 40
_SHORT, _LONG, _NUMBER, _DAY = 12, 60, 2, 8


@dataclass(frozen=True, slots=True)
class AskedField:
    """A field of the page: what it asks, whether it has to be filled in, and about how many seconds it takes."""

    label: str
    required: bool
    seconds: float


@dataclass(frozen=True, slots=True)
class Effort:
    """The fields of a page beside what is chosen of the offer, in order."""

    fields: tuple[AskedField, ...]

    @property
    def required(self) -> int:
        return sum(field.required for field in self.fields)

    @property
    def seconds(self) -> float:
        """About how long all that has to be filled in takes."""
        return sum(field.seconds for field in self.fields if field.required)

    @property
    def optional(self) -> tuple[AskedField, ...]:
        return tuple(field for field in self.fields if not field.required)


def effort_of(content: LinkContent) -> Effort:
    """What the page of the link asks of one who pays by card."""
    return Effort(tuple(_fields(content)))


def _typed(label: str, keys: int, required: bool = True) -> AskedField:
    return AskedField(label, required, THINK + POINT + keys * KEY)


def _picked(label: str, presses: int, required: bool) -> AskedField:
    return AskedField(label, required, THINK + presses * POINT)


def _fields(content: LinkContent) -> Iterator[AskedField]:
    asks = content.asks
    yield _typed("Name", _NAME)
    yield _typed("E-mail", _EMAIL)
    if asks.phone != "no":
        yield _typed("Phone", _PHONE, asks.phone == "required")
    where = asked_of(content.offer)
    if where.address or asks.address != "if sent":
        required = where.address or asks.address == "required"
        for label, keys in (("Street and number", _STREET), ("Postcode", _POSTCODE), ("Town", _TOWN)):
            yield _typed(label, keys, required)
    if asks.invoice != "no":
        yield _typed("Company", _COMPANY, required=False)
        yield _typed("Tax number", _TAX_NUMBER, required=False)
    if asks.reference.ask != "no":
        yield _typed(asks.reference.label or "Your reference", _REFERENCE, asks.reference.ask == "required")
    if asks.note.ask != "no":
        yield _typed(asks.note.label or "A note to the seller", _NOTE, asks.note.ask == "required")
    for question in content.questions:
        yield _question(question)
    if asks.newsletter:
        yield _picked("Newsletter", 1, required=False)
    yield _typed("Card number", _CARD)
    yield _typed("Expiry", _EXPIRY)
    yield _typed("Security code", _SECURITY)


def _question(question: Question) -> AskedField:
    match question:
        case OneOfQuestion() | YesNoQuestion():
            return _picked(question.label, 1, question.required)
        case SeveralOfQuestion():
            return _picked(question.label, 2, question.required)
        case LongTextQuestion():
            return _typed(question.label, _LONG, question.required)
        case NumberQuestion():
            return _typed(question.label, _NUMBER, question.required)
        case DayQuestion():
            return _typed(question.label, _DAY, question.required)
    return _typed(question.label, _SHORT, question.required)
