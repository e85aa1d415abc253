"""A buyer's purchases at one seller, and the way in."""

from __future__ import annotations

from django import forms
from django.http import HttpRequest, HttpResponse, JsonResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.utils import timezone
from django.views.decorators.csrf import csrf_exempt
from django.views.decorators.http import require_http_methods, require_POST, require_safe

from cravik.buyers.keys import buyer_key
from cravik.buyers.models import Buyer
from cravik.checkout.number_format import number_locale
from cravik.orders.models import Order
from cravik.orders.own_page import private
from cravik.orders.purchases.asking import ask_for_refund
from cravik.orders.purchases.content import data_of, purchases_of
from cravik.orders.purchases.door import (
    buyer_in,
    is_open,
    let_in,
    let_out,
    may_ask,
    open_once,
    send_purchases_address,
)
from cravik.people.models import Business
from cravik.ui.fields import LineField, MailAddressField, parse_id

MAX_WISH = 500


class AddressForm(forms.Form):
    email = MailAddressField(
        label="E-mail address that you bought with", error_messages={"required": "Write your e-mail address."}
    )


class WishForm(forms.Form):
    wish = LineField(label="Why", longest=MAX_WISH, missing="Say in a sentence why.")


@csrf_exempt  # whoever asks is sent a letter, and nothing else comes of it
@require_http_methods(["GET", "HEAD", "POST"])
def page(request: HttpRequest, business_id: int) -> HttpResponse:
    """The purchases of whoever has them open; for anybody else the way in, which answers everybody alike."""
    business = get_object_or_404(Business, id=business_id)
    if request.method != "POST" and (buyer := buyer_in(request, business)):
        return _show(request, business, buyer)
    return _door(request, business)


@csrf_exempt  # the address is known to its buyer alone
@require_http_methods(["GET", "HEAD", "POST"])
def open_page(request: HttpRequest, business_id: int, opens: str) -> HttpResponse:
    """Open what was mailed, by a press: programs that look at addresses in letters press nothing."""
    business, now = get_object_or_404(Business, id=business_id), timezone.now()
    if request.method != "POST":
        if not is_open(business_id, opens, now):
            return _door(request, business, over=True)
        return private(render(request, "orders/purchases/open.html", {"business": business}))
    buyer_id = open_once(business_id, opens, now)
    if buyer_id is None:
        return _door(request, business, over=True)
    response = redirect("purchases:page", business_id)
    let_in(response, business_id, buyer_id, secure=request.is_secure())
    return private(response)


@require_safe
def data(request: HttpRequest, business_id: int) -> HttpResponse:
    """What the seller keeps of the buyer, to take away."""
    business = get_object_or_404(Business, id=business_id)
    buyer = buyer_in(request, business)
    if buyer is None:
        return redirect("purchases:page", business_id)
    response = JsonResponse(data_of(buyer, timezone.now()), json_dumps_params={"ensure_ascii": False, "indent": 2})
    response["Content-Disposition"] = 'attachment; filename="purchases.json"'
    return private(response)


@csrf_exempt  # its cookie comes with nothing that another site sends
@require_POST
def wish(request: HttpRequest, business_id: int) -> HttpResponse:
    """Ask the seller for a refund, in a sentence."""
    business = get_object_or_404(Business, id=business_id)
    buyer = buyer_in(request, business)
    if buyer is None:
        return redirect("purchases:page", business_id)
    order = order_in(buyer, parse_id(request.POST.get("order", "")))
    form = WishForm(request.POST)
    if form.is_valid():
        ask_for_refund(order, form.cleaned_data["wish"], timezone.now())
        return redirect("purchases:page", business_id)  # which says so, also of one that was asked for before
    return _show(request, business, buyer, form=form, form_of=order.pk)


@csrf_exempt
@require_POST
def leave(request: HttpRequest, business_id: int) -> HttpResponse:
    """Close it in this browser."""
    response = redirect("purchases:page", business_id)
    let_out(response, business_id)
    return response


def _show(request: HttpRequest, business: Business, buyer: Buyer, **more: object) -> HttpResponse:
    context = {
        "business": business,
        "buyer": buyer,
        "purchases": purchases_of(buyer, timezone.now()),
        "number_locale": number_locale(request),
        **more,
    }
    with timezone.override(business.time_zone):
        return private(render(request, "orders/purchases/page.html", context, status=400 if more else 200))


def _door(request: HttpRequest, business: Business, *, over: bool = False) -> HttpResponse:
    posted = request.method == "POST" and not over
    form = AddressForm(request.POST if posted else None)
    sent = status = None
    if posted and form.is_valid():
        if may_ask(request, timezone.now()):
            sent = form.cleaned_data["email"]
            send_purchases_address.enqueue(business.pk, buyer_key(sent))
        else:
            form.add_error("email", "That was asked for too often from here. Try again in an hour.")
    if form.errors:
        status = 400
    context = {"business": business, "form": form, "sent": sent, "over": over}
    return private(render(request, "orders/purchases/door.html", context, status=status or (410 if over else 200)))


def order_in(buyer: Buyer, number: int) -> Order:
    """The buyer's order with that number. Raises ``Http404``."""
    orders = Order.objects.filter(buyer=buyer).select_related("business", "link", "checkout")
    return get_object_or_404(orders, number=max(0, number))
