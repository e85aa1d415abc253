"""The address of a confirmation, and the mark in it by which whoever comes from paying is known for a while.

The reference alone leads back to a receipt for ever; where it is sent and who answered what is shown to whoever has
the mark: it is signed, stands in the redirect after the payment, and holds for half an hour.
"""

from __future__ import annotations

from contextlib import suppress
from datetime import timedelta
from urllib.parse import urlencode

from django.core import signing
from django.core.cache import caches
from django.http import HttpRequest
from django.urls import reverse

OWN_FOR = timedelta(minutes=30)
#: So many e-mail addresses may be typed for one checkout within an hour.
MAX_TRIES = 10
_TRIES_FOR = timedelta(hours=1)
_NAME = "own"
_SIGNER = signing.TimestampSigner(salt="cravik.orders.own_page")


def own_path(reference: str) -> str:
    """Where the buyer of that checkout is led after paying."""
    return with_mark(reverse("confirmation:page", args=[reference]), reference)


def with_mark(path: str, reference: str) -> str:
    """The path, and that whoever opens it is the buyer of the checkout."""
    mark = _SIGNER.sign(reference).partition(_SIGNER.sep)[2]
    return f"{path}?{urlencode({_NAME: mark})}"


def is_own(request: HttpRequest, reference: str) -> bool:
    """Whether the address that was opened says so, and not too long ago."""
    try:
        _SIGNER.unsign(f"{reference}{_SIGNER.sep}{request.GET.get(_NAME, '')[:200]}", max_age=OWN_FOR)
    except signing.BadSignature:
        return False
    return True


def may_try(reference: str) -> bool:
    """Whether the e-mail address of the checkout may be guessed once more; each call is a try."""
    name, shared = f"own-page-{reference}", caches["shared"]
    tries = int(shared.get(name, 0)) + 1
    with suppress(OSError):  # on a full disk nobody is kept from their own page
        shared.set(name, tries, _TRIES_FOR.total_seconds())
    return tries <= MAX_TRIES
