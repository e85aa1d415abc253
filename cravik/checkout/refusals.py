"""What a buyer reads of a refusal: in the words of the part that it is about."""

from __future__ import annotations

from collections.abc import Mapping

from cravik.checkout.parts import LINE_PARTS, ORDER_PARTS
from cravik.core.errors import CoreError, Fault
from cravik.core.pricing.money import Money
from cravik.core.text.faults import fault_words
from cravik.core.text.faults.wording import Fields, Words
from cravik.core.text.money_text import format_money
from cravik.core.text.pieces_words import left_words, pieces_words


def _too_few_left(fields: Fields) -> str:
    left = left_words(fields["limit"], fields["word"]).capitalize()
    return f"{left}, so no more than that." if fields["limit"] else f"{left}."


def _too_many_for_one(fields: Fields) -> str:
    before = f"; you have {fields['had']:,} already" if fields["had"] else ""
    return f"At most {pieces_words(fields['limit'], fields['word'])} a buyer{before}."


#: Refusals of the whole basket, which are no part's own.
_OF_BASKET = {
    "parcel_too_heavy": "Together that is too heavy to send: the most is {limit} g. Choose less.",
    "nothing_chosen": "Nothing is chosen yet. Choose at least one thing.",
    "unknown_line": "Something you chose is no longer sold here.",
}
#: Where a bound is known to nobody.
_WITHOUT_LIMIT = {"quantity_above_maximum": "That is more than can be charged at once."}
#: What is said of what is left, or one buyer may have: of whatever is counted.
_AT_SALE: Words = {"too_few_left": _too_few_left, "too_many_for_one": _too_many_for_one}
WORDS: Mapping[str, str] = {
    **_OF_BASKET,
    **{code: words for line_part in LINE_PARTS for code, words in line_part.refusals.items()},
    **{code: words for order_part in ORDER_PARTS for code, words in order_part.refusals.items()},
}


def refusal_words(fault: Fault, currency: str, locale: str) -> str:
    """One or two plain sentences, with the bound that was broken; the core's own where no part has better ones."""
    limit = _limit(fault, currency, locale)
    words = WORDS.get(fault.code, "")
    if not limit and "{limit}" in words:
        words = _WITHOUT_LIMIT.get(fault.code, "")
    return words.replace("{limit}", limit) if words else fault_words(fault, _AT_SALE)


def _limit(fault: Fault, currency: str, locale: str) -> str:
    if isinstance(fault.limit, int):
        return f"{fault.limit:,}"
    try:
        return format_money(Money.parse(fault.limit or "", currency), locale)
    except CoreError:
        return fault.limit or ""
