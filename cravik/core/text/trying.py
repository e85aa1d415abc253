"""The one change of a page most worth trying, with its evidence; none where nothing stands out.

>>> stops = [Stop("Your name", reached=300, stopped=6), Stop("E-mail", reached=294, stopped=5),
...          Stop("Which school?", may_go=True, reached=289, stopped=70)]
>>> trial = worth_trying(stops, Ladder(900, 310, 200, 180))
>>> print(trial.words.replace("\N{NO-BREAK SPACE}", " "))
Make “Which school?” optional, or leave it out.
>>> print(trial.evidence.replace("\N{NO-BREAK SPACE}", " "))
70 of the 289 who came to it went no further (24.2 %, likely between 19.6 % and 29.5 %); at the other fields it was 1.9 %. If it stopped no more than they do, about 51 more would have paid.
>>> worth_trying(stops[:2], Ladder(900, 600, 590, 580)) is None
True
"""  # noqa: E501

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass

from cravik.core.statistics.ladder import Ladder
from cravik.core.statistics.rates import MIN_VISITS_TO_TELL, conversion
from cravik.core.statistics.stops import Stop, pooled, standing_out
from cravik.core.text.results_words import percent_words

#: Of so few that begin to fill a page in, what is seen first is worth the first thought.
_FEW_BEGIN = 0.25


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
        fewer = stop.stopped - others.share * stop.reached
        went_on = conversion(min(ladder.paid, ladder.started), ladder.started - sum(each.stopped for each in stops))
        gain = round(fewer * went_on.share) if went_on.of else 0
        told = f"about {gain:,} more would have paid" if gain > 1 else "few more would have paid"
        yield Trial(
            _change_of(stop),
            f"{stop.stopped:,} of the {stop.reached:,} who came to it went no further ({percent_words(rate.share)},"
            f" likely between {percent_words(rate.low)} and {percent_words(rate.high)}); at the other fields it was"
            f" {percent_words(others.share)}. If it stopped no more than they do, {told}.",
            gain,
        )


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
