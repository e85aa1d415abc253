"""Named writes and reads of handles: a business's short address that anyone can pay to, in the currencies it takes.

Behind each currency is a link of its own, where the buyer says how much and what for: it is worked on, paused and
counted like any other.
"""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from typing import Any

from anyascii import anyascii
from django.db import transaction

from cravik.core.documents.link import FORMAT as LINK_FORMAT
from cravik.core.documents.offer import FORMAT as OFFER_FORMAT
from cravik.core.link.content import SUBJECTS
from cravik.core.link.handles import handle_fault, suggested_handles
from cravik.core.pricing.offer import MAX_TITLE_LENGTH
from cravik.core.pricing.price import OpenPrice
from cravik.links.life.shown_version import ShownVersion
from cravik.links.making.documents import import_link
from cravik.links.models import Link, Spot
from cravik.links.places.spots import make_spot
from cravik.people.actors import Actor
from cravik.people.models import Business
from cravik.setup.happened import record
from cravik.share.models import Handle, HandleCurrency

MAX_CURRENCIES = 12
_LINE = "payment"
_ASKS = "What it is for"
#: So many currencies are taken at one handle.
MAX_CURRENCIES = 12


class HandleTaken(Exception):
    """Another business has that handle, or once had it."""


@dataclass(frozen=True)
class PaidTo:
    """A handle at its present name, with the short code at which each currency is paid."""

    name: str
    business: Business
    codes: dict[str, str]

    @property
    def usual(self) -> str:
        """The currency where none is named: that of the business, or the first that was taken."""
        return self.business.currency if self.business.currency in self.codes else next(iter(self.codes))


@transaction.atomic
def name_handle(business: Business, name: str, now: datetime, *, by: Actor) -> Handle:
    """Let the business be paid at that handle. Former ones keep leading there. The first makes the link behind it.

    ``name`` is one without a fault (``handle_fault``). Raises ``HandleTaken``, and ``NotReady`` where that link cannot
    be published.
    """
    wanted = name.strip().lower()
    assert not handle_fault(wanted)
    holder = Handle.objects.select_for_update().filter(name=wanted).first()
    if holder and holder.business_id != business.pk:
        raise HandleTaken
    Handle.objects.filter(business=business, current=True).exclude(name=wanted).update(current=False)
    handle, _ = Handle.objects.update_or_create(name=wanted, defaults={"business": business, "current": True})
    if not HandleCurrency.objects.filter(business=business).exists():
        take_currency(business, business.currency, now, by=by)
    record(business.pk, "handle", f"Handle “{wanted}”", now, by, "taken")
    return handle


@transaction.atomic
def take_currency(business: Business, currency: str, now: datetime, *, by: Actor) -> HandleCurrency:
    """Let the handle be paid in that currency too, by a link that is made for it. Raises ``NotReady``."""
    found = HandleCurrency.objects.filter(business=business, currency=currency).first()
    if found and found.spot.link.removed_at is None:
        return found
    link = import_link(business, _document(business, currency), now, by=by, published=True)
    spot = make_spot(link, "Handle", now, by=by)
    record(business.pk, "handle", f"Handle in {currency}", now, by, "opened")
    if found:
        found.spot = spot
        found.save(update_fields=["spot"])
        return found
    return HandleCurrency.objects.create(business=business, currency=currency, spot=spot)


@transaction.atomic
def leave_currency(business: Business, currency: str, now: datetime, *, by: Actor) -> None:
    """Take that currency no more at the handle; its link stays as it is. The last one stays."""
    rows = HandleCurrency.objects.filter(business=business)
    if rows.count() > 1:
        gone, _ = rows.filter(currency=currency).delete()
        if gone:
            record(business.pk, "handle", f"Handle in {currency}", now, by, "closed")


def paid_to(name: str) -> PaidTo | None:
    """The handle of that name, in whatever case, present or former; None where nobody has it."""
    handle = Handle.objects.select_related("business").filter(name=name.lower()).first()
    present = current_handle(handle.business) if handle else None
    if handle is None or present is None:
        return None
    rows = HandleCurrency.objects.filter(business=handle.business, spot__link__removed_at=None)
    codes = dict(rows.order_by("id").values_list("currency", "spot__code"))
    return PaidTo(present.name, handle.business, codes) if codes else None


def current_handle(business: Business) -> Handle | None:
    return Handle.objects.filter(business=business, current=True).first()


def links_behind(business: Business) -> list[tuple[str, Spot, Link]]:
    """Of each currency: the spot that stands for the handle, and the link that it leads to."""
    rows = HandleCurrency.objects.filter(business=business).select_related("spot__link").order_by("id")
    return [(row.currency, row.spot, row.spot.link) for row in rows]


def free_handles(business: Business, most: int = 3) -> list[str]:
    """Handles that the business might like and could have."""
    wanted = suggested_handles(anyascii(business.name))
    wanted += [f"{each}-{number}" for each in wanted[:1] for number in range(2, 9)]
    taken = set(Handle.objects.filter(name__in=wanted).exclude(business=business).values_list("name", flat=True))
    return [each for each in wanted if each not in taken and not handle_fault(each)][:most]


def open_line(version: ShownVersion) -> str:
    """The key of the line whose amount the buyer gives; nothing where the link has none any more."""
    return next((line.key for line in version.offer.lines if isinstance(line.price, OpenPrice)), "")


def _document(business: Business, currency: str) -> dict[str, Any]:
    title = f"Payment to {business.name}"[:MAX_TITLE_LENGTH]
    line = {"key": _LINE, "name": title, "price": {"kind": "open", "min": "1", "max": None}}
    return {
        "format": LINK_FORMAT,
        "name": f"Handle, {currency}",
        "offer": {"format": OFFER_FORMAT, "title": title, "currency": currency, "lines": [line]},
        "follows": list(SUBJECTS),
        "asks": {"note": {"ask": "required", "label": _ASKS}},
    }
