"""The door to a spot's pages, for its seller."""

from __future__ import annotations

from django.http import Http404

from cravik.links.access import link_or_404
from cravik.links.models import Spot
from cravik.people.access import SellerRequest


def moved_spot(request: SellerRequest, link_id: int, spot_id: int) -> Spot | None:
    """The spot, where it leads to another link of the business than to that one: somebody moved it meanwhile."""
    spots = Spot.objects.filter(id=spot_id, link__business=request.business, link__removed_at=None)
    return spots.exclude(link_id=link_id).select_related("link").first()


def spot_or_404(request: SellerRequest, link_id: int, spot_id: int) -> Spot:
    """The spot, if it leads to that link of the business that the seller acts for."""
    link = link_or_404(request, link_id)
    spot = Spot.objects.filter(link=link, id=spot_id).first()
    if spot is None:
        raise Http404
    spot.link = link
    return spot
