"""The door to a spot's pages, for its seller."""

from __future__ import annotations

from django.http import Http404

from cravik.links.access import link_or_404
from cravik.links.models import Spot
from cravik.setup.access import SellerRequest


def spot_or_404(request: SellerRequest, link_id: int, spot_id: int) -> Spot:
    """The spot, if it leads to that link of the business that the seller acts for."""
    link = link_or_404(request, link_id)
    spot = Spot.objects.filter(link=link, id=spot_id).first()
    if spot is None:
        raise Http404
    spot.link = link
    return spot
