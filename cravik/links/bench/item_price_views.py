"""The press that lets a link take the price of its item."""

from __future__ import annotations

from django.contrib import messages
from django.http import HttpResponse
from django.shortcuts import redirect
from django.utils import timezone
from django.views.decorators.http import require_POST

from cravik.links.access import link_or_404
from cravik.links.bench.item_price import take_item_price as take_price
from cravik.links.items.line import PriceTooLow
from cravik.people.access import SellerRequest, seller_page
from cravik.people.roles import Permission


@require_POST
@seller_page(Permission.MAKE)
def take_item_price(request: SellerRequest, link_id: int) -> HttpResponse:
    link = link_or_404(request, link_id)
    try:
        take_price(link, timezone.now(), by=request.by)
    except PriceTooLow as refused:
        messages.warning(request, f"The link keeps its price. {refused}")
    else:
        messages.success(request, "The draft has the item's price now. Publish it to show it to buyers.")
    return redirect("links:bench", link.pk)
