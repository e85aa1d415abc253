"""A buyer has their data erased: what can go goes; documents stay as the law wants them, sums as they are."""

from __future__ import annotations

from collections.abc import Iterator
from datetime import datetime

from django.db import transaction
from django.db.models import Q

from cravik.buyers.models import Buyer
from cravik.checkout.models import Checkout
from cravik.core.english import counted
from cravik.events.models import Event
from cravik.events.writing import write
from cravik.links.models import Waiting
from cravik.mailroom.models import Letter
from cravik.orders.happened import BuyerErased, about
from cravik.orders.models import Download, Order, OrderQuerySet, Parcel, PurchasesKey, Stage, Wish
from cravik.payments.agreements import end_agreement
from cravik.payments.models import Agreement, Attempt, Due, Refund
from cravik.people.actors import BUYER

#: What an erased buyer is called.
ERASED = "Erased"
#: What happened to an order, and which of its fields hold what a buyer, or their seller, wrote.
_WRITTEN = {"order.refund_asked": "wish", "order.noted": "note", "order.letter_again": "to", "money.returned": "why"}
_WRITTEN |= {"running.stopped": "why", "running.price_proposed": "why", "due.changed": "why"}
#: By which tax was worked out.
_KEPT_OF_PLACE = ("country", "region", "tax_number")


def unfinished(buyer: Buyer) -> list[str]:
    """Why their data is still needed, a sentence each; nothing where it can be erased."""
    return list(_unfinished(buyer, Order.objects.filter(buyer=buyer)))


def _unfinished(buyer: Buyer, orders: OrderQuerySet) -> Iterator[str]:
    if to_do := orders.filter(stage=Stage.TO_DO, is_refunded=False, paid_at__isnull=False).count():
        yield f"{counted(to_do, 'order is', 'orders are')} still to be sent or done."
    if due := orders.filter(checkout__dues__state__in=Due.UNPAID).distinct().count():
        yield f"{counted(due, 'order has', 'orders have')} a payment to come."
    undecided = Attempt.objects.filter(state=Attempt.State.PENDING, checkout__buyer_key=buyer.key)
    if undecided.filter(checkout__business=buyer.business_id).exists():
        yield "A payment of yours is being decided."
    if Wish.objects.filter(order__in=orders, settled_at=None).exists():
        yield "You asked for something that hasn't been answered yet."
    if Refund.objects.filter(charge__checkout__order__in=orders, state=Refund.State.PENDING).exists():
        yield "A refund is on its way."


@transaction.atomic
def erase(buyer: Buyer, now: datetime) -> bool:
    """Erase what is kept of the buyer, unless something of it is ``unfinished``; whether it was done."""
    buyer = Buyer.objects.select_for_update().select_related("business").get(id=buyer.pk)
    if unfinished(buyer):
        return False
    orders = list(Order.objects.filter(buyer=buyer))
    ids = [order.pk for order in orders]
    key, business = buyer.key, buyer.business
    agreed = Agreement.objects.filter(checkout__order__in=orders)
    for agreement in agreed.filter(state__in=[Agreement.State.RUNNING, Agreement.State.PAUSED]):
        end_agreement(agreement, Agreement.Why.BUYER, now)  # nothing is due by it, and nobody could be told
    agreed.update(stop_words="", kept_card=None)
    Letter.objects.filter(business=business).filter(Q(order_id__in=ids) | Q(to_address__iexact=buyer.email)).delete()
    Waiting.objects.filter(link__business=business, email_key=key).delete()
    Wish.objects.filter(order__in=ids).update(words="")
    Download.objects.filter(order__in=ids).update(last_by="")
    Parcel.objects.filter(order__in=ids).update(tracking="")
    PurchasesKey.objects.filter(buyer=buyer).delete()
    Refund.objects.filter(charge__checkout__order__in=ids).update(why="", note="")
    for event in Event.objects.filter(order_id__in=ids, kind__in=_WRITTEN):
        event.data[_WRITTEN[event.kind]] = ""
        event.save(update_fields=["data"])
    for checkout in Checkout.objects.filter(Q(order__in=ids) | Q(business=business, buyer_key=key)):
        _forget(checkout)
    Order.objects.filter(id__in=ids).update(buyer_name=ERASED, buyer_email="", invoice_to=None, letters_due=False)
    Buyer.objects.filter(id=buyer.pk).update(key=f"erased-{buyer.pk}", email="", name=ERASED)
    for order in orders:
        write(BuyerErased(), about(order), now, BUYER)
    return True


def _forget(checkout: Checkout) -> None:
    """Drop what was typed there."""
    checkout.buyer_name = checkout.buyer_email = checkout.buyer_key = checkout.network = checkout.visitor = ""
    checkout.where = {name: value for name, value in checkout.where.items() if name in _KEPT_OF_PLACE}
    checkout.answers, checkout.typed = [], {}
    checkout.save(
        update_fields=["buyer_name", "buyer_email", "buyer_key", "network", "visitor", "where", "answers", "typed"]
    )
