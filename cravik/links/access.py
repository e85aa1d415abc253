"""The door to a link's pages, for its seller."""

from __future__ import annotations

from django.http import Http404

from cravik.links.models import Link
from cravik.links.queries import link_of
from cravik.people.access import SellerRequest


def link_or_404(request: SellerRequest, link_id: int) -> Link:
    """The link, if it is of the business that the seller acts for."""
    link = link_of(request.business, link_id)
    if link is None:
        raise Http404
    return link
