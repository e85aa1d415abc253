"""Changing the table of what-if cases on the bench."""

from __future__ import annotations

from django.http import HttpResponse, JsonResponse
from django.shortcuts import redirect
from django.template.loader import render_to_string
from django.urls import reverse
from django.utils import timezone
from django.views.decorators.http import require_POST

from cravik.links.access import link_or_404
from cravik.links.bench.what_if import WhatIf
from cravik.links.models import Link
from cravik.setup.access import SellerRequest, seller_page


@require_POST
@seller_page
def what_if(request: SellerRequest, link_id: int) -> HttpResponse:
    """Keep the cases as they stand, with one more or one less where that was pressed. The page's script is answered
    with the table."""
    link = link_or_404(request, link_id)
    by_script = request.headers.get("Accept") == "application/json"
    back = redirect(f"{reverse('links:bench', args=[link.pk])}#what-if")
    if link.effective is None:
        return JsonResponse({"html": ""}) if by_script else back
    table = WhatIf(link, timezone.localdate(), request.POST)
    act, _, number = request.POST.get("act", "").partition(":")
    if all(form.is_valid() for form in table.forms):
        kept = [form.document for form in table.forms if not (act == "remove" and form.number == number)]
        if act == "add" and table.has_room:
            kept.append(kept[-1] if kept else WhatIf(link, timezone.localdate()).forms[0].document)
        Link.objects.filter(id=link.pk).update(what_if=kept)
        link.what_if = kept
        table = WhatIf(link, timezone.localdate())
    if not by_script:
        return back
    return JsonResponse(
        {"html": render_to_string("links/bench/_what_if.html", {"table": table, "link": link}, request)}
    )
