"""Amounts as people type them: signs, spaces, points, commas and other scripts' digits.

A sum that could be read in two ways is refused with both readings, never guessed.

>>> parse_amount("€ 1 234,50", "EUR").minor
123450
>>> parse_amount("٤٨٫٥٠", "EUR").minor
4850
"""

from __future__ import annotations

import re
import unicodedata
from collections.abc import Callable
from typing import Any

from babel.numbers import get_currency_name

from cravik.core.errors import AmountRefused, Fault, UnknownCurrency
from cravik.core.pricing.currency import minor_digits
from cravik.core.pricing.money import MAX_MINOR, Money

_MAX_TEXT_LENGTH = 60
_SPACES = re.compile(r"[\s'’_\u00a0\u202f\u2009]+")
_ONE_SEPARATOR = re.compile(r"(\d+)([.,])(\d+)", re.ASCII)
_GROUPED = re.compile(r"\d{1,3}(?:([.,])\d{3})(?:\1\d{3})*", re.ASCII)
_GROUPED_WITH_DECIMALS = re.compile(r"(\d{1,3}(?:([.,])\d{3})(?:\2\d{3})*)([.,])(\d+)", re.ASCII)
_INDIAN_GROUPS = re.compile(r"\d{1,2}(?:,\d{2})+,\d{3}(?:\.(\d+))?", re.ASCII)


def parse_amount(typed: str, currency: str, at: str = "amount") -> Money:
    """The money that ``typed`` says in ``currency``; always above zero.

    Raises ``AmountRefused`` with one of the codes ``amount_missing``, ``amount_malformed``,
    ``amount_ambiguous``, ``amount_precision``, ``amount_negative``, ``amount_zero``,
    ``amount_too_large``, ``amount_other_currency``.
    """
    try:
        return _read(typed, currency)
    except AmountRefused as refused:
        raise AmountRefused(*(fault.placed(at) for fault in refused.faults)) from None


def parse_signed_amount(typed: str, currency: str, at: str = "amount") -> Money:
    """The money that ``typed`` adds, or takes off where it begins with a minus; it may be zero.

    >>> parse_signed_amount("−6", "EUR").minor, parse_signed_amount("0", "EUR").minor
    (-600, 0)

    Raises ``AmountRefused`` as ``parse_amount`` does.
    """
    text = typed.strip()
    try:
        size = parse_amount(text.lstrip("+-−").strip(), currency, at)
    except AmountRefused as refused:
        if [fault.code for fault in refused.faults] != ["amount_zero"]:
            raise
        return Money(0, currency)
    return -size if text.startswith(("-", "−")) else size


def _read(typed: str, currency: str) -> Money:
    digits = minor_digits(currency)
    if not typed.strip():
        raise _refusal("amount_missing", digits=digits)
    if len(typed) > _MAX_TEXT_LENGTH:
        raise _refusal("amount_malformed", why="amount_too_long", digits=digits)
    plain = _latin_digits(typed)
    named = _named_currency(plain)
    if named and named != currency:
        raise _refusal("amount_other_currency", said=named, currency=currency)
    if sign := next((sign for sign in plain if sign in _SHARED_SIGNS and not _SHARED_SIGNS[sign](currency)), None):
        raise _refusal("amount_other_currency", said=sign, currency=currency)
    plain = _without_currency(plain, currency)
    if plain.startswith(("-", "−")):
        raise _refusal("amount_negative")
    whole, decimals = _parts(plain, digits, currency)
    if len(decimals) > digits:
        raise _refusal("amount_precision", why="typed_amount_precision", currency=currency, digits=digits, text=plain)
    minor = int(whole + decimals.ljust(digits, "0"))
    if minor == 0:
        raise _refusal("amount_zero")
    if minor > MAX_MINOR:
        raise _refusal("amount_too_large", why="typed_amount_too_large", most=Money(MAX_MINOR, currency))
    return Money(minor, currency)


def _parts(plain: str, digits: int, currency: str) -> tuple[str, str]:
    """Whole part and decimals of ``plain``, as digit strings."""
    if plain.isascii() and plain.isdigit():
        return plain, ""
    if re.fullmatch(r"[.,]\d+", plain, re.ASCII):
        return "0", plain[1:]
    if one := _ONE_SEPARATOR.fullmatch(plain):
        whole, separator, rest = one.groups()
        could_be_group = len(rest) == 3 and len(whole) <= 3 and whole != "0"
        if could_be_group and not (digits == 3 and separator == "."):
            if digits == 0 and separator == ",":
                return whole + rest, ""
            smaller = f"{whole}.{rest[:digits]}" if digits else whole
            larger = f"{whole}{rest}"
            fields = {"text": plain, "currency": currency, "digits": digits, "larger": larger, "smaller": smaller}
            raise _refusal("amount_ambiguous", **fields)
        return whole, rest
    if grouped := _GROUPED.fullmatch(plain):
        return plain.replace(grouped[1], ""), ""
    if (both := _GROUPED_WITH_DECIMALS.fullmatch(plain)) and both[2] != both[3]:
        return both[1].replace(both[2], ""), both[4]
    if indian := _INDIAN_GROUPS.fullmatch(plain):
        return plain.split(".")[0].replace(",", ""), indian[1] or ""
    raise _refusal("amount_malformed", why="typed_amount_malformed", text=plain[:30], digits=digits)


def _latin_digits(typed: str) -> str:
    """``typed`` with every script's decimal digits and separators as ASCII, and its spaces gone."""
    out = []
    for sign in unicodedata.normalize("NFKC", typed):
        if unicodedata.category(sign) == "Cf":  # direction marks that come with a paste
            continue
        value = unicodedata.decimal(sign, None)
        out.append(str(value) if value is not None else {"٫": ".", "٬": ",", "、": ","}.get(sign, sign))
    return _SPACES.sub("", "".join(out))


# Signs of one currency, and signs that several share, with what tells whether it is one of them.
_SIGNS = {"€": "EUR", "₹": "INR", "₩": "KRW", "₺": "TRY", "₪": "ILS", "₫": "VND", "₴": "UAH"}
_SHARED_SIGNS: dict[str, Callable[[str], bool]] = {
    "$": lambda code: any(word in get_currency_name(code, locale="en") for word in ("Dollar", "Peso", "Real")),
    "£": lambda code: "Pound" in get_currency_name(code, locale="en"),
    "¥": lambda code: code in ("JPY", "CNY"),
}


def _named_currency(plain: str) -> str | None:
    """The one currency that a sign or code beside the digits names, if it names just one."""
    letters = "".join(re.findall(r"[^\W\d_]", plain)).upper()
    if len(letters) == 3 and letters.isascii():
        try:
            minor_digits(letters)
        except UnknownCurrency:  # any other three letters
            return None
        return letters
    return next((code for sign, code in _SIGNS.items() if sign in plain), None)


def _without_currency(plain: str, currency: str) -> str:
    own_code = re.compile(f"^{currency}|{currency}$", re.IGNORECASE)
    bare = own_code.sub("", plain)
    return "".join(sign for sign in bare if unicodedata.category(sign) != "Sc")


def _refusal(code: str, **fields: Any) -> AmountRefused:
    return AmountRefused(Fault(code, **fields))
