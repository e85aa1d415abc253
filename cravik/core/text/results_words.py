"""What results say, first of all, in one sentence: which converts best, how sure that is, and which brings most money.

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

from cravik.core.english import counted
from cravik.core.pricing.money import Money
from cravik.core.statistics.comparisons import against, verdict
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


def leading_words(standings: Sequence[Standing], currency: str, noun: Noun = VISITS) -> list[Piece]:
    """The sentence. Rates are shares of what the ``noun`` says; money is that in ``currency``, the business's own, else
    in the first that anything came in."""
    visits = sum(each.rate.of for each in standings)
    if not visits:
        return [Piece("Nobody came in these days." if noun == VISITS else f"No {noun.more} in these days.")]
    rates = list(_conversion(standings, visits, noun))
    names = [piece.text for piece in rates if piece.is_name]
    ahead = names[0] if len(names) == 1 else ""
    return [*rates, *_money(standings, currency, ahead), *_crowd(standings, noun)]


def percent_words(share: float) -> str:
    """A share with one decimal, such as ``9.7 %``."""
    return f"{100 * share:.1f}\N{NO-BREAK SPACE}%"


def _conversion(standings: Sequence[Standing], visits: int, noun: Noun) -> Iterator[Piece]:
    telling = sorted((each for each in standings if each.rate.tells), key=lambda each: -each.rate.share)
    if not telling:
        came = counted(visits, *noun)
        yield Piece(f"{came} so far: too few to tell. A rate is shown from {MIN_VISITS_TO_TELL} {noun.more} on.")
        return
    best, others = telling[0], telling[1:]
    rate = best.rate
    likely = f"likely between {percent_words(rate.low)} and {percent_words(rate.high)}"
    of = f"{percent_words(rate.share)} of {counted(rate.of, *noun)}"
    yield Piece(best.name, is_name=True)
    if not others:
        yield Piece(f" converts {of}, {likely}.")
        return
    verdicts = against(rate, [each.rate for each in others])
    if verdicts[0].says == "better":
        yield Piece(f" converts best: {of}, {likely}.")
        return
    yield Piece(f" is ahead with {of}, {likely}, but that can't be told from ")
    yield Piece(others[0].name, is_name=True)
    more = verdicts[0].more
    yield Piece(f" yet: about {more:,} more {noun.more} would." if more else " yet.")


def _crowd(standings: Sequence[Standing], noun: Noun) -> Iterator[Piece]:
    """That the one with the most visits sells less than half as readily as all the others together, where it does."""
    most = max(standings, key=lambda each: each.rate.of)
    others = [each.rate for each in standings if each is not most]
    rest = conversion(sum(round(rate.share * rate.of) for rate in others), sum(rate.of for rate in others))
    if verdict(rest, most.rate).says == "better" and most.rate.high < rest.share / 2:
        yield Piece(" ")
        yield Piece(most.name, is_name=True)
        share = percent_words(most.rate.share) if most.rate.share else "none"
        yield Piece(f" has the most {noun.more}, {most.rate.of:,}, but few of them pay: {share}.")


def _money(standings: Sequence[Standing], currency: str, ahead: str) -> Iterator[Piece]:
    """Which brings most money; ``ahead`` is the one name of the sentence before, if it has one."""
    currencies = dict.fromkeys([currency, *(money.currency for each in standings for money in each.money)])
    for code in currencies:
        taken = [(each, money) for each in standings for money in each.money if money.currency == code]
        earning = [(each, money) for each, money in taken if money.minor > 0]
        if not earning:
            continue
        most, money = max(earning, key=lambda pair: pair[1].minor)
        if len(standings) == 1:
            yield Piece(
                f" It brought {format_money(money)}." if most.name == ahead else f" {format_money(money)} came in."
            )
        elif most.name == ahead:
            yield Piece(f" It brings most money, too: {format_money(money)}.")
        else:
            yield Piece(" ")
            yield Piece(most.name, is_name=True)
            yield Piece(f" brings most money: {format_money(money)}.")
        return
