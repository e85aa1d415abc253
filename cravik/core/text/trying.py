"""The one change of a page most worth trying, with its evidence; none where nothing stands out.

>>> stops = [Stop("Your name", reached=300, stopped=6), Stop("E-mail", reached=294, stopped=5),
...          Stop("Which school?", may_go=True, reached=289, stopped=70)]
>>> trial = worth_trying(stops, Ladder(900, 310, 200, 180))
>>> print(trial.words.replace("\N{NO-BREAK SPACE}", " "))
Make “Which school?” optional, or leave it out.
>>> print(trial.evidence.replace("\N{NO-BREAK SPACE}", " "))
70 of the 289 who came to it went no further (24.2 %, likely between 19.6 % and 29.5 %); at the other fields it was 1.9 %. If it stopped no more than they do, between 41 and 66 more would have paid.
>>> worth_trying(stops[:2], Ladder(900, 600, 590, 580)) is None
True
"""  # noqa: E501

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from math import hypot
from typing import NamedTuple

from cravik.core.statistics.comparisons import difference
from cravik.core.statistics.ladder import Ladder
from cravik.core.statistics.rates import MIN_VISITS_TO_TELL, Rate, conversion
from cravik.core.statistics.stops import Stop, pooled, standing_out
from cravik.core.text.results_words import percent_words

#: Of so few that begin to fill a page in, what is seen first is worth the first thought.
_FEW_BEGIN = 0.25
#: Bounds of which the upper is more times the lower say nothing that is worth reading.
_WORTH_READING = 4


@dataclass(frozen=True)
class Trial:
    """What to try, in a sentence, and why. ``gain`` is how many more would have paid, where that can be said."""

    words: str
    evidence: str
    gain: int = 0


def worth_trying(stops: Sequence[Stop], ladder: Ladder) -> Trial | None:
    """The change with the greatest gain, of those that a field stands out for; else what is seen before any field."""
    trials = [*_at_fields(stops, ladder), *_at_refusals(stops, ladder)]
    if trials:
        return max(trials, key=lambda trial: trial.gain)
    began = conversion(ladder.started, ladder.opened)
    if began.tells and began.high < _FEW_BEGIN:
        return Trial(
            "Work on what is seen before any field: the picture, the words and the price.",
            f"Only {percent_words(began.share)} of {began.of:,} visits begin to fill the page in"
            f" (likely between {percent_words(began.low)} and {percent_words(began.high)}), and no field stands out.",
        )
    return None


def _at_fields(stops: Sequence[Stop], ladder: Ladder) -> Iterator[Trial]:
    for stop, is_out in zip(stops, standing_out([stop.rate for stop in stops]), strict=True):
        if not is_out or stop.fixed:
            continue
        rate, others = stop.rate, pooled(stops, stop)
        gain = _gain(stop, others, ladder)
        yield Trial(
            _change_of(stop),
            f"{stop.stopped:,} of the {stop.reached:,} who came to it went no further ({percent_words(rate.share)},"
            f" likely between {percent_words(rate.low)} and {percent_words(rate.high)}); at the other fields it was"
            f" {percent_words(others.share)}.{gain.words}",
            gain.likely,
        )


class _Gain(NamedTuple):
    """How many more would likely have paid, and its bounds."""

    likely: int
    low: float
    high: float

    @property
    def words(self) -> str:
        """Nothing where the bounds are too far apart to say anything."""
        if round(self.low) < 1 or self.high > _WORTH_READING * self.low:
            return ""
        low, high = round(self.low), round(self.high)
        between = f"about {low:,}" if low == high else f"between {low:,} and {high:,}"
        return f" If it stopped no more than they do, {between} more would have paid."


def _gain(stop: Stop, others: Rate, ladder: Ladder) -> _Gain:
    """How many more would have paid, if no more had stopped here than at the other fields: those who are let past go on
    as those did who passed it, of whom some stopped later and some were declined.

    The bounds are those of a product of two estimates (the method of variance estimates recovery: G. Y. Zou and
    A. Donner, "Construction of confidence limits about effect measures", Statistics in Medicine 27, 2008).
    """
    passed = stop.reached - stop.stopped
    if passed <= 0:
        return _Gain(0, 0.0, 0.0)
    paid, apart = conversion(min(ladder.paid, passed), passed), difference(stop.rate, others)
    fewer = stop.rate.share - others.share
    likely = fewer * paid.share
    below = hypot(paid.share * (fewer - apart.low), fewer * (paid.share - paid.low))
    above = hypot(paid.share * (apart.high - fewer), fewer * (paid.high - paid.share))
    most = stop.stopped  # nobody is let past who was not stopped
    low, middle, high = (min(max(0.0, each * stop.reached), most) for each in (likely - below, likely, likely + above))
    return _Gain(round(middle), low, high)


def _change_of(stop: Stop) -> str:
    if stop.may_go and stop.is_required:
        return f"Make “{stop.label}” optional, or leave it out."
    if stop.may_go:
        return f"Leave “{stop.label}” out, or ask it after the payment."
    return f"Make “{stop.label}” easier, or say why it is asked."


def _at_refusals(stops: Sequence[Stop], ladder: Ladder) -> Iterator[Trial]:
    for stop, is_out in zip(stops, standing_out([stop.refusals for stop in stops]), strict=True):
        if is_out and not stop.fixed and stop.refused >= MIN_VISITS_TO_TELL:
            rate = stop.refusals
            yield Trial(
                f"Say beside “{stop.label}” what is wanted.",
                f"What was typed there was refused for {stop.refused:,} of {stop.reached:,} visits"
                f" ({percent_words(rate.share)}, likely between {percent_words(rate.low)} and"
                f" {percent_words(rate.high)}).",
            )
