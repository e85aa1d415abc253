"""What the documents have in common: strict models, amounts, percentages, days, and their faults.

The models say what a document may hold; reading turns each into the frozen dataclass of its name.
"""

from __future__ import annotations

from collections.abc import Callable, Hashable, Iterator, Sequence
from datetime import date, datetime
from types import NoneType
from typing import Annotated, Any, ClassVar, TypeVar

from pydantic import (
    AfterValidator,
    BaseModel,
    ConfigDict,
    Field,
    PlainValidator,
    StringConstraints,
    ValidationError,
    ValidationInfo,
)
from pydantic.json_schema import WithJsonSchema
from pydantic_core import ErrorDetails, PydanticCustomError

from cravik.core.errors import CoreError, Fault, InvalidDocument
from cravik.core.pricing.currency import known_currency
from cravik.core.pricing.delivery import ANYWHERE
from cravik.core.pricing.money import Money
from cravik.core.pricing.percent import Percent
from cravik.core.pricing.tax import Place

_Day = TypeVar("_Day", date, datetime)
_NOT_READ = ("kind", "format")
#: Values in which there is nothing further to read. Texts are looked at by name: a part's kind is not read.
_READ_ALREADY = frozenset((int, bool, NoneType, Money, Percent, date, datetime))
_Model = TypeVar("_Model", bound="DocumentPart")


class DocumentPart(BaseModel):
    """An object of a document: no key that is not known, no value of another type."""

    # What it checks is built when the first document of its kind is read; see ``build``.
    model_config = ConfigDict(extra="forbid", strict=True, frozen=True, defer_build=True)

    #: The frozen dataclass that it is read into; its fields have the same names.
    reads: ClassVar[type[Any]]

    def read(self) -> Any:
        """The dataclass; what is absent has its default."""
        values = self.__dict__
        parts = {}
        for name in self.__pydantic_fields_set__:
            value = values[name]
            kind = type(value)
            if kind in _READ_ALREADY:  # most of what a document says
                parts[name] = value
            elif kind is str:
                if name not in _NOT_READ:
                    parts[name] = value
            else:
                parts[name] = _inner(value)
        return self.reads(**parts)


def _inner(value: Any) -> Any:
    kind = type(value)
    if kind is list:
        if value and not isinstance(value[0], DocumentPart):  # the items of a list are of one kind
            return tuple(value)
        return tuple([_inner(each) for each in value])
    if kind is dict:
        return {key: _inner(each) for key, each in value.items()}
    return value.read() if isinstance(value, DocumentPart) else value


def read_as(model: type[_Model], document: object, currency: object = None) -> _Model:
    """The document as ``model``, its amounts in ``currency``, or else in the one that it names itself.

    Raises ``InvalidDocument`` with every fault and its path.
    """
    if currency is None and isinstance(document, dict):
        currency = document.get("currency")
    try:
        return model.model_validate(document, context={"currency": known_currency(currency)})
    except ValidationError as error:
        details = error.errors(include_url=False, include_input=False)
        raise InvalidDocument(*(fault for each in details for fault in _faults(each, document))) from None


def build() -> None:
    """Build now what every kind of document checks, which else happens when the first of its kind is read."""
    kinds = [DocumentPart]
    for kind in kinds:  # which grows meanwhile
        kinds += kind.__subclasses__()
        kind.model_rebuild()


def wrong(why: str, at: str = "", /, **fields: Any) -> PydanticCustomError:
    """A fault for a validator to raise; ``at`` is a path below the value that it looks at."""
    return all_wrong([misfit(why, at, **fields)])


def misfit(why: str, at: str = "", /, **fields: Any) -> Fault:
    """What is wrong with a part of a document, and where below the value that is looked at."""
    return Fault("invalid_document", at, why=why, **fields)


def all_wrong(faults: Sequence[Fault]) -> PydanticCustomError:
    """Several at once."""
    return PydanticCustomError("wrong", "wrong", {"faults": tuple(faults)})


def path(*steps: str | int) -> str:
    """A path such as ``lines[0].price.breaks[2].from``."""
    text = ""
    for step in steps:
        text += f"[{step}]" if isinstance(step, int) else f".{step}" if text else step
    return text


def _faults(error: ErrorDetails, document: object) -> Iterator[Fault]:
    at = path(*_steps(error, document))
    match error["type"]:
        case "extra_forbidden":
            yield Fault("unknown_key", at, key=str(error["loc"][-1])[:80])
        case "missing":
            yield Fault("invalid_document", at, why="missing", key=str(error["loc"][-1]))
        case "wrong":
            for fault in error["ctx"]["faults"]:
                below = fault.at
                yield fault.placed(f"{at}.{below}" if at and below and not below.startswith("[") else at + below)
        case _:
            yield Fault("invalid_document", at, why=error["type"], trouble=error["msg"])


def _steps(error: ErrorDetails, document: object) -> Iterator[str | int]:
    """The error's way into the document, without the kinds by which prices, plans and codes are told apart."""
    value: Any = document
    kind_is_next = True
    for step in error["loc"]:
        if kind_is_next and isinstance(value, dict) and value.get("kind") == step:
            kind_is_next = False
            continue
        yield step
        kind_is_next = True
        try:
            value = value[step]
        except (TypeError, LookupError):
            value = None


