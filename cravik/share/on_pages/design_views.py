"""Designing a spot's button on screen: it is shown as it will be, by the very script that pages of others run."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from typing import Any

from django.contrib import messages
from django.core import signing
from django.http import Http404, HttpResponse, JsonResponse
from django.shortcuts import redirect, render
from django.urls import reverse
from django.utils import timezone
from django.views.decorators.http import require_http_methods, require_POST, require_safe

from cravik.checkout.opening import Opened
from cravik.checkout.rehearsing import opened_draft
from cravik.core.graphics.button import ButtonDesign, ButtonFace
from cravik.core.graphics.contrast import TEXT
from cravik.links.models import Spot
from cravik.people.access import SellerRequest, seller_page
from cravik.people.roles import Permission
from cravik.setup.default_views import CHANGED_ELSEWHERE
from cravik.setup.saving import ChangedElsewhere
from cravik.share.access import spot_or_404
from cravik.share.on_pages.answers import Asked, answer_of
from cravik.share.on_pages.designs import HeldButton, button_held, face_in, keep_button
from cravik.share.on_pages.forms import ButtonForm
from cravik.share.sent_pictures import note_of, picture_sent
from cravik.ui.framing import framed_by_ourselves, on_page

_SALT = "cravik.share.on_pages.design"


@dataclass(frozen=True)
class Ground:
    """What a button is tried on: a name of the style sheet, what it is called, and how text runs there."""

    name: str
    words: str
    direction: str = "ltr"


GROUNDS = (
    Ground("light", "On a light page"),
    Ground("dark", "On a dark page"),
    Ground("busy", "On a busy page"),
    Ground("phone", "On a phone"),
    Ground("rtl", "In text that runs from right to left", "rtl"),
)
#: A whole form is long: it is tried on these.
_OF_FORM = ("light", "phone")


@require_http_methods(["GET", "HEAD", "POST"])
@seller_page(Permission.MAKE)
def design(request: SellerRequest, link_id: int, spot_id: int) -> HttpResponse:
    """How the button of the spot looks. A post keeps it; ``mend`` takes the colour of words that can be read."""
    spot = spot_or_404(request, link_id, spot_id)
    held = button_held(spot.pk)
    if request.method != "POST":
        return _show(request, spot, ButtonForm(initial=_initial(held)), held, held.picture, 200)
    if "mend" in request.POST:
        return _mended(request, spot, held)
    form = ButtonForm(request.POST, request.FILES)
    picture = picture_sent(request, form, held.picture)
    face = _face(spot, form.design) if form.is_valid() else None
    if face and not face.is_legible:
        form.add_error("ink", "These words can't be read on that colour.")
    if not form.is_valid():
        return _show(request, spot, form, held, picture, 400)
    try:
        kept = None if form.cleaned_data["remove_picture"] else picture
        keep_button(spot, form.design, kept, form.cleaned_data["revision"], timezone.now(), by=request.by)
    except ChangedElsewhere:
        messages.error(request, CHANGED_ELSEWHERE)
        return _show(request, spot, form, held, picture, 409)
    messages.success(request, "Saved. Wherever its script is pasted, it looks like this within a minute.")
    return redirect("share:button_design", link_id, spot_id)


@require_POST
@seller_page(Permission.MAKE)
def shown(request: SellerRequest, link_id: int, spot_id: int) -> HttpResponse:
    """What is being typed, as a part of the page: the button on each ground, and whether its words can be read."""
    spot = spot_or_404(request, link_id, spot_id)
    form = ButtonForm(request.POST)
    form.is_valid()
    return render(request, "share/on_pages/_shown.html", _tried(spot, form.design))


@require_safe
@framed_by_ourselves
@seller_page(Permission.SEE)
def tried(request: SellerRequest, link_id: int, spot_id: int, design: str) -> HttpResponse:
    """The design on each ground, drawn by the script."""
    spot_or_404(request, link_id, spot_id)
    wanted = _design_in(design)
    grounds = [each for each in GROUNDS if wanted.shows != "form" or each.name in _OF_FORM]
    alone = request.GET.get("on")
    shown_on = [each for each in grounds if not alone or each.name == alone]
    context = {"at": request.path, "grounds": shown_on, "alone": alone}
    return render(request, "share/on_pages/tried.html", context)


@require_safe
@seller_page(Permission.SEE)
def tried_answer(request: SellerRequest, link_id: int, spot_id: int, design: str) -> HttpResponse:
    """What the script is told of the design: the draft is behind it, and what opens is its rehearsal."""
    spot = spot_or_404(request, link_id, spot_id)
    opened = opened_draft(spot.link)
    if opened.version is None:
        raise Http404
    at = Asked(request.build_absolute_uri("/")[:-1], spot.code)
    return JsonResponse(_rehearsed_answer(opened, at, _design_in(design), timezone.now()))


def _rehearsed_answer(opened: Opened, at: Asked, wanted: ButtonDesign, now: datetime) -> dict[str, Any]:
    answer = answer_of(opened, wanted, at, now, is_allowed=True)
    rehearsal = f"{at.base}{reverse('checkout:rehearsal', args=[opened.row.link_id])}"
    return answer | {"address": rehearsal} | ({"frame": on_page(rehearsal)} if "frame" in answer else {})


def address_tried(spot: Spot, wanted: ButtonDesign) -> str:
    """Where the design is shown on every ground."""
    signed = signing.dumps(wanted.document, salt=_SALT, compress=True)
    return reverse("share:button_tried", args=[spot.link_id, spot.pk, signed])


def _design_in(signed: str) -> ButtonDesign:
    try:
        return ButtonDesign.of(signing.loads(signed, salt=_SALT))
    except signing.BadSignature as trouble:
        raise Http404 from trouble


def _initial(held: HeldButton) -> dict[str, Any]:
    return held.design.document | {"revision": held.revision}


def _face(spot: Spot, wanted: ButtonDesign) -> ButtonFace | None:
    """None while the draft is not finished."""
    version = opened_draft(spot.link).version
    return face_in(wanted, version.look) if version else None


def _mended(request: SellerRequest, spot: Spot, held: HeldButton) -> HttpResponse:
    """The form as it was typed, but for the colour of words, which is the nearest that can be read."""
    typed = ButtonForm(request.POST, request.FILES)
    picture = picture_sent(request, typed, held.picture)
    data = request.POST.copy()
    face = _face(spot, typed.design)
    if face and face.mend:
        data["ink"] = face.mend.hex
    form = ButtonForm(data)
    form.is_valid()
    return _show(request, spot, form, held, picture, 200)


def _tried(spot: Spot, wanted: ButtonDesign) -> dict[str, Any]:
    return {"face": _face(spot, wanted), "least": TEXT, "tried": address_tried(spot, wanted)}


def _show(
    request: SellerRequest, spot: Spot, form: ButtonForm, held: HeldButton, picture: dict[str, Any] | None, status: int
) -> HttpResponse:
    wanted = form.design if form.is_bound else held.design
    context = {
        "link": spot.link,
        "spot": spot,
        "form": form,
        "own_picture": picture,
        "kept_picture": note_of(request, picture),
        **_tried(spot, wanted),
    }
    return render(request, "share/on_pages/design.html", context, status=status)
