"""The line at the head of the bench: a change that is said, shown before it is done."""

from __future__ import annotations

from django.contrib import messages
from django.http import HttpResponse, JsonResponse
from django.shortcuts import redirect, render
from django.template.loader import render_to_string
from django.utils import timezone
from django.views.decorators.http import require_POST

from cravik.core.text.said.examples import OF_CHANGES
from cravik.links.access import link_or_404
from cravik.links.bench.acting import ActRefused
from cravik.links.bench.said import shown_change
from cravik.links.bench.saving import Act, change_parts
from cravik.people.access import SellerRequest, seller_page
from cravik.people.roles import Permission
from cravik.setup.saving import ChangedElsewhere
from cravik.ui.fields import clean_line, parse_id

MAX_TEXT = 4000


@require_POST
@seller_page(Permission.MAKE)
def said_change(request: SellerRequest, link_id: int) -> HttpResponse:
    """What the line would change, or the one that answers what was asked of it (``instead``); doing it, once that was
    seen and nothing else has changed since."""
    link = link_or_404(request, link_id)
    text = clean_line((request.POST.get("instead") or request.POST.get("change_said", ""))[:MAX_TEXT])
    context = {"link": link, "tab": "bench", "shown": shown_change(link, text, timezone.now()) if text else None}
    context["say_examples"] = OF_CHANGES
    if request.headers.get("Accept") == "application/json":
        return JsonResponse({"html": render_to_string("links/bench/_said_change.html", context, request)})
    if request.POST.get("sure") == "yes" and parse_id(request.POST.get("seen", "")) == link.revision:
        try:
            change_parts(link, [], link.revision, timezone.now(), Act("say", "", request.POST), by=request.by)
        except (ActRefused, ChangedElsewhere):
            pass  # it is looked at once more, as the link is now
        else:
            messages.success(request, f"Done: {text}")
            return redirect("links:bench", link.pk)
    return render(request, "links/bench/said_change.html", context)
