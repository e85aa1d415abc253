"""The sheets of Setup: what a seller types about one subject, for all links or for one.

Each is made of what was sent (or None), the document that holds, and the business; once ``is_valid`` says so,
``document`` is what it says.
"""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any, Protocol

from cravik.people.models import Business
from cravik.setup.defaults import Subject
from cravik.setup.sheets.choice import LookSheet, TermsSheet
from cravik.setup.sheets.contact import ContactSheet
from cravik.setup.sheets.delivery import DeliverySheet
from cravik.setup.sheets.fee import FeeSheet
from cravik.setup.sheets.tax import TaxSheet
from cravik.ui.fields import Part


class Sheet(Protocol):
    """What the pages of Setup and of a link need of a sheet."""

    template: str
    document: dict[str, Any]

    def __init__(
        self, data: Mapping[str, Any] | None, document: dict[str, Any], business: Business, currency: str = ""
    ) -> None: ...

    def is_valid(self) -> bool: ...

    @property
    def parts(self) -> list[Part]:
        """Its forms and rows, in the order of the page."""
        ...


SHEETS: dict[str, type[Sheet]] = {
    Subject.FEE: FeeSheet,
    Subject.TAX: TaxSheet,
    Subject.DELIVERY: DeliverySheet,
    Subject.LOOK: LookSheet,
    Subject.TERMS: TermsSheet,
    Subject.CONTACT: ContactSheet,
}
