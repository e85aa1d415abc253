"""What a seller does with an order: send it, say that it is done, note something, send a letter again."""

from __future__ import annotations

from django.contrib import messages
from django.http import HttpResponse
from django.shortcuts import get_object_or_404, redirect
from django.utils import timezone
from django.views.decorators.http import require_POST

from cravik.mailroom.queries import letters_about_order
from cravik.orders.acts.sent import SentMeanwhile, add_note, change_stage, send_order
from cravik.orders.acts.settled import settle_wish
from cravik.orders.forms import NoteForm, ParcelForm
from cravik.orders.letter_again import send_letter_again
from cravik.orders.models import Order, Parcel, Stage
from cravik.orders.order_page import in_list, show_order, whole_orders
from cravik.people.access import SellerRequest, seller_page
from cravik.people.roles import Permission
from cravik.ui.fields import parse_id


@require_POST
@seller_page(Permission.ORDERS)
def send(request: SellerRequest, order_id: int) -> HttpResponse:
    """Note a parcel, and tell the buyer if that is wanted."""
    order = get_object_or_404(whole_orders(request.business), id=order_id)
    form = ParcelForm(request.POST)
    if {"press", "seen"} & form.errors.keys():
        messages.warning(request, "Nothing was noted: the page was incomplete. Please repeat it.")
        return redirect(in_list(request, order.path))
    if not form.is_valid():
        return show_order(request, order, parcel=form, status=400)
    said = form.cleaned_data
    parcel = Parcel(carrier=said["carrier"], tracking=said["tracking"], key=f"{said['press']}-{order.pk}")
    try:
        is_new = send_order(order, parcel, timezone.now(), by=request.by, tell=said["tell"], seen=said["seen"])
    except SentMeanwhile:
        return _show_meanwhile(request, order)
    if is_new:
        messages.success(request, f"Marked as sent. {order.buyer_name} gets {'a' if said['tell'] else 'no'} letter.")
    return redirect(in_list(request, order.path))


def _show_meanwhile(request: SellerRequest, order: Order) -> HttpResponse:
    """The page as it was typed, beside what somebody else noted."""
    data = request.POST.copy()
    data["parcel-seen"] = str(order.parcels.count())
    form = ParcelForm(data)
    form.add_error(None, "Nothing was noted: somebody else did meanwhile. If this is another parcel, press again.")
    return show_order(request, order, parcel=form, status=409)


@require_POST
@seller_page(Permission.ORDERS)
def stage(request: SellerRequest, order_id: int) -> HttpResponse:
    """Say that the order is done, or to do after all."""
    order = get_object_or_404(Order.objects.of(request.business), id=order_id)
    wanted = request.POST.get("stage")
    if wanted not in (Stage.TO_DO, Stage.DONE):
        messages.warning(request, "Nothing was changed: the page was incomplete. Please repeat it.")
    elif change_stage(order, Stage(wanted), timezone.now(), by=request.by):
        messages.success(request, "Marked as done." if wanted == Stage.DONE else "Marked as to do.")
    return redirect(in_list(request, order.path))


@require_POST
@seller_page(Permission.ORDERS)
def settle(request: SellerRequest, order_id: int) -> HttpResponse:
    """Say that what the buyer asked for is settled, though nothing was refunded."""
    order = get_object_or_404(Order.objects.of(request.business), id=order_id)
    if settle_wish(order, parse_id(request.POST.get("wish", "")), timezone.now(), by=request.by):
        messages.success(request, "Settled. The buyer gets no letter about it.")
    return redirect(in_list(request, order.path))


@require_POST
@seller_page(Permission.ORDERS)
def note(request: SellerRequest, order_id: int) -> HttpResponse:
    """Write a note into the order's history."""
    order = get_object_or_404(whole_orders(request.business), id=order_id)
    form = NoteForm(request.POST)
    if not form.is_valid():
        return show_order(request, order, note=form, status=400)
    if form.cleaned_data["note"].strip():
        add_note(order, form.cleaned_data["note"].strip(), timezone.now(), by=request.by)
    return redirect(f"{in_list(request, order.path)}#happened")


@require_POST
@seller_page(Permission.ORDERS)
def letter_again(request: SellerRequest, order_id: int, letter_id: int) -> HttpResponse:
    """Send a letter about the order once more, to where its buyer is written to now."""
    order = get_object_or_404(Order.objects.of(request.business), id=order_id)
    letter = get_object_or_404(letters_about_order(request.user, request.business, order.pk), id=letter_id)
    seen = parse_id(request.POST.get("seen", ""))
    if send_letter_again(order, letter, seen, timezone.now(), by=request.by):
        messages.success(request, f"“{letter.subject}” goes out again.")
    else:
        messages.warning(request, "It went out again a moment ago.")
    return redirect(f"{in_list(request, order.path)}#letters")
