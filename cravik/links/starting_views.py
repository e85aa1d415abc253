"""New links from what is there: a copy of a link, an item of the catalogue, or a document."""

from __future__ import annotations

from django.contrib import messages
from django.http import HttpResponse
from django.shortcuts import redirect
from django.utils import timezone
from django.views.decorators.http import require_POST

from cravik.catalogue.queries import item_called
from cravik.core.documents.json_text import MAX_DOCUMENT_BYTES, read_json
from cravik.core.errors import InvalidDocument
from cravik.links.bench.making import copy_link
from cravik.links.importing import import_all, in_words
from cravik.links.item_views import sell
from cravik.links.models import Link
from cravik.links.said_views import show_new
from cravik.links.views import open_copy
from cravik.people.access import SellerRequest, seller_page
from cravik.people.roles import Permission
from cravik.ui.fields import clean_line


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
    told = f"No link and no item is called “{name[:80]}”." if name else "Name a link or an item to start from."
    return show_new(request, status=400, start_from=name, start_error=told)


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
