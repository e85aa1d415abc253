"""Reading the mailroom."""

from __future__ import annotations

from django.db.models import Q, QuerySet

from cravik.mailroom.models import Letter
from cravik.setup.models import Business


def letters_of(business: Business, search: str = "", *, parked: bool = False) -> QuerySet[Letter]:
    """The business's letters, newest first; ``search`` is looked for in addresses and subjects. ``parked``: only those
    that could not be sent."""
    letters = Letter.objects.filter(business=business).defer("text", "html").order_by("-written_at", "-id")
    if parked:
        letters = letters.filter(state=Letter.State.PARKED)
    for word in search.split()[:8]:
        letters = letters.filter(
            Q(to_name__icontains=word) | Q(to_address__icontains=word) | Q(subject__icontains=word)
        )
    return letters
