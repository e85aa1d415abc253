"""What results say, first of all, in a sentence or two: which converts best, how sure that is, and which brings most
money.

>>> from cravik.core.statistics.rates import conversion
>>> sign = Standing("Stall sign", conversion(40, 412), (Money(90000, "EUR"),))
>>> letter = Standing("Newsletter", conversion(31, 900), (Money(144000, "EUR"),))
>>> words = "".join(piece.text for piece in leading_words([sign, letter], "EUR"))
>>> print(words.replace("\N{NO-BREAK SPACE}", " ").replace(". N", ".\\nN"))
Stall sign converts best: 9.7 % of 412 visits, likely between 7.2 % and 13.0 %.
Newsletter brings most money: €1,440.00.
Newsletter has the most visits, 900, but few of them pay: 3.4 %.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from typing import NamedTuple

from cravik.core.english import counted, listed
from cravik.core.pricing.money import Money
from cravik.core.statistics.comparisons import against, level, more_visits, verdict
from cravik.core.statistics.rates import MIN_VISITS_TO_TELL, Rate, conversion
from cravik.core.text.money_text import format_money


class Noun(NamedTuple):
    """What rates are shares of: one of them, and several."""

    one: str
    more: str


VISITS = Noun("visit", "visits")


class Standing(NamedTuple):
    """What is compared: its name, its rate, and what it took, one sum a currency."""

    name: str
    rate: Rate
    money: tuple[Money, ...]


class Piece(NamedTuple):
    """A piece of the sentence; names of what is compared are set off."""

    text: str
    is_name: bool = False


def leading_words(
    standings: Sequence[Standing], currency: str, noun: Noun = VISITS, *, is_over: bool = False
) -> list[Piece]:
    """The sentences. Rates are shares of what the ``noun`` says; money is told by currency, the business's own first.
    Days that are over, ``is_over``, bring no more."""
    visits = sum(each.rate.of for each in standings)
    if not visits:
        return [Piece("Nobody came in these days." if noun == VISITS else f"No {noun.more} in these days.")]
    rates = list(_conversion(standings, noun, is_over))
    names = [piece.text for piece in rates if piece.is_name]
    ahead = names[0] if len(names) == 1 else ""
    return [*rates, *_money(standings, currency, ahead), *_crowd(standings, noun)]


def percent_words(share: float) -> str:
    """A share with one decimal, such as ``9.7 %``."""
    return f"{100 * share:.1f}\N{NO-BREAK SPACE}%"


def _conversion(standings: Sequence[Standing], noun: Noun, is_over: bool) -> Iterator[Piece]:
    came = [each for each in standings if each.rate.of]
    telling = sorted((each for each in came if each.rate.tells), key=lambda each: -each.rate.share)
    so_far = "" if is_over else " so far"
    if not telling:
        visits = counted(sum(each.rate.of for each in came), *noun)
        each = f", but fewer than {MIN_VISITS_TO_TELL} each" if len(came) > 1 else ""
        yield Piece(
            f"{visits}{so_far}{each}: too few to tell. A rate is shown from {MIN_VISITS_TO_TELL} {noun.more} on."
        )
        return
    best, others = telling[0], telling[1:]
    if not best.rate.share:
        yield Piece(_nobody(came, telling, noun, so_far))
        return
    alike = [each for each in telling if level(each.rate, best.rate)]
    if len(alike) > 1:
        yield from _named([each.name for each in alike])
        rest = "" if len(alike) == len(telling) else " are ahead of the others, and"
        yield Piece(f"{rest} convert alike{so_far}: {percent_words(best.rate.share)}.")
        return
    yield Piece(best.name, is_name=True)
    yield from _ahead(best.rate, others, noun, is_over)


def _ahead(rate: Rate, others: Sequence[Standing], noun: Noun, is_over: bool) -> Iterator[Piece]:
    """What is said of the one with the highest rate, against the others."""
    likely = f"likely between {percent_words(rate.low)} and {percent_words(rate.high)}"
    of = f"{percent_words(rate.share)} of {counted(rate.of, *noun)}"
    if not others:
        yield Piece(f" converts {of}, {likely}.")
        return
    rates = [each.rate for each in others]
    verdicts = against(rate, rates)
    unclear = [each.name for each, verdict in zip(others, verdicts, strict=True) if verdict.says != "better"]
    if not unclear:
        yield Piece(f" converts best: {of}, {likely}.")
        return
    yield Piece(f" leads with {of}, {likely}, but is not clearly ahead of ")
    yield from _named(unclear)
    more = None if is_over else more_visits(rate, rates)
    yield Piece("." if is_over else " yet.")
    if more:
        yield Piece(f" About {more:,} more {noun.more} in all are needed to tell, if the rates stay as they are.")


def _nobody(came: Sequence[Standing], telling: Sequence[Standing], noun: Noun, so_far: str) -> str:
    """That none of those with enough visits has a payment."""
    if all(not each.rate.share for each in came):
        return f"None of the {counted(sum(each.rate.of for each in came), *noun)} ended in a payment{so_far}."
    visits = counted(sum(each.rate.of for each in telling), *noun)
    which = f"with {MIN_VISITS_TO_TELL} {noun.more} or more"
    return f"None of those {which} has a payment{so_far}, of {visits}; the others have too few for a rate."


def _named(names: Sequence[str]) -> Iterator[Piece]:
    """The names, or the first and how many others there are."""
    shown = names if len(names) <= _MOST_NAMED else names[:1]
    for place, name in enumerate(shown):
        if place:
            yield Piece(" and " if place == len(shown) - 1 and shown is names else ", ")
        yield Piece(name, is_name=True)
    if shown is not names:
        yield Piece(f" and {counted(len(names) - 1, 'other', 'others')}")


_MOST_NAMED = 3


def _crowd(standings: Sequence[Standing], noun: Noun) -> Iterator[Piece]:
    """That the one with the most visits sells less than half as readily as all the others together, where it does."""
    most = max(standings, key=lambda each: each.rate.of)
    others = [each.rate for each in standings if each is not most]
    rest = conversion(sum(rate.happened for rate in others), sum(rate.of for rate in others))
    if verdict(rest, most.rate).says == "better" and most.rate.high < rest.share / 2:
        yield Piece(" ")
        yield Piece(most.name, is_name=True)
        clause = f"but few of them pay: {percent_words(most.rate.share)}" if most.rate.share else "but nobody paid"
        yield Piece(f" has the most {noun.more}, {most.rate.of:,}, {clause}.")


def _money(standings: Sequence[Standing], currency: str, ahead: str) -> Iterator[Piece]:
    """Which brings most money, in each currency; ``ahead`` is the one name of the sentence before, if it has one."""
    currencies = dict.fromkeys([currency, *(money.currency for each in standings for money in each.money)])
    earners = [most for code in currencies if (most := _most(standings, code))]
    if not earners:
        return
    if len(standings) == 1:
        sums = listed([format_money(money) for _, money in earners], "and")
        yield Piece(f" It brought {sums}." if standings[0].name == ahead else f" {sums} came in.")
        return
    for place, (names, money) in enumerate(earners):
        what = f"most money in {money.currency}" if len(earners) > 1 else "most money"
        if place == 0 and list(names) == [ahead]:
            yield Piece(f" It brings {what}, too: {format_money(money)}.")
            continue
        yield Piece(" ")
        yield from _named(names)
        each = " each" if len(names) > 1 else ""
        yield Piece(f" bring{'' if each else 's'} {what}: {format_money(money)}{each}.")


def _most(standings: Sequence[Standing], currency: str) -> tuple[list[str], Money] | None:
    """Who brings most in the currency, all of them where several bring the same; None where nobody brings any."""
    taken = [(each.name, money) for each in standings for money in each.money if money.currency == currency]
    top = max((money.minor for _, money in taken), default=0)
    return ([name for name, money in taken if money.minor == top], Money(top, currency)) if top > 0 else None
