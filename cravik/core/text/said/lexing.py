"""A said line as tokens: words, numbers with what they are, signs; and its *shadow*, one canonical word a token.

The grammar's patterns are matched against the shadow, where every token is one word and a space: a sum with a currency
is ``¤``, a whole number ``#`` (``#y`` if it could be a year), another ``#.``, a percentage ``%``.

>>> [token.word for token in lex("Delta kite €48, 3 for 120", "EUR").tokens]
['delta', 'kite', '¤', ',', '#', 'for', '#']
"""

from __future__ import annotations

import re
import unicodedata
from collections.abc import Iterator
from dataclasses import dataclass
from decimal import Decimal
from functools import cache, lru_cache
from itertools import islice

from babel.numbers import get_currency_symbol

from cravik.core.errors import AmountRefused
from cravik.core.pricing.currency import minor_digits, payable_currencies
from cravik.core.pricing.money import Money
from cravik.core.text.amount_text import parse_amount
from cravik.core.text.faults import fault_words
from cravik.core.text.said.words import ENGLISH, Words

_FIGURES = (
    r"\d{1,2}(?:,\d{2})+,\d{3}(?:\.\d{1,2})?|\d{1,3}(?:[,.'’\u00a0\u202f]\d{3})+(?:[.,]\d{1,2})?|\d+(?:[.,]\d{1,4})?"
)
#: Codes that are words as well: they mean a currency only where it is the seller's own.
_WORDS_TOO = frozenset("ALL CUP TOP TRY MOP PEN SOS MAD LAK BAM AMD GEL PAB CAD".split()) - {"CAD"}
#: Signs that several currencies share: the seller's own if it is one of them, else the first.
_SHARED = {"$": ("USD", "CAD", "AUD", "NZD", "SGD", "HKD", "MXN"), "£": ("GBP",), "¥": ("JPY", "CNY")}
#: Where thousands are parted by points.
_PARTED_BY_POINTS = frozenset("DKK NOK ISK CZK HUF RON TRY PLN BRL ARS CLP COP IDR VND".split())
_FIRST_YEAR, _LAST_YEAR = 1900, 2199
#: A line that has more is not read.
MAX_TOKENS = 400


@dataclass(frozen=True, slots=True)
class Number:
    """What a number can mean: a sum, if it is one (else ``why`` it is none), a whole number, or a percentage; whether a
    ``currency`` was said, and whether it stands with a sign of its own, as ``-5``."""

    money: Money | None = None
    why: str = ""
    whole: int | None = None
    percent: str = ""
    currency: bool = False


@dataclass(frozen=True, slots=True)
class Token:
    """A word, number or sign from ``start`` to ``end`` of the line; ``word`` is what the shadow has of it. ``glued``:
    nothing stands between it and the one before."""

    start: int
    end: int
    text: str
    word: str
    glued: bool = False
    number: Number | None = None


@dataclass(frozen=True)
class Lexed:
    """A line's tokens, its shadow, where each token begins there, and the currency that its sums are in. ``others`` are
    further currencies that it names."""

    text: str
    currency: str
    tokens: tuple[Token, ...]
    shadow: str
    offsets: tuple[int, ...]
    others: tuple[str, ...] = ()


def lex(text: str, usual: str, words: Words = ENGLISH) -> Lexed:
    """The tokens of ``text``, or the first ``MAX_TOKENS`` and one of what is longer; sums without a sign are in the
    ``usual`` currency, or in the one that others name."""
    plain = "".join(str(unicodedata.decimal(sign)) if sign.isdecimal() else sign for sign in text)
    named = list(dict.fromkeys(_currencies_in(plain, usual, words)))
    currency = named[0] if named else usual
    tokens = tuple(islice(_tokens(plain, text, currency, words), MAX_TOKENS + 1))
    offsets, place = [], 0
    for token in tokens:
        offsets.append(place)
        place += len(token.word) + 1
    return Lexed(
        text, currency, tokens, "".join(f"{token.word} " for token in tokens), (*offsets, place), tuple(named[1:])
    )


@cache
def _sign_pattern(words: Words) -> str:
    """What stands for a currency before or after a number."""
    codes = payable_currencies()
    signs = {get_currency_symbol(code, "en") for code in codes} | set(codes) | set(_SHARED)
    return "|".join(re.escape(sign) for sign in sorted(signs, key=len, reverse=True))


#: “8 pm or 80 pa” is what a month and a year cost, and no hour.
_NOT_A_RATE = r"(?!\s?(?:or|/|,)\s?\D?\d+(?:\.\d\d)?\s?(?:pa\b|p\.a|(?:a|per)\syear|yearly|/y))"


#: What may stand at a sum without a space: “£68pp”.
_RATES = "pp|pcm|pm|pw|each|ea"


