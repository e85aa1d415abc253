"""Everything that can be wrong with what the core is given.

    CoreError
    ├── UnknownCurrency      a code that ISO 4217 does not list
    ├── AmountRefused        an amount that a person typed and that cannot be taken
    ├── TaxNumberRefused     the same of a tax number
    ├── PostcodeRefused      the same of a postcode
    ├── PrefixRefused        the same of what documents' numbers begin with
    ├── InvalidDocument      a document with faults
    ├── NotRepriced          a price that cannot be changed so
    ├── MixedCurrencies      an offer whose amounts are not all in its currency
    └── BasketRefused        a basket that the offer does not allow

Every error carries its ``faults`` as data; what is said of them stands in ``core/text/faults``.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from cravik.core.coded import Coded


@dataclass(frozen=True, slots=True, init=False)
class Fault(Coded):
    """One thing that is wrong, or worth a warning, as data; ``at`` is the path at which it stands.

    Its ``why`` tells apart what has one code in a document's contract; its field ``limit`` is the bound that was
    broken, where there is one.
    """

    at: str

    def __init__(self, code: str, at: str = "", /, *, why: str = "", **fields: Any) -> None:
        Coded.__init__(self, code, why=why, **fields)
        object.__setattr__(self, "at", at)

    @property
    def limit(self) -> str | int | None:
        bound: str | int | None = self.fields.get("limit")
        return bound

    def placed(self, at: str) -> Fault:
        """The same at another place."""
        return Fault(self.code, at, why=self.why, **self.fields)


class CoreError(Exception):
    """The root: ``faults`` is never empty."""

    def __init__(self, *faults: Fault) -> None:
        super().__init__("; ".join(f"{fault.why or fault.code} at “{fault.at}”" for fault in faults))
        self.faults = faults


class UnknownCurrency(CoreError):
    """The code is not a currency of ISO 4217."""


class AmountRefused(CoreError):
    """The typed amount is no amount of that currency; the code says why."""


class TaxNumberRefused(CoreError):
    """The typed number is no tax number; the code says why."""


class PostcodeRefused(CoreError):
    """The typed text is no postcode of its country; the code says why."""


class PrefixRefused(CoreError):
    """What was typed cannot begin the numbers of documents."""


class InvalidDocument(CoreError):
    """The document cannot be read as what it should be."""


class MixedCurrencies(CoreError):
    """An offer has one currency, and all of its amounts are in it."""


class BasketRefused(CoreError):
    """The basket is readable, and the offer does not allow it."""
