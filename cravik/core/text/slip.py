"""The rows of a slip: what is paid, line by line, so that what stands above the total adds up to it.

>>> from cravik.core.pricing.offer import simple_offer
>>> from cravik.core.pricing.basket import Basket
>>> from cravik.core.pricing.quote import quote
>>> from datetime import date
>>> repair = simple_offer("Repair", Money(2400, "EUR"))
>>> [(row.kind, row.words) for row in slip_rows(quote(repair, Basket(date(2026, 11, 23))))]
[('line', 'Repair')]
"""

from __future__ import annotations

from typing import Literal, NamedTuple

from cravik.core.pricing.money import Money, total_of
from cravik.core.pricing.price import Portion
from cravik.core.pricing.quote import Quote, QuotedLine
from cravik.core.text.money_text import DEFAULT_LOCALE, format_money

RowKind = Literal["line", "less", "more", "within", "left"]


class Row(NamedTuple):
    """``line``, ``less`` (taken off) and ``more`` (delivery, tax, the fee's cover) stand above the total;
    ``within`` says what of the total is tax, and is not added; ``left`` is what the seller has of it in the end.
    ``detail`` says how a line's amount comes about, where that is not plain."""

    kind: RowKind
    words: str
    amount: Money
    detail: str = ""


def total_words(quote: Quote, once: str) -> str:
    """What the total of the rows is called: ``once`` where it is paid at once, else which of the payments it is, or
    that it is all of them together."""
    if not quote.schedule:
        return once
    if quote.total == total_of((quote.due_now, *(payment.amount for payment in quote.schedule)), quote.currency):
        return "In all"
    return "First payment" if quote.total == quote.due_now else "First full payment"


def slip_rows(quote: Quote, locale: str = DEFAULT_LOCALE) -> tuple[Row, ...]:
    """The rows in the order in which they are shown; sums within their words are written as people of ``locale`` do."""
    rows = [Row("line", _line_words(line), line.amount, _made_of(line, locale)) for line in quote.lines]
    if quote.discount:
        rows.append(Row("less", _discount_words(quote), -quote.discount))
    if quote.delivery:
        rows.append(Row("more", "Delivery", quote.delivery))
    before_tax = quote.subtotal - quote.discount + quote.delivery + quote.fee_cover
    added = quote.total - before_tax
    nothing = Money(0, quote.currency)
    tax = [
        Row("more" if added > nothing else "within", f"{line.name} {line.percent.text} %", line.amount)
        for line in quote.tax_lines
    ]
    if added > nothing:
        rows += tax
    elif added < nothing:
        rows.append(Row("less", "Tax that your own firm accounts for", added))
    if quote.fee_cover:
        rows.append(Row("more", "The card fee, which you cover", quote.fee_cover))
    if added <= nothing:
        rows += tax
    return tuple(rows)


def _discount_words(quote: Quote) -> str:
    """Why something is taken off, such as ``15 % with WIND15``."""
    if not quote.code:
        return "Discount"
    return f"{quote.code_percent.text} % with {quote.code}" if quote.code_percent else f"Discount with {quote.code}"


class Kept(NamedTuple):
    """What was ``paid``, and what is taken off it: the fee that stays, the tax that is owed, postage, and what went
    back."""

    paid: Money
    fee: Money
    tax: Money
    postage: Money
    refunded: Money


def kept_rows(quote: Quote) -> tuple[Row, ...]:
    """What the seller has of the payment: what is taken off it, where there is some, and what is left."""
    return rows_of_kept(Kept(quote.total, quote.fee, quote.tax, quote.postage, Money(0, quote.currency)))


def rows_of_kept(kept: Kept) -> tuple[Row, ...]:
    """The same of sums."""
    off = (
        ("The processor's fee", kept.fee),
        ("Tax you owe", kept.tax),
        ("For delivery", kept.postage),
        ("Refunded", kept.refunded),
    )
    rows = [Row("less", words, -amount) for words, amount in off if amount]
    left = kept.paid - kept.fee - kept.tax - kept.postage - kept.refunded
    return (*rows, Row("left", "Left for you", left))


def _line_words(line: QuotedLine) -> str:
    many = f"{line.quantity} × " if line.quantity != 1 else ""
    return f"{many}{', '.join((line.name, *line.options))}"


def _made_of(line: QuotedLine, locale: str) -> str:
    """How the amount comes about where pieces are sold together, such as ``2 × 3 for €5.00, 1 × €2.00``."""
    return ", ".join(portion_words(part, locale) for part in line.made_of)


def portion_words(part: Portion, locale: str = DEFAULT_LOCALE) -> str:
    """Such as ``2 × 3 for €5.00``."""
    amount = format_money(part.amount, locale)
    return f"{part.number:,} × {amount}" if part.size == 1 else f"{part.number:,} × {part.size:,} for {amount}"
