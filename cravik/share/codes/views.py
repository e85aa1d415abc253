"""Designing codes, for a look and for one spot; their files."""

from __future__ import annotations

import base64
import hashlib
from dataclasses import dataclass
from typing import Any

from django.contrib import messages
from django.http import HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.urls import reverse
from django.utils import timezone
from django.views.decorators.http import require_http_methods, require_POST, require_safe

from cravik.core.graphics.qr.design import CodeDesign
from cravik.core.graphics.qr.legibility import ADVICE, faults_in, scan_distance_mm, size_fault
from cravik.core.text.faults import fault_words
from cravik.links.models import Spot
from cravik.people.access import SellerRequest, seller_page
from cravik.people.roles import Permission
from cravik.setup.default_views import CHANGED_ELSEWHERE
from cravik.setup.hosts import address_of
from cravik.setup.models import Look
from cravik.setup.saving import ChangedElsewhere
from cravik.share.access import spot_or_404
from cravik.share.codes import designs
from cravik.share.codes.designs import DesignInUse, design_of_look, design_of_spot, look_in, pictures_of, piece_of
from cravik.share.codes.files import KINDS, MAX_MM, MAX_PX, MIN_MM, MIN_PX, USUAL_PX, svg
from cravik.share.codes.forms import DesignForm
from cravik.share.codes.symbol import Piece
from cravik.share.codes.trials import proof_of
from cravik.share.sent_pictures import note_of, picture_sent
from cravik.ui.fields import parse_id


@dataclass(frozen=True)
class _Place:
    """What is designed: a look's codes or a spot's, where that is done, and an address to show it on."""

    owner: Look | Spot
    look: Look | None
    holding: DesignInUse
    address: str
    here: str
    shown: str
    back: str

    @property
    def spot(self) -> Spot | None:
        return self.owner if isinstance(self.owner, Spot) else None

    @property
    def is_own(self) -> bool:
        """Whether the design that holds is kept here, and not the look's or as Cravik comes."""
        return self.holding.whose == ("spot" if self.spot else "look")

    @property
    def revision(self) -> int:
        return self.holding.revision if self.is_own else 0


@require_http_methods(["GET", "HEAD", "POST"])
@seller_page(Permission.SETUP)
def look_code(request: SellerRequest, look_id: int) -> HttpResponse:
    """How the codes of a look are drawn."""
    return _bench(request, _of_look(request, look_id))


@require_http_methods(["GET", "HEAD", "POST"])
@seller_page(Permission.MAKE)
def spot_code(request: SellerRequest, link_id: int, spot_id: int) -> HttpResponse:
    """How the code of one spot is drawn."""
    return _bench(request, _of_spot(request, link_id, spot_id))


@require_POST
@seller_page(Permission.SETUP)
def look_code_shown(request: SellerRequest, look_id: int) -> HttpResponse:
    """What is being typed, drawn and tried, as a part of the page."""
    return _shown(request, _of_look(request, look_id))


@require_POST
@seller_page(Permission.MAKE)
def spot_code_shown(request: SellerRequest, link_id: int, spot_id: int) -> HttpResponse:
    """The same for one spot."""
    return _shown(request, _of_spot(request, link_id, spot_id))


@require_safe
@seller_page(Permission.SEE)
def code_file(request: SellerRequest, link_id: int, spot_id: int, kind: str) -> HttpResponse:
    """The code as a file, ``mm`` millimetres or ``px`` pixels wide; with ``?download`` it is saved, not shown."""
    spot = spot_or_404(request, link_id, spot_id)
    holding, form = design_of_spot(spot), KINDS[kind]
    piece = holding.piece(address_of(spot.link.business_id, spot.path))
    least, most, usual = (MIN_MM, MAX_MM, holding.width_mm) if form.unit == "mm" else (MIN_PX, MAX_PX, USUAL_PX)
    width = parse_id(request.GET[form.unit].strip()) if form.unit in request.GET else usual
    fault = "" if least <= width <= most else f"The width is a whole number from {least} to {most:,} {form.unit}."
    if not fault and form.unit == "mm" and (small := size_fault(width, round(piece.drawing.width))):
        fault = fault_words(small)
    if fault:
        messages.error(request, fault)
        return redirect(f"{reverse('share:spot', args=[link_id, spot_id])}#files")
    mark = f'"{hashlib.sha256(repr((piece, kind, width)).encode()).hexdigest()[:32]}"'
    if request.headers.get("If-None-Match") == mark:  # drawn once, and kept by the browser for as long as it is so
        return HttpResponse(status=304, headers={"ETag": mark})
    response = HttpResponse(form.write(piece, width), content_type=form.media_type, headers={"ETag": mark})
    if "download" in request.GET:
        response["Content-Disposition"] = f'attachment; filename="{spot.link.slug}-{spot.code.lower()}.{kind}"'
    return response


