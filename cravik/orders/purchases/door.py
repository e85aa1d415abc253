"""Who may see a buyer's purchases: whoever opened the address that was mailed to them."""

from __future__ import annotations

import hashlib
from datetime import datetime, timedelta
from secrets import token_urlsafe

from django.core import signing
from django.db.models import QuerySet
from django.http import HttpRequest, HttpResponse
from django.urls import reverse
from django.utils import timezone
from django_tasks import task

from cravik.buyers.models import Buyer
from cravik.mailroom.services import OutgoingLetter, deliver_waiting, queue_letters
from cravik.orders.models import Order, PurchasesKey
from cravik.people.models import Business
from cravik.setup.contact import contact_of
from cravik.setup.hosts import address_of
from cravik.setup.messages.after_paying import PURCHASES
from cravik.setup.messages.filling import Values, WebAddress
from cravik.setup.messages.wording import compose, words_of
from cravik.upkeep.networks import network_asking
from cravik.upkeep.tries import Bound, take_try

OPENS_FOR = timedelta(hours=24)
STAYS_OPEN_FOR = timedelta(days=7)
#: How often an address may be asked for: from one network, and for one buyer.
_FROM_ONE = Bound(20, timedelta(hours=1))
_FOR_ONE = Bound(5, timedelta(hours=1))
_SIGNER = signing.TimestampSigner(salt="cravik.orders.purchases")
_COOKIE = "purchases"


@task()
def send_purchases_address(business_id: int, key: str) -> bool:
    """Mail the address to the business's buyer with that key, and whether there is one. In the background, so that
    nobody can tell by the answer, or by how long it takes, whether there is."""
    now = timezone.now()
    buyer = Buyer.objects.filter(business_id=business_id, key=key).first()
    if buyer is None or not Order.objects.filter(buyer=buyer).exists():
        return False
    if not take_try("purchases", str(buyer.pk), bound=_FOR_ONE, now=now):
        return False
    opens = token_urlsafe(24)
    made = PurchasesKey.objects.create(buyer=buyer, digest=_digest(opens), made_at=now)
    business = buyer.business
    path = reverse("purchases:open", args=[business_id, opens])
    contact = contact_of(business, None)["support_email"]
    values: Values = {
        "buyer": buyer.name,
        "business": business.name,
        "purchases_address": WebAddress(address_of(business_id, path)),
        "contact": contact,
    }
    composed = compose(PURCHASES, words_of(business, PURCHASES.kind), values)
    letter = OutgoingLetter(
        kind=PURCHASES.kind,
        occasion=f"key-{made.pk}",
        to_name=buyer.name,
        to_address=buyer.email,
        **vars(composed),
        reply_to=contact,
    )
    queue_letters(business, [letter], now)
    deliver_waiting(now)
    return True


def may_ask(request: HttpRequest, now: datetime) -> bool:
    """Whether an address may be asked for once more from there; each call is a try."""
    return take_try("purchases asked", network_asking(request), bound=_FROM_ONE, now=now)


def is_open(business_id: int, opens: str, now: datetime) -> bool:
    """Whether the mailed address opens anything still."""
    return _fresh(business_id, opens, now).exists()


def open_once(business_id: int, opens: str, now: datetime) -> int | None:
    """The id of the buyer whose purchases the mailed address opens, the first time; None from then on."""
    found = _fresh(business_id, opens, now)
    buyer_id = found.values_list("buyer_id", flat=True).first()
    return buyer_id if buyer_id and found.update(used_at=now) else None


def _fresh(business_id: int, opens: str, now: datetime) -> QuerySet[PurchasesKey]:
    keys = PurchasesKey.objects.filter(buyer__business_id=business_id, digest=_digest(opens), used_at=None)
    return keys.filter(made_at__gt=now - OPENS_FOR)


def _digest(opens: str) -> str:
    return hashlib.sha256(opens.encode()).hexdigest()


def let_in(response: HttpResponse, business_id: int, buyer_id: int, *, secure: bool) -> None:
    """Keep the page open in this browser. The cookie goes to that page alone, with nothing that other sites send."""
    response.set_cookie(
        _COOKIE,
        _SIGNER.sign(f"{business_id}-{buyer_id}"),
        max_age=STAYS_OPEN_FOR,
        path=reverse("purchases:page", args=[business_id]),
        secure=secure,
        httponly=True,
        samesite="Lax",
    )


def let_out(response: HttpResponse, business_id: int) -> None:
    response.delete_cookie(_COOKIE, path=reverse("purchases:page", args=[business_id]), samesite="Lax")


def buyer_in(request: HttpRequest, business: Business) -> Buyer | None:
    """Whose purchases at the business are open in this browser."""
    try:
        kept = _SIGNER.unsign(request.COOKIES.get(_COOKIE, ""), max_age=STAYS_OPEN_FOR)
    except signing.BadSignature:
        return None
    business_id, _, buyer_id = kept.partition("-")
    if business_id != str(business.pk):
        return None
    return Buyer.objects.filter(business=business, id=buyer_id).exclude(email="").first()  # who was erased is nobody's
