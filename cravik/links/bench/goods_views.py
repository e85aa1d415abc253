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
from cravik.catalogue.uploads import take_files, take_photos
from cravik.links.access import link_or_404
from cravik.links.bench.acting import ActRefused
from cravik.links.bench.saving import Act, change_parts
from cravik.links.models import items_of_draft
from cravik.setup.access import SellerRequest, seller_page


class Take(Protocol):
    def __call__(self, item: Item, sent: Sequence[UploadedFile[bytes]], now: datetime) -> list[str]: ...


@require_POST
@seller_page
def add_photos(request: SellerRequest, link_id: int, line: str) -> HttpResponse:
    """Take one photo or several of what the line sells."""
    return _add(request, link_id, line, "photo", "pictures", take_photos)


@require_POST
@seller_page
def add_files(request: SellerRequest, link_id: int, line: str) -> HttpResponse:
    """Take files that buyers of the line download."""
    return _add(request, link_id, line, "file", "files", take_files)


def _add(request: SellerRequest, link_id: int, line: str, field: str, panel: str, take: Take) -> HttpResponse:
    link, sent, now = link_or_404(request, link_id), request.FILES.getlist(field), timezone.now()
    back = f"{reverse('links:bench', args=[link.pk])}#panel-{panel}-{line}"
    if sent and line not in items_of_draft(link):
        try:
            link = change_parts(link, [], link.revision, now, Act("keep", line, {})).link
        except ActRefused as refused:
            for told in refused.told.values():
                messages.error(request, " ".join(told))
            return redirect(back)
    item = items_of_draft(link).get(line)
    for refusal in take(item, sent, now) if item else ["Choose a file first."]:
        messages.error(request, refusal)
    return redirect(back)
