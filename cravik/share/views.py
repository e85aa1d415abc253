"""Handing a link out: the list of its spots, and making more of them."""

from __future__ import annotations

from collections.abc import Iterable
from zoneinfo import ZoneInfo

from django.contrib import messages
from django.http import HttpResponse
from django.shortcuts import redirect, render
from django.urls import reverse
from django.utils import timezone
from django.views.decorators.http import require_http_methods, require_POST

from cravik.core.english import counted
from cravik.core.text.price_words import price_in_words
from cravik.core.text.said.orders import read_spots
from cravik.core.text.said.pieces import When
from cravik.links.access import link_or_404
from cravik.links.life.shown_version import shown_to_buyers
from cravik.links.models import Link
from cravik.links.places.addresses import let_be_found
from cravik.links.places.sites import named_sites
from cravik.links.places.spots import TooManySpots, first_spot, make_spot, make_spots
from cravik.people.access import SellerRequest, seller_page
from cravik.people.roles import Permission
from cravik.setup.hosts import address_of
from cravik.setup.saving import NameTaken
from cravik.share.forms import ManySpotsForm, SpotForm
from cravik.share.on_pages.forms import SiteForm
from cravik.share.on_pages.sightings import asking_for
from cravik.share.sending import CHANNELS, messages_ready
from cravik.share.spots import ORDERS, spots_listed

_TOLD = 5


@require_http_methods(["GET", "HEAD", "POST"])
@seller_page(Permission.SEE, to_send=Permission.MAKE)
def hand_out(request: SellerRequest, link_id: int) -> HttpResponse:
    """The address of the link, and its spots. A post makes one, or one for each line of a list."""
    link = link_or_404(request, link_id)
    one, many = SpotForm(), ManySpotsForm()
    if request.method == "POST" and "names" in request.POST:
        many = ManySpotsForm(request.POST)
        if many.is_valid() and _make_many(request, link, many, many.cleaned_data["names"]):
            return redirect("share:hand_out", link.pk)
    elif request.method == "POST":
        one = SpotForm(request.POST)
        if one.is_valid():
            said, missed = _said_spots(one.cleaned_data["name"])
            if said and not missed and _make_many(request, link, many, said):
                return redirect("share:hand_out", link.pk)
            try:
                spot = make_spot(link, one.cleaned_data["name"], timezone.now(), by=request.by)
            except NameTaken as taken:
                one.add_error("name", f"There is a spot of that name. “{taken.free}” is free.")
            except TooManySpots as refused:
                one.add_error("name", str(refused))
            else:
                messages.success(request, f"“{spot.name}” has its own address and code now.")
                return redirect("share:spot", link.pk, spot.pk)
    return _show(request, link, one, many)


@require_POST
@seller_page(Permission.MAKE)
def findable(request: SellerRequest, link_id: int) -> HttpResponse:
    """Let search engines find the link, or ask them to stay away."""
    wanted = request.POST.get("find") == "yes"
    let_be_found(link_or_404(request, link_id), is_findable=wanted, now=timezone.now(), by=request.by)
    found, hidden = "Search engines may find this link now.", "Search engines are asked to stay away from this link."
    messages.success(request, found if wanted else hidden)
    return redirect("share:hand_out", link_id)


def _said_spots(text: str) -> tuple[tuple[str, ...], tuple[str, ...]]:
    """The spots of “a spot for the library, one for the kiosk”."""
    return read_spots(text, When(timezone.localdate(), ZoneInfo("UTC")))


def _make_many(request: SellerRequest, link: Link, form: ManySpotsForm, names: Iterable[str]) -> bool:
    try:
        made, there = make_spots(link, names, timezone.now(), by=request.by)
    except TooManySpots as refused:
        form.add_error("names", str(refused))
        return False
    if made:
        messages.success(request, f"{counted(len(made), 'spot is', 'spots are')} made, each with its own code.")
    if there:
        more = f" and {len(there) - _TOLD} more" if len(there) > _TOLD else ""
        named = ", ".join(f"“{name}”" for name in there[:_TOLD])
        messages.warning(request, f"The link has these already: {named}{more}.")
    return True


def _show(request: SellerRequest, link: Link, one: SpotForm, many: ManySpotsForm) -> HttpResponse:
    now = timezone.now()
    q = " ".join(request.GET.get("q", "").split())[:100]
    listed = spots_listed(link, q, request.GET.get("sort", ""), request.GET.get("page", ""), now)
    shown, ready = shown_to_buyers(link), messages_ready(link)
    context = {
        "link": link,
        "price": price_in_words(shown.offer) if shown else "",
        "address": address_of(link.business_id, link.path),
        "first": first_spot(link),
        "one": one,
        "many": many,
        "q": q,
        "listed": listed,
        "channels": [(channel, ready.get(channel.key)) for channel in CHANNELS.values()],
        "page": listed.page,
        "sorts": [(key, words, key == listed.sort) for key, words in ORDERS.items()],
        "sites": {"own": named_sites(link.business, link), "all": named_sites(link.business)},
        "site_form": SiteForm(),
        "asking": asking_for(link),
        "filled": reverse("links:filled_address", args=[link.pk]),
    }
    return render(request, "share/hand_out.html", context, status=400 if one.errors or many.errors else 200)
