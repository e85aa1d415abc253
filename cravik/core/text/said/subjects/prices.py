"""What something costs: sums, of each, by the pack, what it was before, nothing at all, and how often it is paid."""

from __future__ import annotations

from dataclasses import replace

from cravik.core.pricing.money import Money
from cravik.core.pricing.schedule import Every, InstalmentsPlan, RepeatPlan
from cravik.core.text.money_text import format_money
from cravik.core.text.said.draft import Draft, SaidPrice
from cravik.core.text.said.pieces import Choice, Doubt, Got, NotSo, Rule, Unsuited

_MAX_PACK, _MAX_PAYMENTS = 100_000, 1200


def _plain(got: Got) -> SaidPrice:
    return SaidPrice(got.amount(next(name for name in ("money", "unit", "year", "bare", "amount") if name in got)))


def _in_full(got: Got) -> SaidPrice:
    """``450 in full or 3 payments of 160``; alone it is rather the part that is paid now."""
    line = got.line
    if "or" not in (line.word(got.start - 1), line.word(got.end), line.word(got.end + (line.word(got.end) == ","))):
        raise Unsuited
    return _plain(got)


def _each(got: Got) -> SaidPrice:
    return replace(_plain(got), each=True)


def _of_each_noun(got: Got) -> SaidPrice:
    """``0.12 per word``, ``9 a jar``, ``90/hr``; a day, too, is a piece that is bought, and nothing that repeats."""
    line, noun = got.line, got.word("noun")
    per, after = got.span("per")[0], got.end
    if noun in line.words.telling or noun in line.words.joining or noun in line.words.weekdays:
        raise Unsuited
    if noun in line.words.spans and line.words.spans[noun] != (1, "day"):
        raise Unsuited
    if line.word(per) == "/" and not (line.tokens[per].glued and line.tokens[per + 1].glued):
        raise Unsuited
    if line.word(after)[:1] in ("#", "¤") and line.word(after + 1).removesuffix("s") != noun.removesuffix("s"):
        raise Unsuited  # the noun names what costs the next sum
    return replace(_each(got), noun=got.text("noun"))


def _every(got: Got) -> SaidPrice:
    if "cadence" in got:
        return replace(_plain(got), plan=RepeatPlan(got.cadence()))
    every = got.every("count" if "count" in got else None, "period")
    if "other" in got:
        return replace(_plain(got), plan=RepeatPlan(Every(2 * every.count, every.unit)))
    if every == Every(1, "day") and got.word("step") not in ("every", "each"):
        raise Unsuited
    if every.unit == "week" and any(token.word in got.line.words.let for token in got.line.tokens):
        _ask_about_week(got)
    return replace(_plain(got), plan=RepeatPlan(every))


def _every_short(got: Got) -> SaidPrice:
    """``35 p/m``."""
    count, unit = got.line.words.cadences[f"p{got.word('short')}"]
    return replace(_plain(got), plan=RepeatPlan(Every(count, unit)))  # type: ignore[arg-type]


def _ask_about_week(got: Got) -> None:
    """What is let by the week: a week may be what is bought, or how often it is paid."""
    line = got.line
    amount = line.text(*got.span("amount"))
    choices = (
        Choice("A price for each week", line.replaced(got.start, got.end, f"{amount} each")),
        Choice("Paid again every week", line.replaced(got.start, got.end, f"{amount} weekly")),
    )
    got.doubts.append(Doubt(line.text(got.start, got.end), "For each week, or paid every week?", choices))


def _monthly_on(got: Got) -> SaidPrice:
    return replace(_plain(got), plan=RepeatPlan(Every(1, "month")))


def _pack(got: Got) -> SaidPrice:
    size = got.count(least=2)
    if size > _MAX_PACK:
        raise NotSo(f"A pack of {size:,} is more than there can be.")
    return replace(_plain(got), pack=size)


def _was(got: Got) -> Money:
    return got.amount("was")


def _was_and_now(got: Got) -> SaidPrice:
    if got.amount("was") <= got.amount():
        raise NotSo("A former price has to be higher.")
    return replace(_plain(got), was=got.amount("was"))


def _free(got: Got) -> SaidPrice:
    return SaidPrice(Money(0, got.line.currency))


def _free_at_the_end(got: Got) -> SaidPrice:
    """Free of charge where nothing follows that would make it a part of a name."""
    if got.line.word(got.end)[:1] not in ("", ",", ";", ".", "(", ")", "—", "!", "/", "|", ":"):
        raise Unsuited
    return _free(got)


def _extra(got: Got) -> SaidPrice:
    return replace(_plain(got), extra=True, each="each" in got, every_time="always" in got)


def _adds(got: Got) -> SaidPrice:
    if got.line.word(got.start - 1) in ("|", "/"):
        raise Unsuited  # the level called “plus”
    return _extra(got)


def _fee(got: Got) -> SaidPrice:
    first, last = got.span("fee")
    return replace(_plain(got), once=True, name=got.line.text(first, last))


