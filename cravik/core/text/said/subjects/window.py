"""From when and until when a link is open, in the seller's zone; how many orders, pieces and places there are."""

from __future__ import annotations

import re
from datetime import datetime, time, timedelta
from typing import NamedTuple

from dateutil.relativedelta import relativedelta

from cravik.core.english import instant_words
from cravik.core.text.said.draft import Draft
from cravik.core.text.said.pieces import Choice, Doubt, Got, NotSo, Piece, Rule, Unsuited


class SaidWindow(NamedTuple):
    opens_at: datetime | None
    closes_at: datetime | None


class SaidCount(NamedTuple):
    number: int
    #: Whether it counts bookings rather than pieces: places, slots, couples, orders.
    is_places: bool = False


def _until(got: Got) -> SaidWindow:
    """Until a day, which counts, or an hour of it; “midnight” is that at its end."""
    return SaidWindow(None, _closes(got, "day"))


def _before(got: Got) -> SaidWindow:
    return SaidWindow(None, got.line.when.instant(got.day(), got.clock() if "clock" in got else time()))


def _closes(got: Got, name: str) -> datetime:
    day = got.day(name)
    clock = got.clock() if "clock" in got else None
    if clock is None or clock == time(0):
        return got.line.when.instant(day + timedelta(days=1))
    return _not_over(got, got.line.when.instant(day, clock))


def _not_over(got: Got, instant: datetime) -> datetime:
    now = got.line.when.now
    if now is not None and instant <= now:
        raise NotSo(f"{instant_words(instant)} is over.")
    return instant


def _clock_alone(got: Got) -> SaidWindow:
    clock, words = got.clock(), got.line.words
    if {token.word.removesuffix("s") for token in got.line.tokens} & {*words.weekdays, *words.months}:
        raise Unsuited  # “Saturday breakfast till 11am”
    today = got.line.when.today
    instant = (
        got.line.when.instant(today + timedelta(days=1)) if clock == time(0) else got.line.when.instant(today, clock)
    )
    return SaidWindow(None, _not_over(got, instant))


def _from(got: Got) -> SaidWindow:
    line, told = got.line, got.line.text(got.start, got.end).strip("()")
    if told.split()[0].lower() in ("starts", "starting"):
        opens = line.replaced(got.start, got.end, f"opens {line.text(got.span('day')[0], got.end).rstrip(')')}")
        noted = line.replaced(got.start, got.end, f"note “{told}”")
        choices = (Choice("The link opens then", opens), Choice("What is sold begins then: keep it as a note", noted))
        got.doubts.append(Doubt(told, "What starts then?", choices))
    clock = got.clock() if "clock" in got else time(0)
    return SaidWindow(got.line.when.instant(got.day(), clock), None)


