"""Making a link, its name and address, and what becomes of it."""

from __future__ import annotations

import re

from django.contrib import messages
from django.http import HttpResponse
from django.shortcuts import redirect, render
from django.urls import reverse
from django.utils import timezone
from django.views.decorators.http import require_http_methods, require_POST

from cravik.catalogue.digital_goods import downloads_without_goods
from cravik.catalogue.models import Item
from cravik.catalogue.queries import item_called, item_of, names_like
from cravik.links import lifecycle, services
from cravik.links.access import link_or_404
from cravik.links.bench.making import copy_link, make_link_of_kind
from cravik.links.bench.parts.prices import FixedPricePart
from cravik.links.bench.views import MAX_NAMES, show_bench
from cravik.links.forms import AddressForm, NameForm, OfferForm
from cravik.links.item_line import PriceTooLow
from cravik.links.items import make_link_of_item
from cravik.links.models import Link, items_of_draft
from cravik.links.said_views import MAX_TEXT, REST, show_new
from cravik.links.saying import read_lines
from cravik.links.versions import unpublished_changes
from cravik.people.access import SellerRequest, seller_page
from cravik.people.actors import Actor
from cravik.people.models import Business
from cravik.people.roles import Permission
from cravik.setup.saving import NameTaken
from cravik.ui.fields import clean_line
from cravik.ui.timings import lasting


@require_http_methods(["GET", "HEAD", "POST"])
@seller_page(Permission.MAKE)
def new(request: SellerRequest) -> HttpResponse:
    """A draft from what is typed; the name or code of an item sells that item."""
    wanted = request.GET.get("item", "")
    item = item_of(request.business, int(wanted)) if re.fullmatch(r"\d{1,18}", wanted, re.ASCII) else None
    initial = {"currency": item.currency, "purpose": item.name} if item else {"currency": request.business.currency}
    form = OfferForm(request.POST or None, initial=initial)
    if request.method == "POST":
        item = item or item_called(request.business, clean_line(request.POST.get("purpose", "")))
        form.price_of_item = item.price if item and item.currency == request.POST.get("currency") else None
        if form.is_valid():
            try:
                link = _made(request.business, form, item, request.by)
            except PriceTooLow as refused:
                form.add_error("amount", str(refused))
            else:
                messages.success(request, "Draft ready. Nobody sees it until you publish.")
                return redirect("links:bench", link.id)
    names = names_like(request.business, "", MAX_NAMES)
    text, status = request.GET.get("said", "")[:MAX_TEXT], 400 if form.is_bound else 200
    text = text or str(request.session.pop(REST, ""))
    said = read_lines(request.business, text)
    return show_new(request, text, said, status, form=form, item=item, item_names=names)


def _made(business: Business, form: OfferForm, item: Item | None, by: Actor) -> Link:
    typed, now = form.cleaned_data, timezone.now()
    if typed["kind"] != FixedPricePart.kind or form.money is None:
        return make_link_of_kind(
            business, typed["purpose"], typed["kind"], form.money, typed["currency"], now, item, by=by
        )
    if item:
        return make_link_of_item(business, item, form.money, now, by=by)
    return services.make_link(business, typed["purpose"], form.money, now, by=by)


@require_POST
@seller_page(Permission.MAKE)
def copy(request: SellerRequest, link_id: int) -> HttpResponse:
    """A draft like it, opened at its price."""
    return open_copy(request, copy_link(link_or_404(request, link_id), timezone.now(), by=request.by))


def open_copy(request: SellerRequest, link: Link) -> HttpResponse:
    """Lead to the bench of a copy, where its price is typed next."""
    messages.success(request, "Here is the copy, a draft. Nobody sees it until you publish it.")
    first = link.draft["offer"]["lines"][0]["key"]
    return redirect(f"{reverse('links:bench', args=[link.pk])}#edit-price-{first}")


@require_POST
@seller_page(Permission.MAKE)
def rename(request: SellerRequest, link_id: int) -> HttpResponse:
    link = link_or_404(request, link_id)
    form = NameForm(request.POST)
    if form.is_valid():
        try:
            services.rename(link, form.cleaned_data["name"], timezone.now(), by=request.by)
        except NameTaken as taken:
            form.add_error("name", f"Another link has that name. “{taken.free}” is free.")
        else:
            messages.success(request, "Renamed.")
            return redirect("links:bench", link.id)
    return show_bench(request, link, 400, name_form=form)


@require_POST
@seller_page(Permission.MAKE)
def change_address(request: SellerRequest, link_id: int) -> HttpResponse:
    link = link_or_404(request, link_id)
    form = AddressForm(request.POST)
    if form.is_valid():
        try:
            services.change_address(link, form.cleaned_data["slug"], timezone.now(), by=request.by)
        except services.AddressTaken as taken:
            form.add_error("slug", f"That address is taken. “{taken.free}” is free.")
        else:
            messages.success(request, "Address changed. The old one keeps answering.")
            return redirect("links:bench", link.id)
    return show_bench(request, link, 400, address_form=form)


#: So many changes are told by the message after publishing; the list of versions tells all.
_TOLD = 6
_STEPS = {
    "pause": (lifecycle.pause, "Paused. Anyone who had the page open may still finish within {}."),
    "resume": (lifecycle.resume, "Live again."),
    "end": (lifecycle.end, "Ended. Anyone who had the page open may still finish within {}."),
}


@require_POST
@seller_page(Permission.MAKE)
def publish(request: SellerRequest, link_id: int) -> HttpResponse:
    """Let buyers see the draft; what is missing leads back to where it is decided."""
    link = link_or_404(request, link_id)
    lacking = downloads_without_goods([item.pk for item in items_of_draft(link).values()])
    if lacking and request.POST.get("lacking") != "yes":
        return render(request, "links/lacking.html", {"link": link, "lacking": lacking}, status=409)
    changes = unpublished_changes(link)
    try:
        lifecycle.publish(link, timezone.now(), by=request.by)
    except lifecycle.NotReady:
        messages.warning(request, "Not published yet. What stands in the way is listed on this page.")
        return redirect(f"{reverse('links:bench', args=[link.pk])}#missing")
    except lifecycle.NotInThatState as refusal:
        messages.warning(request, f"Nothing was changed: the link is {refusal.state} now.")
        return redirect("links:bench", link.id)
    more = f"; and {len(changes) - _TOLD} more" if len(changes) > _TOLD else ""
    told = f" Changed: {'; '.join(changes[:_TOLD])}{more}." if changes else ""
    messages.success(request, f"Published. This is what buyers see now.{told}")
    return redirect("share:hand_out", link.id)


@require_POST
@seller_page(Permission.MAKE)
def step(request: SellerRequest, link_id: int, name: str) -> HttpResponse:
    """Pause, resume or end the link."""
    link = link_or_404(request, link_id)
    act, done = _STEPS[name]
    try:
        act(link, timezone.now(), by=request.by)
    except lifecycle.NotInThatState as refusal:
        messages.warning(request, f"Nothing was changed: the link is {refusal.state} now.")
        return redirect("links:bench", link.id)
    messages.success(request, done.format(lasting("price_promised")))
    return redirect("share:hand_out" if name == "resume" else "links:bench", link.id)
