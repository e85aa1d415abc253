"""Days and times as people say them, from their tokens: “31 December”, “Dec 10”, “Friday”, “5/12”, “noon”."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, time, timedelta

from dateutil.relativedelta import relativedelta

from cravik.core.english import day_words
from cravik.core.text.said.lexing import Token
from cravik.core.text.said.words import ENGLISH, Words

_WEEK = 7


class NoDay(Exception):
    """There is no such day; the text says why."""


@dataclass(frozen=True)
class ReadDay:
    """A day, or the two that numbers alone could mean."""

    day: date
    other: date | None = None

    @property
    def choices(self) -> tuple[str, ...]:
        return tuple(day_words(each) for each in (self.day, self.other) if each)


def read_day(tokens: Sequence[Token], today: date, words: Words = ENGLISH) -> ReadDay:
    """The day that the tokens say; one without a year is the next of that name. Raises ``NoDay``."""
    said = [token for token in tokens if token.word not in (",", "the", "of", "this", "coming")]
    names = [token.word for token in said]
    if relative := _relative(names, today, words):
        return ReadDay(relative)
    if said[0].word == "dd":
        return ReadDay(_written(said[0].text, today))
    if "/" in names or "—" in names:
        return _by_numbers([token.number.whole or 0 for token in said if token.number], today)
    month = next((words.months[name] for name in names if name in words.months), None)
    if month is None:
        return ReadDay(_weekday(names, today, words))
    numbers = [token.number.whole for token in said if token.number and token.number.whole is not None]
    year = next((number for number, token in zip(numbers, _numbered(said), strict=True) if token.word == "#y"), None)
    number = next((number for number in numbers if number != year), None)
    if number is None:  # the end of a month
        last = _dated(year or today.year, month, 1) + relativedelta(day=31)
        return ReadDay(last if year or last >= today else last + relativedelta(years=1, day=31))
    day = _in_year(year, month, number, today)
    weekday = next((words.weekdays[name] for name in names if name in words.weekdays), None)
    if weekday is not None and day.weekday() != weekday:
        raise NoDay(f"{day_words(day)} is a {day:%A}.")
    return ReadDay(day)


def _numbered(tokens: Sequence[Token]) -> list[Token]:
    return [token for token in tokens if token.number and token.number.whole is not None]


def _relative(names: list[str], today: date, words: Words) -> date | None:
    match names:
        case ["today"] | ["tonight"]:
            return today
        case ["tomorrow"]:
            return today + timedelta(days=1)
        case ["yesterday"]:
            return today - timedelta(days=1)
        case ["christmas", "eve"]:
            return _next_of(12, 24, today)
        case ["christmas", *_]:
            return _next_of(12, 25, today)
        case ["new", _, "eve"]:
            return _next_of(12, 31, today)
        case ["new", _, "day"]:
            return _next_of(1, 1, today)
        case ["end", "month"]:
            return today + relativedelta(day=31)
        case ["end", "year"]:
            return date(today.year, 12, 31)
        case ["end", "week"]:
            return today + timedelta(days=_WEEK - 1 - today.weekday())
    return None


def _weekday(names: list[str], today: date, words: Words) -> date:
    """The next of that name, today counting; “next Friday” is the one of next week."""
    name = next((name for name in names if name in words.weekdays), None)
    if name is None:
        raise NoDay("There is no such day.")
    if "next" in names:
        monday = today - timedelta(days=today.weekday()) + timedelta(days=_WEEK)
        return monday + timedelta(days=words.weekdays[name])
    return today + timedelta(days=(words.weekdays[name] - today.weekday()) % _WEEK)


def _written(text: str, today: date) -> date:
    """``2026-12-31``, ``31.12.`` and ``31.12.2026``."""
    parts = [int(part) for part in text.replace("-", ".").split(".") if part]
    if "-" in text:
        return _dated(*parts)
    if len(parts) == 2:
        return _in_year(None, parts[1], parts[0], today)
    return _dated(parts[2] if parts[2] > 99 else 2000 + parts[2], parts[1], parts[0])


def _by_numbers(numbers: list[int], today: date) -> ReadDay:
    """``31/1`` and ``5/12/2026``: the day or the month may stand first."""
    if numbers[0] > 31 and len(numbers) == 3:
        return ReadDay(_dated(*numbers))
    first, second = numbers[:2]
    year = (numbers[2] if numbers[2] > 99 else 2000 + numbers[2]) if len(numbers) > 2 else None
    found = []
    for day, month in ((first, second), (second, first)):
        try:
            found.append(_in_year(year, month, day, today))
        except NoDay:
            continue
    if not found:
        raise NoDay("There is no such day.")
    return ReadDay(found[0], found[1] if len(found) > 1 and found[1] != found[0] else None)


def _in_year(year: int | None, month: int, day: int, today: date) -> date:
    if year is not None:
        return _dated(year, month, day)
    return _next_of(month, day, today)


def _next_of(month: int, day: int, today: date) -> date:
    for year in range(today.year, today.year + 9):
        try:
            found = date(year, month, day)
        except ValueError:
            continue
        if found >= today:
            return found
    raise NoDay("There is no such day.")


def _dated(year: int, month: int, day: int) -> date:
    try:
        return date(year, month, day)
    except ValueError:
        raise NoDay("There is no such day.") from None


def read_clock(token: Token) -> time:
    """``6pm``, ``18:00``, ``noon``. Midnight is the end of its day: see ``subjects.window``."""
    match token.word:
        case "noon" | "midday":
            return time(12)
        case "midnight":
            return time(0)
    text = token.text.lower().replace(".m.", "m").replace(" ", "").replace(".", ":")
    half = text[-2:] if text.endswith(("am", "pm")) else ""
    hour, _, minute = text.removesuffix(half).partition(":")
    hours = int(hour) % 12 + (12 if half == "pm" else 0) if half else int(hour)
    return time(hours, int(minute or 0))
