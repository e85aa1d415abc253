"""How many one order may have, and what more of them cost: bounds, breaks, bundles."""

from __future__ import annotations

from collections.abc import Iterator
from itertools import pairwise
from typing import NamedTuple

from cravik.core.pricing.money import Money
from cravik.core.pricing.offer import Quantity
from cravik.core.pricing.price import MAX_IN_BUNDLES, Break, Bundle, QuantityPrice
from cravik.core.text.money_text import format_money
from cravik.core.text.said.draft import MANY, Draft, SaidPrice, Thing
from cravik.core.text.said.patterns import compiled
from cravik.core.text.said.pieces import Choice, Doubt, Got, Line, NotSo, Piece, Rule, Search, Unsuited


class Bound(NamedTuple):
    """The number of ``up to 3`` or ``at least 5``: of pieces, or of money where the buyer names the price."""

    pieces: int | None
    money: Money | None


def _bound(got: Got) -> Bound:
    token = got.tokens("number")[0]
    number = token.number
    _ask_about_minutes(got)
    if number is None:
        return Bound(got.count("number"), None)
    if number.currency and number.money is None:
        raise NotSo(number.why or "That is not an amount.")
    return Bound(None if number.currency else number.whole, number.money)


def _bound_of_noun(got: Got) -> Bound:
    """``min 3 nights``, where “a night” was said of the price; months may be those of what is paid every month."""
    if not got.is_of_price("noun") or got.word("noun").removesuffix("s") in ("week", "month", "quarter", "year"):
        raise Unsuited
    return Bound(got.count("number"), None)


def _ask_about_minutes(got: Got) -> None:
    """``60 min 70``: minutes and a price, or a price and the fewest."""
    line, place = got.line, got.start
    if line.word(place) != "min" or line.word(place - 1) not in ("#", "#."):
        return
    if line.lexed.shadow.count("# min #") > 1:
        raise Unsuited
    before, number = line.text(place - 1, place), line.text(*got.span("number"))
    choices = (
        Choice(f"{before} minutes, for {number}", line.replaced(place - 1, got.end, f"{before} minutes {number}")),
        Choice(f"{before}, and at least {number}", line.replaced(place - 1, got.end, f"{before}, at least {number}")),
    )
    got.doubts.append(Doubt(line.text(place - 1, got.end), "Minutes, or the least?", choices))


def _between(got: Got) -> tuple[int, int]:
    line = got.line
    is_alone = line.word(got.start)[:1] == "#" and line.word(got.end - 1)[:1] == "#"
    if is_alone and (line.word(got.start - 1)[:1].isalpha() or line.word(got.end)[:1].isalpha()):
        raise Unsuited  # “ages 3 to 8”
    return got.count("least"), got.count("most")


def _exactly(got: Got) -> tuple[int, int]:
    return got.count(), got.count()


def _break(got: Got) -> Break:
    first, _ = got.span("many") if "many" in got else got.span("count")
    number = got.line.tokens[first].number
    count = number.whole if number and "many" in got else got.count()
    if not count or count < 2:
        raise NotSo("More cost less from two on.")
    return Break(count, got.amount(), None)


def _bundle(got: Got) -> Bundle:
    line = got.line
    if line.word(got.start - 1) == "number":
        raise Unsuited  # “#3 bundle 12”
    if line.word(got.end - 1) in ("#", "#.") and line.word(got.end) in line.words.classes["measure"]:
        raise Unsuited  # “180 for 10 weeks”
    count = got.count(least=2)
    if count > MAX_IN_BUNDLES:
        raise NotSo(f"{count:,} at once are more than there can be: the most is {MAX_IN_BUNDLES:,}.")
    return Bundle(count, got.amount())


def _bundle_after(got: Got) -> Bundle:
    """``3 jars for 20``, ``pack of four 90``, ``5 walks 60``: after the price of one, in a word for the same thing."""
    line = got.line
    if not any(token.number for token in line.tokens[: got.start]):
        raise Unsuited
    if "noun" in got and not got.is_of_price("noun"):
        noun, before = got.word("noun"), [line.word(place) for place in range(got.start)]
        one = noun.removesuffix("s")
        counted = {word for sign, word in pairwise(before) if sign[0] == "#" or sign in line.words.numbers}
        if {one, noun} & counted or (noun not in line.words.generic and not {one, noun} & set(before)):
            raise Unsuited
    return _bundle(got)


def _sum_for_many(got: Got) -> Bundle:
    """``or £10 for 5``; of two bare numbers, the first is how many."""
    if got.tokens("amount")[0].word == "#" and got.tokens("count")[0].number:
        raise Unsuited
    return _bundle_after(got)


