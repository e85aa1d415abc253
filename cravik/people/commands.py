"""What commands ask about businesses."""

from __future__ import annotations

from django.core.management.base import CommandError

from cravik.people.models import Business


def business_called(name: str | None) -> Business:
    """The business of that name, or the only one there is. Raises ``CommandError`` with those that there are."""
    found = list(Business.objects.filter(name=name) if name else Business.objects.all()[:2])
    if len(found) != 1:
        known = ", ".join(f"“{each}”" for each in Business.objects.order_by("name").values_list("name", flat=True)[:20])
        raise CommandError(f"Name one business, as in --business NAME. There are: {known or 'none'}.", returncode=2)
    return found[0]
