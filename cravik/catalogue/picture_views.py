"""Adding and arranging an item's pictures, and showing them."""

from __future__ import annotations

import re

from django.contrib import messages
from django.http import Http404, HttpResponse, JsonResponse
from django.shortcuts import redirect
from django.utils import timezone
from django.views.decorators.http import require_POST

from cravik.catalogue import pictures
from cravik.catalogue.forms import MAX_ALT_LENGTH, PictureForm
from cravik.catalogue.models import Item, Picture
from cravik.catalogue.uploads import take_photos
from cravik.catalogue.views import item_or_404
from cravik.people.access import SellerRequest, seller_page
from cravik.people.roles import Permission


@require_POST
@seller_page(Permission.MAKE)
def add(request: SellerRequest, item_id: int) -> HttpResponse:
    """Take one photo or several. The page's script sends one at a time and is answered in JSON."""
    item = item_or_404(request, item_id)
    refusals = take_photos(item, request.FILES.getlist("photo"), timezone.now(), by=request.by)
    if request.headers.get("Accept") == "application/json":
        return JsonResponse({"refused": " ".join(refusals)}, status=400 if refusals else 201)
    for refusal in refusals:
        messages.error(request, refusal)
    return _back(item)


@require_POST
@seller_page(Permission.MAKE)
def change(request: SellerRequest, item_id: int, picture_id: int) -> HttpResponse:
    """Describe the picture, move it, or take it away, by the button that was pressed."""
    item = item_or_404(request, item_id)
    picture = _picture_or_404(item, picture_id)
    match request.POST.get("act"):
        case "remove":
            pictures.remove_picture(picture, timezone.now(), by=request.by)
            messages.success(request, "The picture is gone.")
        case "earlier" | "later" as where:
            order = [each.pk for each in item.pictures.all()]
            place = order.index(picture.pk)
            other = max(0, place - 1) if where == "earlier" else min(len(order) - 1, place + 1)
            order[place], order[other] = order[other], order[place]
            pictures.order_pictures(item, order, timezone.now(), by=request.by)
        case _:
            form = PictureForm(request.POST, prefix=f"picture-{picture.pk}")
            if form.is_valid():
                pictures.describe_picture(picture, **form.cleaned_data, now=timezone.now(), by=request.by)
                messages.success(request, "Saved.")
            else:
                messages.error(request, f"Not saved: the words have {MAX_ALT_LENGTH} characters at most.")
    return _back(item)


@require_POST
@seller_page(Permission.MAKE)
def order(request: SellerRequest, item_id: int) -> HttpResponse:
    """The order that pictures were dragged into: their ids, with commas."""
    item = item_or_404(request, item_id)
    sent = request.POST.get("order", "")
    if not re.fullmatch(r"\d{1,18}(,\d{1,18}){0,20}", sent, re.ASCII):
        return HttpResponse(status=400)
    pictures.order_pictures(item, [int(each) for each in sent.split(",")], timezone.now(), by=request.by)
    return HttpResponse(status=204)


def _picture_or_404(item: Item, picture_id: int) -> Picture:
    picture = item.pictures.filter(id=picture_id).first()
    if picture is None:
        raise Http404
    return picture


def _back(item: Item) -> HttpResponse:
    return redirect(f"{item.path}#pictures")