@cache
def _pattern(words: Words) -> re.Pattern[str]:
    signs = _sign_pattern(words)
    named = "|".join(re.escape(word) for word in sorted(words.currencies, key=len, reverse=True))
    minor = "|".join(re.escape(word) for word in sorted(words.minor, key=len, reverse=True))
    return re.compile(
        rf"""
          [“"](?P<quoted>[^“”"\n]{{1,200}})[”"]
        | (?<![\w])['‘](?P<single>[^'’‘\n]{{2,120}})['’](?!\w)
        | (?P<iso>\d{{4}}-\d\d-\d\d)(?!\w)
        | (?P<dotted>\d{{1,2}}\.\d{{1,2}}\.(?:\d{{4}}|\d{{2}}(?!\d))?)(?![\w.]\d)
        | (?P<clock>(?<![\d.,:])(?:(?:0?[1-9]|1[0-2])(?:[:.]\d\d)?\s?(?:am|pm|a\.m\.|p\.m\.){_NOT_A_RATE}
            |(?:[01]?\d|2[0-3]):[0-5]\d)(?!\w))
        | (?P<percent>{_FIGURES})\s?(?:%|per\scent\b|percent\b|pct\b)
        | (?P<before>(?<![A-Za-z])(?:{signs}|(?i:{named}))\s?)?(?P<minus>(?<![\w.,])[-−](?=\d))?
          (?P<figures>(?:{_FIGURES})(?![.,]?\d)|\d+(?=,\d))
          (?P<tail>(?i:k)(?!\w)|[.,]\s?[-–—](?!\w|\s?\d)|/[-–—](?!\w)|(?:(?i:{minor})|\s(?i:cents?|pence))(?![\w.]))?
          (?P<after>\s?(?:{signs}|(?i:{named}))(?![\w]))?
          (?P<open>\+(?=\s|[,;)]|$))?
          (?:(?!\w)|(?=(?i:{_RATES})(?!\w)))
        | (?P<measured>\d+(?:[.,]\d+)?)(?=(?i:mins?|hrs?|h|ml|cl|kgs?|gms?|g|cm|mm|m|l|ft|oz|lbs?|{_RATES})(?!\w))
        | (?P<inch>(?<=\d)["″])
        | (?P<by>(?<=\d)[x×](?=\s?\d))
        | (?P<ordinal>\d{{1,2}})(?:st|nd|rd|th)(?!\w)
        | (?P<times>\d+)(?=[x×]\s?[\d€£$¥₹])
        | (?P<word>(?:[^\W\d_]\.){{2,}}|[^\W_]+(?:['’.&@*-][^\W_]+)*)
        | (?P<space>\s+)
        | (?P<sign>.)
        """,
        re.VERBOSE,
    )


def _currencies_in(plain: str, usual: str, words: Words) -> Iterator[str]:
    for found in _pattern(words).finditer(plain):
        if found["figures"] and (meant := _currency_of(found, usual, words)):
            yield meant


def _currency_of(found: re.Match[str], usual: str, words: Words) -> str | None:
    """The currency that stands with a number, if one does."""
    sign = (found["before"] or found["after"] or "").strip()
    if sign:
        return _meant(sign, usual, words)
    return usual if _is_minor(found, usual, words) else None


def _is_minor(found: re.Match[str], currency: str, words: Words) -> bool:
    """Whether it is so many cents or pence; in other currencies such a letter says something else."""
    return currency in words.minor.get((found["tail"] or "").strip().lower(), ())


def _meant(sign: str, usual: str, words: Words) -> str | None:
    shared = _SHARED.get(sign) or words.currencies.get(sign.lower())
    if shared:
        return usual if usual in shared or (sign in _SHARED and sign in get_currency_symbol(usual, "en")) else shared[0]
    if sign in _WORDS_TOO and sign != usual:
        return None
    return sign if sign in payable_currencies() else _code_of(sign)


@cache
def _code_of(symbol: str) -> str | None:
    return next((code for code in payable_currencies() if get_currency_symbol(code, "en") == symbol), None)


def _tokens(plain: str, text: str, currency: str, words: Words) -> Iterator[Token]:
    end, before = 0, ""
    for found in _pattern(words).finditer(plain):
        if found["space"]:
            continue
        start, stop = found.span()
        glued = start == end and start > 0
        word, number = _kind(found, currency, words)
        if word == "." and before in words.abbreviations and glued:
            end = stop
            continue
        if word in "-–" and glued and before[:1] in ("#", "¤") and plain[stop : stop + 1].isalpha():
            end = stop  # “14-day”
            continue
        if word in "-–—":
            joins = glued and before[:1] in ("#", "¤") and bool(re.match(r"[\d€£$¥₹]", plain[stop : stop + 1]))
            word = "~" if joins else "—"
        yield Token(start, stop, text[start:stop], word, glued, number)
        end, before = stop, word


