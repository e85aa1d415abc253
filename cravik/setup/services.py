"""Named writes of Setup."""

from __future__ import annotations

from datetime import datetime

from django.db import transaction

from cravik.setup.models import Business, Membership, User


class AlreadyStarted(Exception):
    """The installation has its first business; whoever comes now signs in instead."""


def make_first_business(user: User, password: str, business: Business, now: datetime) -> User:
    """Open the installation with its first user and business. Raises ``AlreadyStarted`` after that."""
    with transaction.atomic():
        if User.objects.exists():
            raise AlreadyStarted
        return make_business(user, password, business, now)


@transaction.atomic
def make_business(user: User, password: str, business: Business, now: datetime) -> User:
    """Save a new user, a new business, and that one acts for the other."""
    user.set_password(password)
    user.save()
    business.made_at = now
    business.save()
    Membership.objects.create(user=user, business=business)
    return user
