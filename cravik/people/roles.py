"""What may be done in a business, and by whom.

A page of the seller's side says which permission it needs; a member's role says which they have.
"""

from __future__ import annotations

from enum import StrEnum

from django.db import models


class Permission(StrEnum):
    #: Links, their spots and results, and the catalogue: read alone.
    SEE = "see"
    #: Make, change, publish and hand out links; change the catalogue; rehearse.
    MAKE = "make"
    #: Orders and whoever bought or waits, with what was written to them.
    ORDERS = "orders"
    #: Give money back.
    REFUND = "refund"
    #: Take orders, links or the catalogue away as a file.
    EXPORT = "export"
    #: The screen at a stall.
    STALL = "stall"
    #: What is decided once for all links, and the business itself.
    SETUP = "setup"
    #: Who may act for the business.
    PEOPLE = "people"


class Role(models.TextChoices):
    OWNER = "owner"


PERMISSIONS: dict[str, frozenset[Permission]] = {Role.OWNER: frozenset(Permission)}
