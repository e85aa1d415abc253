"""Deposits: a part now, the rest on a later day."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date

from cravik.core.pricing.money import Money
from cravik.core.pricing.percent import Percent
from cravik.core.pricing.schedule import DepositPlan
from cravik.core.text.money_text import format_money
from cravik.core.text.plan_words import plan_words
from cravik.core.text.said.draft import Draft
from cravik.core.text.said.pieces import Got, NotSo, Piece, Rule, Unsuited

_MAX_DAYS = 3650
_WHEN = "(<after> [a | an | the] {span} | {span} later | <onday> {day} | on <after> {day} | {day})"


@dataclass(frozen=True)
class SaidDeposit:
    """What is paid now, what is left if that was said, and when."""

    amount: Money | None
    percent: Percent | None
    rest: Money | None
    after_days: int | None
    on: date | None
    more: bool = False


def _deposit(got: Got) -> SaidDeposit:
    after, on = None, None
    if "span" in got:
        span = got.span_of()
        if span.unit not in ("day", "week"):
            raise NotSo("Say after how many days or weeks, or on which day, the rest is due.")
        after = span.count * (7 if span.unit == "week" else 1)
        if after > _MAX_DAYS:
            raise NotSo(f"{after:,} days are more than there can be: the most is {_MAX_DAYS:,}.")
    else:
        on = got.day()
    percent = got.percent() if "percent" in got else None
    if "half" in got or "quarter" in got:
        percent = Percent.parse("50" if "half" in got else "25")
    amount = got.amount() if "amount" in got else None
    if amount is None and percent is None:
        raise Unsuited
    return SaidDeposit(amount, percent, got.amount("left") if "left" in got else None, after, on, "more" in got)


_NOW = "({amount} | {percent})"
_REST = f"[,] [:] [and | with | then] [the] [<rest>] [{{amount:left}}] [is] [due | payable | to pay] {_WHEN}"
RULES = (
    Rule("deposit", f"[with | paid] [a] [<least:more>] <deposit> [of | :] {_NOW} [now] {_REST}", _deposit),
    Rule("deposit", f"[with | paid | pay] [a] [<least:more>] {_NOW} <now> {_REST}", _deposit),
    Rule(
        "deposit_alone",
        f"[with] [a] (<deposit> [of] [{_NOW}] | {_NOW} (deposit | down | upfront))",
        lambda _: None,
        0.9,
    ),
    Rule(
        "deposit_alone", "(half | third | a third | a quarter) (now | down | upfront | up front)", lambda _: None, 0.9
    ),
    Rule("deposit", f"[a] (half:half | quarter:quarter) <now> {_REST}", _deposit),
)


def build(draft: Draft) -> None:
    for piece in draft.pieces_of("deposit"):
        _agreed(draft, piece)
    for piece in draft.pieces_of("deposit_alone"):
        draft.refuse(
            piece, "Say how much is paid now and when the rest is due, such as: deposit 30 %, rest after 30 days."
        )


def _agreed(draft: Draft, piece: Piece) -> None:
    said: SaidDeposit = piece.value
    if draft.plan is not None:
        draft.refuse(piece)
        return
    thing = draft.main
    price = thing.price.amount if thing and thing.price else None
    if said.rest is not None:
        parts = said.amount + said.rest if said.amount is not None else None
        if price is None or parts is None or parts != price:
            told = format_money(parts) if parts is not None else "that"
            draft.refuse(piece, f"The parts come to {told}" + (f", not {format_money(price)}." if price else "."))
            return
    if said.amount is not None and price is not None and said.amount > price:
        draft.refuse(piece, f"{format_money(said.amount)} is more than {format_money(price)}.")
        return
    draft.plan = DepositPlan(said.after_days, said.percent, said.amount, said.more, said.on)
    piece.words = plan_words(draft.plan)
