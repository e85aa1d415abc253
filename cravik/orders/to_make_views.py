"""The list of what is to be made."""

from __future__ import annotations

from django.contrib import messages
from django.http import HttpResponse
from django.shortcuts import redirect, render
from django.utils import timezone
from django.utils.http import urlencode
from django.views.decorators.http import require_http_methods

from cravik.orders.finding import SoughtOrders, found_orders, hidings
from cravik.orders.models import Order
from cravik.orders.to_make import tick, to_make
from cravik.people.access import SellerRequest, seller_page
from cravik.people.roles import Permission


@require_http_methods(["GET", "HEAD", "POST"])
@seller_page(Permission.ORDERS)
def list_to_make(request: SellerRequest) -> HttpResponse:
    """Pieces by item and options, of the orders that are looked for; of those that are to do unless it is said."""
    if request.method == "POST":
        shown, ticked = request.POST.get("shown", "").split(), request.POST.getlist("ticked")
        tick(Order.objects.of(request.business), set(ticked), shown, timezone.now())
        messages.success(request, "Saved.")
        return redirect(request.get_full_path())
    query = request.GET.dict()
    sought = SoughtOrders.of(query if "state" in query else query | {"state": "to-do"})
    found = found_orders(request.business, sought, "-made")
    (batches, laid_out), count = to_make(found), found.count()
    context = {
        "batches": batches,
        "count": count,
        "pieces": sum(batch.pieces for batch in batches),
        "left": sum(batch.left for batch in batches),
        "left_out": count - laid_out,
        "hidings": list(hidings(request.business, sought)),
        "shown": " ".join(each.key for batch in batches for each in batch.of),
        "back": urlencode(sought.query),
    }
    return render(request, "orders/to_make.html", context)
