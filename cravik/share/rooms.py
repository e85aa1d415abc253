"""What of handing out is decided for the whole business, in Setup's list."""

from __future__ import annotations

from django.urls import reverse

from cravik.setup.home_views import Room
from cravik.setup.models import Business
from cravik.share.handle_views import handle_words


def rooms_of_share(business: Business) -> list[Room]:
    """The rooms, with what each says now."""
    return [Room("Your handle", handle_words(business), reverse("share_setup:handle"))]
