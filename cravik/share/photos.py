"""The photo of where a spot hangs."""

from __future__ import annotations

from django.urls import reverse

from cravik.links.models import Spot


def photo_address(spot: Spot) -> str:
    """Where the smallest file of it is shown, or nothing."""
    photo = spot.photo
    return reverse("pictures:show", args=[photo["name"], min(photo["widths"])]) if photo else ""
