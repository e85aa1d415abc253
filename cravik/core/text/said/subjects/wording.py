"""What Setup decides and is only recognised; labels, the button's words, and notes that the seller keeps."""

from __future__ import annotations

from collections.abc import Iterator

from cravik.core.text.said.draft import Draft
from cravik.core.text.said.names import name_of
from cravik.core.text.said.patterns import compiled
from cravik.core.text.said.pieces import Got, Line, Piece, Rule, Search, Unsuited

MAX_BUTTON, MAX_LABEL = 60, 40
_WHERE = "[to | in | within | anywhere in | for | across] [the]"
_PLACE = "({noun} | {noun} and {noun:more} | anywhere | {noun} {noun:again})"


def _is_place(got: Got) -> bool:
    """Places are written with a capital, or are “anywhere”."""
    for name in ("noun", "more", "again"):
        if name in got and not (
            got.text(name)[0].isupper() or got.word(name) in ("anywhere", "nationwide", "worldwide")
        ):
            raise Unsuited
    return True


def _sent(got: Got) -> str:
    if "noun" in got:
        _is_place(got)
    return "sent"


def _alone(got: Got) -> None:
    """“vat” at the end of a clause; elsewhere it may be of a name."""
    if got.start == 0 or got.line.word(got.end) not in ("", ",", ";", ".", "("):
        raise Unsuited


def _label(got: Got) -> str:
    return got.text("quote")[1:-1].strip() if "quote" in got else got.text("noun")


def _button(line: Line, place: int) -> Iterator[Piece]:
    """``button “Fly it”``, ``button says Book now``: quoted, or to the end of the clause."""
    got = line.match(_BUTTON.expression, place)
    if got is None:
        return
    end = got.end
    if line.word(end) == "“”":
        yield Piece("button", place, end + 1, line.tokens[end].text[1:-1].strip(), end + 1 - place - 0.1)
        return
    while end < len(line.tokens) and line.word(end) not in (",", ";", ".", "—", "(", "|"):
        end += 1
    if end > got.end:
        yield Piece("button", place, end, line.text(got.end, end), 0.9 * (end - place) - 0.1)


def _note(line: Line, place: int) -> Iterator[Piece]:
    """``note “gift wrap 3 extra”``."""
    got = line.match(_NOTE.expression, place)
    if got is not None and line.word(got.end) == "“”":
        yield Piece("note", place, got.end + 1, line.tokens[got.end].text[1:-1].strip(), got.end + 1 - place)
    elif (
        got is not None
        and got.end > place
        and line.word(got.end - 1) == ":"
        and (place == 0 or line.word(place - 1) in ";.")
    ):
        end = len(line.tokens)
        yield Piece("note", place, end, name_of(line, got.end, end), float(end - place))


def _charged(got: Got) -> str:
    if got.line.word(got.end) in got.line.words.classes["free_first"]:
        raise Unsuited  # “2.50 post free”
    return "sent"


_BUTTON, _NOTE = compiled("[with | and] [a | the] <button> [:]"), compiled("[and] <todo> [:]")
RULES = (
    Rule("delivery", "[plus | + | and | with] [a] [flat] {amount} [for] <delivery>", _charged),
    Rule("delivery", "[plus | + | and | with] <delivery> [is | of | costs | : | at] {amount}", lambda got: "sent", 0.9),
    Rule(
        "delivery",
        f"(free | including | includes | incl | inc | with | plus | + | no) <delivery> [{_WHERE} {_PLACE}]",
        _sent,
    ),
    Rule(
        "delivery",
        f"<delivery> (included | inclusive | incl | inc | free | extra | is free | is extra |"
        f" added) [{_WHERE} {_PLACE}]",
        _sent,
    ),
    Rule("delivery", f"<sent> [free] [{_WHERE} {_PLACE}] [free | for {{amount}} | free of charge]", _sent, 0.9),
    Rule("collected", "<collected>", lambda _: None),
    Rule("tax", "[plus | + | and] [{percent}] <tax> <taxed>", lambda _: None),
    Rule("tax", "[plus | +] {percent} <tax>", lambda _: None),
    Rule(
        "tax",
        "(including | includes | incl | inc | inclusive of | with | plus | excluding | excl"
        " | ex | + | no) [{percent} | of] <tax>",
        lambda _: None,
    ),
    Rule("tax", "<tax> [at] {percent} [<taxed>]", lambda _: None),
    Rule("tax_alone", "<tax>", _alone, 0.8),
    Rule("fee", "the buyer may cover the fee", lambda _: None),
    Rule("label", "[with | and] [the] <label> [:] ({quote} | {noun})", _label),
    Search(_button, _BUTTON.first),
    Search(_note, _NOTE.first),
    Rule("together", "[LP] <together> [RP]", lambda _: None),
    Rule("any_of", "<anyof> [these] [:]", lambda _: None),
    Rule("optional", "[LP] <optional> [: | ,] [RP]", lambda _: None),
    Rule("price_later", "<later_price>", lambda _: None),
    Rule("noise", "<sale> !", lambda _: None),
    Rule("noise", "no (discount | promo | coupon) codes", lambda _: None),
)


def build(draft: Draft) -> None:
    for piece in draft.pieces_of("delivery"):
        draft.ships = True
        _elsewhere(draft, "delivery", piece)
    for piece in draft.pieces_of("tax"):
        _elsewhere(draft, "tax", piece)
    for piece in draft.pieces_of("tax_alone"):
        draft.ask(
            piece.start,
            piece.end,
            "Setup decides how tax is charged. Take this out?",
            {"Yes, as in Setup": "plus VAT"},
        )
        _elsewhere(draft, "tax", piece)
    for piece in draft.pieces_of("fee"):
        _elsewhere(draft, "fee", piece)
    for piece in draft.pieces_of("collected"):
        piece.words = "nothing is sent"
    for piece in draft.pieces_of("label"):
        if len(piece.value) > MAX_LABEL or not piece.value:
            draft.refuse(piece)
        else:
            draft.labels += [piece.value] if piece.value not in draft.labels else []
            piece.words = f"labelled {piece.value}"
    for piece in draft.pieces_of("button"):
        if draft.button or not 0 < len(piece.value) <= MAX_BUTTON:
            draft.refuse(piece, "" if draft.button else f"The button has room for {MAX_BUTTON} letters.")
        else:
            draft.button = piece.value
            piece.words = f"the button says “{piece.value}”"
    for piece in draft.pieces_of("note"):
        draft.notes.append(piece.value)
        piece.words = f"still to do: {piece.value}"
    for piece in draft.pieces_of("price_later"):
        draft.price_later = True
        piece.words = "you set the price on the bench"


def _elsewhere(draft: Draft, subject: str, piece: Piece) -> None:
    if subject not in draft.elsewhere:
        draft.elsewhere.append(subject)
    piece.words = f"as in Setup, under {'The processor’s fee' if subject == 'fee' else subject.capitalize()}"
