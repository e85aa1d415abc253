"""Keeping links in order: a starting point, its document, put away, back, removed."""

from __future__ import annotations

import json

from django.contrib import messages
from django.http import Http404, HttpResponse
from django.shortcuts import redirect
from django.utils import timezone
from django.views.decorators.http import require_POST, require_safe

from cravik.links import archiving
from cravik.links.access import link_or_404
from cravik.links.importing import exported
from cravik.links.lifecycle import NotInThatState
from cravik.links.models import Link
from cravik.people.access import SellerRequest, seller_page
from cravik.people.roles import Permission
from cravik.ui.fields import parse_id
from cravik.ui.timings import lasting


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


@require_POST
@seller_page(Permission.MAKE)
def archive(request: SellerRequest, link_id: int) -> HttpResponse:
    """Remove a link that nobody ever paid, and put away any other."""
    link = link_or_404(request, link_id)
    try:
        archiving.remove(link, timezone.now(), by=request.by)
    except archiving.BeingPaid:
        messages.warning(
            request,
            f"Somebody is paying for it at this moment. Pause it, and try again in {lasting('held_while_paying')}.",
        )
        return redirect("links:bench", link.pk)
    except NotInThatState:
        archiving.archive(link, timezone.now(), by=request.by)
        messages.success(request, f"“{link.name}” is archived. Its orders and results stay; you can restore it.")
    else:
        messages.success(request, f"“{link.name}” is removed.")
    return redirect("results:links")


@require_POST
@seller_page(Permission.MAKE)
def unarchive(request: SellerRequest, link_id: int) -> HttpResponse:
    link = link_or_404(request, link_id)
    archiving.unarchive(link, timezone.now(), by=request.by)
    messages.success(request, "It is back in the list. Resume it, and buyers can pay again.")
    return redirect("links:bench", link.pk)
