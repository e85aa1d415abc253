"""What is said of a link that there is: dropping, ending and raising."""

from __future__ import annotations

from dataclasses import dataclass
from fractions import Fraction

from cravik.core.pricing.repricing import Change
from cravik.core.text.said.draft import SaidPrice
from cravik.core.text.said.pieces import Got, NotSo, Rule

_WHOLE = 100
_DROP = (
    "(drop | remove | delete | take out | no more | stop | without | cancel | clear) [the | asking | asking for | my]"
)
_ORDINALS = {"first": 0, "second": 1, "third": 2, "fourth": 3, "fifth": 4, "last": -1}


@dataclass(frozen=True)
class Dropped:
    """What is to go: its kind, and its name or its number."""

    kind: str
    name: str = ""
    number: int | None = None


@dataclass(frozen=True)
class EndsAfter:
    """After how many it ends, and of what: ``payments``, ``orders``, or nothing that was said."""

    count: int
    of: str


def _question(got: Got) -> Dropped:
    if "which" in got:
        return Dropped("question", number=_ORDINALS[got.word("which")])
    if "ordinal" in got:
        return Dropped("question", number=got.count("ordinal") - 1)
    if "count" in got:
        return Dropped("question", number=got.count() - 1)
    return Dropped("question", got.text("noun") + (f" {got.text('more')}" if "more" in got else ""))


def _kind(kind: str) -> Rule:
    return Rule("drop", f"{_DROP} {_KINDS[kind]}", lambda _: Dropped(kind))


def _named(kind: str) -> object:
    def named(got: Got) -> Dropped:
        return Dropped(kind, got.text("noun") if "noun" in got else got.text("code"))

    return named


_KINDS = {
    "closes": "(end | ending | closing date | closing day | deadline | end date | last day)",
    "opens": "(opening | opening date | start date | opening day)",
    "steps": "(later price | later prices | price change | price changes | step | steps)",
    "orders": "(limit | limits | order limit | limit of orders)",
    "phone": "(phone | phone number | phone question)",
    "address": "(address | address question)",
    "note": "(note | note question)",
    "codes": "(codes | all codes | discount codes | discounts)",
    "questions": "(questions | all questions)",
    "was": "(former price | old price | was price)",
    "options": "(options | choices | sizes | colours)",
    "button": "(button words | button text | own button)",
    "trial": "(trial | free trial)",
    "plan": "(plan | instalments | installments | repeating | payments)",
}


def _by(got: Got) -> Change:
    """By how much every price changes: a share, or a sum."""
    sign = -1 if "down" in got else 1
    if "amount" in got:
        return Change(amount=got.amount() * sign)
    percent = Fraction(got.percent().ten_thousandths, 10_000)
    if sign < 0 and percent >= _WHOLE:
        raise NotSo("Nothing would be left of the price.")
    return Change(percent=percent * sign)


def _ends_after(got: Got) -> EndsAfter:
    of = got.word("of") if "of" in got else ""
    kinds = {
        "payments": "payments",
        "payment": "payments",
        "times": "payments",
        "months": "payments",
        "weeks": "payments",
    }
    return EndsAfter(got.count(), kinds.get(of, "orders" if of else ""))


def _to(got: Got) -> SaidPrice:
    return SaidPrice(got.amount())


_IT = "[it | them | the price | prices | all prices | the prices | price]"
_UP = f"(raise {_IT} | increase {_IT} | put {_IT} up | put up {_IT} | up)"
_DOWN = f"(lower:down {_IT} | reduce:down {_IT} | cut:down {_IT} | put {_IT} down:down | down:down)"
_WHICH = "(first:which | second:which | third:which | fourth:which | fifth:which | last:which)"
RULES = (
    Rule("drop", f"{_DROP} ({_WHICH} question | {{ordinal}} question | question {{count}})", _question),
    Rule("drop", f"{_DROP} question (about | on | for) [the] {{noun}} [{{noun:more}}]", _question),
    Rule("drop", f"{_DROP} {{noun}} [{{noun:more}}] question", _question, 0.95),
    *(_kind(kind) for kind in _KINDS),
    Rule("drop", f"{_DROP} <code> {{code}}", _named("code")),  # type: ignore[arg-type]
    Rule("drop", f"{_DROP} {{code}} code", _named("code"), 0.95),  # type: ignore[arg-type]
    Rule("drop", f"{_DROP} <label> {{noun}}", _named("label")),  # type: ignore[arg-type]
    Rule("drop", f"{_DROP} {{noun}} label", _named("label"), 0.95),  # type: ignore[arg-type]
    Rule("drop", "(do not | don't | dont) ask [for] [the | a] (phone | phone number)", lambda _: Dropped("phone")),
    Rule(
        "drop",
        "(no closing date | never closes | open for ever | open forever | open until further notice)",
        lambda _: Dropped("closes"),
    ),
    Rule("repriced", "(up | raise | raise it | increase | plus | + | prices up) [by] {percent}", _by),
    Rule("repriced", f"{_UP} by ({{percent}} | {{amount}})", _by),
    Rule("repriced", "({percent} | {amount}) (dearer | up | higher)", _by),
    Rule("repriced", "{percent} more", _by),
    Rule("repriced", "(down:down | lower:down | reduce:down | cut:down | minus:down | — ) [by] {percent}", _by),
    Rule("repriced", f"{_DOWN} by ({{percent}} | {{amount}})", _by),
    Rule("repriced", "({percent} | {amount}) (cheaper:down | down:down | lower:down)", _by),
    Rule("repriced", "{percent} less:down", _by),
    Rule(
        "ends_after",
        "(end | ends | stop | stops | finish | close | closes) after {count} [payments:of |"
        " payment:of | times:of | months:of | weeks:of | orders:of | sales:of | sold:of |"
        " buyers:of]",
        _ends_after,
    ),
    Rule("price", "[new | the] price [is | now | : | to | of | =] {amount}", _to),
    Rule(
        "price",
        "(make it | now | change it to | set it to | costs | raise to | raise it to | lower"
        " to | lower it to | change the price to | change price to | reprice to | reduce to"
        " | cut to | increase to | charge | sell it for | sell for) {amount}",
        _to,
    ),
    Rule("price", "[raise | lower | change | set] [the] price to {amount}", _to),
    Rule("noise", "(please | and also | also | set | change | let | make)", lambda _: None, 0.6),
)
