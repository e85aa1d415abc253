"""Counting what is scarce on a link: its orders, and the uses of its codes.

Each taking is one conditional statement, so it holds on any database: whoever comes too late changes no row. What was
taken is either kept (an order was made) or given back.
"""

from __future__ import annotations

from collections.abc import Iterable

from django.db.models import F

from cravik.core.pricing.discounts import normal_code
from cravik.links.models import Link, LinkCode, LinkTally


class NoPlaceLeft(Exception):
    """The link has as many orders as it may, or as many are being paid."""


class NoUseLeft(Exception):
    """The code was used as often as it may be, or is being used."""


def lock_tally(link_id: int) -> LinkTally:
    """The link's tally, which nobody else changes before this transaction ends.

    SQLite has one writer at a time, and the transaction is it; other servers lock the row.
    """
    return LinkTally.objects.select_for_update().get(link_id=link_id)


def reserve_order(link_id: int, most: int | None) -> None:
    """Hold one order of the link for somebody who is paying. Raises ``NoPlaceLeft`` where ``most`` are taken."""
    tally = LinkTally.objects.filter(link_id=link_id)
    if most is not None:
        tally = tally.filter(paid__lt=most - F("held"))
    if not tally.update(held=F("held") + 1):
        raise NoPlaceLeft


def confirm_order(link_id: int) -> None:
    """The order that was held is paid."""
    LinkTally.objects.filter(link_id=link_id).update(held=F("held") - 1, paid=F("paid") + 1)


def orders_paid(link_id: int) -> int:
    return LinkTally.objects.values_list("paid", flat=True).get(link_id=link_id)


def release_order(link_id: int) -> None:
    LinkTally.objects.filter(link_id=link_id).update(held=F("held") - 1)


def code_row(link_id: int, code: str) -> LinkCode:
    """The row that counts the code's uses; nobody else changes it before this transaction ends."""
    row, _ = LinkCode.objects.select_for_update().get_or_create(link_id=link_id, normal=normal_code(code))
    return row


def reserve_use(code: LinkCode, most: int | None) -> None:
    """Hold one use of the code. Raises ``NoUseLeft`` where ``most`` are taken."""
    row = LinkCode.objects.filter(id=code.pk)
    if most is not None:
        row = row.filter(paid__lt=most - F("held"))
    if not row.update(held=F("held") + 1):
        raise NoUseLeft


def confirm_use(code_id: int) -> None:
    LinkCode.objects.filter(id=code_id).update(held=F("held") - 1, paid=F("paid") + 1)


def release_use(code_id: int) -> None:
    LinkCode.objects.filter(id=code_id).update(held=F("held") - 1)


def note_codes(link: Link, codes: Iterable[str]) -> None:
    """Make a row for each code that has none yet."""
    LinkCode.objects.bulk_create(
        (LinkCode(link=link, normal=normal_code(code)) for code in codes), ignore_conflicts=True, batch_size=500
    )
