"""One act on many orders: a look at what it would do, and doing it."""

from __future__ import annotations

from collections.abc import Mapping
from secrets import token_urlsafe
from zoneinfo import ZoneInfo

from django.contrib import messages
from django.http import HttpResponseBase, QueryDict
from django.shortcuts import redirect, render
from django.urls import reverse
from django.utils import timezone
from django.views.decorators.http import require_POST

from cravik.core.english import counted
from cravik.orders.acts.sent import change_stage, send_orders
from cravik.orders.exports import as_csv
from cravik.orders.finding import SoughtOrders, found_orders
from cravik.orders.models import PARTS, Order, OrderQuerySet, Stage
from cravik.people.access import SellerRequest, seller_page
from cravik.people.roles import Permission
from cravik.ui.fields import parse_id

#: What can be done with several, by its name in the form.
MANY_ACTS: Mapping[str, str] = {
    "sent": "Mark as sent",
    "done": "Mark as done",
    "to-do": "Mark as to do",
    "csv": "Export as CSV",
}
#: So many orders are changed by one press.
MAX_AT_ONCE = 500
_STAGES = {"sent": Stage.SENT, "done": Stage.DONE, "to-do": Stage.TO_DO}


@require_POST
@seller_page(Permission.ORDERS)
def many(request: SellerRequest) -> HttpResponseBase:
    """The look at what the chosen act does to the chosen orders; doing it, once that was seen."""
    act, chosen, back = request.POST.get("many", ""), _chosen(request), _back(request)
    if act not in MANY_ACTS or not chosen.exists():
        messages.warning(request, "Tick the orders first." if act in MANY_ACTS else "Choose what to do with them.")
        return redirect(back)
    if act == "csv":
        return as_csv(chosen, ZoneInfo(request.business.time_zone))
    count = chosen.count()
    if count > MAX_AT_ONCE:
        messages.warning(request, f"These are {count:,} orders; {MAX_AT_ONCE} can be changed at once.")
        return redirect(back)
    related = ("business", "checkout__agreed_to__terms", "link")
    orders = list(chosen.select_related(*related).prefetch_related(*PARTS))
    if request.POST.get("sure") == "yes":
        return _do(request, act, orders, back)
    changing = [order for order in orders if _changes(act, order)]
    context = {
        "act": act,
        "title": MANY_ACTS[act],
        "orders": changing,
        "left": len(orders) - len(changing),
        "press": token_urlsafe(12),
        "back": back,
        "sought": _sought(request).urlencode(),
    }
    return render(request, "orders/many.html", context)


def _changes(act: str, order: Order) -> bool:
    """Whether the act changes it: only what is to do is sent."""
    return order.stage == Stage.TO_DO if act == "sent" else order.stage != _STAGES[act]


def _do(request: SellerRequest, act: str, orders: list[Order], back: str) -> HttpResponseBase:
    now = timezone.now()
    if act == "sent":
        press, tell = request.POST.get("press", "")[:22], request.POST.get("tell") == "on"
        done = send_orders(orders, press, now, by=request.by, tell=tell)
    else:
        done = sum(change_stage(order, _STAGES[act], now, by=request.by) for order in orders)
    messages.success(request, f"{counted(done, 'order', 'orders')} {MANY_ACTS[act].replace('Mark', 'marked')}.")
    return redirect(back)


def _chosen(request: SellerRequest) -> OrderQuerySet:
    """The orders that were ticked, or all that the list has, in its order."""
    query = {name: str(value) for name, value in _sought(request).items()}
    sought, order = SoughtOrders.of(query), query.get("sort", "")
    if request.POST.get("all") == "yes":
        return found_orders(request.business, sought, order)
    ids = [parse_id(each) for each in request.POST.getlist("order")[: MAX_AT_ONCE * 10]]
    return found_orders(request.business, SoughtOrders(rehearsals=sought.rehearsals), order).filter(id__in=ids)


def _back(request: SellerRequest) -> str:
    """The list as it was."""
    query = _sought(request).urlencode()
    return f"{reverse('orders:orders')}{f'?{query}' if query else ''}"


def _sought(request: SellerRequest) -> QueryDict:
    return QueryDict(request.POST.get("sought", "")[:600])
