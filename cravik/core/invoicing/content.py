"""What stands in a receipt, an invoice or a credit note, as values: no words, and nothing of how it looks."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date
from typing import Literal, NamedTuple

from cravik.core.pricing.money import Money
from cravik.core.pricing.payment import TaxLine

Kind = Literal["receipt", "invoice", "correction"]
#: What an invoice is of: all that was bought, what was paid ahead, all of it once the rest is paid too, or one payment
#: of several that are each for themselves.
Of = Literal["whole", "prepayment", "final", "period"]
LineKind = Literal["line", "delivery", "cover"]


@dataclass(frozen=True)
class Party:
    """A seller or a buyer; ``country`` is an ISO 3166-1 code, and whatever is not known is empty."""

    name: str
    company: str = ""
    street: tuple[str, ...] = ()
    postcode: str = ""
    town: str = ""
    region: str = ""
    country: str = ""
    tax_number: str = ""
    email: str = ""


class DocumentLine(NamedTuple):
    """A line, the delivery, or the fee that the buyer covers. ``amount`` is before the ``discount``, as its price has
    it; ``total`` is what of it is paid, with the ``taxes`` that are in it by rate."""

    kind: LineKind
    name: str
    options: tuple[str, ...]
    quantity: int
    amount: Money
    discount: Money
    total: Money
    taxes: tuple[TaxLine, ...] = ()

    @property
    def tax(self) -> Money:
        return sum((row.amount for row in self.taxes), self.total - self.total)

    @property
    def net(self) -> Money:
        """What of it is paid without tax."""
        return self.total - self.tax


class Paid(NamedTuple):
    """A payment: when, how (such as ``Card ending in 0019``), and how much."""

    on: date
    how: str
    amount: Money


class Reference(NamedTuple):
    """Another document: its number, its day, and for what it takes off, how much with the tax in it."""

    number: str
    on: date
    total: Money | None = None
    tax_lines: tuple[TaxLine, ...] = ()


@dataclass(frozen=True)
class Content:
    """A document. ``total`` is the sum of its lines; what of it ``deducted`` documents had is taken off, and what is
    ``left`` then was paid, or is still to come."""

    kind: Kind
    of: Of
    number: str
    issued_on: date
    supplied_on: date
    order: str
    reference: str
    seller: Party
    buyer: Party
    currency: str
    lines: tuple[DocumentLine, ...]
    tax_lines: tuple[TaxLine, ...]
    total: Money
    paid: tuple[Paid, ...] = ()
    deducted: tuple[Reference, ...] = ()
    corrects: Reference | None = None
    #: Why money went back, in the seller's words.
    why: str = ""
    #: Whether the buyer's firm accounts for the tax (Directive 2006/112/EC, article 196).
    is_reversed: bool = False
    #: What else the seller has on every document: a sentence, and fields with their labels.
    note: str = ""
    fields: tuple[tuple[str, str], ...] = ()
    shows_quantities: bool = True
    #: How numbers and days are written.
    locale: str = "en"
    rehearsal: bool = False

    @property
    def tax(self) -> Money:
        return sum((row.amount for row in self.tax_lines), Money(0, self.currency))

    @property
    def left(self) -> Money:
        """The total without what other documents had of it."""
        return self.total - sum((each.total for each in self.deducted if each.total), Money(0, self.currency))

    @property
    def to_pay(self) -> Money:
        """What is not paid yet."""
        return self.left - sum((each.amount for each in self.paid), Money(0, self.currency))
