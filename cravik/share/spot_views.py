"""One spot: what it is, where it hangs, its files and its button; moving it and ending it."""

from __future__ import annotations

from django.contrib import messages
from django.http import HttpResponse
from django.shortcuts import redirect, render
from django.utils import timezone
from django.views.decorators.http import require_http_methods, require_POST

from cravik.core.english import counted
from cravik.core.graphics.qr.legibility import least_width_mm, scan_distance_mm
from cravik.core.text.money_text import format_money
from cravik.links.access import link_or_404
from cravik.links.finding.found import Sought, found_links, sorted_links
from cravik.links.models import Link, Spot
from cravik.links.places import spots as services
from cravik.links.places.spots import TooManySpots
from cravik.links.queries import listed_links
from cravik.people.access import SellerRequest, seller_page
from cravik.people.roles import Permission
from cravik.setup.hosts import address_of
from cravik.setup.saving import NameTaken
from cravik.share.access import moved_spot, spot_or_404
from cravik.share.codes.designs import design_of_spot
from cravik.share.codes.files import KINDS, USUAL_PX
from cravik.share.codes.trials import proof_of
from cravik.share.forms import DescribeForm, EndForm, first_fault
from cravik.share.models import PastedButton
from cravik.share.on_pages.arrival import arrival_of
from cravik.share.on_pages.design_views import address_tried
from cravik.share.on_pages.pasting import pasting_of
from cravik.share.on_pages.sightings import seen_at
from cravik.share.pasted import why_old
from cravik.share.spots import line_of
from cravik.ui.fields import clean_line, parse_id
from cravik.ui.photo import PhotoRefused
from cravik.ui.picture_files import keep_picture

_FOUND = 12


@require_http_methods(["GET", "HEAD", "POST"])
@seller_page(Permission.SEE, to_send=Permission.MAKE)
def spot(request: SellerRequest, link_id: int, spot_id: int) -> HttpResponse:
    """The spot. A post changes its name, its note and its photo."""
    if moved := moved_spot(request, link_id, spot_id):
        return redirect("share:spot", moved.link_id, spot_id)
    found = spot_or_404(request, link_id, spot_id)
    if request.method != "POST":
        return _show(request, found, DescribeForm(initial={"name": found.name, "note": found.note}), 200)
    form = DescribeForm(request.POST, request.FILES)
    if form.is_valid() and _described(request, found, form):
        messages.success(request, "Saved.")
        return redirect("share:spot", link_id, spot_id)
    return _show(request, found, form, 400)


@require_POST
@seller_page(Permission.MAKE)
def end(request: SellerRequest, link_id: int, spot_id: int) -> HttpResponse:
    """End the spot, or open it again where the button says so."""
    found = spot_or_404(request, link_id, spot_id)
    if "again" in request.POST:
        services.reopen_spot(found, timezone.now(), by=request.by)
        messages.success(request, "Open again: its address leads to the link's page, and is counted.")
        return redirect("share:spot", link_id, spot_id)
    form = EndForm(request.POST)
    if not form.is_valid():
        messages.error(request, f"Not ended. {first_fault(form)}")
    elif found.is_first:
        messages.warning(request, "This is the main link. To stop selling, end the link.")
    else:
        services.end_spot(found, form.cleaned_data["leads_to"], timezone.now(), by=request.by)
        messages.success(request, "Ended. Its address leads people on, and they are not counted here any more.")
    return redirect("share:spot", link_id, spot_id)


