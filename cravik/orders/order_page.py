"""An order's page: what was bought and paid, what is to be done of it, and what happened."""

from __future__ import annotations

from django.http import HttpResponse
from django.shortcuts import render

from cravik.core.text.money_text import DEFAULT_LOCALE
from cravik.events.reading import events_of_order
from cravik.journal.queries import campaign_of
from cravik.mailroom.queries import letters_about_order
from cravik.orders.charges import Charge, charges_with_rows
from cravik.orders.finding import SoughtOrders, neighbours
from cravik.orders.forms import NoteForm, ParcelForm
from cravik.orders.invoicing.asking import may_ask
from cravik.orders.kept import kept_of
from cravik.orders.letter_again import can_go_again
from cravik.orders.models import PARTS, DocumentKind, IssuedDocument, Order, OrderQuerySet
from cravik.orders.own_page import own_path
from cravik.orders.purchases.withdrawing import pay_back_by
from cravik.orders.running_path import running_path
from cravik.orders.tries import tries_of
from cravik.payments.models import Agreement, Refund
from cravik.people.access import SellerRequest
from cravik.people.models import Business
from cravik.people.roles import Permission


def whole_orders(business: Business) -> OrderQuerySet:
    """The business's orders with all that their pages show."""
    orders = Order.objects.of(business).select_related("business", "checkout", "link", "spot")
    return orders.with_returned().prefetch_related(*PARTS, "parcels", "wishes")


def lacks_documents(charges: list[Charge], documents: list[IssuedDocument]) -> bool:
    """Whether a charge has no receipt: one of before there were any, or one whose receipt could not be made."""
    return len(charges) > sum(each.kind == DocumentKind.RECEIPT for each in documents)


def in_list(request: SellerRequest, path: str) -> str:
    """The address with the list from which the order was opened, so that one goes on in it."""
    query = request.GET.urlencode()
    return f"{path}?{query}" if query else path


def show_order(
    request: SellerRequest,
    order: Order,
    *,
    parcel: ParcelForm | None = None,
    note: NoteForm | None = None,
    status: int = 200,
) -> HttpResponse:
    """The page of one of the ``whole_orders``; a form that was not accepted stands as it was typed."""
    query = request.GET.dict() | ({"rehearsals": "yes"} if order.rehearsal else {})
    sought, sort = SoughtOrders.of(query), query.get("sort", "")[:20]
    before, after = neighbours(order, request.business, sought, sort)
    charges = charges_with_rows(order)
    documents = list(order.documents.all())
    letters = list(letters_about_order(request.user, request.business, order.pk))
    context = {
        "order": order,
        "running": running_path(order) if Agreement.objects.filter(checkout=order.checkout_id).exists() else "",
        "buyer_page": own_path(order.checkout.reference),
        "number_locale": DEFAULT_LOCALE,
        "campaign": campaign_of(order.checkout.visit_id),
        "newer": in_list(request, before.path) if before else "",
        "older": in_list(request, after.path) if after else "",
        "is_by_day": not sort,
        "list_query": in_list(request, ""),
        "happened": events_of_order(order.pk),
        "refunds_open": [each for charge in charges for each in charge.refunds if each.state != Refund.State.DONE],
        "tries": tries_of(order),
        "kept": kept_of(order, charges),
        "can_refund": Permission.REFUND in request.permissions and any(charge.left for charge in charges),
        "parcel_form": parcel or ParcelForm(parcels=len(order.parcels.all())),
        "note_form": note or NoteForm(),
        "wishes": [(wish, pay_back_by(wish)) for wish in order.wishes.all() if not wish.settled_at],
        "documents": documents,
        "lacks_documents": lacks_documents(charges, documents),
        "may_be_invoiced": may_ask(order),
        "letters": [(letter, can_go_again(letter)) for letter in letters],
    }
    return render(request, "orders/order.html", context, status=status)