def _once(got: Got) -> SaidPrice:
    if "or" in (got.line.word(got.start - 1), got.line.word(got.end)):
        return _plain(got)  # “29 one-off or 4 monthly”
    return replace(_plain(got), once=True)


def _times(got: Got) -> SaidPrice:
    """``3 x 55 monthly``: in three parts of 55 each, a month apart if nothing else is said."""
    many = got.count(least=2)
    if "cadence" not in got and "period" not in got and "of" not in got:
        raise Unsuited  # “60 x 2” is no plan
    every = got.cadence() if "cadence" in got else got.every(None, "period") if "period" in got else Every(1, "month")
    if many > _MAX_PAYMENTS:
        raise NotSo(f"{many:,} payments are more than there can be.")
    amount = _plain(got).amount
    return SaidPrice(Money(amount.minor * many, amount.currency), plan=InstalmentsPlan(every, many))


def _regular(got: Got) -> SaidPrice:
    return replace(_plain(got), regular=True)


RULES = (
    Rule("price", "{money}", _plain),
    Rule("price", "{unit}", _plain, 0.7),
    Rule("price", "{year}", _plain, 0.5),
    Rule("price", "{money} only", _plain),
    Rule("price", "{bare} only", _plain, 0.8),
    Rule("price", "{amount} (in full | outright | upfront | up front)", _in_full),
    Rule("price", "{amount} [/ | LP] <each> [RP]", _each),
    Rule("price", "(each | @) {amount} <each>", _each),
    Rule("price", "each {amount}", _each, 0.9),
    Rule("price", "{amount} [of] <per:per> {noun}", _of_each_noun, 0.8),
    Rule("price", "{amount} (per | a) half dozen", _each),
    Rule("price", "{amount} [paid] <every:step> [{count}] {period}", _every),
    Rule("price", "{amount} [paid | LP] {cadence} [RP]", _every),
    Rule("price", "{amount} p / (m:short | w:short | a:short)", _every_short),
    Rule("price", "{amount} every other:other {period}", _every),
    Rule("price", "{cadence} [at | for | :] {amount}", _every),
    Rule("price", "{amount} on the {ordinal} of (each | every | the) month", _monthly_on),
    Rule("price", "{amount} (a | per | / | for a | for one | for) [LP] <packof> {count} [RP]", _pack),
    Rule("price", "{amount} (a | per | /) <pack> LP {count} [{noun}] RP", _pack),
    Rule("price", "[LP] <packof> {count} [RP] [,] [for | at | : | =] {amount} [each]", _pack),
    Rule("was", "[LP] [,] <was> {amount:was} [RP]", _was),
    Rule("was", "LP [normally] {amount:was} (before | rrp | mrp) RP", _was),
    Rule("price", "[LP] <was> {amount:was} [RP] [,] (now | —) [only] {amount}", _was_and_now),
    Rule("price", "<free>", _free_at_the_end),
    Rule("price", "<freely>", _free, 0.3),
    Rule("price", "(free | nothing) [for | LP {amount:nothing} RP]", _free, 0.5),
    Rule("price", "[LP] + {amount} [<each:each>] [<optional>] [RP]", _extra),
    Rule("price", "{amount} [<each:each>] <extra> [each]", _extra),
    Rule("price", "{amount} <extra> (every:always | each:always) time", _extra),
    Rule("price", "{amount} <each:each> <extra>", _extra),
    Rule("price", "<adds> {amount} [<each:each>]", _adds, 0.9),
    Rule("price", "<another> {amount} [<each:each>]", _extra),
    Rule(
        "price",
        "[plus | + | and | with] [a | an] {amount} [<once>] [for] [a | the] <fee:fee> [LP | ,] [<once>] [RP]",
        _fee,
    ),
    Rule("price", "[plus | + | and | with] [a | an] <fee:fee> [of | :] {amount} [LP] [<once>] [RP]", _fee),
    Rule("price", "{amount} [,] <once>", _once, 0.9),
    Rule("price", "{count} [monthly] (x | times) {amount} [{cadence} | <every> {period}]", _times),
    Rule(
        "price",
        "[payable | paid] [in] {count} [equal] [{cadence}] <instalments> of:of {amount}"
        " [<each>] [{cadence} | <every> {period}]",
        _times,
    ),
    Rule("price", "<regular> {amount}", _regular),
    Rule("price", "{amount} <regular>", _regular, 0.9),
)


def build(draft: Draft) -> None:
    """Former prices; what else is a price is put together with its name before."""
    for piece in draft.pieces_of("was"):
        thing = draft.thing_at(piece.start)
        if thing is None or thing.price is None or thing.other is not None or thing.price.was:
            draft.refuse(piece)
        elif piece.value <= thing.price.amount:
            draft.refuse(piece, "A former price has to be higher.")
        else:
            thing.price = replace(thing.price, was=piece.value)
            piece.words = f"was {format_money(piece.value)}"
