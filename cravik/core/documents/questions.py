"""A seller's own questions, as they stand in a link document."""

from __future__ import annotations

from decimal import Decimal
from typing import Annotated, Any, Literal, Self

from pydantic import Field, PlainValidator, model_validator
from pydantic.json_schema import WithJsonSchema

from cravik.core.documents.parts import Day, DocumentPart, Name, Slug, path, wrong
from cravik.core.link import questions

_WHOLE = Annotated[int, Field(ge=0, le=questions.MAX_LONG_TEXT_LENGTH)]
_DIGITS = 15


def _number(value: Any) -> Decimal:
    """A bound is a JSON number, or its digits as a string."""
    if isinstance(value, bool) or not isinstance(value, int | float | str):
        raise wrong("bound_not_a_number")
    text = repr(value) if isinstance(value, float) else str(value)
    try:
        number = Decimal(text)
    except ArithmeticError:
        raise wrong("bound_malformed", text=text[:20]) from None
    exponent = number.as_tuple().exponent
    if not isinstance(exponent, int) or abs(number) >= 10**_DIGITS or exponent < -6:
        raise wrong("bound_too_long", digits=_DIGITS, decimals=6)
    return number


Bound = Annotated[Decimal, PlainValidator(_number), WithJsonSchema({"type": ["number", "string"]})]


class _QuestionDocument(DocumentPart):
    key: Slug
    label: Name
    required: bool = False
    help: Annotated[str, Field(max_length=500)] = ""


def _in_order(least: Any, most: Any, at: str) -> None:
    if least is not None and most is not None and most < least:
        raise wrong("most_below_least", at)


class ShortTextDocument(_QuestionDocument):
    reads = questions.ShortTextQuestion

    kind: Literal["short_text"]
    shortest: _WHOLE = 0
    longest: Annotated[int, Field(ge=1, le=questions.MAX_SHORT_TEXT_LENGTH)] = questions.MAX_SHORT_TEXT_LENGTH

    @model_validator(mode="after")
    def _bounds(self) -> Self:
        _in_order(self.shortest, self.longest, "longest")
        return self


class LongTextDocument(_QuestionDocument):
    reads = questions.LongTextQuestion

    kind: Literal["long_text"]
    shortest: _WHOLE = 0
    longest: Annotated[int, Field(ge=1, le=questions.MAX_LONG_TEXT_LENGTH)] = questions.MAX_LONG_TEXT_LENGTH

    @model_validator(mode="after")
    def _bounds(self) -> Self:
        _in_order(self.shortest, self.longest, "longest")
        return self


class NumberDocument(_QuestionDocument):
    reads = questions.NumberQuestion

    kind: Literal["number"]
    least: Bound | None = None
    most: Bound | None = None
    whole: bool = False

    @model_validator(mode="after")
    def _bounds(self) -> Self:
        _in_order(self.least, self.most, "most")
        return self


_Options = Annotated[list[Name], Field(min_length=1, max_length=questions.MAX_CHOICES)]


def _no_option_twice(options: list[str]) -> None:
    for number, option in enumerate(options):
        if option in options[:number]:
            raise wrong("stands_twice", path("options", number), what="answer")


class OneOfDocument(_QuestionDocument):
    reads = questions.OneOfQuestion

    kind: Literal["one_of"]
    options: _Options

    @model_validator(mode="after")
    def _options_differ(self) -> Self:
        _no_option_twice(self.options)
        return self


class SeveralOfDocument(_QuestionDocument):
    reads = questions.SeveralOfQuestion

    kind: Literal["several_of"]
    options: _Options
    least: Annotated[int, Field(ge=0, le=questions.MAX_CHOICES)] = 0
    most: Annotated[int, Field(ge=1, le=questions.MAX_CHOICES)] | None = None

    @model_validator(mode="after")
    def _bounds(self) -> Self:
        _no_option_twice(self.options)
        _in_order(self.least, self.most, "most")
        _in_order(self.least, len(self.options), "least")
        return self


class YesNoDocument(_QuestionDocument):
    reads = questions.YesNoQuestion

    kind: Literal["yes_no"]


class DayDocument(_QuestionDocument):
    reads = questions.DayQuestion

    kind: Literal["day"]
    earliest: Day | None = None
    latest: Day | None = None

    @model_validator(mode="after")
    def _bounds(self) -> Self:
        _in_order(self.earliest, self.latest, "latest")
        return self


QuestionDocument = Annotated[
    ShortTextDocument
    | LongTextDocument
    | NumberDocument
    | OneOfDocument
    | SeveralOfDocument
    | YesNoDocument
    | DayDocument,
    Field(discriminator="kind"),
]
