"""New links: by a form, as a copy, of an item, from a document; and a link's document to keep."""

from __future__ import annotations

import json
import re

from django.contrib import messages
from django.http import Http404, HttpResponse
from django.shortcuts import redirect
from django.urls import reverse
from django.utils import timezone
from django.views.decorators.http import require_http_methods, require_POST, require_safe

from cravik.catalogue.models import Item
from cravik.catalogue.queries import item_called, item_of, names_like
from cravik.core.documents.json_text import MAX_DOCUMENT_BYTES, read_json
from cravik.core.errors import InvalidDocument
from cravik.links.access import link_or_404
from cravik.links.bench.parts.prices import FixedPricePart
from cravik.links.bench.views import MAX_NAMES
from cravik.links.items.line import PriceTooLow
from cravik.links.making.copies import copy_link, make_link_of_item, make_link_of_kind
from cravik.links.making.documents import exported, import_all, in_words
from cravik.links.making.drafts import make_link
from cravik.links.making.forms import OfferForm
from cravik.links.making.from_text import read_lines
from cravik.links.making.from_text_views import MAX_TEXT, REST, show_new
from cravik.links.making.item_views import sell
from cravik.links.models import Link
from cravik.people.access import SellerRequest, seller_page
from cravik.people.actors import Actor
from cravik.people.models import Business
from cravik.people.roles import Permission
from cravik.ui.fields import clean_line, parse_id


@require_http_methods(["GET", "HEAD", "POST"])
@seller_page(Permission.MAKE)
def new(request: SellerRequest) -> HttpResponse:
    """A draft from what is typed; the name or code of an item sells that item."""
    wanted = request.GET.get("item", "")
    item = item_of(request.business, int(wanted)) if re.fullmatch(r"\d{1,18}", wanted, re.ASCII) else None
    initial = {"currency": item.currency, "purpose": item.name} if item else {"currency": request.business.currency}
    form = OfferForm(request.POST or None, initial=initial)
    if request.method == "POST":
        item = item or item_called(request.business, clean_line(request.POST.get("purpose", "")))
        form.price_of_item = item.price if item and item.currency == request.POST.get("currency") else None
        if form.is_valid():
            try:
                link = _made(request.business, form, item, request.by)
            except PriceTooLow as refused:
                form.add_error("amount", str(refused))
            else:
                messages.success(request, "Draft ready. Nobody sees it until you publish.")
                return redirect("links:bench", link.id)
    names = names_like(request.business, "", MAX_NAMES)
    text, status = request.GET.get("said", "")[:MAX_TEXT], 400 if form.is_bound else 200
    text = text or str(request.session.pop(REST, ""))
    parsed = read_lines(request.business, text, timezone.now())
    return show_new(request, text, parsed, status, form=form, item=item, item_names=names)


def _made(business: Business, form: OfferForm, item: Item | None, by: Actor) -> Link:
    typed, now = form.cleaned_data, timezone.now()
    if typed["kind"] != FixedPricePart.kind or form.money is None:
        return make_link_of_kind(
            business, typed["purpose"], typed["kind"], form.money, typed["currency"], now, item, by=by
        )
    if item:
        return make_link_of_item(business, item, form.money, now, by=by)
    return make_link(business, typed["purpose"], form.money, now, by=by)


@require_POST
@seller_page(Permission.MAKE)
def copy(request: SellerRequest, link_id: int) -> HttpResponse:
    """A draft like it, opened at its price."""
    return open_copy(request, copy_link(link_or_404(request, link_id), timezone.now(), by=request.by))


def open_copy(request: SellerRequest, link: Link) -> HttpResponse:
    """Lead to the bench of a copy, where its price is typed next."""
    messages.success(request, "Here is the copy, a draft. Nobody sees it until you publish it.")
    first = link.draft["offer"]["lines"][0]["key"]
    return redirect(f"{reverse('links:bench', args=[link.pk])}#edit-price-{first}")


@require_POST
@seller_page(Permission.MAKE)
def start(request: SellerRequest) -> HttpResponse:
    """A draft like the link, or of the item, that has the name."""
    name = clean_line(request.POST.get("start_from", ""))
    link = Link.objects.of(request.business).filter(name__iexact=name).order_by("-is_starting_point", "id").first()
    if link:
        return open_copy(request, copy_link(link, timezone.now(), by=request.by))
    if item := item_called(request.business, name):
        return sell(request, item)
    trouble = f"No link and no item is called “{name[:80]}”." if name else "Name a link or an item to start from."
    return show_new(request, status=400, start_from=name, start_error=trouble)


@require_POST
@seller_page(Permission.MAKE)
def bring(request: SellerRequest) -> HttpResponse:
    """Drafts of the link or offer documents in a file, or in what was pasted."""
    file, pasted = request.FILES.get("document"), request.POST.get("pasted", "")
    content = file.read(MAX_DOCUMENT_BYTES + 1) if file else pasted.encode("utf-8", "replace")
    if not content.strip():
        return show_new(request, status=400, bring_error="Choose a file, or paste a document.", brings=True)
    try:
        made = import_all(request.business, read_json(content), timezone.now(), by=request.by)
    except InvalidDocument as refused:
        return show_new(request, status=400, faults=in_words(refused.faults), pasted=pasted, brings=True)
    if len(made) > 1:
        messages.success(request, f"{len(made)} drafts are made. Nobody sees them until you publish them.")
        return redirect("results:links")
    messages.success(request, "Draft ready. Nobody sees it until you publish.")
    return redirect("links:bench", made[0].pk)


@require_safe
@seller_page(Permission.EXPORT)
def export(request: SellerRequest, link_id: int) -> HttpResponse:
    """The link's document to keep: the draft's, or that of one of its versions."""
    link, version = link_or_404(request, link_id), request.GET.get("version", "")
    document = exported(link, parse_id(version) if version else None)
    if document is None:
        raise Http404
    response = HttpResponse(json.dumps(document, ensure_ascii=False, indent=2), content_type="application/json")
    response["Content-Disposition"] = f'attachment; filename="{link.slug}.json"'
    return response


@require_POST
@seller_page(Permission.MAKE)
def keep_as_start(request: SellerRequest, link_id: int) -> HttpResponse:
    """Offer the link under New link to start from, or no more."""
    link = link_or_404(request, link_id)
    wanted = request.POST.get("keep") == "yes"
    Link.objects.filter(id=link.pk).update(is_starting_point=wanted)
    messages.success(
        request, "New link now offers it as a starting point." if wanted else "New link no longer offers it."
    )
    return redirect("links:bench", link.pk)
