"""Home: the seller's links and what they do."""

from __future__ import annotations

from django.core.paginator import Paginator
from django.http import HttpResponse
from django.shortcuts import render
from django.utils import timezone
from django.views.decorators.http import require_safe

from cravik.links.models import Link
from cravik.links.queries import links_of
from cravik.results.queries import link_rows
from cravik.setup.access import SellerRequest, seller_page

_PAGE = 50


@require_safe
@seller_page
def links(request: SellerRequest) -> HttpResponse:
    state, search = request.GET.get("state", ""), request.GET.get("q", "").strip()[:100]
    page = Paginator(links_of(request.business, state, search), _PAGE).get_page(request.GET.get("page"))
    context = {
        "page": page,
        "rows": link_rows(request.business, list(page.object_list), timezone.now()),
        "state": state if state in Link.State.values else "",
        "states": Link.State.choices,
        "search": search,
    }
    return render(request, "results/links.html", context)
