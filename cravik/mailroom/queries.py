"""Reading the mailroom."""

from __future__ import annotations

from django.db.models import Q, QuerySet

from cravik.mailroom.models import WAY_BACK, Letter
from cravik.people.models import Business, User


def letters_for(user: User, business: Business) -> QuerySet[Letter]:
    """The business's letters that the user may read: the way back to a password is for whom it was written to."""
    return Letter.objects.filter(business=business).exclude(~Q(to_address=user.email), kind=WAY_BACK)


def letters_about_order(user: User, business: Business, order_id: int) -> QuerySet[Letter]:
    """Those about an order, oldest first."""
    return letters_for(user, business).filter(order_id=order_id).defer("text", "html").order_by("id")


def letters_of(user: User, business: Business, search: str = "", *, parked: bool = False) -> QuerySet[Letter]:
    """Those letters, newest first; ``search`` is looked for in addresses and subjects. ``parked``: only those
    that could not be sent."""
    letters = letters_for(user, business).defer("text", "html").order_by("-written_at", "-id")
    if parked:
        letters = letters.filter(state=Letter.State.PARKED)
    for word in search.split()[:8]:
        letters = letters.filter(
            Q(to_name__icontains=word) | Q(to_address__icontains=word) | Q(subject__icontains=word)
        )
    return letters
