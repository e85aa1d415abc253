"""A seller's own questions to the buyer, and the checks of the answers.

>>> span = NumberQuestion("span", "How wide shall it be, in metres?", least=Decimal("0.5"), most=Decimal("4"))
>>> check_answers([span], {"span": "1,8"}).answers
{'span': '1.8'}
>>> [(fault.code, fault.limit) for fault in check_answers([span], {"span": "6"}).faults]
[('answer_above_most', '4')]
"""

from __future__ import annotations

import re
import unicodedata
from abc import abstractmethod
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from datetime import date
from decimal import Decimal
from typing import Any, ClassVar, NamedTuple

from cravik.core.errors import Fault

#: What a buyer sends: one text, or the chosen ones of a list.
SentAnswer = str | Sequence[str]
#: What is kept: a text in one normal form, a choice of several, or yes and no.
CleanAnswer = str | tuple[str, ...] | bool

MAX_SHORT_TEXT_LENGTH, MAX_LONG_TEXT_LENGTH, MAX_CHOICES = 200, 5_000, 50
_NUMBER = re.compile(r"[-−]?\d{1,15}(?:[.,]\d{1,6})?", re.ASCII)


class Refused(Exception):
    """An answer that cannot be taken. ``also`` are further refusals of the same answer."""

    def __init__(self, code: str, **fields: Any) -> None:
        super().__init__(code)
        self.fault = Fault(code, **fields)
        self.also: tuple[Refused, ...] = ()


def _raise_all(refusals: Sequence[Refused]) -> None:
    """Raise the first with the others, if there are any."""
    if refusals:
        refusals[0].also = tuple(refusals[1:])
        raise refusals[0]


@dataclass(frozen=True, slots=True)
class Question:
    """``key`` is a slug, unique among its offer's questions; ``label`` is what the buyer reads."""

    kind: ClassVar[str]
    key: str
    label: str
    required: bool = field(default=False, kw_only=True)
    help: str = field(default="", kw_only=True)

    @abstractmethod
    def clean(self, sent: str) -> CleanAnswer:
        """The answer in its normal form. Raises ``Refused``. ``sent`` is not empty."""

    def clean_sent(self, sent: SentAnswer) -> CleanAnswer:
        """The same for what a form sends, where an answer that was asked for once may come as a list."""
        if isinstance(sent, str):
            return self.clean(sent)
        if len(sent) != 1:
            raise Refused("answer_not_single")
        return self.clean(sent[0])


@dataclass(frozen=True, slots=True)
class ShortTextQuestion(Question):
    """One line of text, of ``shortest`` to ``longest`` characters."""

    kind = "short_text"
    shortest: int = field(default=0, kw_only=True)
    longest: int = field(default=MAX_SHORT_TEXT_LENGTH, kw_only=True)

    def clean(self, sent: str) -> CleanAnswer:
        return self.within_length(" ".join(_readable(sent).split()))

    def within_length(self, text: str) -> str:
        if len(text) < self.shortest:
            raise Refused("answer_too_short", length=len(text), limit=self.shortest)
        if len(text) > self.longest:
            raise Refused("answer_too_long", length=len(text), limit=self.longest)
        return text


@dataclass(frozen=True, slots=True)
class LongTextQuestion(ShortTextQuestion):
    """Several lines of text."""

    kind = "long_text"
    longest: int = field(default=MAX_LONG_TEXT_LENGTH, kw_only=True)

    def clean(self, sent: str) -> CleanAnswer:
        lines = _readable(sent).replace("\r\n", "\n").replace("\r", "\n").split("\n")
        return self.within_length("\n".join(line.rstrip() for line in lines).strip())


@dataclass(frozen=True, slots=True)
class NumberQuestion(Question):
    """A number from ``least`` to ``most``, both included; ``whole`` ones only, if said."""

    kind = "number"
    least: Decimal | None = field(default=None, kw_only=True)
    most: Decimal | None = field(default=None, kw_only=True)
    whole: bool = field(default=False, kw_only=True)

    def clean(self, sent: str) -> CleanAnswer:
        typed = "".join(_latin_digits(sent).split())
        if not _NUMBER.fullmatch(typed):
            raise Refused("answer_no_number", example="3" if self.whole else "1.5")
        number = Decimal(typed.replace("−", "-").replace(",", "."))
        wrong = []
        if self.whole and number != number.to_integral_value():
            wrong.append(Refused("answer_not_whole"))
        if self.least is not None and number < self.least:
            wrong.append(Refused("answer_below_least", limit=_plain(self.least)))
        if self.most is not None and number > self.most:
            wrong.append(Refused("answer_above_most", limit=_plain(self.most)))
        _raise_all(wrong)
        return _plain(number)


