"""Brand kits: their list, one of them with its sample, and the style sheets that they lead to."""

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
from cravik.setup import kits as services
from cravik.setup.default_views import CHANGED_ELSEWHERE
from cravik.setup.kit_forms import LABELS, KitSheet
from cravik.setup.looks import CORNERS, STYLE, TYPES, kept_picture, look_of, palette_of, style_sheet
from cravik.setup.models import Kit
from cravik.setup.own_goods import good_of
from cravik.setup.saving import ChangedElsewhere, NameTaken
from cravik.ui.fields import clean_line
from cravik.ui.framing import framed_by_ourselves
from cravik.ui.photo import PhotoRefused
from cravik.ui.picture_files import keep_picture

_PICTURES = ("logo", "icon")


@require_safe
@seller_page(Permission.SETUP)
def kits(request: SellerRequest) -> HttpResponse:
    found = Kit.objects.filter(business=request.business).order_by("-is_default", "name")
    rows = [(kit, palette_of(kit.document), look_of(kit.document), _failing(palette_of(kit.document))) for kit in found]
    return render(request, "setup/kits.html", {"rows": rows, "most": services.MAX_KITS})


@require_POST
@seller_page(Permission.SETUP)
def make(request: SellerRequest) -> HttpResponse:
    """A new kit, or a copy of the one whose id was sent."""
    like = None
    if request.POST.get("like"):
        like = _kit_or_404(request, request.POST["like"])
    try:
        kit = services.make_kit(request.business, timezone.now(), like, by=request.by)
    except services.TooManyKits:
        messages.error(request, f"You have {services.MAX_KITS} looks, the most there can be.")
        return redirect("setup:kits")
    return redirect("setup:kit", kit.pk)


@require_http_methods(["GET", "HEAD", "POST"])
@seller_page(Permission.SETUP)
def kit(request: SellerRequest, kit_id: int) -> HttpResponse:
    """One kit. A press on a nearer colour that passes changes what was typed, and saves nothing yet."""
    kit = _kit_or_404(request, kit_id)
    mend = request.POST.get("mend", "")
    if mend in COLOURS:
        return _show(request, kit, _mended(request, kit, mend), 200)
    sheet = KitSheet(request.POST if request.method == "POST" else None, kit.name, kit.document, kit.revision)
    if request.method != "POST":
        return _show(request, kit, sheet, 200)
    faults = _take_pictures(request, kit)
    if sheet.is_valid() and not faults:
        pictures = {name: kit.document[name] for name in _PICTURES if name in kit.document}
        document = {name: value for name, value in sheet.document.items() if name not in _PICTURES} | pictures
        cleaned = sheet.form.cleaned_data
        try:
            services.change_kit(kit, cleaned["name"], document, cleaned["revision"], timezone.now(), by=request.by)
        except NameTaken:
            sheet.form.add_error("name", "Another look has that name.")
        except ChangedElsewhere:
            messages.error(request, CHANGED_ELSEWHERE)
            return _show(request, kit, sheet, 409)
        else:
            messages.success(request, "Saved. Drafts use it at once.")
            return redirect("setup:kit", kit.pk)
    for fault in faults:
        messages.error(request, fault)
    return _show(request, kit, sheet, 400)


def _mended(request: SellerRequest, kit: Kit, name: str) -> KitSheet:
    """The sheet as it was typed, but for one colour, which is the nearest that passes."""
    typed = KitSheet(request.POST, kit.name, kit.document, kit.revision)
    palette = palette_of(typed.document_as_typed()).mended(name)
    data = request.POST.copy()
    data[name] = getattr(palette, name).hex
    return KitSheet(data, kit.name, kit.document, kit.revision)


def _take_pictures(request: SellerRequest, kit: Kit) -> list[str]:
    """Put the pictures that were sent, or are to go, into the kit's document; returns what was wrong with them."""
    faults = []
    for name in _PICTURES:
        file = request.FILES.get(name)
        if request.POST.get(f"remove_{name}"):
            kit.document.pop(name, None)
        elif file is not None:
            try:
                kit.document[name] = keep_picture(file, file.size or 0)  # type: ignore[arg-type]  # an upload reads like the file it holds
            except PhotoRefused as refused:
                called = clean_line(file.name or "")[:60] or "The file"
                faults.append(f"“{called}” was not taken as the {name}. {refused}")
    return faults


def _show(request: SellerRequest, kit: Kit, sheet: KitSheet, status: int) -> HttpResponse:
    document = sheet.document_as_typed() if sheet.form.is_bound else kit.document
    context = {
        "kit": kit,
        "sheet": sheet,
        "pictures": {name: kept_picture(kit.document, name) for name in _PICTURES},
        **_checks(palette_of(document)),
    }
    return render(request, "setup/kit.html", context, status=status)


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
def check(request: SellerRequest, kit_id: int) -> HttpResponse:
    """The pairs of the colours that are being typed, as a part of the page."""
    kit = _kit_or_404(request, kit_id)
    typed = KitSheet(request.POST, kit.name, kit.document, kit.revision).document_as_typed()
    return render(request, "setup/_pairs.html", _checks(palette_of(typed)))


@require_http_methods(["GET", "HEAD", "POST"])
@seller_page(Permission.SETUP)
@framed_by_ourselves
def sample(request: SellerRequest, kit_id: int) -> HttpResponse:
    """A page of a buyer in the look of the kit: as it is kept, or as it is being typed."""
    kit = _kit_or_404(request, kit_id)
    document = kit.document
    if request.method == "POST":
        document = KitSheet(request.POST, kit.name, kit.document, kit.revision).document_as_typed()
    return render(
        request, "setup/kit_sample.html", {"look": look_of(document), "kit": kit, "good": good_of(request.business)}
    )


@require_POST
@seller_page(Permission.SETUP)
def act(request: SellerRequest, kit_id: int, name: str) -> HttpResponse:
    """Make the kit the default, or remove it."""
    kit = _kit_or_404(request, kit_id)
    if name == "default":
        services.make_default(kit, timezone.now(), by=request.by)
        messages.success(request, f"{kit.name} is the default now. Drafts look like it at once.")
    else:
        services.remove_kit(kit, timezone.now(), by=request.by)
        messages.success(request, f"{kit.name} is gone.")
    return redirect("setup:kits")


@require_safe
def style(request: HttpRequest, edition: int, colours: str, type_: str, corners: str) -> HttpResponse:
    """The style sheet of a look, which its address says whole."""
    if not STYLE.fullmatch(colours) or type_ not in TYPES or corners not in CORNERS:
        raise Http404
    response = HttpResponse(style_sheet(colours, type_, corners), content_type="text/css; charset=utf-8")
    response["Cache-Control"] = "public, max-age=31536000, immutable"
    return response


def _kit_or_404(request: SellerRequest, kit_id: int | str) -> Kit:
    wanted = str(kit_id)
    number = int(wanted) if wanted.isascii() and wanted.isdigit() and len(wanted) < 19 else 0
    return get_object_or_404(Kit.objects.select_related("business"), business=request.business, id=number)
