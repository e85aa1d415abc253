"""A document as EN 16931 has an invoice: tax by category on the sum of what is in it.

The standard works tax out once for each category (BR-CO-17), where a slip rounds each line; what the two differ by is
its rounding amount (BT-114), so that what is paid stays what was paid. Numbers in brackets are those of its business
terms and rules (EN 16931-1:2017, tables 2 and 4).
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from typing import Literal, NamedTuple

from cravik.core.errors import Fault
from cravik.core.invoicing.content import Content, DocumentLine
from cravik.core.pricing.currency import minor_digits
from cravik.core.pricing.money import Money
from cravik.core.pricing.percent import Percent

Code = Literal["S", "Z", "AE", "E"]
#: States in which what Cravik calls tax is value added tax.
VAT_COUNTRIES = frozenset(
    "AT BE BG CH CY CZ DE DK EE ES FI FR GB GR HR HU IE IS IT LI LT LU LV MT NL NO PL PT RO SE SI SK".split()
)
_NOTHING = Percent(0)


class Category(NamedTuple):
    """A category of tax (BT-118) with its rate (BT-119)."""

    code: Code
    rate: Percent


class CategorySum(NamedTuple):
    """What falls on a category (BT-116) and its tax (BT-117)."""

    category: Category
    base: Money
    tax: Money


class CategorisedLine(NamedTuple):
    line: DocumentLine
    category: Category


@dataclass(frozen=True)
class Structured:
    """The sums of the standard. ``lines`` are invoice lines (BG-25) and ``charges`` those on the document (BG-21)."""

    lines: tuple[CategorisedLine, ...]
    charges: tuple[CategorisedLine, ...]
    line_sum: Money
    charge_sum: Money
    categories: tuple[CategorySum, ...]
    tax: Money
    grand_total: Money
    paid: Money
    rounding: Money
    due: Money

    @property
    def base(self) -> Money:
        """The sum without tax (BT-109)."""
        return self.line_sum + self.charge_sum


def structured(content: Content) -> Structured:
    """The document by the standard's sums. Of one in which ``why_not`` finds nothing."""
    found = [CategorisedLine(line, _category(line, content)) for line in content.lines]
    are_lines = [each for each in found if each.line.kind == "line"] or found
    charges = tuple(each for each in found if each not in are_lines)
    nothing = Money(0, content.currency)
    categories = tuple(_sums(found, nothing))
    line_sum = sum((each.line.net for each in are_lines), nothing)
    charge_sum = sum((each.line.net for each in charges), nothing)
    tax = sum((each.tax for each in categories), nothing)
    grand_total = line_sum + charge_sum + tax
    paid = sum((each.amount for each in content.paid), nothing)
    rounding = content.total - grand_total
    due = grand_total - paid + rounding
    return Structured(
        tuple(are_lines), charges, line_sum, charge_sum, categories, tax, grand_total, paid, rounding, due
    )


def why_not(content: Content) -> tuple[Fault, ...]:
    """What keeps the document from being said in the standard's terms; nothing where it can be."""
    return tuple(_reasons(content))


def _reasons(content: Content) -> Iterator[Fault]:
    seller, buyer = content.seller, content.buyer
    if content.kind == "receipt":
        yield Fault("structured_receipt")
    if content.of == "final":
        yield Fault("structured_final")
    if minor_digits(content.currency) > 2:
        yield Fault("structured_digits", currency=content.currency)
    if seller.country not in VAT_COUNTRIES:
        yield Fault("structured_country")
    if not buyer.country:
        yield Fault("structured_buyer_country")
    if any(len(line.taxes) > 1 for line in content.lines):
        yield Fault("structured_two_taxes")
        return
    codes = {_category(line, content).code for line in content.lines}
    if not seller.tax_number:  # by which the seller is known (BR-CO-26)
        yield Fault("structured_seller_number")
    if "AE" in codes and not buyer.tax_number:
        yield Fault("structured_buyer_number")
    if "E" in codes and not content.note and any(line.kind != "cover" for line in _untaxed(content)):
        yield Fault("structured_exempt")


def _untaxed(content: Content) -> list[DocumentLine]:
    return [line for line in content.lines if not line.taxes]


def _category(line: DocumentLine, content: Content) -> Category:
    if not line.taxes:
        return Category("E", _NOTHING)
    (tax,) = line.taxes[:1]
    if not tax.percent.ten_thousandths:
        return Category("Z", _NOTHING)
    if content.is_reversed and not tax.amount:
        return Category("AE", _NOTHING)
    return Category("S", tax.percent)


def _sums(found: Sequence[CategorisedLine], nothing: Money) -> Iterator[CategorySum]:
    for category in dict.fromkeys(each.category for each in found):
        base = sum((each.line.net for each in found if each.category == category), nothing)
        yield CategorySum(category, base, Money(category.rate.of(base.minor), base.currency))
