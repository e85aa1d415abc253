"""One act on many orders: a look at what it would do, and doing it."""

from __future__ import annotations

from collections.abc import Mapping
from secrets import token_urlsafe
from zoneinfo import ZoneInfo

from django.contrib import messages
from django.http import HttpResponse, HttpResponseBase, QueryDict
from django.shortcuts import redirect, render
from django.urls import reverse
from django.utils import timezone
from django.views.decorators.http import require_POST

from cravik.core.english import counted
from cravik.orders.acts.sent import change_stage, send_orders
from cravik.orders.exports import as_csv
from cravik.orders.finding import SoughtOrders, found_orders
from cravik.orders.forms import LabelsForm
from cravik.orders.label_sheets import LABEL_SHEETS
from cravik.orders.models import PARTS, Order, OrderQuerySet, Stage
from cravik.orders.papers import address_labels, packing_slips
from cravik.people.access import SellerRequest, seller_page
from cravik.people.roles import Permission
from cravik.ui.fields import parse_id

#: What can be done with several, by its name in the form.
MANY_ACTS: Mapping[str, str] = {
    "sent": "Mark as sent",
    "done": "Mark as done",
    "to-do": "Mark as to do",
    "slips": "Packing slips (PDF)",
    "labels": "Address labels (PDF)",
    "csv": "Export as CSV",
}
#: So many orders are changed by one press.
MAX_AT_ONCE = 500
#: So many are printed at once.
MAX_ON_PAPER = 2000
_STAGES = {"sent": Stage.SENT, "done": Stage.DONE, "to-do": Stage.TO_DO}


def acts_for(request: SellerRequest) -> dict[str, str]:
    """Those that the member may do."""
    may_export = Permission.EXPORT in request.permissions
    return {name: title for name, title in MANY_ACTS.items() if may_export or name != "csv"}


@require_POST
@seller_page(Permission.ORDERS)
def many(request: SellerRequest) -> HttpResponseBase:
    """The look at what the chosen act does to the chosen orders; doing it, once that was seen."""
    act, chosen, back = request.POST.get("many", ""), _chosen(request), _back(request)
    acts = acts_for(request)
    if act not in acts or not chosen.exists():
        messages.warning(request, "Tick the orders first." if act in acts else "Choose what to do with them.")
        return redirect(back)
    if act == "csv":
        return as_csv(chosen, ZoneInfo(request.business.time_zone))
    count, most = chosen.count(), MAX_ON_PAPER if act in ("slips", "labels") else MAX_AT_ONCE
    if count > most:
        messages.warning(request, f"These are {count:,} orders; {most:,} are the most at once.")
        return redirect(back)
    related = ("business", "checkout__agreed_to__terms", "link")
    orders = list(chosen.select_related(*related).prefetch_related(*PARTS))
    if act == "slips":
        return _pdf(packing_slips(request.business, orders, timezone.now()), "packing-slips")
    if act == "labels":
        return _labels(request, orders, back)
    if request.POST.get("sure") == "yes":
        return _do(request, act, orders, back)
    changing = [order for order in orders if _changes(act, order)]
    context = {
        "act": act,
        "title": MANY_ACTS[act],
        "orders": changing,
        "left": len(orders) - len(changing),
        "ids": _ids_of(changing),
        "press": token_urlsafe(12),
        "back": back,
        "sought": _sought(request).urlencode(),
    }
    return render(request, "orders/many.html", context)


def _labels(request: SellerRequest, orders: list[Order], back: str) -> HttpResponseBase:
    """The labels, once it was said for which sheet."""
    addressed = [order for order in orders if order.checkout.address_lines]
    form = LabelsForm(request.POST if request.POST.get("sure") == "yes" else None)
    if form.is_valid() and addressed:
        sheet, skipped = LABEL_SHEETS[form.cleaned_data["sheet"]], form.cleaned_data["first"] - 1
        addresses = [order.checkout.address_lines for order in addressed]
        return _pdf(address_labels(request.business.name, addresses, sheet, skipped, timezone.now()), "address-labels")
    context = {
        "form": form,
        "orders": addressed,
        "ids": _ids_of(addressed),
        "left": len(orders) - len(addressed),
        "back": back,
        "sought": _sought(request).urlencode(),
    }
    return render(request, "orders/labels.html", context, status=400 if form.errors else 200)


def _pdf(document: bytes, name: str) -> HttpResponse:
    attachment = {"Content-Disposition": f'attachment; filename="{name}.pdf"'}
    return HttpResponse(document, content_type="application/pdf", headers=attachment)


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
    ids = [parse_id(each) for sent in request.POST.getlist("order") for each in sent.split(",")[:MAX_ON_PAPER]]
    return found_orders(request.business, SoughtOrders(rehearsals=sought.rehearsals), order).filter(id__in=ids)


def _ids_of(orders: list[Order]) -> str:
    """In one field, since a form takes only so many."""
    return ",".join(str(order.pk) for order in orders)


def _back(request: SellerRequest) -> str:
    """The list as it was."""
    query = _sought(request).urlencode()
    return f"{reverse('orders:orders')}{f'?{query}' if query else ''}"


def _sought(request: SellerRequest) -> QueryDict:
    return QueryDict(request.POST.get("sought", "")[:600])