def _bought_and_given(got: Got) -> tuple[int, int]:
    bought, given = got.count("bought"), got.count("given")
    if bought + given > MAX_IN_BUNDLES:
        raise Unsuited
    return bought, given


def _tiers(line: Line, place: int) -> Iterator[Piece]:
    """``12 each for the first 9, 11 each for the next 15 and 9 each after that``."""
    rows: list[Break] = []
    begins, end, which = 1, place, "first"
    while got := line.match(_TIER[which].expression, end):
        try:
            rows.append(Break(begins, got.amount(), got.amount("flat") if "flat" in got else None))
            begins += got.count() if "count" in got else 1
        except (NotSo, Unsuited):
            return
        end, which = got.end, "next"
    got = line.match(_TIER["last"].expression, end) if rows else None
    if got is not None:
        rows.append(Break(begins, got.amount(), got.amount("flat") if "flat" in got else None))
        end = got.end + (line.word(got.end) == "," and line.word(got.end + 1) == "for")
        yield Piece("tiers", place, end, QuantityPrice("incremental", tuple(rows)), float(end - place))


_TIER = {
    which: compiled(f"{{amount}} [<each>] [plus {{amount:flat}}] for the {which} [{{count}}] [,] [and]")
    for which in ("first", "next")
} | {"last": compiled("{amount} [<each>] [plus {amount:flat}] (after that | afterwards | thereafter)")}
RULES = (
    Search(_tiers, frozenset(("#", "#y", "#.", "¤"))),
    Rule(
        "most",
        "[LP] <upto> ({whole:number} | {money:number} | {count:number}) [each | per order |"
        " an order | at a time | of them | in one order] [RP]",
        _bound,
    ),
    Rule(
        "least", "[LP] <least> ({whole:number} | {money:number} | {count:number}) [per order | an order] [RP]", _bound
    ),
    Rule("most", "[LP] <upto> {count:number} {noun} [RP]", _bound_of_noun),
    Rule("least", "[LP] <least> {count:number} {noun} [RP]", _bound_of_noun),
    Rule(
        "between",
        "[LP] [from | between] {count:least} (to | and | up to | — | ~) {count:most} [per"
        " order | an order | of them] [RP]",
        _between,
        0.75,
    ),
    Rule("more", "{whole:number} or more", _bound, 0.9),
    Rule("exactly", "always {count}", _exactly),
    Rule("any", "as many as (wanted | you like | they like | you want)", lambda _: None),
    Rule("any", "any (number | quantity)", lambda _: None),
    Rule("one", "only one", lambda _: None),
    Rule("break", "[or | and] {many} [for | at | :] {amount} [<each>]", _break),
    Rule("break", "[and] from {count} [pieces | pcs | units | on | up] [:] [at] {amount} [<each>]", _break),
    Rule("break", "[and | or] {count} [{noun}] or more [at | : | for] {amount} [<each>]", _break),
    Rule("break", "[and] {count} and (over | up | above | more) [at | :] {amount} [<each>]", _break),
    Rule("break", "[and | or] (over | above) {count} [pieces] [at | :] {amount} [<each>]", _break, 0.9),
    Rule(
        "break",
        "[and] {amount} [<each>] (from {count} [pieces | pcs | units] [on | up] | for {count} or more)",
        _break,
        0.95,
    ),
    Rule("break", "[and] {amount} [<each>] (for | from) {many}", _break),
    Rule("bundle", "[or | and] [any] [a] [<packof>] {count} for {amount}", _bundle),
    Rule("bundle", "[or | and] [any] [a] [<packof>] {count} {noun} for {amount}", _bundle_after, 0.9),
    Rule("bundle", "[or | and] [a] <packof> {count} [{noun}] [at | :] {amount}", _bundle_after, 0.9),
    Rule("bundle", "[or | and] [a] {count} [—] <pack> [for | at] {amount}", _bundle_after, 0.85),
    Rule("bundle", "[or | and] {count} {noun} {amount}", _bundle_after, 0.75),
    Rule("bundle", "or {amount} for {count}", _sum_for_many, 0.95),
    Rule("buy_and_get", "[,] buy {count:bought} [,] [and] get {count:given} [free | more]", _bought_and_given),
    Rule("bogof", "<bogof>", lambda _: (1, 1), 1.6),
)


