"""Who waits for a link: leaving an address, and writing to all of them. Each gets one letter and is forgotten then."""

from __future__ import annotations

from collections.abc import Collection, Mapping
from datetime import datetime

import structlog
from django.db import transaction
from django.db.models import Count

from cravik.catalogue.queries import shown_items
from cravik.core.link.limits import why_closed
from cravik.core.text.price_words import price_in_words
from cravik.links.effective import effective_edition
from cravik.links.models import Link, Waiting
from cravik.mailroom.services import OutgoingLetter, queue_letters
from cravik.setup.contact import contact_of
from cravik.setup.hosts import address_of
from cravik.setup.messages.filling import WebAddress
from cravik.setup.messages.kinds import CAN_BE_BOUGHT
from cravik.setup.messages.wording import Composed, compose, words_of

logger = structlog.stdlib.get_logger("cravik.letters")

#: So many addresses are kept for one link.
MAX_WAITING = 5_000
_BATCH = 100


class TooManyWait(Exception):
    """As many addresses as can be were left already."""


def wait_for(link_id: int, email: str, now: datetime) -> None:
    """Keep the address until all are written to; once, however often it is left. Raises ``TooManyWait``."""
    if Waiting.objects.filter(link_id=link_id).count() >= MAX_WAITING:
        raise TooManyWait
    row = Waiting(link_id=link_id, email=email, email_key=email.casefold()[:254], made_at=now)
    Waiting.objects.bulk_create([row], ignore_conflicts=True)


def waiting_by_link(link_ids: Collection[int]) -> Mapping[int, int]:
    """How many wait for each of the links; those for which nobody does are absent."""
    rows = Waiting.objects.filter(link_id__in=link_ids).order_by().values_list("link_id").annotate(Count("id"))
    return dict(rows)


def write_to_all(link: Link, now: datetime) -> int:
    """Let a letter be due to everybody who waits for the link and has none due yet; returns to how many."""
    return Waiting.objects.filter(link=link, due_at=None).update(due_at=now)


def forget(link: Link, waiting_id: int) -> bool:
    """Take one address away; whether it was there."""
    gone, _ = Waiting.objects.filter(link=link, id=waiting_id).delete()
    return gone > 0


def is_buyable(link: Link, now: datetime) -> bool:
    """Whether the link can be bought just now."""
    if link.state != Link.State.LIVE or link.edition_id is None:
        return False
    terms = effective_edition(link.edition_id)
    if why_closed(terms.content.limits, terms.offer.window, now, link.tally.paid):
        return False
    return not any(item.is_gone for item in shown_items(set(terms.items.values())).values())


def letter_to_waiting(link: Link) -> Composed:
    """The letter that everybody who waits for the link gets."""
    assert link.edition_id is not None
    terms, business = effective_edition(link.edition_id), link.business
    values = {
        "business": business.name,
        "thing": terms.offer.title,
        "price": price_in_words(terms.offer),
        "link_address": WebAddress(address_of(link.business_id, link.path)),
        "contact": _contact(link),
    }
    return compose(CAN_BE_BOUGHT, words_of(business, CAN_BE_BOUGHT.kind), values, look=terms.look)


def _contact(link: Link) -> str:
    """Whom buyers of the link ask."""
    assert link.edition_id is not None
    return contact_of(link.business, effective_edition(link.edition_id).own_contact)["support_email"]


def write_due(now: datetime) -> int:
    """Write the letters that are due, forget whom they go to, and return how many. Safe to run twice."""
    written, failed = 0, set[int]()
    due = Waiting.objects.filter(due_at__isnull=False).select_related("link__business").order_by("link_id", "id")
    while rows := list(due.exclude(link_id__in=failed)[:_BATCH]):
        link = rows[0].link
        try:
            written += _write(link, [row for row in rows if row.link_id == link.pk], now)
        except Exception as trouble:  # a wording, a row: it is no other link's business, and is tried again later
            failed.add(link.pk)
            logger.exception("letters could not be written", link=link.pk, trouble=type(trouble).__name__)
    return written


def _write(link: Link, rows: list[Waiting], now: datetime) -> int:
    composed, contact = letter_to_waiting(link), _contact(link)
    letters = [
        OutgoingLetter(
            kind=CAN_BE_BOUGHT.kind,
            occasion=f"waiting-{row.pk}",
            to_name="",
            to_address=row.email,
            **vars(composed),
            reply_to=contact,
        )
        for row in rows
    ]
    with transaction.atomic():
        queue_letters(link.business, letters, now)
        Waiting.objects.filter(id__in=[row.pk for row in rows]).delete()
    return len(rows)
