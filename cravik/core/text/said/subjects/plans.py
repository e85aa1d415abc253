"""When it is paid: again and again, in parts, after a trial, or as the buyer picks."""

from __future__ import annotations

from dataclasses import replace

from cravik.core.errors import CoreError
from cravik.core.pricing.money import Money
from cravik.core.pricing.price import FixedPrice
from cravik.core.pricing.schedule import ONCE, Every, FirstPayments, InstalmentsPlan, RepeatPlan, SimplePlan
from cravik.core.text.money_text import format_money
from cravik.core.text.plan_words import plan_words, span_words
from cravik.core.text.said.draft import Draft
from cravik.core.text.said.pieces import Got, NotSo, Piece, Rule, Unsuited

_MAX_PAYMENTS, _MAX_YEARS = 1200, 100
_A_YEAR = {"day": 365, "week": 52, "month": 12, "year": 1}
_MONTH = Every(1, "month")


def _repeats(got: Got) -> RepeatPlan:
    every = got.cadence() if "cadence" in got else got.every("count" if "count" in got else None, "period")
    return RepeatPlan(every)


def _instalments(got: Got) -> InstalmentsPlan:
    many = got.count(least=2)
    every = got.cadence() if "cadence" in got else got.cadence("after") if "after" in got else _MONTH
    if "period" in got:
        every = got.every("step" if "step" in got else None, "period")
    if many > _MAX_PAYMENTS or every.count * many > _MAX_YEARS * _A_YEAR[every.unit]:
        raise NotSo(f"{many:,} payments are more than there can be.")
    return InstalmentsPlan(every, many)


def _in_parts(got: Got) -> InstalmentsPlan:
    """``pay in 3``; not “in 3 days”."""
    if got.line.word(got.end)[:1].isalpha():
        raise Unsuited
    return _instalments(got)


def _over(got: Got) -> InstalmentsPlan:
    span = got.span_of()
    if span.unit == "day" or span.count < 2:
        raise Unsuited
    return InstalmentsPlan(Every(1, span.unit), span.count)


def _trial(got: Got) -> Every:
    return _in_days_or_months(
        got.span_of() if "span" in got else got.every("count" if "count" in got else None, "period")
    )


def _in_days_or_months(span: Every) -> Every:
    match span.unit:
        case "week":
            return Every(7 * span.count, "day")
        case "year":
            return Every(12 * span.count, "month")
    return span


def _first_of(got: Got) -> tuple[int, str, Money]:
    unit = next(
        token.word for token in got.line.tokens[got.start : got.end] if token.word.rstrip("s") in (*_A_YEAR, "payment")
    )
    return (got.count() if "count" in got else 1), unit.rstrip("s"), got.amount()


def _at(got: Got) -> tuple[SimplePlan, Money]:
    """``every month, 12 times at 55``: a plan that the buyer may pick, with its own price."""
    plan: SimplePlan = ONCE
    if "instalments" in got:
        plan = _instalments(got)
    elif "period" in got or "cadence" in got:
        every = got.cadence() if "cadence" in got else got.every("step" if "step" in got else None, "period")
        plan = RepeatPlan(every, got.count("times") if "times" in got else None)
    return plan, got.amount()


RULES = (
    Rule("repeats", "[paid | payable | billed | charged] {cadence}", _repeats, 0.9),
    Rule("repeats", "[paid | payable | billed | charged] (every | each) [{count}] {period}", _repeats),
    Rule("repeats", "[paid | payable | billed | charged] (per | a) {period}", _repeats, 0.8),
    Rule(
        "instalments",
        "[paid | payable] [in | over | by] {count} [equal] [{cadence}] [equal] <instalments>"
        " [,] [{cadence:after} | every [{count:step}] {period}]",
        _instalments,
    ),
    Rule("instalments", "[paid | payable | spread | split] over {span}", _over),
    Rule("instalments", "(pay | paid | payable | split) in {count}", _in_parts),
    Rule("times", "[for] {count} <times>", lambda got: got.count(), 0.95),
    Rule("lasts", "for {span}", lambda got: got.span_of()),
    Rule("endless", "[LP] <endless> [RP]", lambda _: None),
    Rule("endless", "until (it is ended | somebody ends it)", lambda _: None),
    Rule("trial", "[after | with] [a | the] [first] {span} <trial>", _trial),
    Rule("trial", "[with | after] [a] <trial> [of | for | :] {span}", _trial),
    Rule("trial", "[the] first [{count}] {period} <free_first>", _trial),
    Rule("trial", "[try it | try] free for [a | the first] {span} [,] [then]", _trial),
    Rule("trial", "[after | with] [a] {span} (free | trial) [,] [then]", _trial),
    Rule("trial", "[try it] free for {span} [,] [then]", _trial),
    Rule("trial", ", [the] first time after {span}", _trial),
    Rule(
        "first",
        "[the] first [{count}] (payment | payments | day | days | week | weeks | month |"
        " months | year | years) [at | for | only | just | :] {amount}",
        _first_of,
    ),
    Rule("picks", "[paid] as the (buyer | buyers) (picks | pick | likes | chooses | choose) [:]", lambda _: None),
    Rule("plan_at", "[paid] (every | each) [{count:step}] {period} [,] [{count:times} <times>] at {amount}", _at),
    Rule("plan_at", "[paid] {cadence} [,] [{count:times} <times>] at {amount}", _at),
    Rule(
        "plan_at",
        "[paid] in {count} [equal] [{cadence}] <instalments:instalments> [,]"
        " [{cadence:after} | every {period}] at {amount}",
        _at,
    ),
    Rule("plan_at", "[paid] (once | at once) at {amount}", _at, 0.95),
    Rule("once", "[paid | all] (once | at once)", lambda _: None, 0.9),
    Rule("noise", "try the", lambda _: None, 0.5),
)


