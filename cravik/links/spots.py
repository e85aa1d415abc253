"""Spots: the places where a link is put up, each with a short code of its own."""

from __future__ import annotations

import secrets
from datetime import datetime

from django.db import transaction

from cravik.links.models import Link, Spot

#: Neither digits nor letters that are taken for one another (0 O D, 1 I L, 2 Z, 5 S, 6 G, 8 B, U V), and no vowels,
#: so that no word comes of it by chance.
ALPHABET = "3479CFHJKMNPQRTVWXY"
LENGTH = 6
_FIRST = "The link itself"


def new_code() -> str:
    """A code that nobody has, out of 47 million, drawn so that none can be guessed from another.

    Codes stay taken for ever: the table keeps every spot there was.
    """
    while True:
        code = "".join(secrets.choice(ALPHABET) for _ in range(LENGTH))
        if not Spot.objects.filter(code=code).exists():
            return code


@transaction.atomic
def make_spot(link: Link, name: str, now: datetime, *, is_first: bool = False) -> Spot:
    """A new spot of the link."""
    return Spot.objects.create(link=link, code=new_code(), name=name, is_first=is_first, made_at=now)


def make_first_spot(link: Link, now: datetime) -> Spot:
    """The spot that stands for the link itself."""
    return make_spot(link, _FIRST, now, is_first=True)


def first_spot(link: Link) -> Spot:
    return link.spots.get(is_first=True)
