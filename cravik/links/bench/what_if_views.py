"""Changing the table of what-if cases on the bench."""

from __future__ import annotations

from django.http import HttpResponse, JsonResponse
from django.shortcuts import redirect
from django.template.loader import render_to_string
from django.urls import reverse
from django.utils import timezone
from django.views.decorators.http import require_http_methods

from cravik.links.access import link_or_404
from cravik.links.bench.what_if import WhatIf
from cravik.links.models import Link
from cravik.people.access import SellerRequest, seller_page
from cravik.people.roles import Permission


@require_http_methods(["GET", "HEAD", "POST"])
@seller_page(Permission.SEE)
def what_if(request: SellerRequest, link_id: int) -> HttpResponse:
    """Keep the cases as they stand, with one more or one less where that was pressed. The page's script is answered
    with the table, for which alone it asks once the draft was saved."""
    link = link_or_404(request, link_id)
    table = WhatIf(link, timezone.localdate()) if link.effective else None
    if table and request.method == "POST":
        table = _kept(request, link)
    if request.headers.get("Accept") != "application/json":
        return redirect(f"{reverse('links:bench', args=[link.pk])}#what-if")
    context = {"table": table, "link": link}
    return JsonResponse({"html": render_to_string("links/bench/_what_if.html", context, request)})


def _kept(request: SellerRequest, link: Link) -> WhatIf:
    """The table after what was typed and pressed; as it was typed, where that cannot be read, and nothing is kept."""
    today = timezone.localdate()
    table = WhatIf(link, today, request.POST)
    if not all([form.is_valid() for form in table.forms]):  # noqa: C419  # each tells its faults
        return table
    act, _, number = request.POST.get("act", "").partition(":")
    kept = [form.document for form in table.forms if not (act == "remove" and form.number == number)]
    if act == "add" and table.has_room:
        kept.append(kept[-1] if kept else WhatIf(link, today).forms[0].document)
    link.what_if = kept or None
    Link.objects.filter(id=link.pk).update(what_if=link.what_if)
    return WhatIf(link, today)
