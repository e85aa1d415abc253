"""Counting what is scarce on a link: its orders, the pieces of its lines, and the uses of its codes.

Each taking is one conditional statement, so it holds on any database: whoever comes too late changes no row. What was
taken is either kept (an order was made) or given back.
"""

from __future__ import annotations

from collections.abc import Collection, Mapping
from dataclasses import dataclass
from typing import Any

from django.db.models import F, IntegerField, Q, QuerySet

from cravik.core.link.content import LinkContent
from cravik.core.link.counted import Counted
from cravik.core.pricing.discounts import normal_code
from cravik.links.models import LinePieces, Link, LinkCode, LinkTally
from cravik.upkeep.prepared import Param, PreparedSelect, PreparedUpdate


class _Tally:
    """Rows of ``model`` that count in ``paid`` what is used up and in ``held`` what somebody is paying for. A row is
    found by the fields ``found_by``, each given by its name."""

    def __init__(self, model: type[LinkTally] | type[LinkCode] | type[LinePieces], *found_by: str) -> None:
        number = Param("number", IntegerField())

        def rows() -> QuerySet[Any]:
            return model._default_manager.filter(**{name: Param(name) for name in found_by})

        def rows_with_room() -> QuerySet[Any]:
            return rows().filter(Q(most__isnull=True) | Q(paid__lte=F("most") - F("held") - number))

        self._reserve = PreparedUpdate(rows_with_room, held=F("held") + number)
        self._confirm = PreparedUpdate(rows, held=F("held") - number, paid=F("paid") + number)
        self._release = PreparedUpdate(rows, held=F("held") - number)
        self._give_back = PreparedUpdate(lambda: rows().filter(paid__gte=number), paid=F("paid") - number)

    def reserve(self, number: int = 1, **row: Any) -> bool:
        """Hold so many, and whether there were as many."""
        return self._reserve.run(number=number, **row) > 0

    def confirm(self, number: int = 1, **row: Any) -> None:
        self._confirm.run(number=number, **row)

    def give_back(self, number: int = 1, **row: Any) -> None:
        self._give_back.run(number=number, **row)

    def release(self, number: int = 1, **row: Any) -> None:
        self._release.run(number=number, **row)


_ORDERS, _USES = _Tally(LinkTally, "link_id"), _Tally(LinkCode, "id")
_PIECES = _Tally(LinePieces, "link_id", "line")


class NoPlaceLeft(Exception):
    """The link has as many orders as it may, or as many are being paid."""


class TooFewLeft(Exception):
    """Fewer pieces of a line are left than were wanted: sold, or being paid."""


class NoUseLeft(Exception):
    """The code was used as often as it may be, or is being used."""


def lock_tally(link_id: int) -> LinkTally:
    """The link's tally, which nobody else changes before this transaction ends.

    SQLite has one writer at a time, and the transaction is it; other servers lock the row.
    """
    return LinkTally.objects.select_for_update().get(link_id=link_id)


def reserve_order(link_id: int) -> None:
    """Hold one order of the link for somebody who is paying. Raises ``NoPlaceLeft`` where all are taken."""
    if not _ORDERS.reserve(link_id=link_id):
        raise NoPlaceLeft


def confirm_order(link_id: int) -> None:
    """The order that was held is paid."""
    _ORDERS.confirm(link_id=link_id)


def paid_of(link_id: int) -> Counted:
    """The orders and pieces of the link that are paid."""
    return Counted(LinkTally.objects.values_list("paid", flat=True).get(link_id=link_id), pieces_of(link_id).paid)


def release_order(link_id: int) -> None:
    _ORDERS.release(link_id=link_id)


def give_order_back(link_id: int) -> None:
    """The place of an order that was paid is free again."""
    _ORDERS.give_back(link_id=link_id)


def give_pieces_back(link_id: int, line: str, number: int) -> None:
    """So many pieces that were paid are free again."""
    _PIECES.give_back(number, link_id=link_id, line=line)


def reserve_pieces(link_id: int, line: str, number: int) -> None:
    """Hold so many pieces of the line. Raises ``TooFewLeft`` where there are not as many."""
    if _PIECES.reserve(number, link_id=link_id, line=line):
        return
    _, is_new = LinePieces.objects.get_or_create(link_id=link_id, line=line)
    if not (is_new and _PIECES.reserve(number, link_id=link_id, line=line)):
        raise TooFewLeft


def confirm_pieces(link_id: int, line: str, number: int) -> None:
    _PIECES.confirm(number, link_id=link_id, line=line)


def release_pieces(link_id: int, line: str, number: int) -> None:
    _PIECES.release(number, link_id=link_id, line=line)


_OF_LINK = PreparedSelect(
    lambda: LinePieces.objects.filter(link_id=Param("link_id")).order_by().values_list("line", "paid", "held")
)


@dataclass(frozen=True)
class Pieces:
    """The pieces of a link by line: those that are ``paid``, and ``taken`` with those that are being paid."""

    paid: Mapping[str, int]
    taken: Mapping[str, int]


def pieces_paid(link_ids: Collection[int]) -> dict[int, dict[str, int]]:
    """The paid pieces of each of the links, by line; those without any are absent."""
    found: dict[int, dict[str, int]] = {}
    rows = LinePieces.objects.filter(link_id__in=link_ids) if link_ids else LinePieces.objects.none()
    for link_id, line, paid in rows.values_list("link_id", "line", "paid"):
        found.setdefault(link_id, {})[line] = paid
    return found


NO_PIECES = Pieces({}, {})


def pieces_of(link_id: int) -> Pieces:
    rows = _OF_LINK.rows(link_id=link_id)
    return Pieces({line: paid for line, paid, _ in rows}, {line: paid + held for line, paid, held in rows})


def code_row(link_id: int, code: str) -> LinkCode:
    """The row that counts the code's uses; nobody else changes it before this transaction ends."""
    row, _ = LinkCode.objects.select_for_update().get_or_create(link_id=link_id, normal=normal_code(code))
    return row


def uses_of(link_id: int) -> dict[str, int]:
    """How often each code of the link was used or is being used, by its normal form."""
    return {row.normal: row.paid + row.held for row in LinkCode.objects.filter(link_id=link_id)}


def reserve_use(code: LinkCode) -> None:
    """Hold one use of the code. Raises ``NoUseLeft`` where all are taken."""
    if not _USES.reserve(id=code.pk):
        raise NoUseLeft


def confirm_use(code_id: int) -> None:
    _USES.confirm(id=code_id)


def release_use(code_id: int) -> None:
    _USES.release(id=code_id)


def note_bounds(link: Link, content: LinkContent) -> None:
    """Write down how much there may be of what is counted, as ``content`` says; each code has a row then."""
    LinkTally.objects.filter(link=link).update(most=content.limits.orders)
    pieces = content.limits.pieces
    LinePieces.objects.filter(link=link, most__isnull=False).exclude(line__in=pieces).update(most=None)
    for line, most in pieces.items():
        LinePieces.objects.update_or_create(link=link, line=line, defaults={"most": most})
    rules = {normal_code(code): rule.uses for code, rule in content.code_rules.items()}
    codes = dict.fromkeys(normal_code(code.code) for code in content.offer.codes)
    LinkCode.objects.bulk_create(
        (LinkCode(link=link, normal=code, most=rules.get(code)) for code in codes),
        update_conflicts=True,
        unique_fields=["link", "normal"],
        update_fields=["most"],
        batch_size=500,
    )