def _of_look(request: SellerRequest, look_id: int) -> _Place:
    look = get_object_or_404(Look, business=request.business, id=look_id)
    here, shown = (reverse(f"share_setup:{name}", args=[look.pk]) for name in ("look_code", "look_code_shown"))
    sample = address_of(look.business_id, reverse("spot:page", args=[designs.SAMPLE_CODE]))
    return _Place(look, look, design_of_look(look), sample, here, shown, reverse("setup:look", args=[look.pk]))


def _of_spot(request: SellerRequest, link_id: int, spot_id: int) -> _Place:
    spot = spot_or_404(request, link_id, spot_id)
    here, shown = (reverse(f"share:{name}", args=[link_id, spot_id]) for name in ("spot_code", "spot_code_shown"))
    back = reverse("share:spot", args=[link_id, spot_id])
    return _Place(
        spot, look_in(spot.link), design_of_spot(spot), address_of(spot.link.business_id, spot.path), here, shown, back
    )


def _bench(request: SellerRequest, place: _Place) -> HttpResponse:
    holding = place.holding
    if request.method != "POST":
        form = DesignForm(initial=DesignForm.initial_of(holding.design, holding.width_mm, place.revision))
        return _show(request, place, form, holding.design, designs.kept_picture_of(place.owner), 200)
    if request.POST.get("act") == "drop":
        designs.drop_design(place.owner, timezone.now(), by=request.by)
        messages.success(request, "It looks as it did before you changed it.")
        return redirect(place.back)
    form = DesignForm(request.POST, request.FILES)
    own = picture_sent(request, form, designs.kept_picture_of(place.owner))
    if form.design.middle in _NO_PICTURE and form.design.middle not in pictures_of(place.look, own):
        form.add_error("middle", _NO_PICTURE[form.design.middle])
    status = _keep(request, place, form, own)
    return redirect(place.back) if status == 200 else _show(request, place, form, form.design, own, status)


def _keep(request: SellerRequest, place: _Place, form: DesignForm, own: dict[str, Any] | None) -> int:
    """Keep the design, if it can be used, and say what came of it: 200, 400, or 409 where it was changed elsewhere."""
    if not form.is_valid():
        return 400
    seen, width = form.cleaned_data["revision"], form.cleaned_data["width_mm"]
    piece = piece_of(place.address, form.design, pictures_of(place.look, own))
    if _proven(piece, width)["refused"]:
        messages.error(request, "Not saved: phones could not read this QR code everywhere. The reasons are beside it.")
        return 400
    try:
        designs.keep_design(place.owner, form.design, own, width, seen, timezone.now(), by=request.by)
    except ChangedElsewhere:
        messages.error(request, CHANGED_ELSEWHERE)
        return 409
    messages.success(request, "Saved. What is printed already keeps working.")
    return 200


_NO_PICTURE = {
    "icon": "The look has no icon. Add one to it, or choose another middle.",
    "logo": "The look has no logo. Add one to it, or choose another middle.",
    "picture": "Choose the picture's file.",
}


def _shown(request: SellerRequest, place: _Place) -> HttpResponse:
    form = DesignForm(request.POST, request.FILES)
    own = picture_sent(request, form, designs.kept_picture_of(place.owner))
    piece = piece_of(place.address, form.design, pictures_of(place.look, own))
    width = form.cleaned_data.get("width_mm") or place.holding.width_mm
    faults = list(form.errors.get("picture", ()))
    context = _proven(piece, width) | {"kept_picture": note_of(request, own), "picture_faults": faults}
    return render(request, "share/codes/_shown.html", context)


def _show(
    request: SellerRequest, place: _Place, form: DesignForm, design: CodeDesign, own: dict[str, Any] | None, status: int
) -> HttpResponse:
    width = getattr(form, "cleaned_data", {}).get("width_mm") or place.holding.width_mm
    context = {
        "form": form,
        "place": place,
        "spot": place.spot,
        "look": place.look,
        "is_own": place.is_own,
        "kept_picture": note_of(request, own),
        **_proven(piece_of(place.address, design, pictures_of(place.look, own)), width),
    }
    return render(request, "share/codes/bench.html", context, status=status)


def _proven(piece: Piece, width_mm: int) -> dict[str, Any]:
    """The code as it looks, whether it scans and from how far, and what to change."""
    drawing = piece.drawing
    faults = faults_in(piece.design, drawing.covered, width_mm)
    small = size_fault(width_mm, round(drawing.width))
    proof = proof_of(piece)
    failed = [(kind, count, of, ADVICE[kind]) for kind, count, of in proof.failed_kinds]
    return {
        "picture": f"data:image/svg+xml;base64,{base64.b64encode(svg(piece)).decode()}",
        "alt": f"QR code that leads to {piece.address}",
        "faults": [fault_words(fault) for fault in [*faults, *([small] if small else [])]],
        "proof": proof,
        "failed": failed,
        "refused": bool(faults) or bool(small) or not proof.is_enough,
        "distance_cm": scan_distance_mm(width_mm, round(drawing.width), drawing.modules, proof.pixels_needed) // 10,
        "width_mm": width_mm,
    }
