"""Prices that take over later: after so many orders, or from a day on."""

from __future__ import annotations

from datetime import timedelta

from cravik.core.english import day_words
from cravik.core.text.money_text import format_money
from cravik.core.text.said.draft import Draft, SaidPrice, SaidStep
from cravik.core.text.said.pieces import Got, Rule, Unsuited


def _by_count(got: Got) -> SaidStep:
    before = got.amount("before") if "before" in got else None
    after = got.amount("after") if "after" in got else None
    return SaidStep(before, after, orders=got.count())


def _by_pieces(got: Got) -> SaidStep:
    return SaidStep(after=got.amount("after"), pieces=got.count())


def _by_day(got: Got) -> SaidStep:
    before = got.amount("before") if "before" in got else None
    after = got.amount("after") if "after" in got else None
    day = got.day("until") + timedelta(days=1) if "until" in got else got.day()
    return SaidStep(before, after, from_=got.line.when.instant(day))


def _from_day(got: Got) -> SaidStep:
    """From a day on; a weekday's name on that very day could mean today or a week on, and is not taken so."""
    is_named = len(got.tokens("day")) == 1 and got.word("day") in got.line.words.weekdays
    if is_named and got.day() == got.line.when.today:
        raise Unsuited
    return _by_day(got)


def _early(got: Got) -> SaidStep:
    """``420 if booked by 1 March``, after the price that holds later."""
    if not any(token.number for token in got.line.tokens[: got.start]):
        raise Unsuited
    return _by_day(got)


_BOOKED = "[if] [you] (booked | book | paid | bought | buy)"
RULES = (
    Rule("step", "[then] {amount:after} after {count} (pieces | places | seats | tickets | copies)", _by_pieces),
    Rule(
        "step",
        "[LP] {amount:before} [<each>] [<earlybird>] (for | to | LP) [the] first {count}"
        " [<orders>] [RP] [,] [and] (then | after that) {amount:after}",
        _by_count,
    ),
    Rule(
        "step",
        "[LP] {amount:before} [<each>] [<earlybird>] (for | to | LP) [the] first {count}"
        " [<orders>] [RP] [,] {amount:after} (after | afterwards | after that | thereafter |"
        " from then on)",
        _by_count,
    ),
    Rule(
        "step",
        "[the] first {count} [<orders>] (at | for | pay | only | :) {amount:before} [,]"
        " [and] (then | after that) {amount:after}",
        _by_count,
    ),
    Rule("step", "[the] first {count} [<orders>] [at | for | pay | only | :] {amount:before}", _by_count, 0.95),
    Rule("step", "[LP] {amount:before} (for | to) [the] first {count} [<orders>] [RP]", _by_count, 0.95),
    Rule("step", "[then] {amount:after} after {count} (orders | sales | bookings | are sold | sold)", _by_count),
    Rule(
        "step",
        "after {count} (orders | sales | bookings | are sold | sold) [it is | it's | then] {amount:after}",
        _by_count,
    ),
    Rule(
        "step",
        "[<earlybird>] [:] {amount:before} <until> {day:until} [,] [and] (then | after that"
        " | thereafter) {amount:after}",
        _by_day,
    ),
    Rule(
        "step", "[<earlybird>] [:] {amount:before} <until> {day:until} [,] [and] {amount:after} <afterwards>", _by_day
    ),
    Rule(
        "step", "[<earlybird>] [:] {amount:before} before {day} [,] [and] (then | after that) {amount:after}", _by_day
    ),
    Rule("step", "[<earlybird>] [:] {amount:before} before {day} [,] [and] {amount:after} <afterwards>", _by_day),
    Rule("step", "<earlybird> [:] {amount:before} <until> {day:until}", _by_day),
    Rule("step", "<earlybird> [:] {amount:before} (before | by) {day}", _by_day),
    Rule("step", "{amount:before} <earlybird> <until> {day:until}", _by_day),
    Rule("step", "<earlybird> <until> {day:until} [:] {amount:before}", _by_day),
    Rule("step", f"[LP] {{amount:before}} [{_BOOKED}] <until> {{day:until}} [RP]", _early, 0.9),
    Rule("step", f"[LP] {{amount:before}} {_BOOKED} by {{day:until}} [RP]", _early, 0.95),
    Rule("step", f"[LP] {{amount:before}} [{_BOOKED}] before {{day}} [RP]", _early, 0.9),
    Rule("step", "{amount:before} <earlybird> <until> {day:until} [,] {amount:after} <afterwards>", _by_day),
    Rule("step", "[and] [the] [price] <goesto> {amount:after} (on | from | after) {day}", _by_day),
    Rule(
        "step",
        "[and] [the] [price] <goesto> {amount:after} after {count} (orders | sales | bookings | are sold | sold)",
        _by_count,
    ),
    Rule(
        "step",
        "[make it | charge | price | set it to | change it to | raise it to | raise to | lower it to] {amount:after}"
        " from {day} [on | onwards]",
        _from_day,
        0.95,
    ),
    Rule("step", "from {day} [on | onwards] [:] [at | it is | it's] {amount:after}", _from_day, 0.95),
)


def build(draft: Draft) -> None:
    """Each step with its thing; a price that was said as the thing's own is the later one where the step has the
    first. Where a link is changed, its price so far is none that was said."""
    for piece in draft.pieces_of("step"):
        said: SaidStep = piece.value
        thing = draft.thing_at(piece.start)
        if thing is None or thing.other is not None or thing.breaks or thing.bundles:
            draft.refuse(piece)
            continue
        own = thing.price
        before, after = said.before, said.after
        if before is None:
            if own is None:
                draft.refuse(piece)
                continue
            before = own.amount
        elif own is None:
            thing.price = SaidPrice(before)
        elif after is None:
            after = own.amount
            thing.price = SaidPrice(before, own.each, plan=own.plan)
        elif not draft.has("price"):
            thing.price = SaidPrice(before, own.each, plan=own.plan, was=own.was)
        else:
            draft.refuse(piece)
            continue
        if after is None or after == before:
            draft.refuse(piece, "" if after is None else "Both prices are the same.")
            continue
        if own is not None and (own.pack or (own.was and said.before is not None)):
            draft.refuse(piece)
            continue
        draft.steps.append((thing, SaidStep(before, after, said.orders, said.from_, said.pieces)))
        piece.words = f"{format_money(before)}, then {format_money(after)} {_when(said)}"


def _when(said: SaidStep) -> str:
    if said.from_:
        return f"from {day_words(said.from_.date())}"
    return f"after {said.orders:,} orders" if said.orders else f"after {said.pieces or 0:,} pieces"
