"""Counting what is scarce on a link: its orders, and the uses of its codes.

Each taking is one conditional statement, so it holds on any database: whoever comes too late changes no row. What was
taken is either kept (an order was made) or given back.
"""

from __future__ import annotations

from collections.abc import Iterable
from typing import Any

from django.db.models import F, IntegerField, QuerySet

from cravik.core.pricing.discounts import normal_code
from cravik.links.models import Link, LinkCode, LinkTally
from cravik.upkeep.prepared import Param, PreparedUpdate


class _Tally:
    """Rows of ``model`` that count in ``paid`` what is used up and in ``held`` what somebody is paying for."""

    def __init__(self, model: type[LinkTally] | type[LinkCode]) -> None:
        def rows() -> QuerySet[Any]:
            return model._default_manager.filter(pk=Param("row"))

        def rows_below() -> QuerySet[Any]:
            return rows().filter(paid__lt=Param("most", IntegerField()) - F("held"))

        self._reserve = PreparedUpdate(rows, held=F("held") + 1)
        self._reserve_of = PreparedUpdate(rows_below, held=F("held") + 1)
        self._confirm = PreparedUpdate(rows, held=F("held") - 1, paid=F("paid") + 1)
        self._release = PreparedUpdate(rows, held=F("held") - 1)

    def reserve(self, row: int, most: int | None) -> bool:
        """Hold one, and whether that was possible where there may be ``most``."""
        changed = self._reserve.run(row=row) if most is None else self._reserve_of.run(row=row, most=most)
        return changed > 0

    def confirm(self, row: int) -> None:
        self._confirm.run(row=row)

    def release(self, row: int) -> None:
        self._release.run(row=row)


_ORDERS, _USES = _Tally(LinkTally), _Tally(LinkCode)


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
    if not _ORDERS.reserve(link_id, most):
        raise NoPlaceLeft


def confirm_order(link_id: int) -> None:
    """The order that was held is paid."""
    _ORDERS.confirm(link_id)


def orders_paid(link_id: int) -> int:
    return LinkTally.objects.values_list("paid", flat=True).get(link_id=link_id)


def release_order(link_id: int) -> None:
    _ORDERS.release(link_id)


def code_row(link_id: int, code: str) -> LinkCode:
    """The row that counts the code's uses; nobody else changes it before this transaction ends."""
    row, _ = LinkCode.objects.select_for_update().get_or_create(link_id=link_id, normal=normal_code(code))
    return row


def uses_of(link_id: int) -> dict[str, int]:
    """How often each code of the link was used or is being used, by its normal form."""
    return {row.normal: row.paid + row.held for row in LinkCode.objects.filter(link_id=link_id)}


def reserve_use(code: LinkCode, most: int | None) -> None:
    """Hold one use of the code. Raises ``NoUseLeft`` where ``most`` are taken."""
    if not _USES.reserve(code.pk, most):
        raise NoUseLeft


def confirm_use(code_id: int) -> None:
    _USES.confirm(code_id)


def release_use(code_id: int) -> None:
    _USES.release(code_id)


def note_codes(link: Link, codes: Iterable[str]) -> None:
    """Make a row for each code that has none yet."""
    LinkCode.objects.bulk_create(
        (LinkCode(link=link, normal=normal_code(code)) for code in codes), ignore_conflicts=True, batch_size=500
    )
