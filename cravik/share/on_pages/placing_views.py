"""Putting a spot on a page: what to paste there, how, and whether it arrived."""

from __future__ import annotations

from django.contrib import messages
from django.http import Http404, HttpResponse
from django.shortcuts import redirect, render
from django.urls import reverse
from django.utils import timezone
from django.views.decorators.http import require_http_methods, require_POST, require_safe

from cravik.core.link.sites import site_in
from cravik.links.models import Link, Spot
from cravik.links.places.sites import TooManySites, allow_site, may_open
from cravik.people.access import SellerRequest, seller_page
from cravik.people.roles import Permission
from cravik.share.access import spot_or_404
from cravik.share.models import PastedButton
from cravik.share.on_pages.arrival import arrival_of, place
from cravik.share.on_pages.blocks import policy_of
from cravik.share.on_pages.design_views import address_tried
from cravik.share.on_pages.forms import ArrivalForm
from cravik.share.on_pages.outside import sample_pages
from cravik.share.on_pages.pasting import pasting_of
from cravik.share.on_pages.plain import KINDS, is_drawable, plain_button
from cravik.share.on_pages.sightings import seen_at
from cravik.share.on_pages.site_views import FIRST
from cravik.share.on_pages.ways import WAYS, Way
from cravik.share.pasted import forget_pasted, note_pasted, why_old
from cravik.ui.framing import let_frame
from cravik.ui.policy import allow

#: What a page can hear, by the end of its name.
EVENTS = {
    "opened": "the page opened over yours, or its form was first seen",
    "paid": "something was paid; detail.order is the order's number",
    "closed": "it was closed; detail.order is there if something was paid",
}


@require_http_methods(["GET", "HEAD", "POST"])
@seller_page(Permission.SEE, to_send=Permission.MAKE)
def placing(request: SellerRequest, link_id: int, spot_id: int) -> HttpResponse:
    """What to paste where. A post says the page that it was put on, whose site may then open it."""
    spot = spot_or_404(request, link_id, spot_id)
    way = WAYS.get(request.GET.get("way", ""), WAYS["builder"])
    form = ArrivalForm(request.POST or None)
    if request.method == "POST" and form.is_valid():
        if _placed(request, spot, form.cleaned_data["page"]):
            return redirect(f"{_path(spot)}?way={way.key}#arrived")
        form.add_error("page", "This link already has as many sites as it can; remove one first.")
    return _show(request, spot, way, form)


@require_POST
@seller_page(Permission.MAKE)
def pasted(request: SellerRequest, link_id: int, spot_id: int) -> HttpResponse:
    """The seller says that the plain button was pasted as it is now, or, with ``gone``, that it is no longer there."""
    spot = spot_or_404(request, link_id, spot_id)
    pasting = pasting_of(spot, spot.link)
    button = plain_button(pasting, request.POST.get("kind", "")) if pasting else None
    if "gone" in request.POST:
        forget_pasted(spot)
        messages.success(request, "Noted. You won't be told about it again.")
    elif button is not None:
        note_pasted(spot, button, timezone.now())
        messages.success(request, "You'll be told here and under Hand out when it goes out of date.")
    return redirect(f"{_path(spot)}?way=newsletter&kind={button.kind if button else 'text'}")


@require_safe
@seller_page(Permission.SEE)
def plain_preview(request: SellerRequest, link_id: int, spot_id: int, kind: str) -> HttpResponse:
    """The plain button alone on white, as a letter would show it.

    Its style attributes are allowed by their hashes: this page shows exactly what is pasted.
    """
    spot = spot_or_404(request, link_id, spot_id)
    pasting = pasting_of(spot, spot.link)
    if pasting is None or kind not in KINDS:
        raise Http404
    button = plain_button(pasting, kind)
    response = render(request, "share/on_pages/plain_preview.html", {"button": button})
    allow(response, {"style-src": ["'self'", "'unsafe-hashes'", *button.style_hashes]})
    let_frame(response, ())
    return response


def _path(spot: Spot) -> str:
    return reverse("share:placing", args=[spot.link_id, spot.pk])


def _placed(request: SellerRequest, spot: Spot, address: str) -> bool:
    """Keep the page, and let the link open on its site. False where no more sites can be named."""
    now, host = timezone.now(), site_in(address)
    if not may_open(f"https://{host}", spot.link.business_id, spot.link_id, "https"):
        try:
            was_trying = allow_site(request.business, spot.link, host, now, subdomains=False, by=request.by)
        except TooManySites:
            return False
        messages.success(request, f"“{spot.link.name}” may open on {host} from now on.{FIRST if was_trying else ''}")
    place(spot, address, now)
    return True


def _show(request: SellerRequest, spot: Spot, way: Way, form: ArrivalForm) -> HttpResponse:
    link: Link = spot.link
    pasting = pasting_of(spot, link)
    if pasting is None:
        raise Http404
    held, label = pasting.held, pasting.label
    kinds = {"text": True, "drawn": is_drawable(label), "own": bool(held.picture)}
    kind = request.GET.get("kind", "")
    kind = kind if kinds.get(kind) else "text"
    note = PastedButton.objects.filter(spot=spot).first()
    context = {
        "link": link,
        "spot": spot,
        "ways": WAYS.values(),
        "way": way,
        "pasting": way.block(pasting, kind),
        "kinds": [(name, words) for name, words in KINDS.items() if kinds[name]],
        "is_drawable": kinds["drawn"],
        "label": label,
        "kind": kind,
        "own_picture": held.picture,
        "pasted": note,
        "old": why_old(note, pasting) if note else "",
        "form": form,
        "arrival": arrival_of(spot),
        "seen": seen_at(spot),
        "tried": address_tried(spot, held.design),
        "shows": held.design.shows,
        "policy": policy_of(pasting.base).items(),
        "events": EVENTS.items(),
        "samples": sample_pages(spot.code, way.key),
    }
    return render(request, "share/on_pages/placing.html", context, status=400 if form.errors else 200)
