"""Brand looks: their list, one of them with its sample, and the style sheets that they lead to."""

from __future__ import annotations

from typing import Any

from django.contrib import messages
from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.utils import timezone
from django.views.decorators.http import require_http_methods, require_POST, require_safe

from cravik.core.graphics.palette import COLOURS, Palette
from cravik.people.access import SellerRequest, seller_page
from cravik.people.roles import Permission
from cravik.setup import look_services as services
from cravik.setup.default_views import CHANGED_ELSEWHERE
from cravik.setup.look_forms import LABELS, LookDesignSheet
from cravik.setup.looks import CORNERS, STYLE, TYPES, kept_picture, look_of, palette_of, style_sheet
from cravik.setup.models import Look
from cravik.setup.own_goods import good_of
from cravik.setup.saving import ChangedElsewhere, NameTaken
from cravik.ui.fields import clean_line
from cravik.ui.framing import framed_by_ourselves
from cravik.ui.photo import PhotoRefused
from cravik.ui.picture_files import keep_picture

_PICTURES = ("logo", "icon")


@require_safe
@seller_page(Permission.SETUP)
def looks(request: SellerRequest) -> HttpResponse:
    found = Look.objects.filter(business=request.business).order_by("-is_default", "name")
    palettes = [palette_of(look.document) for look in found]
    rows = [(look, palette, _failing(palette)) for look, palette in zip(found, palettes, strict=True)]
    return render(request, "setup/looks.html", {"rows": rows, "most": services.MAX_LOOKS})


@require_POST
@seller_page(Permission.SETUP)
def make(request: SellerRequest) -> HttpResponse:
    """A new look, or a copy of the one whose id was sent."""
    like = None
    if request.POST.get("like"):
        like = _look_or_404(request, request.POST["like"])
    try:
        look = services.make_look(request.business, timezone.now(), like, by=request.by)
    except services.TooManyLooks:
        messages.error(request, f"You have {services.MAX_LOOKS} looks, the most there can be.")
        return redirect("setup:looks")
    return redirect("setup:look", look.pk)


@require_http_methods(["GET", "HEAD", "POST"])
@seller_page(Permission.SETUP)
def look(request: SellerRequest, look_id: int) -> HttpResponse:
    """One look. A press on a nearer colour that passes changes what was typed, and saves nothing yet."""
    look = _look_or_404(request, look_id)
    mend = request.POST.get("mend", "")
    if mend in COLOURS:
        return _show(request, look, _mended(request, look, mend), 200)
    sheet = LookDesignSheet(request.POST if request.method == "POST" else None, look.name, look.document, look.revision)
    if request.method != "POST":
        return _show(request, look, sheet, 200)
    faults = _take_pictures(request, look)
    if sheet.is_valid() and not faults:
        pictures = {name: look.document[name] for name in _PICTURES if name in look.document}
        document = {name: value for name, value in sheet.document.items() if name not in _PICTURES} | pictures
        cleaned = sheet.form.cleaned_data
        try:
            services.change_look(look, cleaned["name"], document, cleaned["revision"], timezone.now(), by=request.by)
        except NameTaken:
            sheet.form.add_error("name", "Another look has that name.")
        except ChangedElsewhere:
            messages.error(request, CHANGED_ELSEWHERE)
            return _show(request, look, sheet, 409)
        else:
            messages.success(request, "Saved. Drafts use it at once.")
            return redirect("setup:look", look.pk)
    for fault in faults:
        messages.error(request, fault)
    return _show(request, look, sheet, 400)


def _mended(request: SellerRequest, look: Look, name: str) -> LookDesignSheet:
    """The sheet as it was typed, but for one colour, which is the nearest that passes."""
    typed = LookDesignSheet(request.POST, look.name, look.document, look.revision)
    palette = palette_of(typed.document_as_typed()).mended(name)
    data = request.POST.copy()
    data[name] = getattr(palette, name).hex
    return LookDesignSheet(data, look.name, look.document, look.revision)


