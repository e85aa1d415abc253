"""Pieces of a refund go back into stock, and their places are free again, as its seller said; a code's use never is."""

from __future__ import annotations

from collections.abc import Iterable

from cravik.catalogue.stock import release_stock
from cravik.links.life.counting import give_order_back, give_pieces_back
from cravik.orders.models import Order
from cravik.payments.models import Hold, Refund


def take_goods_back(order: Order, refund: Refund) -> None:
    """In the transaction under way, in which it was written down that the money went back, so that it is done once.

    However many charges of an order go back, no piece of it comes back twice.
    """
    if order.rehearsal or not (refund.restocks or refund.frees_places):
        return
    done = Refund.objects.filter(charge__checkout=order.checkout_id, state=Refund.State.DONE).exclude(id=refund.pk)
    bought = {line["key"]: line["quantity"] for line in order.checkout.line.quote_document["lines"]}
    if refund.restocks:
        _restock(order, _new(refund, done.filter(restocks=True), bought))
    if refund.frees_places:
        _free(order, _new(refund, earlier := list(done.filter(frees_places=True)), bought), earlier, bought)


def _new(refund: Refund, earlier: Iterable[Refund], bought: dict[str, int]) -> dict[str, int]:
    """The refund's pieces that none of the ``earlier`` ones brought back."""
    back = _sums(earlier)
    left = {line: bought.get(line, 0) - back.get(line, 0) for line in refund.pieces}
    return {line: min(number, left[line]) for line, number in refund.pieces.items() if left[line] > 0}


def _sums(refunds: Iterable[Refund]) -> dict[str, int]:
    sums: dict[str, int] = {}
    for refund in refunds:
        for line, number in refund.pieces.items():
            sums[line] = sums.get(line, 0) + number
    return sums


def _restock(order: Order, pieces: dict[str, int]) -> None:
    """Each line's pieces to the variant that it took; a hold names its variant, and its line's item has that."""
    items = dict(order.version.sold_items.values_list("line", "item_id"))
    stock = Hold.objects.filter(checkout=order.checkout_id, kind=Hold.Kind.STOCK, state=Hold.State.CONFIRMED)
    held = [hold for hold in stock.select_related("variant") if hold.variant]
    for line in order.checkout.line.quote_document["lines"]:
        item, quantity = items.get(line["key"]), line["quantity"]
        match = (each for each in held if each.variant and each.variant.item_id == item and each.quantity == quantity)
        if hold := next(match, None):
            held.remove(hold)
            if (number := pieces.get(line["key"], 0)) and hold.variant_id:
                release_stock(hold.variant_id, number)


def _free(order: Order, pieces: dict[str, int], earlier: Iterable[Refund], bought: dict[str, int]) -> None:
    for line, number in pieces.items():
        give_pieces_back(order.link_id, line, number)
    before = _sums(earlier)
    free = {line: min(many, before.get(line, 0) + pieces.get(line, 0)) for line, many in bought.items()}
    if pieces and free == bought:
        give_order_back(order.link_id)