@dataclass(frozen=True, slots=True)
class OneOfQuestion(Question):
    """One of a list."""

    kind = "one_of"
    options: tuple[str, ...]

    def clean(self, sent: str) -> CleanAnswer:
        if sent not in self.options:
            raise Refused("answer_not_offered", answers=(sent[:80],))
        return sent


@dataclass(frozen=True, slots=True)
class SeveralOfQuestion(Question):
    """Several of a list, at least ``least`` and at most ``most`` of them."""

    kind = "several_of"
    options: tuple[str, ...]
    least: int = field(default=0, kw_only=True)
    most: int | None = field(default=None, kw_only=True)

    def clean(self, sent: str) -> CleanAnswer:
        return self.clean_sent([sent])

    def clean_sent(self, sent: SentAnswer) -> CleanAnswer:
        asked = {sent} if isinstance(sent, str) else set(sent)
        unknown = sorted(asked - set(self.options))
        wrong = []
        if unknown:
            wrong.append(Refused("answer_not_offered", answers=tuple(name[:80] for name in unknown[:3])))
        if len(asked) < self.least:
            wrong.append(Refused("answer_too_few", limit=self.least))
        if self.most is not None and len(asked) > self.most:
            wrong.append(Refused("answer_too_many", limit=self.most))
        _raise_all(wrong)
        return tuple(option for option in self.options if option in asked)


@dataclass(frozen=True, slots=True)
class YesNoQuestion(Question):
    """Yes or no. A required one, such as consent, has to be answered with yes."""

    kind = "yes_no"

    def clean(self, sent: str) -> CleanAnswer:
        if sent.casefold() not in ("yes", "no"):
            raise Refused("answer_not_offered", why="answer_neither_yes_nor_no")
        if self.required and sent.casefold() == "no":
            raise Refused("answer_missing", why="agreement_missing")
        return sent.casefold() == "yes"


@dataclass(frozen=True, slots=True)
class DayQuestion(Question):
    """A day from ``earliest`` to ``latest``, both included, written as ISO 8601 has it."""

    kind = "day"
    earliest: date | None = field(default=None, kw_only=True)
    latest: date | None = field(default=None, kw_only=True)

    def clean(self, sent: str) -> CleanAnswer:
        try:
            if len(sent.strip()) != 10:
                raise ValueError
            day = date.fromisoformat(_latin_digits(sent.strip()))
        except ValueError:
            raise Refused("answer_no_day") from None
        if self.earliest and day < self.earliest:
            raise Refused("answer_too_early", day=self.earliest, limit=self.earliest.isoformat())
        if self.latest and day > self.latest:
            raise Refused("answer_too_late", day=self.latest, limit=self.latest.isoformat())
        return day.isoformat()


class Checked(NamedTuple):
    """The answers that can be kept, by their questions' keys, and what is wrong with the others."""

    answers: dict[str, CleanAnswer]
    faults: tuple[Fault, ...]


def check_answers(questions: Sequence[Question], sent: Mapping[str, SentAnswer]) -> Checked:
    """Every answer held against its question. A fault stands ``at`` the question's key.

    An answer that is empty, or nothing but white space and control characters, counts as none; ``answer_missing`` where
    one is required. An answer to a question that nobody asked is ``answer_not_asked``.
    """
    answers: dict[str, CleanAnswer] = {}
    faults = [
        Fault("answer_not_asked", key, key=key[:80])
        for key in sent
        if key not in {question.key for question in questions}
    ]
    for question in questions:
        answer = sent.get(question.key, "")
        if _is_empty(answer):
            if question.required:
                faults.append(Fault("answer_missing", question.key))
            continue
        try:
            answers[question.key] = question.clean_sent(answer)
        except Refused as refused:
            faults += [each.fault.placed(question.key) for each in (refused, *refused.also)]
    return Checked(answers, tuple(faults))


def _is_empty(answer: SentAnswer) -> bool:
    texts = [answer] if isinstance(answer, str) else answer
    return not any(_readable(text).strip() for text in texts)


def _readable(text: str) -> str:
    """Without control characters and half characters, in one normal form (NFC)."""
    kept = (sign for sign in text if sign in "\n\r\t" or unicodedata.category(sign) not in ("Cc", "Cs"))
    return unicodedata.normalize("NFC", "".join(kept))


def _latin_digits(text: str) -> str:
    """Every script's digits as ASCII."""
    return "".join(str(unicodedata.decimal(sign, sign)) for sign in text)


def _plain(number: Decimal) -> str:
    text = f"{number:f}"
    return text.rstrip("0").rstrip(".") if "." in text else text
