"""A later payment of what repeats takes its pieces again, where its seller wants it so."""

from __future__ import annotations

from datetime import datetime

from cravik.catalogue.stock import SoldOut, newly_low, take_from_stock
from cravik.events.writing import write
from cravik.links.life.counting import TooFewLeft, confirm_pieces, reserve_pieces
from cravik.mailroom.services import queue_letters
from cravik.orders.happened import about
from cravik.orders.happened_over_time import StockShort
from cravik.orders.letters import letters_about_stock
from cravik.orders.models import Order
from cravik.payments.models import Agreement, Hold
from cravik.people.actors import CLOCK


def take_stock_again(order: Order, agreement: Agreement, now: datetime) -> None:
    """In the transaction under way, in which a later due was paid. What is not there any more is told the seller with
    the order; the payment stands."""
    if order.rehearsal or not (agreement.repeats and agreement.agreed_rules.takes_each_time):
        return
    holds = Hold.objects.filter(checkout=order.checkout_id, state=Hold.State.CONFIRMED)
    for hold in holds.select_related("variant__item"):
        try:
            if hold.kind == Hold.Kind.STOCK and hold.variant is not None:
                take_from_stock(hold.variant.pk, hold.quantity)
                if low := newly_low(hold.variant.pk):
                    queue_letters(order.business, letters_about_stock(low, order.checkout), now)
            elif hold.kind == Hold.Kind.ORDER:
                for line, number in hold.pieces.items():
                    reserve_pieces(order.link_id, line, number)
                    confirm_pieces(order.link_id, line, number)
        except (SoldOut, TooFewLeft):
            write(StockShort(), about(order), now, CLOCK)
