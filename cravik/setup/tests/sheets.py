"""The sheets of Setup as their pages send them, and a seller who does."""

from __future__ import annotations

from typing import Any

from django.test import TestCase

from cravik.setup.defaults import decisions_of
from tests.factories import MembershipFactory


def zones(*shown: dict[str, str], **extra: str) -> dict[str, str]:
    """A delivery sheet with these zones, as the page sends it."""
    sent = {"how": "zones", "seen": "0"}
    for place, zone in enumerate(shown):
        blank = {"name": "", "countries": "", "kind": "flat", "amount": "", "first": "", "next": "", "percent": ""}
        blank |= {"free_from": "", "band-TOTAL_FORMS": "0", "band-INITIAL_FORMS": "0"}
        sent |= {f"zone-{place}-{name}": value for name, value in (blank | zone).items()}
    return sent | extra


def bands(*rows: tuple[str, str]) -> dict[str, str]:
    sent = {"band-TOTAL_FORMS": str(len(rows)), "band-INITIAL_FORMS": "0"}
    for place, (start, amount) in enumerate(rows):
        sent |= {f"band-{place}-start": start, f"band-{place}-amount": amount}
    return sent


def rates(*rows: dict[str, str], how: str = "included", seen: str = "0") -> dict[str, str]:
    """A tax sheet with these rates, as the page sends it."""
    sent = {"how": how, "seen": seen, "rate-TOTAL_FORMS": str(len(rows)), "rate-INITIAL_FORMS": str(len(rows))}
    for place, row in enumerate(rows):
        blank = {"country": "IE", "region": "", "name": "VAT", "percent": "", "categories": "standard"}
        sent |= {f"rate-{place}-{name}": value for name, value in (blank | row).items()}
    return sent


class SetupTestCase(TestCase):
    def setUp(self) -> None:
        self.member = MembershipFactory()
        self.business = self.member.business
        self.client.force_login(self.member.user)

    def save(self, subject: str, sent: dict[str, str]) -> Any:
        return self.client.post(f"/setup/{subject}/", sent)

    def held(self, subject: str) -> dict[str, Any]:
        return decisions_of(self.business)[subject].document
