"""Who waits for a link: leaving an address, saying from a letter that it was oneself, and writing to all of them. Each
gets one message about the link and is forgotten then."""

from __future__ import annotations

import secrets
from collections.abc import Collection, Mapping
from datetime import datetime, timedelta

import structlog
from django.db import transaction
from django.db.models import Count
from django.urls import reverse

from cravik.catalogue.queries import shown_items
from cravik.core.link.closing import why_closed
from cravik.core.text.price_words import price_in_words
from cravik.links.happened import WaitingRemoved, WaitingWritten, record
from cravik.links.life.counting import paid_of
from cravik.links.life.shown_version import shown_version
from cravik.links.models import Link, Waiting
from cravik.mailroom.services import OutgoingLetter, queue_letters
from cravik.people.actors import Actor
from cravik.setup.contact import contact_of
from cravik.setup.hosts import address_of
from cravik.setup.messages.filling import WebAddress
from cravik.setup.messages.kinds import CAN_BE_BOUGHT, CONFIRM_WAITING
from cravik.setup.messages.wording import Composed, compose, words_of
from cravik.upkeep.tries import Bound, take_try

logger = structlog.stdlib.get_logger("cravik.letters")

#: So many addresses are kept for one link.
MAX_WAITING = 5_000
#: So long an address is kept whose owner said nothing, and so often one is written to about that, for all links.
UNCONFIRMED_FOR = timedelta(days=3)
_LETTERS_TO_ONE = Bound(3, timedelta(days=1))
_BATCH = 100


class TooManyWait(Exception):
    """As many addresses as can be were left already."""


def wait_for(link: Link, email: str, now: datetime) -> None:
    """Note the address, and ask its owner by a letter whether it was they; once, however often it is left. Nothing
    tells whether it was there. Raises ``TooManyWait``."""
    forget_unconfirmed(now)
    if Waiting.objects.filter(link=link).count() >= MAX_WAITING:
        raise TooManyWait
    key = email.casefold()[:254]
    row = Waiting(link=link, email=email, email_key=key, key=secrets.token_urlsafe(18), made_at=now)
    Waiting.objects.bulk_create([row], ignore_conflicts=True)
    kept = Waiting.objects.get(link=link, email_key=key)
    if kept.confirmed_at is None and take_try("waiting letter", key, bound=_LETTERS_TO_ONE, now=now):
        queue_letters(link.business, [letter_to_confirm(link, kept, now)], now)


def confirm(key: str, now: datetime) -> bool:
    """The owner of the address says that it was they; whether it still waits."""
    Waiting.objects.filter(key=key, confirmed_at=None).update(confirmed_at=now)
    return Waiting.objects.filter(key=key).exists()


def link_waited_for(key: str) -> Link | None:
    """The link for which the address with that key was left."""
    return Link.objects.filter(waiting__key=key).first()


def forget_unconfirmed(now: datetime) -> int:
    """Drop addresses whose owners said nothing for a few days."""
    return Waiting.objects.filter(confirmed_at=None, made_at__lt=now - UNCONFIRMED_FOR).delete()[0]


def waiting_by_link(link_ids: Collection[int]) -> Mapping[int, int]:
    """How many wait for each of the links; those for which nobody does are absent."""
    rows = (
        Waiting.objects.confirmed().filter(link_id__in=link_ids).order_by().values_list("link_id").annotate(Count("id"))
    )
    return dict(rows)


@transaction.atomic
def write_to_all(link: Link, now: datetime, *, by: Actor) -> int:
    """Let a letter be due to everybody who waits for the link and has none due yet; returns to how many."""
    number = Waiting.objects.confirmed().filter(link=link, due_at=None).update(due_at=now)
    if number:
        record(WaitingWritten(number), link, now, by)
    return number


@transaction.atomic
def forget(link: Link, waiting_id: int, now: datetime, *, by: Actor) -> bool:
    """Take one address away; whether it was there."""
    gone, _ = Waiting.objects.filter(link=link, id=waiting_id).delete()
    if gone:
        record(WaitingRemoved(), link, now, by)
    return gone > 0


def is_buyable(link: Link, now: datetime) -> bool:
    """Whether the link can be bought just now."""
    if link.state != Link.State.LIVE or link.version_id is None:
        return False
    version = shown_version(link.version_id)
    if why_closed(version.content, now, paid_of(link.pk)):
        return False
    return not any(item.is_gone for item in shown_items(set(version.items.values())).values())


def letter_to_confirm(link: Link, waiting: Waiting, now: datetime) -> OutgoingLetter:
    """The letter that asks whether it was the owner of the address who left it."""
    assert link.version_id is not None
    version, contact = shown_version(link.version_id), _contact(link)
    address = address_of(link.business_id, reverse("checkout:confirm_waiting", args=[waiting.key]))
    values = {
        "business": link.business.name,
        "thing": version.offer.title,
        "confirm_address": WebAddress(address),
        "contact": contact,
    }
    composed = compose(CONFIRM_WAITING, words_of(link.business, CONFIRM_WAITING.kind), values, look=version.look)
    return OutgoingLetter(
        kind=CONFIRM_WAITING.kind,
        occasion=f"waiting-{waiting.pk}-{int(now.timestamp())}",
        to_name="",
        to_address=waiting.email,
        **vars(composed),
        reply_to=contact,
    )


def letter_to_waiting(link: Link) -> Composed:
    """The letter that everybody who waits for the link gets."""
    assert link.version_id is not None
    version, business = shown_version(link.version_id), link.business
    values = {
        "business": business.name,
        "thing": version.offer.title,
        "price": price_in_words(version.offer),
        "link_address": WebAddress(address_of(link.business_id, link.path)),
        "contact": _contact(link),
    }
    return compose(CAN_BE_BOUGHT, words_of(business, CAN_BE_BOUGHT.kind), values, look=version.look)


def _contact(link: Link) -> str:
    """Whom buyers of the link ask."""
    assert link.version_id is not None
    return contact_of(link.business, shown_version(link.version_id).own_contact)["support_email"]


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
