"""Bounds on trying: guesses at a secret, addresses left, letters asked for.

A try is taken before anything is judged, by one conditional statement, so that however many come at once no more than
the bound get through. A window of time begins with the first try and ends by itself: whoever goes on trying does not
lengthen it.

    if not take_try("receipt", reference, network, bound=Bound(10, timedelta(hours=1)), now=now):
        …
"""

from __future__ import annotations

import hmac
from dataclasses import dataclass
from datetime import datetime, timedelta

from django.conf import settings
from django.db import DatabaseError, IntegrityError, transaction
from django.db.models import F

from cravik.upkeep.models import Tries


@dataclass(frozen=True)
class Bound:
    """So many tries within so long."""

    most: int
    within: timedelta


def take_try(what: str, *whose: str, bound: Bound, now: datetime) -> bool:
    """Take one try at ``what`` by ``whose``, and whether there was one left. Call it outside any transaction.

    Where it cannot be written (a full disk, a held database) the try is granted: nobody is kept from what is theirs.
    """
    try:
        return _taken(_key(what, *whose), bound, now)
    except DatabaseError:
        return True


def give_back(what: str, *whose: str) -> None:
    """Let a try that turned out right not count."""
    Tries.objects.filter(key=_key(what, *whose), taken__gt=0).update(taken=F("taken") - 1)


def forget_tries(now: datetime) -> int:
    """Drop the windows that have ended, and return how many there were."""
    return Tries.objects.filter(until__lte=now).delete()[0]


def _taken(key: str, bound: Bound, now: datetime) -> bool:
    row = Tries.objects.filter(key=key)
    for _ in range(3):  # whoever begins the window at the same instant is counted in it
        if row.filter(until__gt=now, taken__lt=bound.most).update(taken=F("taken") + 1):
            return True
        if row.filter(until__gt=now).exists():
            return False
        try:
            with transaction.atomic():
                row.filter(until__lte=now).delete()
                Tries.objects.create(key=key, taken=1, until=now + bound.within)
        except IntegrityError:
            continue
        return True
    return False


def _key(what: str, *whose: str) -> str:
    text = "\0".join((what, *whose))
    return hmac.digest(settings.SECRET_KEY.encode(), text.encode(), "sha256").hex()
