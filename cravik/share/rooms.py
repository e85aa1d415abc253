"""What of handing out is decided for the whole business, in Setup's list."""

from __future__ import annotations

from django.urls import reverse

from cravik.links.places.sites import named_sites
from cravik.people.models import Business
from cravik.setup.home_views import Room
from cravik.share.handle_views import handle_words
from cravik.share.on_pages.site_views import sites_words


def rooms_of_share(business: Business) -> list[Room]:
    """The rooms, with what each says now."""
    return [
        Room("Your handle", handle_words(business), reverse("share_setup:handle")),
        Room("Sites that may open your links", sites_words(len(named_sites(business))), reverse("share_setup:sites")),
    ]
