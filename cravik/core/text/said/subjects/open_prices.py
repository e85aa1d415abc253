"""Prices that the buyer names: what bounds them, and what is suggested."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import replace

from cravik.core.pricing.money import Money
from cravik.core.pricing.price import Level, LevelsPrice, OpenPrice
from cravik.core.text.money_text import format_money
from cravik.core.text.said.draft import Draft, Thing
from cravik.core.text.said.patterns import compiled
from cravik.core.text.said.pieces import Choice, Doubt, Got, Line, NotSo, Piece, Rule, Search


def _range(got: Got) -> tuple[Money, Money]:
    least, most = got.amount("least"), got.amount("most")
    if least > most:
        raise NotSo(f"{format_money(least)} is more than {format_money(most)}.")
    return least, most


def _suggested_after(line: Line, place: int) -> Iterator[Piece]:
    """``suggested 5, 10 or 20``, ``most people give £20``."""
    got = line.match(_SUGGEST.expression, place)
    if got is None:
        return
    amounts, end = _amounts(line, got.end)
    if amounts:
        end += line.word(end) == ")" and line.word(got.start) == "("
        yield Piece("suggest", place, end, amounts, end - place - 0.1)


def _or_other(line: Line, place: int) -> Iterator[Piece]:
    """``3 / 5 / 10 or whatever you like``."""
    amounts, end = _amounts(line, place)
    joined = end + 1 if line.word(end) == "," else end
    if len(amounts) > 1 and (got := line.match(compiled("(or | /) <orother>", line.words).expression, joined)):
        yield Piece("open_list", place, got.end, amounts, got.end - place - 0.1)


def _one_of(line: Line, place: int) -> Iterator[Piece]:
    """``one of 25, 50 or 100``; three and more without those words are asked about."""
    got = line.match(_ONE_OF.expression, place)
    amounts, end = _amounts(line, got.end if got else place)
    if len(amounts) < (2 if got else 3) or len(set(amounts)) < len(amounts) or line.word(place - 1) in (",", "/", "or"):
        return
    piece = Piece("one_of", place, end, amounts, 0.9 * (end - place) - 0.1)
    if got is None:
        told = line.text(place, end)
        choices = (
            Choice("One of these amounts", line.replaced(place, end, f"one of {told}")),
            Choice(
                "Any amount, with these suggested", line.replaced(place, end, f"pay what you want, suggested {told}")
            ),
        )
        piece.doubts.append(Doubt(told, "What may the buyer pay?", choices))
    yield piece


def levels_of_amounts(amounts: Sequence[Money]) -> LevelsPrice:
    """Each of the amounts as a level, called by itself."""
    return LevelsPrice(
        tuple(Level(f"level-{number}", format_money(each), each) for number, each in enumerate(amounts, 1))
    )


def _amounts(line: Line, place: int) -> tuple[list[Money], int]:
    """The sums from the place on, parted by commas, slashes or “or”, and where they end."""
    found: list[Money] = []
    end = place
    while place < len(line.tokens):
        number = line.tokens[place].number
        if number is None or number.money is None or line.word(place)[0] not in "#¤" or line.word(place) == "#th":
            break
        found.append(number.money)
        end = place + 1
        place = end
        if line.word(place) == "," and line.word(place + 1) in ("or", "and"):
            place += 1
        if line.word(place) not in (",", "/", "or", "and", "|"):
            break
        place += 1
    return found, end


_ONE_OF = compiled("[,] one of [:]")
_SUGGEST = compiled("[LP] [,] <suggest> [: | of | is]")
RULES = (
    Rule("open", "[LP] <open> [RP]", lambda _: None),
    Rule("range", "[from | between] {amount:least} (to | and | ~ | — | up to) {amount:most}", _range, 0.8),
    Rule("floor", "[LP] from {amount} [RP]", lambda got: got.amount(), 0.85),
    Rule("floor", "(over | above | more than) {amount}", lambda got: got.amount(), 0.7),
    Rule("upwards", "{amount} <upwards>", lambda got: got.amount(), 0.85),
    Rule("suggest", "{amount} [is] (suggested | usual | recommended)", lambda got: [got.amount()]),
    Rule("upwards", "{many}", lambda got: got.amount("many"), 0.6),
    Rule("start", "[,] <start> {amount}", lambda got: got.amount()),
    Search(_suggested_after, _SUGGEST.first),
    Search(_one_of, frozenset(("#", "#y", "#.", "¤", ",", "one"))),
    Search(_or_other, frozenset(("#", "#y", "#.", "¤"))),
)


def is_open(draft: Draft) -> bool:
    """Whether the buyer names the price: it is said, or something is given and bounds are said."""
    if draft.has("open", "open_list"):
        return True
    given = any(token.word in draft.line.words.giving for token in draft.line.tokens)
    return given and draft.has("range", "upwards", "suggest", "floor")


def open_thing(draft: Draft, name: str, span: tuple[int, int]) -> Thing:
    """The thing that has such a price."""
    currency = draft.line.currency
    price = OpenPrice(Money(0, currency), None)
    suggested: list[Money] = []
    for piece in draft.pieces_of("range", "floor", "upwards", "least", "most", "more", "suggest", "open_list", "start"):
        value = piece.value
        if piece.role == "range":
            price = replace(price, min=value[0], max=value[1])
            piece.words = f"from {format_money(value[0])} to {format_money(value[1])}"
        elif piece.role in ("suggest", "open_list"):
            suggested += [each for each in value if each not in suggested]
            piece.words = "suggested: " + ", ".join(format_money(each) for each in value)
        elif piece.role == "start":
            price = replace(price, start=value)
            piece.words = f"starting at {format_money(value)}"
        else:
            bound = value if isinstance(value, Money) else value.money
            if bound is None:
                draft.refuse(piece)
            elif piece.role == "most":
                price = replace(price, max=bound)
                piece.words = f"at most {format_money(bound)}"
            else:
                price = replace(price, min=bound)
                piece.words = f"at least {format_money(bound)}"
    _check(draft, replace(price, suggested=tuple(suggested)))
    for piece in draft.pieces_of("open"):
        piece.words = "the buyer chooses the amount"
    for piece in draft.pieces_of("between"):
        draft.refuse(piece)  # it is a range of sums
    return Thing(name, span[0], span, other=replace(price, suggested=tuple(suggested)))


def _check(draft: Draft, price: OpenPrice) -> None:
    if price.max is not None and price.max < price.min:
        piece = draft.pieces_of("range", "most", "least", "floor")[-1]
        draft.refuse(piece, f"{format_money(price.min)} is more than {format_money(price.max)}.")
    for piece in draft.pieces_of("suggest", "open_list", "start"):
        for each in piece.value if isinstance(piece.value, list) else [piece.value]:
            if each < price.min or (price.max is not None and each > price.max):
                draft.refuse(piece, f"{format_money(each)} is outside of what buyers may pay.")
                break


def build(draft: Draft) -> None:
    """What is left of such words where the price is another: a range is a question, the rest is missed."""
    if is_open(draft):
        return
    for piece in draft.pieces_of("range"):
        least, most = piece.value
        draft.refuse(piece)
        draft.ask(
            piece.start,
            piece.end,
            f"Does the buyer choose an amount from {format_money(least)} to {format_money(most)}?",
            {"Yes": f"pay what you want from {least.major} to {most.major}"},
        )
    for piece in draft.pieces_of("price")[:1]:
        _ask_about_least(draft, piece)
    for piece in draft.pieces_of("floor", "upwards", "suggest", "start"):
        draft.refuse(piece)


def _ask_about_least(draft: Draft, piece: Piece) -> None:
    """``Bouquets from 25``: the least that the buyer may give, or the price."""
    stray = next((span for span in draft.strays if span == (piece.start - 1, piece.start)), None)
    if stray is None or draft.line.word(stray[0]) != "from" or draft.line.word(piece.start)[:1] not in ("#", "¤"):
        return
    draft.strays.remove(stray)
    sum_ = piece.value.amount
    draft.ask(
        stray[0],
        piece.end,
        "Who decides what it costs?",
        {
            f"The buyer does, from {format_money(sum_)}": f"pay what you want from {sum_.major}",
            f"It costs {format_money(sum_)}": f"{sum_.major}",
        },
    )
