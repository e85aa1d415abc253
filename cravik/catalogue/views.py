"""The list of items, and an item's own page."""

from __future__ import annotations

from django.contrib import messages
from django.core.paginator import Paginator
from django.http import Http404, HttpResponse
from django.shortcuts import redirect, render
from django.utils import timezone
from django.views.decorators.http import require_http_methods, require_POST, require_safe

from cravik.catalogue import services
from cravik.catalogue.forms import ItemSheet, PictureForm
from cravik.catalogue.models import Item
from cravik.catalogue.pictures import MAX_PICTURES
from cravik.catalogue.queries import item_of, items_of
from cravik.people.access import SellerRequest, seller_page
from cravik.people.roles import Permission
from cravik.setup.saving import ChangedElsewhere

_PAGE = 50


def item_or_404(request: SellerRequest, item_id: int) -> Item:
    """The item, if it is of the business that the seller acts for."""
    item = item_of(request.business, item_id)
    if item is None:
        raise Http404
    return item


@require_safe
@seller_page(Permission.SEE)
def items(request: SellerRequest) -> HttpResponse:
    search, kind = request.GET.get("q", "")[:200], request.GET.get("kind", "")
    archived = request.GET.get("where") == "archived"
    found = items_of(request.business, search, kind, archived=archived)
    context = {
        "page": Paginator(found, _PAGE).get_page(request.GET.get("page")),
        "search": search,
        "kind": kind,
        "kinds": Item.Kind.choices,
        "archived": archived,
        "archived_count": Item.objects.of(request.business).filter(archived=True).count(),
    }
    return render(request, "catalogue/items.html", context)


@require_http_methods(["GET", "HEAD", "POST"])
@seller_page(Permission.MAKE)
def new(request: SellerRequest) -> HttpResponse:
    sheet = ItemSheet(request.POST or None, None, request.business.currency)
    if request.method == "POST" and sheet.is_valid() and sheet.draft:
        try:
            made = services.make_item(request.business, sheet.draft, timezone.now(), by=request.by)
        except services.CodeTaken as taken:
            sheet.form.add_error("code", str(taken))
        else:
            messages.success(request, "Here it is. Pictures and stock can be added below.")
            return redirect("catalogue:item", made.pk)
    return render(request, "catalogue/new.html", {"sheet": sheet}, status=400 if request.method == "POST" else 200)


@require_http_methods(["GET", "HEAD", "POST"])
@seller_page(Permission.SEE, to_send=Permission.MAKE)
def item(request: SellerRequest, item_id: int) -> HttpResponse:
    shown = item_or_404(request, item_id)
    sheet = ItemSheet(request.POST or None, shown, request.business.currency)
    status = 200
    if request.method == "POST":
        status = 400
        if sheet.is_valid() and sheet.draft:
            seen = sheet.form.cleaned_data["revision"] or 0
            try:
                dropped = services.change_item(shown, sheet.draft, seen, timezone.now(), by=request.by)
            except services.CodeTaken as taken:
                sheet.form.add_error("code", str(taken))
            except ChangedElsewhere:
                status = 409
                sheet.form.add_error(
                    None,
                    "This item was changed in another tab or by someone else since you opened it here."
                    " What you typed is still below: copy what you need, then load the page again.",
                )
            else:
                messages.success(request, "Saved.")
                if dropped:
                    messages.warning(
                        request, f"Removing the options also removed the stock of {', '.join(dropped[:8])}."
                    )
                return redirect("catalogue:item", shown.pk)
    context = {
        "item": shown,
        "sheet": sheet,
        "pictures": [(picture, PictureForm.for_picture(picture)) for picture in shown.pictures.all()],
        "most_pictures": MAX_PICTURES,
    }
    return render(request, "catalogue/item.html", context, status=status)


@require_POST
@seller_page(Permission.MAKE)
def archive(request: SellerRequest, item_id: int) -> HttpResponse:
    services.archive(item_or_404(request, item_id), timezone.now(), by=request.by)
    messages.success(request, "Archived. Links that sell it carry on; find it under “archived”.")
    return redirect("catalogue:items")


@require_POST
@seller_page(Permission.MAKE)
def remove(request: SellerRequest, item_id: int) -> HttpResponse:
    shown = item_or_404(request, item_id)
    try:
        services.remove_item(shown, timezone.now(), by=request.by)
    except services.ItemIsSold:
        messages.warning(request, "A link sells it, or did, so it cannot be removed. It can be archived.")
        return redirect("catalogue:item", shown.pk)
    messages.success(request, f"“{shown.name}” is removed.")
    return redirect("catalogue:items")


@require_POST
@seller_page(Permission.MAKE)
def unarchive(request: SellerRequest, item_id: int) -> HttpResponse:
    services.unarchive(item_or_404(request, item_id), timezone.now(), by=request.by)
    messages.success(request, "Back in the catalogue.")
    return redirect("catalogue:item", item_id)
