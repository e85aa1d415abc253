"""What is said of many links at once: which are meant, and what is to be done with them.

>>> from datetime import date
>>> from zoneinfo import ZoneInfo
>>> said = read_order("everything labelled market up 5 %", "EUR", When(date(2026, 11, 29), ZoneInfo("UTC")))
>>> said.act, said.change, said.label
('price', '+5 %', 'market')
"""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime, time, timedelta

from cravik.core.text.money_text import format_money
from cravik.core.text.said.covering import Grammar, ways
from cravik.core.text.said.lexing import MAX_TOKENS, lex
from cravik.core.text.said.names import items, name_of
from cravik.core.text.said.pieces import Got, Line, NotSo, Rule, When


@dataclass(frozen=True)
class SaidOrder:
    """What is to be done (``act``, by the name that the list of acts has for it) with which links: all, those with a
    ``label``, in a ``state``, or that hold these ``words``. Empty where nothing of the kind was said."""

    act: str = ""
    change: str = ""
    until: datetime | None = None
    give: str = ""
    take: str = ""
    everything: bool = False
    label: str = ""
    state: str = ""
    words: str = ""
    missed: tuple[str, ...] = ()
    why: str = ""

    @property
    def is_whole(self) -> bool:
        """Whether it says both, and nothing else."""
        return bool(self.act and not self.missed and (self.everything or self.label or self.state or self.words))


def _percent(got: Got) -> str:
    sign = "-" if "down" in got else "+"
    return f"{sign}{got.percent().text} %"


def _by_amount(got: Got) -> str:
    amount = got.amount()
    if not amount.minor:
        raise NotSo(f"{format_money(amount)} changes nothing.")
    return f"{'-' if 'down' in got else '+'}{amount.major}"


def _until(got: Got) -> datetime | None:
    """The end of the day, or an hour of it; a pause that lasts until a day is over at its beginning."""
    if "day" not in got:
        return None
    day, clock = got.day(), got.clock() if "clock" in got else None
    if "pause" in got:
        return got.line.when.instant(day, clock or time(0))
    return got.line.when.instant(day, clock) if clock else got.line.when.instant(day + timedelta(days=1))


def _word(got: Got) -> str:
    return got.text("quote")[1:-1] if "quote" in got else got.text("noun")


_ONE = "({quote} | {noun})"
_LABELLED = "(labelled | labeled | tagged | with the label | with label)"
_GRAMMAR = Grammar(
    (
        Rule("price", "[price | prices] (up | raise | increase | plus | +) [prices] [by] {percent}", _percent),
        Rule("price", "{percent} (more | dearer | up | higher)", _percent),
        Rule(
            "price",
            "[price | prices] (down:down | lower:down | reduce:down | cut:down) [prices] [by] {percent}",
            _percent,
        ),
        Rule("price", "{percent} (less:down | cheaper:down | down:down | off:down | lower:down)", _percent),
        Rule("price", "[price | prices] (up | raise | plus | +) [prices] [by] {amount}", _by_amount),
        Rule("price", "{amount} (more | dearer | up)", _by_amount),
        Rule("price", "[price | prices] (down:down | lower:down | cut:down) [prices] [by] {amount}", _by_amount),
        Rule("price", "{amount} (less:down | cheaper:down | down:down)", _by_amount),
        Rule("pause", "(pause:pause | paused:pause)", _until),
        Rule("until", "(until:pause | till:pause | til:pause) {day} [[,] [at] {clock}]", _until),
        Rule("resume", "(resume | unpause | reopen)", lambda _: None),
        Rule("end_at", "(end | ends | close | closes | finish)", lambda _: None),
        Rule("on", "(on | at | by) {day} [[,] [at] {clock}]", _until),
        Rule("archive", "(archive | put away)", lambda _: None),
        Rule("give", f"(label | tag) (them | all | it) [as] {_ONE}", _word, 1.1),
        Rule("give", f"(add | give) [the] (label | labels) {_ONE}", _word, 1.1),
        Rule("take", f"(remove | drop | take off | take away) [the] (label | labels) {_ONE}", _word, 1.1),
        Rule("everything", "(everything | every link | all of them | all links | all | every one)", lambda _: None),
        Rule("label", f"[everything | all | all links | links | those | the ones | ones] {_LABELLED} {_ONE}", _word),
        Rule(
            "state",
            "[all] [the] (live:is | paused:is | draft:is | drafts:is) (ones | links)",
            lambda got: got.word("is").rstrip("s"),
        ),
        Rule("state", "[all] [the] (drafts:is)", lambda got: "draft"),
        Rule("words", f"[all] [the] {_ONE} (ones | links | one)", _word),
        Rule("words", f"[all] [the] (ones | links) (with | called | named | about) {_ONE}", _word),
        Rule("noise", "(please | set | make | them | , | and | then | put)", lambda _: None, 0.5),
    )
)
_ACTS = ("price", "pause", "resume", "end_at", "archive", "give", "take")