def _is_of_the_price(draft: Draft, piece: Piece) -> bool:
    """``daily bread 3 every day``: the price says already what a day costs."""
    if not isinstance(piece.value, RepeatPlan):
        return False
    spans, every = draft.line.words.spans, piece.value.every
    prices = [each.value for each in draft.pieces_of("price") if each.value]
    return any(price.each and spans.get(price.noun) == (every.count, every.unit) for price in prices)


def build(draft: Draft) -> None:
    """One plan of what is said of it, or those that “or” parts; prices paid at other times are a choice, too (see
    ``things``)."""
    picks = draft.has("picks")
    said_once = False
    for piece in draft.pieces_of("repeats", "instalments", "once", "plan_at"):
        if _is_of_one_of_several(draft, piece):
            draft.refuse(piece, "All that a link sells is paid at the same times.")
            continue
        if _is_of_the_price(draft, piece):
            draft.refuse(piece)
            continue
        joined = draft.line.word(piece.start - 1) == "or" or picks
        said_once |= joined and not picks and piece.role == "instalments"  # “70 or in 2 instalments”
        plan, own = piece.value if piece.role == "plan_at" else (piece.value or ONCE, None)
        if draft.plan is None and not said_once and own is None:
            draft.plan, said_once = (plan if plan != ONCE else None), True
        elif joined and plan not in (draft.plan or ONCE, *(other for other, _ in draft.others)):
            draft.others.append((plan, own))
        else:
            draft.refuse(piece)
            continue
        piece.words = f"{'or ' if draft.others else ''}paid {plan_words(plan)}" + (
            f" at {format_money(own)}" if own else ""
        )
    for piece in draft.pieces_of("endless"):
        if not isinstance(draft.plan, RepeatPlan):
            draft.refuse(piece)
        else:
            piece.words = "until cancelled"
    for piece in draft.pieces_of("times", "lasts"):
        _ended(draft, piece)
    for piece in draft.pieces_of("trial"):
        _tried(draft, piece)
    for piece in draft.pieces_of("first"):
        _cheaper_first(draft, piece)


def _is_of_one_of_several(draft: Draft, piece: Piece) -> bool:
    """Whether it stands beside one of several prices: ``kite 48 and club 12 a month``."""
    many = [thing for thing in draft.things if not (thing.optional or thing.once)]
    return len(many) > 1 and any(price.end == piece.start for price in draft.pieces_of("price"))


def _ended(draft: Draft, piece: Piece) -> None:
    """How many payments there are, of the one plan that can have an end; which one it is of several is not guessed."""
    plans: list[SimplePlan | None] = [draft.plan, *(plan for plan, _ in draft.others)]
    endless = [place for place, plan in enumerate(plans) if isinstance(plan, RepeatPlan)]
    plan = plans[endless[0]] if len(endless) == 1 else None
    payments = _payments(piece.value, plan) if isinstance(plan, RepeatPlan) and plan.payments is None else None
    if payments is None or not isinstance(plan, RepeatPlan):
        draft.refuse(piece)
        return
    if not 1 <= payments <= _MAX_PAYMENTS:
        draft.refuse(piece, f"{payments:,} payments can't be.")
        return
    plan = replace(plan, payments=payments)
    if endless[0]:
        draft.others[endless[0] - 1] = (plan, draft.others[endless[0] - 1][1])
    else:
        draft.plan = plan
    piece.words = f"{payments:,} payments" if payments > 1 else "one payment"


def _payments(told: int | Every, plan: RepeatPlan) -> int | None:
    """The number of payments: told, or those that a span of the plan's unit has room for."""
    if not isinstance(told, Every):
        return told
    months = told.unit == "year" and plan.every.unit == "month"
    count = 12 * told.count if months else told.count
    if (told.unit != plan.every.unit and not months) or count % plan.every.count:
        return None
    return count // plan.every.count


def _tried(draft: Draft, piece: Piece) -> None:
    trial: Every = piece.value
    plans: list[SimplePlan | None] = [draft.plan, *(plan for plan, _ in draft.others)]
    if not all(isinstance(plan, RepeatPlan) and plan.trial is None for plan in plans):
        draft.refuse(piece)
        return
    days = trial.count if trial.unit == "day" else 0
    months = trial.count if trial.unit == "month" else 0
    tried = [replace(plan, trial_days=days, trial_months=months) for plan in plans if isinstance(plan, RepeatPlan)]
    draft.plan = tried[0]
    draft.others = [(plan, own) for plan, (_, own) in zip(tried[1:], draft.others, strict=True)]
    piece.words = f"free for {span_words(trial)}"


def _cheaper_first(draft: Draft, piece: Piece) -> None:
    many, unit, amount = piece.value
    plan, main = draft.plan, draft.main
    if (
        not isinstance(plan, RepeatPlan)
        or plan.first
        or draft.others
        or main is None
        or not isinstance(main.final_price, FixedPrice)
        or (unit != "payment" and (unit != plan.every.unit or plan.every.count != 1))
        or (plan.payments is not None and many >= plan.payments)
    ):
        draft.refuse(piece)
        return
    try:
        draft.plan = replace(plan, first=FirstPayments(many, {main.name: FixedPrice(amount)}))
    except CoreError:
        draft.refuse(piece)
        return
    which = "the first payment" if many == 1 else f"the first {many:,} payments"
    piece.words = f"{which} at {format_money(amount)}"
