"""Everything that can be wrong with what the core is given.

    CoreError
    ├── UnknownCurrency      a code that ISO 4217 does not list
    ├── AmountRefused        an amount that a person typed and that cannot be taken
    ├── TaxNumberRefused     the same of a tax number
    ├── PostcodeRefused      the same of a postcode
    ├── InvalidDocument      a document with faults
    ├── MixedCurrencies      an offer whose amounts are not all in its currency
    └── BasketRefused        a basket that the offer does not allow

Every error says what is wrong, where, and the remedy; ``faults`` carries the same as data.
"""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True, slots=True)
class Fault:
    """One thing that is wrong: a stable ``code``, the path ``at`` which it stands, a sentence,
    and the bound that was broken, where there is one."""

    code: str
    at: str
    message: str
    limit: str | int | None = None


class CoreError(Exception):
    """The root: ``faults`` is never empty."""

    def __init__(self, *faults: Fault) -> None:
        super().__init__("; ".join(fault.message for fault in faults))
        self.faults = faults


class UnknownCurrency(CoreError):
    """The code is not a currency of ISO 4217."""


class AmountRefused(CoreError):
    """The typed amount is no amount of that currency; the message says how to write it."""


class TaxNumberRefused(CoreError):
    """The typed number is no tax number; the message says what is wrong."""


class PostcodeRefused(CoreError):
    """The typed text is no postcode of its country; the message shows what one looks like."""


class InvalidDocument(CoreError):
    """The document cannot be read as what it should be."""


class MixedCurrencies(CoreError):
    """An offer has one currency, and all of its amounts are in it."""


class BasketRefused(CoreError):
    """The basket is readable, and the offer does not allow it. What a buyer reads of it lives in
    templates, keyed by the faults' codes."""
