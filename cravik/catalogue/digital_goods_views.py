"""The page of an item's files and access codes."""

from __future__ import annotations

from django.contrib import messages
from django.db.models import Count
from django.http import Http404, HttpResponse
from django.shortcuts import redirect, render
from django.utils import timezone
from django.views.decorators.http import require_http_methods, require_POST

from cravik.catalogue import digital_goods
from cravik.catalogue.models import AccessCode, Item
from cravik.catalogue.uploads import take_files
from cravik.catalogue.views import item_or_404
from cravik.people.access import SellerRequest, seller_page
from cravik.people.roles import Permission
from cravik.ui.fields import parse_id


@require_http_methods(["GET", "HEAD", "POST"])
@seller_page(Permission.MAKE)
def goods(request: SellerRequest, item_id: int) -> HttpResponse:
    """What buyers of the item are handed over. A post brings files, or pasted codes."""
    item = item_or_404(request, item_id)
    refusals = []
    pasted = request.POST.get("codes", "")
    if request.method == "POST":
        if request.POST.get("act") == "codes":
            refusals = _take_codes(request, item, pasted)
        else:
            refusals = take_files(item, request.FILES.getlist("file"), timezone.now(), by=request.by)
        if not refusals:
            return redirect("catalogue:goods", item.pk)
    counts = dict(item.access_codes.order_by().values_list("state").annotate(Count("id")))
    context = {
        "item": item,
        "files": item.files.filter(archived=False),
        "most_files": digital_goods.MAX_FILES,
        "refusals": refusals,
        "pasted": pasted,
        "left": counts.get(AccessCode.State.FREE, 0),
        "held": counts.get(AccessCode.State.HELD, 0),
        "given": counts.get(AccessCode.State.GIVEN, 0),
        "next_codes": item.access_codes.filter(state=AccessCode.State.FREE).order_by("id")[:5],
    }
    return render(request, "catalogue/goods.html", context, status=400 if refusals else 200)


def _take_codes(request: SellerRequest, item: Item, pasted: str) -> list[str]:
    try:
        taken = digital_goods.add_codes(item, pasted, timezone.now(), by=request.by)
    except digital_goods.CodesRefused as refused:
        return [str(refused)]
    words = f"{taken.new:,} new code{'' if taken.new == 1 else 's'} kept."
    if taken.repeated:
        words += f" {taken.repeated:,} stood there twice or were here already, and were passed over."
    messages.success(request, words)
    return []


@require_POST
@seller_page(Permission.MAKE)
def act(request: SellerRequest, item_id: int) -> HttpResponse:
    """Put a file away, or take back the codes that nobody has."""
    item = item_or_404(request, item_id)
    if "file" in request.POST:
        file = item.files.filter(id=parse_id(request.POST["file"]), archived=False).first()
        if file is None:
            raise Http404
        digital_goods.archive_file(file, timezone.now(), by=request.by)
        messages.success(
            request, f"New buyers do not get “{file.title}” any more. Anyone who bought it before still does."
        )
    else:
        count = digital_goods.remove_free_codes(item, timezone.now(), by=request.by)
        messages.success(request, f"{count:,} code{'' if count == 1 else 's'} taken back.")
    return redirect("catalogue:goods", item.pk)
