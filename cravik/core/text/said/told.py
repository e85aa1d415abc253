"""What is told of a draft: its pieces and what was missed; its lines, plan, codes and limits as parts of an offer."""

from __future__ import annotations

import re
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, replace

from cravik.core.link.limits import Limits
from cravik.core.pricing.discounts import Code, code_with_keys
from cravik.core.pricing.offer import EXACTLY_ONE, Quantity
from cravik.core.pricing.partial_offer import PartialLine
from cravik.core.pricing.price import FixedPrice
from cravik.core.pricing.schedule import ONCE, ChoicePlan, Plan, PlanChoice, RepeatPlan, SimplePlan
from cravik.core.text.said.draft import Draft, Thing
from cravik.core.text.said.names import is_telling
from cravik.core.text.said.pieces import Choice, Doubt, Line

#: What it costs a way of reading that a word is left over.
STRAY = 1.2


@dataclass(frozen=True)
class Understood:
    """A piece of the text, and what was made of it."""

    text: str
    words: str


def cost_of_stray(line: Line, start: int, end: int) -> float:
    """Words alone are a note or a longer name; a number that is left over is worse."""
    if any(token.number for token in line.tokens[start:end]):
        return STRAY * (end - start)
    return min(STRAY + 0.3 * (end - start), 2 * STRAY)


def understood_in(draft: Draft) -> tuple[Understood, ...]:
    """Names and pieces in their order, each with what was made of it."""
    line = draft.line
    told = [(piece.start, piece.end, piece.words) for piece in draft.pieces if piece.words]
    for thing in draft.things:
        words = "an extra, if wanted" if thing.optional and not draft.any_of else "what is sold"
        told += [(*thing.span, words)] if thing.span[1] > thing.span[0] else []
    return tuple(Understood(line.text(start, end), words) for start, end, words in sorted(told))


def missed_in(draft: Draft) -> list[tuple[int, int]]:
    """What is left over, in the order of the line."""
    spans = [*draft.strays, *((piece.start, piece.end) for piece, _ in draft.wrong)]
    spans += [
        thing.span for thing in draft.things if is_telling(draft.line, *thing.span) and not _could_be_named(thing)
    ]
    merged: list[tuple[int, int]] = []
    for start, end in sorted(set(spans)):
        if merged and start < merged[-1][1]:
            merged[-1] = (merged[-1][0], max(end, merged[-1][1]))
        else:
            merged.append((start, end))
    return merged


def kept_as_note(draft: Draft, span: tuple[int, int]) -> Choice:
    """The line with the words as a note at its end."""
    line, (start, end) = draft.line, span
    words = line.text(*span).strip(" ,;.")
    while start > 1 and line.word(start - 1) in line.words.joining | line.words.ending:
        start -= 1  # what joined it goes with it
    rest = line.replaced(start, end, "").replace("()", "").rstrip(" ,;.")
    rest = re.sub(r"\s+([,;.)])", r"\1", re.sub(r"([,;])(?:\s*[,;])+", r"\1", rest))
    return Choice(words, f"{rest}, note “{words.replace('“', '').replace('”', '')}”")


def _could_be_named(thing: Thing) -> bool:
    return thing.span[1] - thing.span[0] > 1 and bool(thing.name)


def about_names(draft: Draft) -> Iterator[Doubt]:
    """Names with a word of the grammar at an end, which may have meant something else: ``Tattoo deposit``."""
    line = draft.line
    for thing in draft.things:
        if is_telling(line, *thing.span) and _could_be_named(thing):
            told = line.replaced(*thing.span, f"“{thing.name}”")
            question = f"Is it called “{thing.name}”?"
            yield Doubt(line.text(*thing.span), question, (Choice(f"Yes: “{thing.name}”", told),))


def about_strays(draft: Draft) -> Iterator[Doubt]:
    """Words without a number that nothing was made of: they may say more of the name, or be for the seller alone."""
    main, line = draft.main, draft.line
    if main is None:
        return
    is_named = main.span[1] > main.span[0]
    for start, end in sorted(draft.strays):
        words = [line.word(place) for place in range(start, end)]
        named = {place for piece in draft.pieces_of("name") for place in range(piece.start, piece.end)}
        numbers = [place for place in range(start, end) if line.tokens[place].number and place not in named]
        if start < main.span[1] or numbers or any(word in line.words.telling for word in words):
            continue
        if all(word in line.words.joining | line.words.ending for word in words):
            continue
        draft.strays.remove((start, end))
        kept = kept_as_note(draft, (start, end))
        plain = kept.line[: kept.line.rindex(", note “")]
        longer = plain.replace(line.text(*main.span) if is_named else "", f"“{main.name}, {kept.words}”", 1)
        choices = [Choice("A part of the name", longer)] if is_named else []
        choices.append(Choice("Something to do: keep it as a note", kept.line))
        yield Doubt(kept.words, f"What is “{kept.words}”?", tuple(choices))


def line_of(draft: Draft, thing: Thing, key: str) -> PartialLine:
    """The thing as a line of that key."""
    bounds = thing.bounds
    most = next((count for each, count in draft.per_buyer if each is thing), None)
    if most and bounds == EXACTLY_ONE:
        bounds = Quantity(1, 1, most)
    once = thing.once and isinstance(draft.plan, RepeatPlan)
    return PartialLine(
        key, thing.name, thing.final_price, bounds, tuple(thing.choices), thing.optional, draft.ships, once
    )


def plan_of(draft: Draft, keys: Sequence[str]) -> Plan:
    """The plan with prices by the keys of the things."""
    key_of = {thing.name: key for thing, key in zip(draft.things, keys, strict=False)}

    def with_keys(plan: SimplePlan) -> SimplePlan:
        if isinstance(plan, RepeatPlan) and plan.first:
            prices = {key_of.get(name, name): price for name, price in plan.first.prices.items()}
            return replace(plan, first=replace(plan.first, prices=prices))
        return plan

    plan = with_keys(draft.plan or ONCE)
    main = draft.main
    if not draft.others or main is None:
        return plan
    choices = [PlanChoice("plan-1", plan, {})]
    for number, (other, own) in enumerate(draft.others, 2):
        prices = {key_of[main.name]: FixedPrice(own)} if own is not None else {}
        choices.append(PlanChoice(f"plan-{number}", other, prices))
    return ChoicePlan(tuple(choices))


def codes_of(draft: Draft, key_of: Mapping[str, str]) -> tuple[Code, ...]:
    """The codes, with the keys of what they are for and bring down the price of."""
    return tuple(code_with_keys(code, key_of) for code in draft.codes)


def limits_of(draft: Draft, keys: Mapping[int, str]) -> Limits:
    return Limits(
        draft.opens_at,
        draft.closes_at,
        draft.orders,
        draft.orders_per_buyer,
        {keys[id(thing)]: number for thing, number in draft.counted},
        {keys[id(thing)]: number for thing, number in draft.per_buyer},
    )
