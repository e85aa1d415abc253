"""Money goes back: recorded, asked for, written down. Each step is safe to repeat."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from django.db import transaction

from cravik.core.pricing.money import Money
from cravik.core.pricing.refunds import fee_of_refund, left_to_give_back, share_of_pieces, share_out
from cravik.orders.acts.money_returned import return_money
from cravik.orders.charges import Charge, charge_with_rows, shares_of
from cravik.orders.models import Order
from cravik.orders.settings import settings_of
from cravik.payments.models import Attempt, Refund
from cravik.payments.refunding import KeyOfAnother, LessLeft, RefundDraft, RefundedMeanwhile, begin_refund
from cravik.payments.ways import Ways, way_of
from cravik.people.actors import Actor
from cravik.ui.timings import Clock


@dataclass(frozen=True)
class RefundWish:
    """What of a charge is to go back: an ``amount``, or ``pieces`` of its lines by key with ``delivery`` and the
    ``cover`` of the fee or without; where neither is said, all that is left.

    ``note`` is what the buyer is told, ``why`` what the document says. Pieces are put back into stock where it
    ``restocks``, and their places are free again where it ``frees_places``; a code's use never is.
    """

    amount: Money | None = None
    pieces: Mapping[str, int] | None = None
    delivery: bool = False
    cover: bool = False
    note: str = ""
    why: str = ""
    restocks: bool = False
    frees_places: bool = False


class TooFewPieces(Exception):
    """Fewer pieces of the line are ``left`` than were to go back."""

    def __init__(self, line: str, left: int) -> None:
        super().__init__(f"{left} pieces of {line} are left to give back.")
        self.line, self.left = line, left


class NoSuchCharge(Exception):
    """The order has no approved charge of that reference."""


class WhichCharge(Exception):
    """The order was paid by several ``charges``; one has to be named."""

    def __init__(self, charges: list[Attempt]) -> None:
        super().__init__("The order was paid by several charges: name one of them.")
        self.charges = charges


def charges_of(order: Order) -> list[Attempt]:
    """The approved charges of the order, the first one first."""
    approved = Attempt.objects.filter(checkout=order.checkout_id, state=Attempt.State.APPROVED, amount_minor__gt=0)
    return list(approved.order_by("id"))


def draft_of(charge: Charge, wish: RefundWish, *, fee_comes_back: bool) -> RefundDraft:
    """What the wish comes to of what is left of the charge. Raises ``LessLeft`` and ``TooFewPieces``."""
    rows = charge.rows
    earlier, gone = shares_of(rows, charge.standing), charge.pieces_gone
    pieces: Mapping[str, int] = {}
    if wish.amount is not None:
        if wish.amount.currency != charge.left.currency or not 0 < wish.amount.minor <= charge.left.minor:
            raise LessLeft(charge.left)
        shares = share_out(rows, earlier, wish.amount.minor)
    elif wish.pieces is not None:
        pieces = _some(wish.pieces)
        for line in rows.lines:
            if pieces.get(line.key, 0) > (left := line.quantity - gone.get(line.key, 0)):
                raise TooFewPieces(line.key, left)
        shares = share_of_pieces(rows, earlier, gone, pieces, delivery=wish.delivery, cover=wish.cover)
    else:
        pieces = _some({line.key: line.quantity - gone.get(line.key, 0) for line in rows.lines})
        shares = left_to_give_back(rows, earlier)
    if not shares.total:
        raise LessLeft(charge.left)
    fee = fee_of_refund(rows, earlier, shares) if fee_comes_back else Money(0, charge.left.currency)
    return RefundDraft(
        amount=Money(shares.total, charge.left.currency),
        shares=shares,
        pieces=pieces,
        fee=fee,
        note=wish.note,
        why=wish.why,
        restocks=wish.restocks and bool(pieces),
        frees_places=wish.frees_places and bool(pieces),
    )


def _some(pieces: Mapping[str, int]) -> dict[str, int]:
    return {line: number for line, number in pieces.items() if number}


def refunds_of(order: Order) -> list[Refund]:
    """Every refund of the order, the first one first, whatever became of it."""
    return list(Refund.objects.filter(charge__checkout=order.checkout_id))


def charge_to_refund(order: Order, reference: str = "") -> Attempt:
    """The order's charge with the gateway's reference, or its only one. Raises ``NoSuchCharge`` and ``WhichCharge``."""
    charges = charges_of(order)
    if reference:
        charges = [charge for charge in charges if charge.gateway_reference == reference]
    if not charges:
        raise NoSuchCharge
    if len(charges) > 1:
        raise WhichCharge(charges)
    return charges[0]


def refund_order(
    order: Order,
    wish: RefundWish,
    key: str,
    ways: Ways,
    clock: Clock,
    *,
    by: Actor,
    charge_reference: str = "",
    seen_left: Money | None = None,
) -> Refund:
    """Give back what is wished of a charge of the order; what became of it stands in the refund that is returned.

    ``seen_left`` is as in ``begin_refund``. One that is pending is not known yet, and is asked about again by the
    clock. The same key repeats nothing. Raises ``NoSuchCharge``, ``WhichCharge``, ``LessLeft``, ``TooFewPieces``,
    ``RefundedMeanwhile`` and ``KeyOfAnother``; nobody is asked then.
    """
    with transaction.atomic():
        charge = charge_to_refund(order, charge_reference)
        refund = _known(key, charge, wish)
        if refund is None:
            Attempt.objects.select_for_update().get(id=charge.pk)
            locked = charge_with_rows(order, charge)
            if seen_left not in (None, locked.left):
                raise RefundedMeanwhile(locked.left)
            draft = draft_of(locked, wish, fee_comes_back=settings_of(order.business_id).fee_comes_back)
            refund = begin_refund(charge, draft, key, clock(), by=by, seen_left=seen_left)
    if refund.state == Refund.State.PENDING:
        ask_about_refund(refund, ways, clock)
    return refund


def _known(key: str, charge: Attempt, wish: RefundWish) -> Refund | None:
    """The refund that has the key. Raises ``KeyOfAnother`` where it was of something else."""
    known = Refund.objects.select_for_update().filter(key=key).first()
    if known is None:
        return None
    is_same = wish.amount in (None, known.amount) and (wish.pieces is None or _some(wish.pieces) == known.pieces)
    if known.charge_id != charge.pk or not is_same:
        raise KeyOfAnother(key)
    return known


def ask_about_refund(refund: Refund, ways: Ways, clock: Clock) -> bool:
    """Ask what becomes of a pending refund, and say whether it came to its end. Outside of any transaction."""
    answer = way_of(ways, refund.charge).refund(refund)
    if answer is None:
        return False
    return_money(refund, answer, clock())
    return True
