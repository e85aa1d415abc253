"""What was published of a link, version by version, and the way back to one."""

from __future__ import annotations

from django.contrib import messages
from django.core.paginator import Paginator
from django.http import HttpResponse
from django.shortcuts import redirect, render
from django.utils import timezone
from django.views.decorators.http import require_http_methods

from cravik.events.reading import events_of_link
from cravik.links.access import link_or_404
from cravik.links.bench.acting import ActRefused
from cravik.links.bench.saving import Act, change_parts
from cravik.people.access import SellerRequest, seller_page
from cravik.people.roles import Permission
from cravik.results.versions import MAX_AT_ONCE, published_versions, versions_of

#: So many of the last events stand below the versions.
_TOLD = 40


@require_http_methods(["GET", "HEAD", "POST"])
@seller_page(Permission.SEE, to_send=Permission.MAKE)
def versions(request: SellerRequest, link_id: int) -> HttpResponse:
    """The versions, newest first; a post lays one of them on the bench, where it can be undone."""
    link = link_or_404(request, link_id)
    if request.method != "POST":
        page = Paginator(published_versions(link), MAX_AT_ONCE).get_page(request.GET.get("page"))
        versions = versions_of(link, timezone.now(), max(0, page.start_index() - 1))
        return render(
            request,
            "results/versions.html",
            {"link": link, "versions": versions, "page": page, "happened": events_of_link(link.pk, most=_TOLD)},
        )
    number = request.POST.get("number", "")
    try:
        change_parts(link, [], link.revision, timezone.now(), Act("version", number, request.POST), by=request.by)
    except ActRefused as refusal:
        messages.warning(request, " ".join(words for each in refusal.by_field.values() for words in each))
        return redirect("results:versions", link.pk)
    messages.success(request, f"Version {number} is the current draft. Buyers see no change until you publish it.")
    return redirect("links:bench", link.pk)
