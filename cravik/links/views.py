"""Making a link, its name and address, and what becomes of it."""

from __future__ import annotations

import re

from django.contrib import messages
from django.http import HttpResponse
from django.shortcuts import redirect, render
from django.utils import timezone
from django.views.decorators.http import require_http_methods, require_POST

from cravik.catalogue.queries import item_of
from cravik.links import lifecycle, services
from cravik.links.access import link_or_404
from cravik.links.bench.views import show_bench
from cravik.links.forms import AddressForm, NameForm, OfferForm
from cravik.links.item_line import PriceTooLow
from cravik.links.items import make_link_of_item
from cravik.setup.access import SellerRequest, seller_page
from cravik.setup.saving import NameTaken


@require_http_methods(["GET", "HEAD", "POST"])
@seller_page
def new(request: SellerRequest) -> HttpResponse:
    wanted = request.GET.get("item", "")
    item = item_of(request.business, int(wanted)) if re.fullmatch(r"\d{1,18}", wanted, re.ASCII) else None
    initial = {"currency": item.currency, "purpose": item.name} if item else {"currency": request.business.currency}
    form = OfferForm(request.POST or None, initial=initial)
    if request.method == "POST" and form.is_valid():
        now = timezone.now()
        try:
            link = (
                make_link_of_item(request.business, item, form.money, now)
                if item
                else services.make_link(request.business, form.cleaned_data["purpose"], form.money, now)
            )
        except PriceTooLow as refused:
            form.add_error("amount", str(refused))
        else:
            messages.success(request, "Here is your draft. Nobody sees it until you publish it.")
            return redirect("links:bench", link.id)
    return render(request, "links/new.html", {"form": form, "item": item}, status=400 if form.is_bound else 200)


@require_POST
@seller_page
def rename(request: SellerRequest, link_id: int) -> HttpResponse:
    link = link_or_404(request, link_id)
    form = NameForm(request.POST)
    if form.is_valid():
        try:
            services.rename(link, form.cleaned_data["name"])
        except NameTaken as taken:
            form.add_error("name", f"Another link has that name. “{taken.free}” is free.")
        else:
            messages.success(request, "Renamed.")
            return redirect("links:bench", link.id)
    return show_bench(request, link, 400, name_form=form)


@require_POST
@seller_page
def change_address(request: SellerRequest, link_id: int) -> HttpResponse:
    link = link_or_404(request, link_id)
    form = AddressForm(request.POST)
    if form.is_valid():
        try:
            services.change_address(link, form.cleaned_data["slug"])
        except services.AddressTaken as taken:
            form.add_error("slug", f"That address is taken. “{taken.free}” is free.")
        else:
            messages.success(request, "Address changed. The old one keeps answering.")
            return redirect("links:bench", link.id)
    return show_bench(request, link, 400, address_form=form)


_STEPS = {
    "publish": (lifecycle.publish, "Published. This is what buyers see now."),
    "pause": (lifecycle.pause, "Paused. Anyone who had the page open may still finish within 15 minutes."),
    "resume": (lifecycle.resume, "Live again."),
    "end": (lifecycle.end, "Ended. Anyone who had the page open may still finish within 15 minutes."),
}


@require_POST
@seller_page
def step(request: SellerRequest, link_id: int, name: str) -> HttpResponse:
    """Publish, pause, resume or end the link."""
    link = link_or_404(request, link_id)
    act, done = _STEPS[name]
    try:
        act(link, timezone.now())
    except lifecycle.NotReady as refusal:
        messages.warning(request, f"Not published. {refusal}")
        return redirect("links:bench", link.id)
    except lifecycle.NotInThatState as refusal:
        messages.warning(request, f"Nothing was changed: the link is {refusal.state} now.")
        return redirect("links:bench", link.id)
    messages.success(request, done)
    return redirect("share:hand_out" if name in ("publish", "resume") else "links:bench", link.id)