def _money(value: Any, info: ValidationInfo) -> Money | None:
    if not isinstance(value, str):
        raise wrong("amount_not_text")
    currency = info.context["currency"] if info.context else None
    if currency is None:  # which is a fault of its own
        return None
    try:
        return Money.parse(value, currency)
    except CoreError as refused:
        raise _wrong_as(refused) from None


def _amount(value: Any, info: ValidationInfo) -> Money | None:
    money = _money(value, info)
    if money is not None and money.minor < 0:
        raise wrong("amount_below_zero")
    return money


def _percent(value: Any) -> Percent:
    if not isinstance(value, str):
        raise wrong("percent_not_text")
    try:
        return Percent.parse(value)
    except CoreError as refused:
        raise _wrong_as(refused) from None


def _wrong_as(refused: CoreError) -> PydanticCustomError:
    fault = refused.faults[0]
    return wrong(fault.why or fault.code, **fault.fields)


def _day(value: Any) -> date:
    try:
        if not isinstance(value, str) or len(value) != 10:
            raise ValueError
        return _in_our_times(date.fromisoformat(value))
    except ValueError:
        raise wrong("day_malformed") from None


def _instant(value: Any) -> datetime:
    try:
        if not isinstance(value, str) or len(value) > 40:
            raise ValueError
        instant = datetime.fromisoformat(value)
        if instant.utcoffset() is None:
            raise ValueError
        return _in_our_times(instant)
    except ValueError:
        raise wrong("instant_malformed") from None


def _in_our_times(day: _Day) -> _Day:
    """Far enough from the calendar's ends for every plan to be reckoned."""
    if not 1900 <= day.year <= 2999:
        raise wrong("year_out_of_range")
    return day


def _country(value: Any) -> str:
    if isinstance(value, str) and len(value) == 2 and value.isascii() and value.isalpha() and value.isupper():
        return value
    raise wrong("country_malformed")


def _country_or_anywhere(value: Any) -> str:
    return ANYWHERE if value == ANYWHERE else _country(value)


# Bounds of the product; each is named where it is met.
MAX_LINES, MAX_OPTION_GROUPS, MAX_OPTIONS, MAX_LEVELS, MAX_ROWS = 20, 4, 24, 12, 100
MAX_LEVEL_WORDS = 200

_AMOUNT = {"type": "string", "pattern": r"^\d{1,16}(\.\d{1,4})?$", "examples": ["24.00"]}
_SIGNED = {"type": "string", "pattern": r"^-?\d{1,16}(\.\d{1,4})?$", "examples": ["-6.00"]}
_PERCENTAGE = {"type": "string", "pattern": r"^\d{1,3}(\.\d{1,4})?$", "examples": ["9.975"]}

Amount = Annotated[Money, PlainValidator(_amount), WithJsonSchema(_AMOUNT)]
SignedAmount = Annotated[Money, PlainValidator(_money), WithJsonSchema(_SIGNED)]
#: An amount whose currency is that of another document: it stays as it is written.
AmountText = Annotated[str, StringConstraints(pattern=r"^-?[0-9]{1,40}(\.[0-9]{1,40})?$")]
Percentage = Annotated[Percent, PlainValidator(_percent), WithJsonSchema(_PERCENTAGE)]
Day = Annotated[date, PlainValidator(_day), WithJsonSchema({"type": "string", "format": "date"})]
Instant = Annotated[datetime, PlainValidator(_instant), WithJsonSchema({"type": "string", "format": "date-time"})]
Country = Annotated[str, PlainValidator(_country), WithJsonSchema({"type": "string", "pattern": "^[A-Z]{2}$"})]
Anywhere = Annotated[
    str, PlainValidator(_country_or_anywhere), WithJsonSchema({"type": "string", "pattern": r"^([A-Z]{2}|\*)$"})
]
Slug = Annotated[str, StringConstraints(pattern=r"^[a-z0-9]+(?:[-_][a-z0-9]+)*$", max_length=80)]
Name = Annotated[str, StringConstraints(min_length=1, max_length=120)]
Count = Annotated[int, Field(ge=1, le=1_000_000_000)]
Grams = Annotated[int, Field(ge=0, le=1_000_000_000)]


def no_two(what: str, key: Callable[[Any], Hashable], part: str) -> Any:
    """A check that no two of a list share what ``key`` gives; the fault stands at the later one."""

    def check(values: list[Any]) -> list[Any]:
        seen: set[Hashable] = set()
        for number, value in enumerate(values):
            if key(value) in seen:
                raise wrong("stands_twice", path(number, part) if part else path(number), what=what)
            seen.add(key(value))
        return values

    return AfterValidator(check)


def ascending(part: str, first: int, steps: Sequence[int]) -> None:
    for number, step in enumerate(steps):
        if number == 0 and step != first:
            raise wrong("first_from", path(0, part), first=first)
        if number and step <= steps[number - 1]:
            raise wrong("not_ascending", path(number, part))


class PlaceDocument(DocumentPart):
    reads = Place

    country: Country
    region: Name | None = None
