"""A buyer withdraws from a contract, or has their data erased: each on a page of its own, before it is done."""

from __future__ import annotations

from django.http import HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.utils import timezone
from django.views.decorators.csrf import csrf_exempt
from django.views.decorators.http import require_http_methods

from cravik.orders.models import PARTS, Order
from cravik.orders.own_page import private
from cravik.orders.purchases.door import buyer_in, let_out
from cravik.orders.purchases.erasing import erase, unfinished
from cravik.orders.purchases.rights import rights_of
from cravik.orders.purchases.views import order_in
from cravik.orders.purchases.withdrawing import withdraw
from cravik.people.models import Business


@csrf_exempt  # its cookie comes with nothing that another site sends
@require_http_methods(["GET", "HEAD", "POST"])
def withdrawal(request: HttpRequest, business_id: int, number: int) -> HttpResponse:
    """From what the buyer can withdraw; sent, it is done."""
    business, now = get_object_or_404(Business, id=business_id), timezone.now()
    buyer = buyer_in(request, business)
    if buyer is None:
        return redirect("purchases:page", business_id)
    order = order_in(buyer, number)
    trouble = ""
    if request.method == "POST":
        keys = request.POST.getlist("line")
        if withdraw(order, keys, now):
            return redirect("purchases:page", business_id)  # which says so
        trouble = "Tick what you withdraw from." if not keys else "You can't withdraw from that any more."
    whole = Order.objects.select_related("business", "checkout").prefetch_related(*PARTS, "parcels", "wishes")
    rights = rights_of(whole.get(id=order.pk), now)
    if not any(right.is_open for right in rights):
        return redirect("purchases:page", business_id)
    context = {"business": business, "order": order, "rights": rights, "trouble": trouble}
    with timezone.override(business.time_zone):
        answer = render(request, "orders/purchases/withdraw.html", context, status=400 if trouble else 200)
    return private(answer)


@csrf_exempt
@require_http_methods(["GET", "HEAD", "POST"])
def erasure(request: HttpRequest, business_id: int) -> HttpResponse:
    """What is erased of a buyer, and what is kept; sent, it is done."""
    business = get_object_or_404(Business, id=business_id)
    buyer = buyer_in(request, business)
    if buyer is None:
        return redirect("purchases:page", business_id)
    if request.method == "POST" and erase(buyer, timezone.now()):
        response = private(render(request, "orders/purchases/erased.html", {"business": business}))
        let_out(response, business_id)
        return response
    context = {"business": business, "buyer": buyer, "unfinished": unfinished(buyer)}
    return private(
        render(request, "orders/purchases/erase.html", context, status=409 if request.method == "POST" else 200)
    )