def read_order(text: str, currency: str, when: When) -> SaidOrder:
    """What the text wants done, and to which links; without an act it is looked for as it stands."""
    text = " ".join(text.split())
    lexed = lex(text, currency)
    if not text or len(lexed.tokens) > MAX_TOKENS:
        return SaidOrder()
    line = Line(lexed, when)
    _, way = ways(line, _GRAMMAR.pieces(line))[0]
    wrong = next((piece.wrong for piece in way if piece.wrong), "")
    by_role = {piece.role: piece.value for piece in way if not piece.wrong}
    acts = [role for role in _ACTS if role in by_role]
    left = [name_of(line, item.start, item.end) for item in items(line, way) if item.kind == "name"]
    left += [line.text(piece.start, piece.end) for piece in way if piece.wrong]
    act = acts[0] if len(acts) == 1 else ""
    when_roles = {"pause": ("until",), "end_at": ("on", "until")}.get(act, ())
    taken = set[str]()
    for piece in way:  # a day that the act has no use for, and what is said twice: nothing is left out in silence
        if piece.wrong or piece.role == "noise":
            continue
        says = "when" if piece.role in ("until", "on") else piece.role
        if says in taken or (says == "when" and piece.role not in when_roles):
            left.append(line.text(piece.start, piece.end))
        taken.add(says)
    if len(acts) > 1:
        left, wrong = [text], "Say one thing at a time."
    until = next((by_role[role] for role in when_roles if role in by_role), None)
    if act == "end_at" and until is None:
        left.append(text)
        wrong = wrong or "Say on which day they end."
    return SaidOrder(
        {"give": "label", "take": "label", "pause": "pause_until" if until else "pause"}.get(act, act),
        by_role.get("price", ""),
        until,
        by_role.get("give", ""),
        by_role.get("take", ""),
        "everything" in by_role,
        by_role.get("label", ""),
        by_role.get("state", ""),
        by_role.get("words", ""),
        tuple(left),
        wrong,
    )


def _spot(got: Got) -> str:
    words = [got.text("noun")]
    if "second" in got and got.word("second") not in ("and", "one"):
        words.append(got.text("second"))
    name = " ".join(words)
    return name[:1].upper() + name[1:]


_SPOTS = Grammar(
    (
        Rule(
            "spot",
            "[and | ,] [a | one | another] spot (for | at | in | on) [the | our | my] {noun} [{noun:second}]",
            _spot,
        ),
        Rule(
            "spot",
            "[and | ,] (one | another | a) (for | at | in | on) [the | our | my] {noun} [{noun:second}]",
            _spot,
            0.95,
        ),
        Rule(
            "spot",
            "[and | ,] [a | one | another] [spot] [for | at | in | on] [the] {quote}",
            lambda got: got.text("quote")[1:-1],
        ),
        Rule("noise", "(spots | please | make | add | for | new)", lambda _: None, 0.4),
    )
)


def read_spots(text: str, when: When) -> tuple[tuple[str, ...], tuple[str, ...]]:
    """The names of spots that are said, such as “a spot for the library, one for the kiosk”, and what was missed."""
    text = " ".join(text.split())
    lexed = lex(text, "EUR")
    if not text or len(lexed.tokens) > MAX_TOKENS:
        return (), (text,) if text else ()
    line = Line(lexed, when)
    _, way = ways(line, _SPOTS.pieces(line))[0]
    names = dict.fromkeys(str(piece.value) for piece in way if piece.role == "spot")
    left = [line.text(item.start, item.end) for item in items(line, way) if item.kind == "name"]
    return tuple(names), tuple(left)