def _kind(found: re.Match[str], currency: str, words: Words) -> tuple[str, Number | None]:
    if found["quoted"] or found["single"]:
        return "“”", None
    if found["iso"] or found["dotted"]:
        return "dd", None
    if found["clock"]:
        return "hh", None
    if found["percent"]:
        return "%", Number(percent=found["percent"].replace(",", "."))
    if found["figures"]:
        return _number(found, currency, words)
    if found["measured"]:
        figures = found["measured"]
        whole = int(figures) if figures.isdigit() else None
        return ("#" if whole is not None else "#."), Number(_money(figures, currency)[0], whole=whole)
    if found["inch"] or found["by"]:
        return ("inch" if found["inch"] else "x"), None
    if found["ordinal"]:
        return "#th", Number(whole=int(found["ordinal"]))
    if found["times"]:
        return "#", Number(_money(found["times"], currency)[0], whole=int(found["times"]))
    if word := found["word"]:
        return _spelled(_folded(word), words), None
    sign = found["sign"]
    return {"×": "x", "&": "and", "•": "|", "→": "—", "#": "number", "¤": "sum", "%": "percent"}.get(sign, sign), None


def _number(found: re.Match[str], usual: str, words: Words) -> tuple[str, Number | None]:
    figures, tail = found["figures"], (found["tail"] or "").strip().lower()
    named = _currency_of(found, usual, words)
    whole = int(figures) if figures.isascii() and figures.isdigit() and len(figures) <= 12 else None
    if tail in words.minor and not _is_minor(found, usual, words) and not named:
        return f"{figures}{tail}", None
    money, why = _money(figures, usual, tail in words.minor)
    if tail == "k":
        money, why = _thousands(figures, usual)
    if found["minus"]:
        return "-#", Number(money, why, whole)
    if figures[0] == "0" and len(figures) > 1 and whole is not None and not named:
        return figures, None  # a number of something, as 0417
    if named or tail:
        return ("¤", Number(money, why, None if tail else whole, currency=True))
    if found["open"]:
        return "#+", Number(money, why, whole if whole is not None else _grouped(figures))
    if whole is None:
        return "#.", Number(money, why, _grouped(figures))
    return ("#y" if _FIRST_YEAR <= whole <= _LAST_YEAR and len(figures) == 4 else "#"), Number(money, why, whole)


def _grouped(figures: str) -> int | None:
    """The whole number of ``1,500``; None of what has decimals."""
    return int(figures.replace(",", "")) if re.fullmatch(r"\d{1,3}(?:,\d{3})+", figures) else None


def _money(figures: str, currency: str, is_minor: bool = False) -> tuple[Money | None, str]:
    """The sum, or why it is none. ``1,200`` is a group here: English parts thousands by commas."""
    if is_minor:
        return (Money(int(figures), currency), "") if figures.isdigit() and len(figures) < 6 else (None, "")
    groups = r"\d{1,3}[.,]\d{3}" if currency in _PARTED_BY_POINTS else r"\d{1,3},\d{3}|\d{1,3}[.]000"
    if minor_digits(currency) == 2 and re.fullmatch(groups, figures):
        figures = figures.replace(",", "").replace(".", "")
    try:
        return parse_amount(figures, currency), ""
    except AmountRefused as refused:
        if refused.faults[0].code == "amount_zero":
            return Money(0, currency), ""
        return None, fault_words(refused.faults[0])


def _thousands(figures: str, currency: str) -> tuple[Money | None, str]:
    number = Decimal(figures.replace(",", ".")) * 1000 if re.fullmatch(r"\d+(?:[.,]\d{1,3})?", figures) else None
    return _money(str(int(number)), currency) if number is not None else (None, "")


def _folded(word: str) -> str:
    return word.lower().replace("’", "'").rstrip(".")


@lru_cache(maxsize=4096)
def _spelled(word: str, words: Words) -> str:
    """The word, or the one of the grammar's long words that it misses by one letter."""
    if len(word) < 6 or word in words.spelled or not word.isalpha():
        return word
    return next((known for known in words.spelled if _is_near(word, known)), word)


def _is_near(typed: str, known: str) -> bool:
    """Whether one letter is missing, too many, another, or changed with the next; plurals are words of their own."""
    if abs(len(typed) - len(known)) > 1 or typed[0] != known[0] or typed in (known + "s", known + "d", known[:-1]):
        return False
    if len(typed) == len(known):
        differ = [place for place, pair in enumerate(zip(typed, known, strict=True)) if pair[0] != pair[1]]
        if len(differ) == 2 and differ[1] == differ[0] + 1:
            return typed[differ[0]] == known[differ[1]] and typed[differ[1]] == known[differ[0]]
        return len(differ) == 1 and len(known) > 6
    longer, shorter = sorted((typed, known), key=len, reverse=True)
    return any(longer[:place] + longer[place + 1 :] == shorter for place in range(len(longer)))
