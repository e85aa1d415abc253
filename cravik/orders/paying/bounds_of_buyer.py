"""How much one buyer may have of a link: orders, pieces of a line, uses of a code. What they are paying for counts."""

from __future__ import annotations

from collections import Counter

from django.db.models import QuerySet

from cravik.links.models import LinkCode
from cravik.orders.models import Order, OrderQuerySet
from cravik.orders.paying.submission import PaymentSubmission
from cravik.payments.models import Hold


class EnoughForOne(Exception):
    """The buyer has as many orders of the link as one may have."""


class EnoughPieces(Exception):
    """With these, the buyer would have more pieces of a ``line`` than the ``most`` that one may have; they ``had`` so
    many already."""

    def __init__(self, line: str, most: int, had: int) -> None:
        super().__init__("more pieces than one buyer may have")
        self.line, self.most, self.had = line, most, had


class CodeUsedByBuyer(Exception):
    """The buyer has used the code as often as one may."""


def check_buyer(sent: PaymentSubmission) -> None:
    """Raises ``EnoughForOne`` or ``EnoughPieces`` where the buyer would have more than one may."""
    limits, link_id = sent.limits, sent.version.link_id
    most = limits.orders_per_buyer
    if most is not None:
        had = (
            _orders_of(sent).filter(link_id=link_id).count() + _held_by(sent, Hold.Kind.ORDER, link_id=link_id).count()
        )
        if had >= most:
            raise EnoughForOne
    wanted = {line: number for line, number in sent.pieces.items() if line in limits.pieces_per_buyer}
    pieces = _pieces_of(sent) if wanted else Counter[str]()
    for line, number in wanted.items():
        if pieces[line] + number > (bound := limits.pieces_per_buyer[line]):
            raise EnoughPieces(line, bound, pieces[line])


def check_uses(sent: PaymentSubmission, code: LinkCode, most: int) -> None:
    """Raises ``CodeUsedByBuyer`` where the buyer has used the code ``most`` times, or is about to."""
    if _orders_of(sent).filter(code=code).count() + _held_by(sent, Hold.Kind.CODE_USE, code=code).count() >= most:
        raise CodeUsedByBuyer


def _pieces_of(sent: PaymentSubmission) -> Counter[str]:
    """The buyer's pieces of each line of the link."""
    had, link_id = Counter[str](), sent.version.link_id
    for (document,) in _orders_of(sent).filter(link_id=link_id).values_list("checkout__lines__quote_document"):
        for line in document["lines"]:
            had[line["key"]] += line["quantity"]
    for pieces in _held_by(sent, Hold.Kind.ORDER, link_id=link_id).values_list("pieces", flat=True):
        had.update(pieces)
    return had


def _orders_of(sent: PaymentSubmission) -> OrderQuerySet:
    of_buyer = Order.objects.counted().filter(buyer__business=sent.business_id, buyer__key=sent.buyer_key)
    return of_buyer.order_by()


def _held_by(sent: PaymentSubmission, kind: Hold.Kind, **of: object) -> QuerySet[Hold]:
    return Hold.objects.filter(kind=kind, state=Hold.State.HELD, checkout__buyer_key=sent.buyer_key, **of).order_by()
