"""The list of who pressed Pay and did not pay, and the one letter to each."""

from __future__ import annotations

from django.contrib import messages
from django.core.paginator import Paginator
from django.http import HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.utils import timezone
from django.views.decorators.http import require_POST, require_safe

from cravik.orders.unpaid import NotToBeWrittenTo, unpaid_checkouts, unpaid_rows, write_once
from cravik.people.access import SellerRequest, seller_page
from cravik.people.roles import Permission

_PAGE = 50
_WHY_NOT = {
    "written": "No letter went out: one did before, and there is only one.",
    "paid": "No letter went out: they paid meanwhile.",
    "not_asked": "No letter went out: when they paid, the page didn't say that you may write.",
    "closed": "No letter went out: the link takes no payments now. Resume it first.",
}
_PARTS = ("attempts", "lines__link", "lines__spot")


@require_safe
@seller_page(Permission.ORDERS)
def not_paid(request: SellerRequest) -> HttpResponse:
    found = unpaid_checkouts(request.business, timezone.now()).select_related("business").prefetch_related(*_PARTS)
    page = Paginator(found, _PAGE).get_page(request.GET.get("page"))
    return render(request, "orders/not_paid_list.html", {"page": page, "rows": unpaid_rows(list(page.object_list))})


@require_POST
@seller_page(Permission.ORDERS)
def write(request: SellerRequest, checkout_id: int) -> HttpResponse:
    """Write the one letter about a checkout that was not paid."""
    found = unpaid_checkouts(request.business, timezone.now()).select_related("business").prefetch_related(*_PARTS)
    checkout = get_object_or_404(found, id=checkout_id)
    try:
        write_once(checkout, timezone.now())
        messages.success(request, f"{checkout.buyer_name} gets a letter.")
    except NotToBeWrittenTo as refused:
        messages.warning(request, _WHY_NOT[refused.why])
    return redirect("orders:not_paid")