def _take_pictures(request: SellerRequest, look: Look) -> list[str]:
    """Put the pictures that were sent, or are to go, into the look's document; returns what was wrong with them."""
    faults = []
    for name in _PICTURES:
        file = request.FILES.get(name)
        if request.POST.get(f"remove_{name}"):
            look.document.pop(name, None)
        elif file is not None:
            try:
                look.document[name] = keep_picture(file, file.size or 0)  # type: ignore[arg-type]  # an upload reads like the file it holds
            except PhotoRefused as refused:
                called = clean_line(file.name or "")[:60] or "The file"
                faults.append(f"“{called}” was not taken as the {name}. {refused}")
    return faults


def _show(request: SellerRequest, look: Look, sheet: LookDesignSheet, status: int) -> HttpResponse:
    document = sheet.document_as_typed() if sheet.form.is_bound else look.document
    context = {
        "look": look,
        "sheet": sheet,
        "pictures": {name: kept_picture(look.document, name) for name in _PICTURES},
        **_checks(palette_of(document)),
    }
    return render(request, "setup/look.html", context, status=status)


def _checks(palette: Palette) -> dict[str, Any]:
    pairs: list[dict[str, Any]] = []
    for pair in palette.pairs():
        is_offered = any(other["pair"].name == pair.name and other["mend"] for other in pairs)
        pairs.append(
            {
                "pair": pair,
                "name": LABELS[pair.name],
                "on": LABELS[pair.on],
                "colour": getattr(palette, pair.name).hex,
                "ground": getattr(palette, pair.on).hex,
                "mend": pair.mend.hex if pair.mend and not pair.passes and not is_offered else "",
                "none": pair.mend is None,
            }
        )
    return {"pairs": pairs, "failing": _failing(palette)}


def _failing(palette: Palette) -> int:
    return sum(not pair.passes for pair in palette.pairs())


@require_POST
@seller_page(Permission.SETUP)
def check(request: SellerRequest, look_id: int) -> HttpResponse:
    """The pairs of the colours that are being typed, as a part of the page."""
    look = _look_or_404(request, look_id)
    typed = LookDesignSheet(request.POST, look.name, look.document, look.revision).document_as_typed()
    return render(request, "setup/_pairs.html", _checks(palette_of(typed)))


@require_http_methods(["GET", "HEAD", "POST"])
@seller_page(Permission.SETUP)
@framed_by_ourselves
def sample(request: SellerRequest, look_id: int) -> HttpResponse:
    """A page of a buyer in the look: as it is kept, or as it is being typed."""
    look = _look_or_404(request, look_id)
    document = look.document
    if request.method == "POST":
        document = LookDesignSheet(request.POST, look.name, look.document, look.revision).document_as_typed()
    return render(
        request,
        "setup/look_sample.html",
        {"look": look_of(document), "name": look.name, "good": good_of(request.business)},
    )


@require_POST
@seller_page(Permission.SETUP)
def act(request: SellerRequest, look_id: int, name: str) -> HttpResponse:
    """Make the look the default, or remove it."""
    look = _look_or_404(request, look_id)
    if name == "default":
        services.make_default(look, timezone.now(), by=request.by)
        messages.success(request, f"{look.name} is the default now. Drafts look like it at once.")
    else:
        services.remove_look(look, timezone.now(), by=request.by)
        messages.success(request, f"{look.name} is gone.")
    return redirect("setup:looks")


@require_safe
def style(request: HttpRequest, version: int, colours: str, type_: str, corners: str) -> HttpResponse:
    """The style sheet of a look, which its address says whole."""
    if not STYLE.fullmatch(colours) or type_ not in TYPES or corners not in CORNERS:
        raise Http404
    response = HttpResponse(style_sheet(colours, type_, corners), content_type="text/css; charset=utf-8")
    response["Cache-Control"] = "public, max-age=31536000, immutable"
    return response


def _look_or_404(request: SellerRequest, look_id: int | str) -> Look:
    wanted = str(look_id)
    number = int(wanted) if wanted.isascii() and wanted.isdigit() and len(wanted) < 19 else 0
    return get_object_or_404(Look.objects.select_related("business"), business=request.business, id=number)