def build(draft: Draft) -> None:
    for piece in draft.pieces_of("break", "bundle", "buy_and_get", "bogof"):
        thing = draft.thing_at(piece.start)
        price = thing.price if thing else None
        if thing is None or price is None or thing.other or price.pack or price.was:
            draft.refuse(piece)
        elif piece.role == "break":
            _add_break(draft, piece, thing, price)
        else:
            _add_bundle(draft, piece, thing, price)
    for piece in draft.pieces_of("most", "least", "more", "between", "exactly", "any", "one"):
        thing = draft.thing_at(piece.start)
        if piece.words:
            continue  # a bound of what the buyer chooses
        is_unpriced = thing is not None and thing.price is None and thing.other is None
        if thing is None or (isinstance(piece.value, Bound) and piece.value.pieces is None):
            draft.refuse(piece)
        elif piece.role == "between" and is_unpriced:
            draft.refuse(piece)  # rather a range of sums
        else:
            _bounded(draft, piece, thing)


def _add_break(draft: Draft, piece: Piece, thing: Thing, price: SaidPrice) -> None:
    last = thing.breaks[-1] if thing.breaks else Break(1, price.amount, None)
    if thing.bundles or piece.value.from_ <= last.from_:
        draft.refuse(piece)
    else:
        thing.breaks.append(piece.value)
        piece.words = f"{format_money(piece.value.unit)} each from {piece.value.from_:,} on"


def _add_bundle(draft: Draft, piece: Piece, thing: Thing, price: SaidPrice) -> None:
    if piece.role == "bundle":
        bundle: Bundle = piece.value
        _ask_which_for(draft, piece, bundle, price)
    else:
        bought, given = piece.value
        bundle = Bundle(bought + given, Money(price.amount.minor * bought, price.amount.currency))
    last = thing.bundles[-1].count if thing.bundles else 1
    if thing.breaks or bundle.count <= last or (bundle.amount < price.amount and not draft.doubts):
        draft.refuse(piece)
        return
    if bundle.amount >= price.amount * bundle.count:
        draft.refuse(piece, _no_saving(bundle, price))
        return
    thing.bundles.append(bundle)
    words = f"{bundle.count:,} for {format_money(bundle.amount)}"
    piece.words = words
    if piece.role == "bogof":
        plain = f"{format_money(price.amount)} each, {words}"
        draft.ask(piece.start, piece.end, "Two for what one costs?", {plain: "buy 1, get 1 free —"})


def _ask_which_for(draft: Draft, piece: Piece, bundle: Bundle, price: SaidPrice) -> None:
    """``3 for 2``: for the price of two, or for a sum."""
    number = draft.line.tokens[piece.end - 1].number
    bought = number.whole if number and draft.line.word(piece.end - 1) == "#" else None
    is_same = bought and price.amount * bought == bundle.amount
    if (
        bought
        and bought < bundle.count
        and not is_same
        and draft.line.word(piece.end - 2) == "for"
        and not _is_packed(draft, piece)
    ):
        free = f"buy {bought} get {bundle.count - bought} free"
        sums = f"{bundle.count} for {format_money(bundle.amount)}"
        choices = {f"{bundle.count:,} for the price of {bought:,}": free, sums: sums}
        draft.ask(piece.start, piece.end, "Which is meant?", choices)


def _is_packed(draft: Draft, piece: Piece) -> bool:
    """``tray of 30 for 12``: no offer of thirty for the price of twelve."""
    return any(draft.line.word(place) in draft.line.words.classes["pack"] for place in range(piece.start, piece.end))


def _no_saving(bundle: Bundle, price: SaidPrice) -> str:
    return f"{bundle.count:,} for {format_money(bundle.amount)} is no less than {format_money(price.amount)} each."


def _bounded(draft: Draft, piece: Piece, thing: Thing) -> None:
    had = thing.quantity
    if piece.role in ("any", "one"):
        if had:
            draft.refuse(piece)
        else:
            thing.quantity = MANY if piece.role == "any" else Quantity()
            piece.words = "as many as wanted" if piece.role == "any" else "only one"
        return
    if piece.role in ("between", "exactly"):
        least, most = piece.value
    else:
        least = piece.value.pieces if piece.role in ("least", "more") else had.min if had else 1
        most = piece.value.pieces if piece.role == "most" else had.max if had else None
    if most is not None and most < least:
        draft.refuse(piece, f"At least {least:,} and at most {most:,} can't be.")
    elif piece.role in ("between", "exactly") and had:
        draft.refuse(piece)
    else:
        thing.quantity = Quantity(least, least, most)
        piece.words = _bounds_words(thing.quantity)


def _bounds_words(bounds: Quantity) -> str:
    if bounds.max is None:
        return f"{bounds.min:,} or more in an order"
    if bounds.min == bounds.max:
        return f"always {bounds.max:,}"
    return f"up to {bounds.max:,} in an order" if bounds.min == 1 else f"{bounds.min:,} to {bounds.max:,} in an order"
