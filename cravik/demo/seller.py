"""Who did what there is in the sample."""

from __future__ import annotations

from cravik.people.actors import Actor, member
from cravik.people.models import Business


def seller_of(business: Business) -> Actor:
    return member(business.members.get())
