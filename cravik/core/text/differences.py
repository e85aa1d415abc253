"""What changed between two versions of a link, in words, in the order of the bench.

>>> from dataclasses import replace
>>> from cravik.core.link.questions import OneOfQuestion
>>> from cravik.core.pricing.money import Money
>>> from cravik.core.pricing.offer import simple_offer
>>> before = LinkContent("Kite", simple_offer("Kite", Money(2400, "EUR")))
>>> size = OneOfQuestion("size", "Size", ("S", "M"))
>>> after = replace(before, offer=simple_offer("Kite", Money(2600, "EUR")), questions=(size,))
>>> differences(before, after)
('€24.00 → €26.00', 'question “Size” added')
"""

from __future__ import annotations

import re
from collections.abc import Callable, Iterable, Iterator, Mapping, Sequence
from dataclasses import replace
from typing import Any

from cravik.core.link.asks import Asks, LabelledAsk
from cravik.core.link.content import LinkContent
from cravik.core.link.questions import Question
from cravik.core.pricing.discounts import normal_code
from cravik.core.pricing.offer import Line
from cravik.core.text.money_text import DEFAULT_LOCALE
from cravik.core.text.sentence import MAX_NAMED, sentence

#: Phrases of the sentence that speak of the whole: the path, and what a seller calls the subject.
_OF_THE_WHOLE = (
    ("steps", "later price"),
    ("plan", "payment"),
    ("codes", "discount codes"),
    ("delivery", "delivery"),
    ("tax", "tax"),
    ("fee", "fee"),
    ("window", "days on which it is sold"),
    ("limits", "limits"),
)
#: The same of one line, with what holds where the sentence says nothing.
_OF_A_LINE = (("quantity", "how many", "always one"), ("choices", "options", ""), ("once", "when it is charged", ""))
_ASKED = {"no": "not asked", "if sent": "if something is sent"}


def differences(
    before: LinkContent, after: LinkContent, *, zone: str = "UTC", locale: str = DEFAULT_LOCALE
) -> tuple[str, ...]:
    """A phrase for each thing that differs; none where the two say the same but for their names and labels.

    Instants are told in the time ``zone``.
    """
    if replace(before, name="", labels=()) == replace(after, name="", labels=()):
        return ()
    both = _Both(before, after, zone, locale)
    return tuple(dict.fromkeys(words for rule in _RULES for words in rule(both))) or ("other details",)


class _Both:
    """Two versions, with what the sentence says of each: by line and aspect, and by aspect of the whole."""

    def __init__(self, before: LinkContent, after: LinkContent, zone: str, locale: str) -> None:
        self.before, self.after = before, after
        self.words_before, self.words_after = _words(before, zone, locale), _words(after, zone, locale)
        self.one_thing = len(before.offer.lines) == len(after.offer.lines) == 1

    def words(self, about: str) -> tuple[str, str]:
        return self.words_before.get(about, ""), self.words_after.get(about, "")


def _words(content: LinkContent, zone: str, locale: str) -> dict[str, str]:
    keys = [line.key for line in content.offer.lines]
    phrases = sentence(content.offer, locale, steps=content.steps, limits=content.limits, zone=zone, named=MAX_NAMED)
    return {
        re.sub(r"^lines\[(\d+)\]", lambda found: keys[int(found[1])], phrase.about): phrase.text.rstrip(" ,")
        for phrase in phrases
        if phrase.about
    }


def _title(both: _Both) -> Iterator[str]:
    was, now = both.before.offer.title, both.after.offer.title
    if was != now:
        yield f"name “{was}” → “{now}”"
    if both.before.offer.currency != both.after.offer.currency:
        yield f"currency {both.before.offer.currency} → {both.after.offer.currency}"


def _lines(both: _Both) -> Iterator[str]:
    before, after = _by_key(both.before.offer.lines), _by_key(both.after.offer.lines)
    for key, line in before.items():
        if key not in after:
            yield f"“{line.name}” removed"
    for key, line in after.items():
        if key not in before:
            yield f"“{line.name}” added at {both.words(f'{key}.price')[1]}"
        elif line != before[key]:
            yield from _line(both, before[key], line)
    if _moved(list(before), list(after)):
        yield "the order of the things"


def _line(both: _Both, was: Line, now: Line) -> Iterator[str]:
    of = "" if both.one_thing else f" of “{now.name}”"
    if was.name != now.name and not (both.one_thing and both.after.offer.title == now.name):  # then told with the title
        yield f"“{was.name}” → “{now.name}”"
    if was.price != now.price:
        words = both.words(f"{now.key}.price")
        yield f"{words[0]} → {words[1]}{of}" if words[0] != words[1] else f"details of the price{of}"
    for name, called, usual in _OF_A_LINE:
        words = both.words(f"{now.key}.{name}")
        yield from _turned(f"{called}{of}", getattr(was, name), getattr(now, name), *(each or usual for each in words))
    if was.optional != now.optional:
        yield f"“{now.name}” is {'an extra' if now.optional else 'always included'} now"
    if was.ships != now.ships:
        yield f"“{now.name}” is {'sent' if now.ships else 'no longer sent'}"
    if (was.weight_g, was.tax_category, was.sku) != (now.weight_g, now.tax_category, now.sku):
        yield f"weight, tax category or code{of}"


