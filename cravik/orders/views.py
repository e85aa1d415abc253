"""The seller's orders."""

from __future__ import annotations

from typing import Any
from zoneinfo import ZoneInfo

from django.contrib import messages
from django.core.paginator import Paginator
from django.db.models import QuerySet
from django.http import HttpResponse, StreamingHttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.utils import timezone
from django.utils.http import urlencode
from django.views.decorators.http import require_POST, require_safe

from cravik.orders.attention import attention_of
from cravik.orders.downloads import open_again
from cravik.orders.exports import as_csv, as_json
from cravik.orders.finding import (
    COLUMNS,
    STATES,
    WAYS,
    SoughtOrders,
    choices_of,
    counted_and_summed,
    found_orders,
    hidings,
    misread,
)
from cravik.orders.head import head_of
from cravik.orders.journal import as_journal
from cravik.orders.letter_tasks import try_letters_again
from cravik.orders.many_views import acts_for
from cravik.orders.models import Order, OrderQuerySet
from cravik.orders.order_page import show_order, whole_orders
from cravik.payments.models import Agreement
from cravik.people.access import SellerRequest, seller_page
from cravik.people.roles import Permission
from cravik.ui.lists import sort_columns

_PAGE = 50


class _Counted(Paginator[Any]):
    """Pages of rows that were counted already."""

    def __init__(self, rows: QuerySet[Any, Any], size: int, count: int) -> None:
        self.count = count  # else it is counted when it is first asked for
        super().__init__(rows, size)


@require_POST
@seller_page(Permission.ORDERS)
def open_downloads_again(request: SellerRequest, order_id: int) -> HttpResponse:
    """Give the buyer the full time and number of downloads again."""
    order = get_object_or_404(Order.objects.of(request.business), id=order_id)
    open_again(order, timezone.now(), by=request.by)
    messages.success(request, "The buyer can take the files for another 30 days, at the same address.")
    return redirect(order.path)


@require_safe
@seller_page(Permission.ORDERS)
def orders(request: SellerRequest) -> HttpResponse:
    """The list as its address says: found, sorted, and one page of it."""
    business, sought, order = request.business, SoughtOrders.of(request.GET.dict()), request.GET.get("sort", "")[:20]
    found, every = found_orders(business, sought, order), Order.objects.of(business)
    count, sums = counted_and_summed(found, business.currency)
    page = _Counted(found.values_list("id", flat=True), _PAGE, count).get_page(request.GET.get("page"))
    shown = Order.objects.select_related("link").in_bulk(list(page.object_list))  # sorted by what is narrow, read whole
    page.object_list = [shown[each] for each in page.object_list if each in shown]  # of ids before
    context = {
        "head": head_of(business, timezone.now()),
        "page": page,
        "sought": sought,
        "query": urlencode(sought.query | ({"sort": order} if order else {})),
        "sums": sums,
        "hidings": list(hidings(business, sought)),
        "misread": misread(business, sought),
        "ways": WAYS,
        "states": {name: words for name, (_, words) in STATES.items()},
        "columns": sort_columns(COLUMNS, order),
        "attention": list(attention_of(business, timezone.now())),
        "choices": choices_of(business, sought),
        "acts": acts_for(request),
        "rehearsal_count": every.filter(rehearsal__in=[True]).count(),
        "runs": Agreement.objects.filter(business=business, rehearsal=False).exists(),
        "is_new": not page.object_list and not every.filter(rehearsal=False).exists(),
    }
    return render(request, "orders/orders.html", context)


@require_safe
@seller_page(Permission.ORDERS)
def order(request: SellerRequest, number: int) -> HttpResponse:
    """An order by its number. An address of before had its id, and leads on."""
    found = whole_orders(request.business).filter(rehearsal=False, number=number).first()
    if found is None:
        return redirect(get_object_or_404(Order.objects.of(request.business), id=number).path)
    return show_order(request, found)


@require_safe
@seller_page(Permission.ORDERS)
def rehearsal(request: SellerRequest, number: int) -> HttpResponse:
    return show_order(request, get_object_or_404(whole_orders(request.business), rehearsal=True, number=number))


@require_POST
@seller_page(Permission.ORDERS)
def write_letters(request: SellerRequest, order_id: int) -> HttpResponse:
    """Try again to write the letters of an order, where that failed."""
    found = get_object_or_404(Order.objects.of(request.business), id=order_id)
    try_letters_again(found, timezone.now(), by=request.by)
    messages.success(request, "They are being written.")
    return redirect(found.path)


@require_safe
@seller_page(Permission.EXPORT)
def orders_file(request: SellerRequest) -> StreamingHttpResponse:
    """The orders that the list shows, as CSV (RFC 4180), in the order of the list."""
    return as_csv(_found(request), ZoneInfo(request.business.time_zone))


@require_safe
@seller_page(Permission.EXPORT)
def orders_document(request: SellerRequest) -> StreamingHttpResponse:
    """The same as JSON."""
    return as_json(_found(request), ZoneInfo(request.business.time_zone))


@require_safe
@seller_page(Permission.EXPORT)
def journal_file(request: SellerRequest) -> StreamingHttpResponse:
    """What moved for them, with fees, tax and documents, for whoever keeps the books."""
    return as_journal(_found(request), ZoneInfo(request.business.time_zone))


def _found(request: SellerRequest) -> OrderQuerySet:
    return found_orders(request.business, SoughtOrders.of(request.GET.dict()), request.GET.get("sort", "")[:20])
