"""Documents and refunds in Setup."""

from __future__ import annotations

from django.contrib import messages
from django.http import HttpResponse
from django.shortcuts import redirect, render
from django.urls import reverse
from django.utils import timezone
from django.views.decorators.http import require_http_methods

from cravik.core.text.money_text import format_money_clearly
from cravik.orders.invoicing.series import SeriesRefused
from cravik.orders.invoicing.settings_forms import (
    DocumentsForm,
    SeriesForm,
    cost_of,
    refuse,
    save_settings,
    year_of,
)
from cravik.orders.models import DocumentKind, OrderSettings
from cravik.orders.settings import settings_of
from cravik.people.access import SellerRequest, seller_page
from cravik.people.models import Business
from cravik.people.roles import Permission
from cravik.setup.default_views import CHANGED_ELSEWHERE
from cravik.setup.home_views import Room
from cravik.setup.own_goods import good_of
from cravik.setup.saving import ChangedElsewhere
from cravik.ui.fields import parse_id


def rooms_of_orders(business: Business) -> list[Room]:
    """What of orders is decided for the whole business."""
    settings = settings_of(business.pk)
    invoices = {"asked": "Receipts, and invoices when a buyer asks", "always": "Receipts and invoices"}
    words = invoices.get(settings.invoices, "Receipts only")
    return [Room("Documents and refunds", words, reverse("orders:documents"))]


@require_http_methods(["GET", "HEAD", "POST"])
@seller_page(Permission.SETUP)
def documents(request: SellerRequest) -> HttpResponse:
    """What stands on documents, how they are numbered, what an invoice costs, and what of a fee comes back."""
    business, settings, now = request.business, settings_of(request.business.pk), timezone.now()
    posted = request.POST if request.method == "POST" else None
    form = DocumentsForm(business, settings, posted)
    series = [SeriesForm(business, kind, year_of(business, now), posted) for kind in DocumentKind.values]
    status, seen = 200, settings.revision
    if posted is not None:
        status, seen = 400, parse_id(request.POST.get("seen", ""))
        if all([form.is_valid(), *(each.is_valid() for each in series)]):
            try:
                save_settings(form, series, seen, now, by=request.by)
            except ChangedElsewhere:
                status = 409
                messages.error(request, CHANGED_ELSEWHERE)
            except SeriesRefused as refused:
                refuse(series, refused)
            else:
                messages.success(
                    request, "Saved. It holds for documents from now on; those that were issued stay as they are."
                )
                return redirect("orders:documents")
    context = {"form": form, "series": series, "parts": [form, *series], "seen": seen} | _example(
        business, form, settings
    )
    return render(request, "orders/document_settings.html", context, status=status)


def _example(business: Business, form: DocumentsForm, settings: OrderSettings) -> dict[str, str]:
    """What an invoice for the seller's own goods costs, by what is typed if it can be read."""
    if form.is_bound and form.is_valid():
        form.decide(settings)
    good = good_of(business)
    cost = cost_of(settings, business.currency) if good.price.currency == business.currency else None
    if cost is None:
        return {}
    price = format_money_clearly(good.price)
    return {"cost": f"An invoice for {good.name} at {price} costs you {format_money_clearly(cost.on(good.price))}."}
