"""Holding what is scarce for a buyer who is paying: taken, then kept or given back, each exactly once.

Every function is called in a transaction that its caller opened. What is held is counted where it lies; the row of
the hold is moved out of ``held`` by a conditional statement first, and only whoever moved it counts.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime
from typing import Any

from django.db.models import CharField, Exists, OuterRef

from cravik.catalogue.digital_goods import assign_code, release_code, reserve_code
from cravik.catalogue.stock import release_stock, reserve_stock
from cravik.checkout.models import Checkout
from cravik.links.life import counting
from cravik.links.models import LinkCode
from cravik.payments.models import Attempt, Hold
from cravik.upkeep.prepared import Param, PreparedUpdate, insert

Kind, State = Hold.Kind, Hold.State


@dataclass(frozen=True)
class StockReservation:
    """So many of an item, with the options by their groups."""

    item_id: int
    options: Mapping[str, str]
    quantity: int


@dataclass(frozen=True)
class Reservation:
    """What one press takes: an order of the link with its ``pieces`` by line, a use of its code, and of each line's
    item its stock and an access code."""

    link_id: int
    pieces: Mapping[str, int]
    code: LinkCode | None = None
    stock: tuple[StockReservation, ...] = ()


def reserve_all(checkout: Checkout, wanted: Reservation, until: datetime) -> list[Hold]:
    """Hold everything, or nothing where something is gone: the caller's transaction comes to nothing then.

    Raises ``NoPlaceLeft``, ``TooFewLeft``, ``NoUseLeft`` and ``SoldOut``.
    """
    holds = [Hold(kind=Kind.ORDER, link_id=wanted.link_id, pieces=dict(wanted.pieces))]
    counting.reserve_order(wanted.link_id)
    for line, number in wanted.pieces.items():
        counting.reserve_pieces(wanted.link_id, line, number)
    if wanted.code:
        counting.reserve_use(wanted.code)
        holds.append(Hold(kind=Kind.CODE_USE, code=wanted.code))
    for each in wanted.stock:
        variant = reserve_stock(each.item_id, each.options, each.quantity)
        if variant:
            holds.append(Hold(kind=Kind.STOCK, variant=variant, quantity=each.quantity))
        if access_code := reserve_code(each.item_id):
            holds.append(Hold(kind=Kind.ACCESS_CODE, access_code=access_code))
    for hold in holds:
        hold.checkout, hold.until = checkout, until
        insert(hold)
    return holds


@dataclass(frozen=True)
class Confirmed:
    """What a buyer has for good: the variants that came out of stock."""

    variants: tuple[int, ...]


def confirm_all(checkout_id: int, now: datetime, holds: Sequence[Hold] | None = None) -> Confirmed:
    """The payment went through: all that was held is the buyer's; ``holds``, where they are known already."""
    variants = []
    for hold in _moved(checkout_id, State.CONFIRMED, holds):
        match hold.kind:
            case Kind.ORDER:
                counting.confirm_order(_id(hold.link_id))
                for line, number in hold.pieces.items():
                    counting.confirm_pieces(_id(hold.link_id), line, number)
            case Kind.CODE_USE:
                counting.confirm_use(_id(hold.code_id))
            case Kind.STOCK if hold.variant_id:
                variants.append(hold.variant_id)
            case Kind.ACCESS_CODE if hold.access_code_id:
                assign_code(hold.access_code_id, now)
    return Confirmed(tuple(variants))


def release_all(checkout_id: int) -> int:
    """The payment came to nothing: all that was held is free again. Returns how many holds there were."""
    moved = _moved(checkout_id, State.RELEASED)
    for hold in moved:
        match hold.kind:
            case Kind.ORDER:
                counting.release_order(_id(hold.link_id))
                for line, number in hold.pieces.items():
                    counting.release_pieces(_id(hold.link_id), line, number)
            case Kind.CODE_USE:
                counting.release_use(_id(hold.code_id))
            case Kind.STOCK if hold.variant_id:
                release_stock(hold.variant_id, hold.quantity)
            case Kind.ACCESS_CODE if hold.access_code_id:
                release_code(hold.access_code_id)
    return len(moved)


def hold_longer(checkout_id: int, until: datetime) -> None:
    """What is held for the checkout is held until then."""
    Hold.objects.filter(checkout_id=checkout_id, state=State.HELD).update(until=until)


def lapsed(now: datetime) -> list[int]:
    """The checkouts whose holds have lapsed and that nobody is paying any more.

    One that is still being paid keeps its holds until the gateway says what became of it, so that nothing is sold that
    somebody else is charged for.
    """
    being_paid = Attempt.objects.filter(checkout=OuterRef("checkout"), state=Attempt.State.PENDING)
    found = Hold.objects.filter(~Exists(being_paid), state=State.HELD, until__lt=now)
    return list(found.order_by().values_list("checkout_id", flat=True).distinct()[:500])


_MOVE = PreparedUpdate(
    lambda: Hold.objects.filter(checkout_id=Param("checkout"), state=State.HELD), state=Param("state", CharField())
)


def _moved(checkout_id: int, to: Hold.State, holds: Sequence[Hold] | None = None) -> Sequence[Hold]:
    """The checkout's holds, which this call moves out of ``held``; none where another call did.

    The statement that moves them says once more from where, so one call alone can count them.
    """
    if holds is None:
        holds = list(Hold.objects.select_for_update().filter(checkout_id=checkout_id, state=State.HELD))
    if not holds:
        return []
    moved = _MOVE.run(checkout=checkout_id, state=to)
    if moved != len(holds):
        raise RuntimeError(f"the holds of checkout {checkout_id} were moved by somebody else meanwhile")
    return holds


def _id(value: Any) -> int:
    assert isinstance(value, int)  # the constraint of the table says so
    return value
