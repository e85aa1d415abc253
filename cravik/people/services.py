"""Named writes of people and businesses."""

from __future__ import annotations

from datetime import datetime

from django.contrib.auth.tokens import default_token_generator
from django.db import transaction
from django.urls import reverse
from django.utils.encoding import force_bytes
from django.utils.http import urlsafe_base64_encode

from cravik.people.models import Business, Membership, User
from cravik.ui.addresses import absolute
from cravik.upkeep.hooks import Hook

#: Somebody forgot the password of the account with that address, if there is one. It is looked up after the answer, so
#: that it takes as long for nobody as for somebody.
way_back_wanted: Hook[[str], None] = Hook("cravik.people.services.way_back_wanted")
#: Somebody wants to open a business with that e-mail address; where they confirm it.
sign_up_asked: Hook[[str, str], None] = Hook("cravik.people.services.sign_up_asked")


def way_back_address(user: User) -> str:
    """Where the user chooses a new password. It holds for an hour, and once."""
    key = urlsafe_base64_encode(force_bytes(user.pk))
    return absolute(reverse("people:new_password", args=[key, default_token_generator.make_token(user)]))


class AlreadyStarted(Exception):
    """The installation has its first business; whoever comes now signs in instead."""


def make_first_business(user: User, password: str, business: Business, now: datetime) -> User:
    """Open the installation with its first user, who looks after it from then on, and business. Raises
    ``AlreadyStarted`` after that."""
    with transaction.atomic():
        if User.objects.exists():
            raise AlreadyStarted
        user.is_superuser = True
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