@require_http_methods(["GET", "HEAD", "POST"])
@seller_page(Permission.MAKE)
def move(request: SellerRequest, link_id: int, spot_id: int) -> HttpResponse:
    """Where the spot should lead: the links to choose from, then what it means, then doing it."""
    if moved := moved_spot(request, link_id, spot_id):  # in another tab, or by a second press
        messages.warning(request, f"It leads to “{moved.link.name}” now.")
        return redirect("share:spot", moved.link_id, spot_id)
    found = spot_or_404(request, link_id, spot_id)
    to = (
        link_or_404(request, parse_id(request.POST["to"]))
        if request.method == "POST" and "to" in request.POST
        else None
    )
    if to and to.pk != link_id:
        try:
            moved = services.move_spot(found, to, timezone.now(), by=request.by)
        except TooManySpots as refused:
            messages.error(request, f"Not moved. {refused}")
            return redirect("share:move", link_id, spot_id)
        messages.success(request, f"Moved. {address_of(to.business_id, moved.path)} leads to “{to.name}” now.")
        return redirect("share:spot", to.pk, moved.pk)
    q = " ".join(request.GET.get("q", "").split())[:100]
    chosen = link_or_404(request, parse_id(request.GET["to"])) if request.GET.get("to") else None
    if chosen and chosen.pk == link_id:
        chosen = None
    links = found_links(request.business, Sought(q=q)).exclude(id=link_id)
    context = {
        "link": found.link,
        "spot": found,
        "q": q,
        "to": chosen,
        "means": _means(found, chosen) if chosen else [],
        "links": listed_links(sorted_links(links, ""))[:_FOUND],
        "more": max(0, links.count() - _FOUND),
    }
    return render(request, "share/move.html", context)


def _show(request: SellerRequest, found: Spot, form: DescribeForm, status: int) -> HttpResponse:
    now = timezone.now()
    holding = design_of_spot(found)
    piece = holding.piece(address_of(found.link.business_id, found.path))
    proof, across, modules = proof_of(piece), round(piece.drawing.width), piece.drawing.modules
    context = {
        "link": found.link,
        "spot": found,
        "form": form,
        "ending": EndForm(),
        "line": line_of(found, now),
        "holding": holding,
        "proof": proof,
        "distance_cm": scan_distance_mm(holding.width_mm, across, modules, proof.pixels_needed) // 10,
        "least_mm": least_width_mm(across),
        "kinds": KINDS,
        "usual_px": USUAL_PX,
        **_button(found),
        "moves": found.moves.select_related("left", "joined", "by")[:5],
    }
    return render(request, "share/spot.html", context, status=status)


def _button(found: Spot) -> dict[str, object]:
    """The spot's button as pages of others show it, and whether a pasted one is out of date."""
    pasting = pasting_of(found, found.link)
    if pasting is None:
        return {}
    pasted = PastedButton.objects.filter(spot=found).first()
    return {
        "tried": address_tried(found, pasting.held.design),
        "shows": pasting.held.design.shows,
        "old": why_old(pasted, pasting) if pasted else "",
        "seen": seen_at(found)[:5],
        "arrival": arrival_of(found),
    }


def _described(request: SellerRequest, found: Spot, form: DescribeForm) -> bool:
    """Keep what was said of the spot; False with the fault at its field."""
    file, photo = form.cleaned_data["photo"], None
    if file:
        try:
            photo = keep_picture(file, file.size or 0)
        except PhotoRefused as refused:
            form.add_error("photo", f"“{clean_line(file.name or '')[:60]}” was not taken. {refused}")
            return False
    try:
        services.describe_spot(
            found, form.cleaned_data["name"], form.cleaned_data["note"], timezone.now(), by=request.by
        )
    except NameTaken as taken:
        form.add_error("name", f"Another spot of this link has that name. “{taken.free}” is free.")
        return False
    if photo or "remove_photo" in request.POST:
        services.keep_photo(found, photo, timezone.now(), by=request.by)
    return True


def _means(found: Spot, to: Link) -> list[str]:
    """What moving the spot there means, a sentence each."""
    now = timezone.now()
    line = line_of(found, now)
    brought = " and ".join(format_money(each) for each in line.money) or "no money"
    means = [
        f"Whoever scans or types {line.address} lands on “{to.name}” from now on. What is printed stays valid.",
        f"What it brought so far stays with “{found.link.name}”: in the last 30 days"
        f" {counted(line.ladder.opened, 'visit', 'visits')} and {brought}.",
    ]
    if found.is_first:
        means.append(f"“{found.link.name}” keeps its readable address, and gets another short one.")
    elif to.spots.filter(name=found.name).exists():
        means.append(f"“{to.name}” has a “{found.name}” already, so this one gets a number behind its name.")
    if found.ended_at:
        means.append("It is ended, and stays so until you open it again.")
    if to.archived_at or to.state != Link.State.LIVE:
        state = "archived" if to.archived_at else "a draft" if to.state == Link.State.DRAFT else to.state
        means.append(f"“{to.name}” is {state}: until that changes, its page says so and takes no payments.")
    return means
