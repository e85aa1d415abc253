"""What a link shows that takes no payments now."""

from __future__ import annotations

from collections.abc import Mapping
from math import ceil

from django.forms import Form
from django.http import HttpRequest, HttpResponse
from django.shortcuts import render
from django.utils import timezone

from cravik.checkout.opening import Closed, Opened
from cravik.checkout.pages.showing import uncached
from cravik.core.link.closing import opens_at

#: What answers a page that takes no payments: 200 for what passes, 410 for what is over, 404 for what never began.
CLOSED_STATUS: Mapping[Closed, int] = {"draft": 404, "by_hand": 410, "day": 410, "count": 410, "archived": 410}


#: Where somebody may leave an address, and what for.
AWAITED: Mapping[Closed, str] = {
    "not_open_yet": "opens",
    **dict.fromkeys(("paused", "sold_out", "count", "all_held", "day", "by_hand"), "is back"),
}


def show_closed(
    request: HttpRequest, opened: Opened, why: Closed, *, status: int | None = None, form: Form | None = None
) -> HttpResponse:
    """What a link answers that takes no payments now: kindly, why, with whom to ask, and a way to hear when that
    changes. ``form`` is what was sent of it."""
    version = opened.version
    status = status or CLOSED_STATUS.get(why, 200)
    if version is None:
        return uncached(request, render(request, "404.html", status=404))
    seller, opens = opened.seller(), opens_at(version.content)
    context = {
        "why": why,
        "words": f"checkout/closed/{why}.html",
        "title": version.offer.title,
        "look": version.look,
        "seller": seller,
        "slug": opened.row.slug,
        "awaits": AWAITED.get(why, "") if opened.row.slug else "",  # in a rehearsal nobody waits
        "noted": request.GET.get("noted") == "yes",
        "form": form,
        "opens_at": opens,
        "seconds_left": max(1, ceil((opens - timezone.now()).total_seconds())) if opens else 0,
    }
    with timezone.override(seller.time_zone):
        return uncached(request, render(request, "checkout/closed.html", context, status=status))
