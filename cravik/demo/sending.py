"""What the seller did for the sample's buyers: all is sent that was ordered until the day before yesterday."""

from __future__ import annotations

import random
from collections.abc import Iterator, Sequence
from datetime import datetime, timedelta
from functools import partial

from cravik.core.pricing.money import Money
from cravik.events.writing import write_all
from cravik.mailroom.services import deliver_waiting, queue_letters
from cravik.orders.acts.sent import add_note
from cravik.orders.happened import OrderSent, about
from cravik.orders.models import PARTS, Order, Parcel, Stage
from cravik.orders.parcel_letter import letter_about_parcel
from cravik.orders.refunding import RefundWish, refund_order
from cravik.payments.ways import present_ways
from cravik.people.actors import member
from cravik.people.models import Business

CARRIERS = ("Dune Post", "Dune Post", "Gull Freight")
#: Letters are written for so many of the newest parcels.
LETTERS_FOR = 12


def send_what_was_ordered(business: Business, orders: Sequence[Order], now: datetime, chance: random.Random) -> None:
    """Note a parcel for each order that was sent, and write to the newest of their buyers."""
    by = member(business.members.all()[0])
    sent = [order for order in orders if order.stage == Stage.TO_DO and order.made_at < now - timedelta(days=2)]
    parcels = Parcel.objects.bulk_create((_parcel(order, chance) for order in sent), batch_size=1000)
    Order.objects.filter(id__in=[order.pk for order in sent]).update(stage=Stage.SENT)
    write_all((OrderSent(each.carrier, each.tracking), about(each.order), each.sent_at, by) for each in parcels)
    for order, parcel in _with_parts(parcels[-LETTERS_FOR:]):
        queue_letters(business, [letter_about_parcel(order, parcel)], parcel.sent_at)
        deliver_waiting(parcel.sent_at + timedelta(seconds=2))


def give_back(business: Business, orders: Sequence[Order], now: datetime) -> None:
    """One order went back whole, and of another a part; each with a note of why."""
    by = member(business.members.all()[0])
    paid = [order for order in orders if order.stage == Stage.TO_DO and order.made_at < now - timedelta(days=6)][-2:]
    for order, minor, note in zip(paid, (None, 500), ("Torn in the post", "Late by a week"), strict=False):
        amount = Money(minor, order.currency) if minor else None
        at = order.made_at + timedelta(days=5)
        add_note(order, note, at, by=by)
        wish = RefundWish(amount, note=f"{note}. Sorry!", why=note)
        refund_order(order, wish, f"sample-{order.number}", present_ways(), partial(_at, at), by=by)
        deliver_waiting(at + timedelta(seconds=2))


def _at(instant: datetime) -> datetime:
    return instant


def _parcel(order: Order, chance: random.Random) -> Parcel:
    hours = chance.randrange(18, 44)
    return Parcel(
        order=order,
        key=f"sample-{order.number}",
        carrier=(carrier := chance.choice(CARRIERS)),
        tracking=f"{carrier[0]}P {chance.randrange(10**7):07d}",
        sent_at=order.made_at + timedelta(hours=hours),
    )


def _with_parts(parcels: Sequence[Parcel]) -> Iterator[tuple[Order, Parcel]]:
    by_order = {parcel.order_id: parcel for parcel in parcels}
    related = ("business", "checkout__agreed_to__terms", "link")
    orders = Order.objects.filter(id__in=by_order).select_related(*related).prefetch_related(*PARTS).order_by("id")
    return ((order, by_order[order.pk]) for order in orders)
