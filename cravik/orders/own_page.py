"""The address of a confirmation, and the marks in it by which its buyer is known.

The reference alone shows that it was paid, and nothing else. All of it is shown to whoever has a mark, which is
signed: one stands in the redirect after the payment and holds for half an hour, another in the receipt that is mailed
and holds as long as downloads do.
"""

from __future__ import annotations

from datetime import datetime, timedelta
from urllib.parse import urlencode

from django.core import signing
from django.http import HttpRequest, HttpResponse
from django.urls import reverse

from cravik.upkeep.networks import network_asking
from cravik.upkeep.tries import Bound, take_try

OWN_FOR = timedelta(minutes=30)
MAILED_FOR = timedelta(days=30)
#: How often e-mail addresses may be typed from one network: for one checkout, and for all of them.
_FOR_ONE = Bound(10, timedelta(hours=1))
_FOR_ALL = Bound(60, timedelta(hours=1))
_NAME, _MAILED = "own", "mailed"
_SIGNER = signing.TimestampSigner(salt="cravik.orders.own_page")
_MAILER = signing.TimestampSigner(salt="cravik.orders.own_page.mailed")


def own_path(reference: str) -> str:
    """Where the buyer of that checkout is led after paying."""
    return with_mark(reverse("confirmation:page", args=[reference]), reference)


def with_mark(path: str, reference: str) -> str:
    """The path, and that whoever opens it is the buyer of the checkout."""
    return f"{path}?{urlencode({_NAME: _mark(_SIGNER, reference)})}"


def mailed_path(reference: str) -> str:
    """The confirmation as it stands in the letter to its buyer: whoever has that letter is taken for them."""
    return f"{reverse('confirmation:page', args=[reference])}?{urlencode({_MAILED: _mark(_MAILER, reference)})}"


def payments_path(reference: str) -> str:
    """The buyer's page of what is paid over time."""
    return with_mark(reverse("confirmation:payments", args=[reference]), reference)


def mailed_payments_path(reference: str) -> str:
    """The same as it stands in a letter to its buyer."""
    path = reverse("confirmation:payments", args=[reference])
    return f"{path}?{urlencode({_MAILED: _mark(_MAILER, reference)})}"


def mailed_document_path(reference: str, document_id: int) -> str:
    """A document of the order as it stands in a letter to its buyer."""
    path = reverse("confirmation:document", args=[reference, document_id])
    return f"{path}?{urlencode({_MAILED: _mark(_MAILER, reference)})}"


def is_own(request: HttpRequest, reference: str) -> bool:
    """Whether the address that was opened says so, and not too long ago."""
    marks = ((_SIGNER, _NAME, OWN_FOR), (_MAILER, _MAILED, MAILED_FOR))
    return any(_is_right(signer, reference, request.GET.get(name, ""), age) for signer, name, age in marks)


def may_try(request: HttpRequest, reference: str, now: datetime) -> bool:
    """Whether the e-mail address of the checkout may be guessed once more from there; each call is a try.

    They are counted by network: whoever guesses elsewhere keeps nobody from their own page.
    """
    network = network_asking(request)
    of_one = take_try("receipt", reference, network, bound=_FOR_ONE, now=now)
    return of_one and take_try("receipts", network, bound=_FOR_ALL, now=now)


def private(response: HttpResponse) -> HttpResponse:
    """The response, for this buyer alone."""
    response["Cache-Control"] = "private, no-store"
    response["X-Robots-Tag"] = "noindex"
    response["Referrer-Policy"] = "no-referrer"  # the address may open something
    return response


def _mark(signer: signing.TimestampSigner, reference: str) -> str:
    return signer.sign(reference).partition(signer.sep)[2]


def _is_right(signer: signing.TimestampSigner, reference: str, mark: str, age: timedelta) -> bool:
    try:
        signer.unsign(f"{reference}{signer.sep}{mark[:200]}", max_age=age)
    except signing.BadSignature:
        return False
    return True