def _from_until(got: Got) -> SaidWindow:
    when, line = got.line.when, got.line
    if got.span("first")[0] == got.start and not any(
        token.number and token.number.money for token in line.tokens[: got.start]
    ):
        told = line.text(got.start, got.end)
        first, last = (line.text(*got.span(each)) for each in ("first", "last"))
        choices = (
            Choice("The link is open then", line.replaced(got.start, got.end, f", from {first} until {last},")),
            Choice("A part of the name", line.replaced(got.start, got.end, f"“{told}”")),
        )
        got.doubts.append(Doubt(told, "What are these days?", choices))
    opens = when.instant(got.day("first"), got.clock("opens") if "opens" in got else time(0))
    closes = _closes(got, "last")
    words = [token.word for token in got.tokens("last")]
    if closes <= opens and not any(word in got.line.words.months for word in words):
        closes += timedelta(days=7 * ((opens - closes).days // 7 + 1))  # “from Friday until Monday”: the one after it
    elif closes <= opens and got.day("last").month > got.day("first").month and "#y" not in words:
        following = got.day("last") + relativedelta(years=1)
        closes = when.instant(following + timedelta(days=1))
    if closes <= opens:
        raise NotSo("It would close before it opens.")
    return SaidWindow(opens, closes)


def _one_day(got: Got) -> SaidWindow:
    day = got.day()
    return SaidWindow(got.line.when.instant(day), got.line.when.instant(day + timedelta(days=1)))


def _for_hours(got: Got) -> SaidWindow:
    now = got.line.when.now
    if now is None:
        raise NotSo("The hour is not known here: say until which day and hour.")
    hours = got.count() * (24 if got.word("unit") == "days" else 1)
    return SaidWindow(
        None, (now + timedelta(hours=hours)).astimezone(got.line.when.zone).replace(second=0, microsecond=0)
    )


def _within(got: Got) -> SaidWindow:
    span = got.span_of()
    return SaidWindow(None, got.line.when.instant(span.after(got.line.when.today, 1) + timedelta(days=1)))


def _places(got: Got) -> SaidCount:
    if got.count() == 1:
        raise Unsuited  # “one seat” says what is sold
    units = re.findall(r" per (\S+)", got.line.lexed.shadow)
    persons = got.line.words.persons
    if units and got.word("places") in persons and units[0] not in persons:
        raise Unsuited  # “24 per team, max 6 people”
    return SaidCount(got.count(), is_places=True)


def _pieces(got: Got) -> SaidCount:
    return SaidCount(got.count())


def _of_noun(got: Got) -> SaidCount:
    """``60 jars``, where “a jar” was said of the price."""
    spans = got.line.words.spans
    if got.word("noun") in spans or got.word("noun").removesuffix("s") in spans or not got.is_of_price("noun"):
        raise Unsuited
    return SaidCount(got.count())


def _of_thing(got: Got) -> tuple[int, str]:
    if got.word("more") in got.line.words.joining:
        raise Unsuited
    return got.count(), got.text("noun") + (f" {got.text('more')}" if "more" in got else "")


def _per_buyer(got: Got) -> SaidCount:
    return SaidCount(got.count() if "count" in got else 1, "order" in got)


_CLOCK = "[,] [at | by] {clock}"
RULES = (
    Rule("window", f"[LP] <until> [on] {{day}} [{_CLOCK}] [RP]", _until),
    Rule("window", "[LP] <until> [at] {clock} [on] {day} [RP]", _until),
    Rule("window", "[LP] <until> [at] {clock} [tonight | today] [RP]", _clock_alone),
    Rule(
        "window",
        f"[LP] (order | orders | book | booking | closes | available | ends) before {{day}} [{_CLOCK}] [RP]",
        _before,
        0.9,
    ),
    Rule(
        "window",
        f"[LP] (order | orders | book | booking | closes | available | ends) by {{day}} [{_CLOCK}] [RP]",
        _until,
        0.9,
    ),
    Rule("window", f"[LP] <from> {{day}} [{_CLOCK}] [on | onwards] [RP]", _from),
    Rule(
        "window",
        f"[LP] [<from>] {{day:first}} [[at] {{clock:opens}}] (to | until | till | — | through"
        f" | thru | ~ | - | and ends | and closes | , <until>) {{day:last}} [{_CLOCK}] [RP]",
        _from_until,
    ),
    Rule("window", "[LP] {day} only [RP]", _one_day),
    Rule("window", "[for] [the] next {count} (hours:unit | days:unit)", _for_hours, 1),
    Rule("window", "[LP] (closes | ends | open for | available for | for the next) [in] {span} [RP]", _within),
    Rule("counted_of", "[only] {count} (<places> | <pieces>) for {noun}", _of_thing),
    Rule("counted_of", "[only] {count} (<places> | <pieces>) for {noun} {noun:more}", _of_thing),
    Rule("counted_of", "and {count} [<places> | <pieces>] for {noun}", _of_thing),
    Rule("counted_of", "and {count} [<places> | <pieces>] for {noun} {noun:more}", _of_thing),
    Rule("soldout", "<soldout>", lambda _: None),
    Rule("orders", "[up to | at most | only] {count} (orders | order) [<inall>]", lambda got: got.count()),
    Rule(
        "per_buyer",
        "[at most | max | maximum | up to | only | limit | limit of] {count} (orders:order |"
        " order:order) (a | per | each) <buyer>",
        _per_buyer,
    ),
    Rule(
        "per_buyer",
        "[LP] [at most | max | maximum | up to | only | limit | limit of | limited to]"
        " {count} [of them | pieces | tickets | places | seats | copies] [for] (a | per |"
        " each | /) <buyer> [RP]",
        _per_buyer,
    ),
    Rule(
        "once_per_buyer",
        "[LP] [limit | only] (once | one | 1) [order | only] (a | per | each | for each) <buyer> [RP]",
        lambda _: None,
        1.2,
    ),
    Rule(
        "counted",
        "[LP] [only | just | max | maximum | limited to | there are] {count} <places:places> [<inall>] [only] [RP]",
        _places,
    ),
    Rule("counted", "(up to | at most | no more than) {count} (places | seats | spots | slots | tickets)", _places),
    Rule("counted", "[LP] [only | just | there are | limited to] {count} <pieces:pieces> [<inall>] [RP]", _pieces),
    Rule("counted", "[LP] <edition> {count} [copies | prints | pieces] [RP]", _pieces),
    Rule("counted", "[LP] [only | just] {count} {noun} [<inall>] [RP]", _of_noun),
)


def build(draft: Draft) -> None:
    for piece in draft.pieces_of("counted_of"):
        number, name = piece.value
        thing = next((each for each in draft.things if each.name.casefold() == name.casefold()), None)
        if thing is None or any(each is thing for each, _ in draft.counted):
            draft.refuse(piece)
        else:
            draft.counted.append((thing, number))
            piece.words = f"{number:,} in all for {thing.name}"
    for piece in draft.pieces_of("window"):
        _window(draft, piece)
    for piece in draft.pieces_of("soldout"):
        piece.words = "until all are sold"
    for piece in draft.pieces_of("orders"):
        if draft.orders is not None:
            draft.refuse(piece)
        else:
            draft.orders = piece.value
            piece.words = f"{piece.value:,} orders in all"
    for piece in draft.pieces_of("once_per_buyer"):
        draft.orders_per_buyer = 1
        piece.words = "one order a buyer"
    for piece in draft.pieces_of("per_buyer"):
        _each_buyer(draft, piece)
    for piece in draft.pieces_of("counted"):
        _counted(draft, piece)


def _window(draft: Draft, piece: Piece) -> None:
    said: SaidWindow = piece.value
    if (said.opens_at and draft.opens_at) or (said.closes_at and draft.closes_at):
        draft.refuse(piece)
        return
    draft.opens_at, draft.closes_at = said.opens_at or draft.opens_at, said.closes_at or draft.closes_at
    if draft.opens_at and draft.closes_at and draft.closes_at <= draft.opens_at:
        draft.refuse(piece, "It would close before it opens.")
        return
    words = [f"opens {instant_words(said.opens_at)}"] if said.opens_at else []
    words += [f"closes {instant_words(said.closes_at)}"] if said.closes_at else []
    piece.words = ", ".join(words)


def _each_buyer(draft: Draft, piece: Piece) -> None:
    said: SaidCount = piece.value
    thing = draft.thing_at(piece.start)
    if said.is_places or thing is None:
        if draft.orders_per_buyer is not None or thing is None:
            draft.refuse(piece)
        else:
            draft.orders_per_buyer = said.number
            piece.words = f"{said.number:,} orders a buyer"
    elif draft.per_buyer:
        draft.refuse(piece)
    else:
        draft.per_buyer.append((thing, said.number))
        piece.words = f"at most {said.number:,} a buyer"


def _counted(draft: Draft, piece: Piece) -> None:
    """Places of what is bought one at a time are orders; all else are pieces of the thing."""
    said: SaidCount = piece.value
    thing = draft.thing_at(piece.start)
    if thing is None or any(each is thing for each, _ in draft.counted) or (len(draft.things) > 1 and draft.any_of):
        draft.refuse(piece)
        return
    if said.is_places and thing.bounds.max == 1 and len(draft.things) == 1 and draft.orders is None:
        draft.orders = said.number
        piece.words = f"{draft.line.text(piece.start, piece.end).strip('() ')} in all, one an order"
        return
    draft.counted.append((thing, said.number))
    piece.words = f"{said.number:,} in all"
