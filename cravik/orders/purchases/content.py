"""What a buyer bought at a seller, as their page shows it and as data to take away."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date, datetime
from typing import Any
from zoneinfo import ZoneInfo

from cravik.buyers.models import Buyer
from cravik.core.pricing.money import Money
from cravik.mailroom.models import Letter
from cravik.orders.exports import answer_words
from cravik.orders.models import PARTS, IssuedDocument, Order, Wish
from cravik.orders.own_page import own_path, payments_path
from cravik.orders.purchases.rights import LineRight, rights_of
from cravik.payments.models import Due


@dataclass(frozen=True)
class NextPayment:
    on: date
    amount: Money


@dataclass(frozen=True)
class Purchase:
    """One order, with what belongs to it. ``path`` is its own page, for half an hour; ``rights`` are those of the
    buyer to withdraw, line by line."""

    order: Order
    path: str
    documents: list[IssuedDocument]
    next: list[NextPayment]
    mark: str
    rights: list[LineRight]
    wishes: list[Wish]
    #: Where what is paid over time of it is seen and changed; nothing where nothing is.
    payments_path: str

    @property
    def is_refund_asked_for(self) -> bool:
        return any(wish.kind == Wish.Kind.REFUND for wish in self.wishes)

    @property
    def withdrawals(self) -> list[Wish]:
        return [wish for wish in self.wishes if wish.kind == Wish.Kind.WITHDRAWAL]

    @property
    def open_right(self) -> LineRight | None:
        """The one that lasts longest of those that are open still."""
        rights = [right for right in self.rights if right.is_open]
        return max(rights, key=lambda right: right.until or date.max, default=None)


def purchases_of(buyer: Buyer, now: datetime) -> list[Purchase]:
    """Their orders, the newest first."""
    related = ("business", "checkout__agreed_to__terms", "checkout__agreement")
    orders = Order.objects.filter(buyer=buyer).select_related(*related).with_returned()
    found = orders.prefetch_related(*PARTS, "documents", "parcels", "wishes", "downloads__file", "checkout__dues")
    return [_purchase(order, now) for order in found.order_by("-made_at", "-id")]


def _purchase(order: Order, now: datetime) -> Purchase:
    owed = [due for due in order.checkout.dues.all() if due.state in Due.UNPAID]
    path = own_path(order.checkout.reference)
    return Purchase(
        order,
        path,
        list(order.documents.all()),
        [NextPayment(due.on, due.left) for due in owed],
        path.partition("?")[2],
        rights_of(order, now),
        list(order.wishes.all()),
        payments_path(order.checkout.reference) if _has_agreement(order) else "",
    )


def _has_agreement(order: Order) -> bool:
    return hasattr(order.checkout, "agreement")


def data_of(buyer: Buyer, now: datetime) -> dict[str, Any]:
    """What the seller keeps of the buyer, as a JSON document: their orders, documents and letters."""
    zone = ZoneInfo(buyer.business.time_zone)
    letters = Letter.objects.filter(business=buyer.business, to_address__iexact=buyer.email).order_by("id")
    return {
        "format": "cravik.purchases/1",
        "seller": buyer.business.name,
        "buyer": {"name": buyer.name, "email": buyer.email, "since": _at(buyer.made_at, zone)},
        "orders": [_order_data(each, zone) for each in purchases_of(buyer, now)],
        "letters": [
            {"subject": letter.subject, "to": letter.to_address, "written_at": _at(letter.written_at, zone)}
            for letter in letters
        ],
    }


def _order_data(purchase: Purchase, zone: ZoneInfo) -> dict[str, Any]:
    order, checkout = purchase.order, purchase.order.checkout
    agreed = checkout.agreed_to
    return {
        "number": order.number,
        "reference": checkout.reference,
        "ordered_at": _at(order.made_at, zone),
        "state": order.state,
        "title": order.title,
        "name": order.buyer_name,
        "email": order.buyer_email,
        "where": checkout.where,
        "invoice_to": order.invoice_to,
        "answers": [{"question": each["label"], "answer": answer_words(each["answer"])} for each in checkout.answers],
        "quote": checkout.line.quote_document,
        "paid": order.charged.major,
        "refunded": (-order.returned).major,
        "currency": order.currency,
        "terms": {"name": agreed.terms.name, "version": agreed.number, "at": _at(order.made_at, zone)}
        if agreed
        else None,
        "documents": [document.content for document in purchase.documents],
        "next": [{"on": each.on.isoformat(), "amount": each.amount.major} for each in purchase.next],
        "asked": [
            {"for": wish.kind, "at": _at(wish.at, zone), "words": wish.words, "of": wish.names}
            for wish in purchase.wishes
        ],
        "parcels": [
            {"carrier": each.carrier, "tracking": each.tracking, "sent_at": _at(each.sent_at, zone)}
            for each in order.parcels.all()
        ],
    }


def _at(instant: datetime, zone: ZoneInfo) -> str:
    return instant.astimezone(zone).isoformat(timespec="seconds")