def _whole(both: _Both) -> Iterator[str]:
    for name, called in _OF_THE_WHOLE:
        holders = [content if hasattr(content, name) else content.offer for content in (both.before, both.after)]
        was, now = (getattr(holder, name) for holder in holders)
        if name == "codes":
            yield from _by_name("code", {code.code: code for code in was}, {code.code: code for code in now})
        else:
            yield from _turned(called, was, now, *both.words(name))
    rules = [{normal_code(code): rule for code, rule in each.code_rules.items()} for each in (both.before, both.after)]
    if rules[0] != rules[1]:
        yield "how often codes can be used"


def _questions(both: _Both) -> Iterator[str]:
    before = {question.key: question for question in both.before.questions}
    after = {question.key: question for question in both.after.questions}
    yield from (f"question “{before[key].label}” removed" for key in before if key not in after)
    for key, question in after.items():
        if key not in before:
            yield f"question “{question.label}” added"
        elif before[key] != question:
            yield _question(before[key], question)
    if _moved(list(before), list(after)):
        yield "the order of the questions"


def _question(was: Question, now: Question) -> str:
    if was.label != now.label:
        return f"question “{was.label}” → “{now.label}”"
    if was.required != now.required:
        return f"question “{now.label}” is {'required' if now.required else 'optional'} now"
    return f"question “{now.label}” changed"


def _asks(both: _Both) -> Iterator[str]:
    was, now = both.before.asks, both.after.asks
    for name, called in (
        ("phone", "phone"),
        ("address", "postal address"),
        ("invoice", "company and tax number"),
        ("note", "note"),
        ("reference", "reference"),
    ):
        yield from _turned(called, getattr(was, name), getattr(now, name), _asked(was, name), _asked(now, name))
    yield from _text("newsletter", was.newsletter or "", now.newsletter or "")
    yield from _turned("keeping the card", was.keep_card, now.keep_card)


def _asked(asks: Asks, name: str) -> str:
    asked = getattr(asks, name)
    ask = asked.ask if isinstance(asked, LabelledAsk) else asked
    label = f" as “{asked.label}”" if isinstance(asked, LabelledAsk) and asked.label and ask != "no" else ""
    return f"{_ASKED.get(ask, ask)}{label}"


def _page(both: _Both) -> Iterator[str]:
    was, now = both.before.page, both.after.page
    if was.words != now.words:
        yield "words added" if not was.words else "words removed" if not now.words else "words changed"
    yield from _text("button", was.button, now.button)
    yield from _text("title of the card", was.card.title, now.card.title)
    yield from _text("words of the card", was.card.words, now.card.words)
    yield from _turned("saying how many are left", was.tells_left, now.tells_left)
    yield from _text("look", was.look or "", now.look or "")


def _after(both: _Both) -> Iterator[str]:
    was, now = both.before.after, both.after.after
    yield from _text("message after paying", was.message, now.message)
    yield from _text("page after paying", was.go_to or "", now.go_to or "")
    yield from _text("page for who cancels", was.cancelled or "", now.cancelled or "")


def _rest(both: _Both) -> Iterator[str]:
    was, now = both.before, both.after
    yield from _text("terms", was.terms or "", now.terms or "")
    yield from _turned("contact", was.contact, now.contact)
    yield from _turned("what it has from Setup", set(was.follows), set(now.follows))
    yield from _turned("the right to withdraw", dict(was.no_withdrawal), dict(now.no_withdrawal))
    yield from _turned("what comes from the catalogue", dict(was.items), dict(now.items))


_RULES: tuple[Callable[[_Both], Iterator[str]], ...] = (
    _title,
    _lines,
    _whole,
    _questions,
    _asks,
    _page,
    _after,
    _rest,
)
#: So many letters of a text are told.
_TOLD = 60


def _turned(called: str, was: Any, now: Any, words_before: str = "", words_after: str = "") -> list[str]:
    """That something became something else, as far as there are words for both."""
    if was == now:
        return []
    if words_before == words_after:
        return [f"{called} changed"]
    if not words_before:
        return [f"{called} added: {words_after}"]
    return [f"{called}: {words_before} → {words_after}"] if words_after else [f"{called} removed (was: {words_before})"]


def _text(called: str, was: str, now: str) -> list[str]:
    short = [f"“{text[:_TOLD]}{'…' if len(text) > _TOLD else ''}”" if text else "" for text in (was, now)]
    return _turned(called, was, now, *short)


def _by_name(called: str, before: Mapping[str, Any], after: Mapping[str, Any]) -> Iterator[str]:
    yield from (f"{called} {name} removed" for name in before if name not in after)
    yield from (f"{called} {name} added" for name in after if name not in before)
    yield from (f"{called} {name} changed" for name in after if name in before and before[name] != after[name])


def _by_key(lines: Iterable[Line]) -> dict[str, Line]:
    return {line.key: line for line in lines}


def _moved(before: Sequence[str], after: Sequence[str]) -> bool:
    """Whether those that are in both stand in another order."""
    return [key for key in before if key in after] != [key for key in after if key in before]
