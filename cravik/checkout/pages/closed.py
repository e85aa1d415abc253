"""What a link shows that takes no payments now."""

from __future__ import annotations

from collections.abc import Mapping

from django.http import HttpRequest, HttpResponse
from django.shortcuts import render
from django.utils import timezone

from cravik.checkout.opening import Closed, Opened
from cravik.checkout.pages.showing import uncached
from cravik.core.link.limits import opens_at

#: What answers a page that takes no payments: 200 for what passes, 410 for what is over, 404 for what never began.
CLOSED_STATUS: Mapping[Closed, int] = {"draft": 404, "by_hand": 410, "day": 410, "count": 410}


def show_closed(request: HttpRequest, opened: Opened, why: Closed, *, status: int | None = None) -> HttpResponse:
    """What a link answers that takes no payments now: kindly, why, and with whom to ask."""
    terms = opened.terms
    status = status or CLOSED_STATUS.get(why, 200)
    if terms is None:
        return uncached(request, render(request, "404.html", status=404))
    seller = opened.seller()
    context = {
        "why": why,
        "title": terms.offer.title,
        "look": terms.look,
        "seller": seller,
        "opens_at": opens_at(terms.content.limits, terms.offer.window),
    }
    with timezone.override(seller.time_zone):
        return uncached(request, render(request, "checkout/closed.html", context, status=status))
