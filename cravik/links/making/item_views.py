"""Making a link of an item."""

from __future__ import annotations

from urllib.parse import urlencode

from django.contrib import messages
from django.http import HttpResponse
from django.shortcuts import redirect
from django.urls import reverse
from django.utils import timezone
from django.views.decorators.http import require_POST

from cravik.catalogue.models import Item
from cravik.catalogue.views import item_or_404
from cravik.links.items.line import PriceTooLow
from cravik.links.making.copies import make_link_of_item
from cravik.people.access import SellerRequest, seller_page
from cravik.people.roles import Permission


@require_POST
@seller_page(Permission.MAKE)
def sell_item(request: SellerRequest, item_id: int) -> HttpResponse:
    """A draft from the item with one press; where it has no price above zero, New link asks for one."""
    return sell(request, item_or_404(request, item_id))


def sell(request: SellerRequest, item: Item) -> HttpResponse:
    """The draft of an item, and the way to it."""
    chosen = request.POST.get("price", "")
    prices = {str(price.pk): price.amount for price in item.prices.all()}
    amount = prices.get(chosen, item.price)
    if not amount:
        messages.warning(request, "The item has no price yet. Write one here; it is for this link alone.")
        return redirect(f"{reverse('links:new')}?{urlencode({'item': item.pk})}")
    try:
        link = make_link_of_item(request.business, item, amount, timezone.now(), by=request.by)
    except PriceTooLow as refused:
        messages.warning(request, f"{amount.major} is too low for a link. {refused}")
        return redirect(item.path)
    messages.success(request, "Draft ready. Nobody sees it until you publish.")
    return redirect("links:bench", link.pk)
