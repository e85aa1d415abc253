"""Photos and files that are sent from the bench, for what a line sells; the first keeps it in the catalogue."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import datetime
from typing import Protocol

from django.contrib import messages
from django.core.files.uploadedfile import UploadedFile
from django.http import HttpResponse
from django.shortcuts import redirect
from django.urls import reverse
from django.utils import timezone
from django.views.decorators.http import require_POST

from cravik.catalogue.models import Item
from cravik.catalogue.services import remove_item
from cravik.catalogue.uploads import take_files, take_photos
from cravik.links.access import link_or_404
from cravik.links.bench.acting import ActRefused
from cravik.links.bench.saving import Act, change_parts
from cravik.links.models import Link, items_of_draft
from cravik.people.access import SellerRequest, seller_page
from cravik.people.actors import Actor
from cravik.people.roles import Permission


class Take(Protocol):
    def __call__(self, item: Item, sent: Sequence[UploadedFile[bytes]], now: datetime, *, by: Actor) -> list[str]: ...


@require_POST
@seller_page(Permission.MAKE)
def add_photos(request: SellerRequest, link_id: int, line: str) -> HttpResponse:
    """Take one photo or several of what the line sells."""
    return _add(request, link_id, line, "photo", "pictures", take_photos)


@require_POST
@seller_page(Permission.MAKE)
def add_files(request: SellerRequest, link_id: int, line: str) -> HttpResponse:
    """Take files that buyers of the line download."""
    return _add(request, link_id, line, "file", "files", take_files)


def _add(request: SellerRequest, link_id: int, line: str, field: str, panel: str, take: Take) -> HttpResponse:
    link, sent, now = link_or_404(request, link_id), request.FILES.getlist(field), timezone.now()
    back = f"{reverse('links:bench', args=[link.pk])}#panel-{panel}-{line}"
    try:
        refusals = _taken(link, line, sent, now, take, request.by)
    except ActRefused as refused:
        refusals = [" ".join(errors) for errors in refused.by_field.values()]
    for refusal in refusals:
        messages.error(request, refusal)
    return redirect(back)


def _taken(
    link: Link, line: str, sent: Sequence[UploadedFile[bytes]], now: datetime, take: Take, by: Actor
) -> list[str]:
    """What was not taken, and why. Where nothing was, the line is not kept in the catalogue either.

    No transaction is around it: what arrives may be large, and whoever pays would wait for it.
    """
    if line in items_of_draft(link):
        return take(items_of_draft(link)[line], sent, now, by=by)
    link = change_parts(link, [], link.revision, now, Act("keep", line, {}), by=by).link
    item = items_of_draft(link)[line]
    refusals = take(item, sent, now, by=by)
    if len(refusals) >= max(len(sent), 1):
        change_parts(link, [], link.revision, now, Act("undo", "", {}), by=by)
        remove_item(item, now, by=by)
    return refusals
