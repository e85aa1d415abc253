"""Home: the seller's links and what they do."""

from __future__ import annotations

from zoneinfo import ZoneInfo

from django.http import HttpResponse
from django.shortcuts import render
from django.utils import timezone
from django.utils.http import urlencode
from django.views.decorators.http import require_safe

from cravik.catalogue.models import Item
from cravik.core.text.said.orders import SaidOrder, read_order
from cravik.core.text.said.pieces import When
from cravik.links.finding.found import ARCHIVED, Sought, found_links, hidings, looks_of, sought_of
from cravik.links.finding.labels import labels_of
from cravik.links.many import MANY_ACTS
from cravik.links.many.views import MAX_TEXT
from cravik.links.models import Link
from cravik.orders.head import head_of
from cravik.people.access import SellerRequest, seller_page
from cravik.people.roles import Permission
from cravik.results.listing import COLUMNS, listing_of
from cravik.ui.lists import sort_columns


@require_safe
@seller_page(Permission.SEE)
def links(request: SellerRequest) -> HttpResponse:
    """The list as its address says: found, sorted, and one page of it."""
    business, sought, order = request.business, Sought.of(request.GET.dict()), request.GET.get("sort", "")
    said = _said(request)
    if said is not None:
        sought = sought_of(said)
    listing = listing_of(business, sought, order, request.GET.get("page", ""), timezone.now())
    every = Link.objects.of(business)
    context = {
        "head": head_of(business, timezone.now()),
        "page": listing.page,
        "rows": listing.rows,
        "sought": sought,
        "line": request.GET.get("q", "")[:MAX_TEXT] if said else "",
        "query": urlencode(sought.query | ({"sort": order[:20]} if order else {})),
        "hidings": list(hidings(business, sought)),
        "states": [*Link.State.values, *([ARCHIVED] if every.exclude(archived_at=None).exists() else [])],
        "labels": labels_of(business),
        "items": Item.objects.of(business).filter(sold_in__link__in=every).distinct().order_by("name"),
        "looks": looks_of(business),
        "columns": sort_columns(COLUMNS, order),
        "acts": MANY_ACTS,
        "is_new": not listing.rows and not every.exists(),
        "archived": found_links(business, Sought(state=ARCHIVED)).count() if not listing.rows else 0,
    }
    return render(request, "results/links.html", context)


def _said(request: SellerRequest) -> SaidOrder | None:
    """What the search says to do, if it does: it finds those links, and offers to look at what would become of them."""
    if Permission.MAKE not in request.permissions:
        return None
    zone, now = ZoneInfo(request.business.time_zone), timezone.now()
    when = When(now.astimezone(zone).date(), zone, now)
    said = read_order(request.GET.get("q", "")[:MAX_TEXT], request.business.currency, when)
    return said if said.is_whole else None
