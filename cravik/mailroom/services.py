"""Queueing and delivering letters."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime

from django.conf import settings
from django.core.mail import EmailMultiAlternatives, get_connection
from django.db import transaction
from django.utils.html import strip_tags

from cravik.mailroom.models import Letter
from cravik.setup.models import Business


@dataclass(frozen=True)
class Draft:
    """A letter before it is queued. ``occasion`` and ``kind`` together say what it is for, once."""

    kind: str
    occasion: str
    to_name: str
    to_address: str
    subject: str
    text: str
    html: str
    reply_to: str = ""
    rehearsal: bool = False


def queue_letter(business: Business, draft: Draft, now: datetime) -> Letter:
    """Keep the letter for delivery, once an occasion. Call it inside the transaction that it tells of."""
    subject = " ".join(strip_tags(draft.subject).split())[:250]
    letter, _ = Letter.objects.get_or_create(
        business=business,
        kind=draft.kind,
        occasion=draft.occasion,
        defaults={
            "to_name": draft.to_name,
            "to_address": draft.to_address,
            "reply_to": draft.reply_to,
            "subject": subject,
            "text": draft.text,
            "html": draft.html,
            "rehearsal": draft.rehearsal,
            "written_at": now,
        },
    )
    return letter


def deliver_waiting(now: datetime, at_most: int = 500) -> int:
    """Deliver the letters that wait, oldest first, and return how many went out.

    Each is delivered and marked in one transaction that holds the write lock, so two workers
    never send the same one.
    """
    delivered = 0
    for letter_id in (
        Letter.objects.filter(state=Letter.State.WAITING).order_by("id").values_list("id", flat=True)[:at_most]
    ):
        delivered += _deliver(letter_id, now)
    return delivered


@transaction.atomic
def _deliver(letter_id: int, now: datetime) -> bool:
    letter = Letter.objects.select_related("business").filter(id=letter_id, state=Letter.State.WAITING).first()
    if letter is None:
        return False
    message = EmailMultiAlternatives(
        subject=letter.subject,
        body=letter.text,
        from_email=_mailbox(letter.business.name, settings.DEFAULT_FROM_EMAIL),
        to=[_mailbox(letter.to_name, letter.to_address)],
        reply_to=[letter.reply_to] if letter.reply_to else None,
        connection=get_connection(),
    )
    message.attach_alternative(letter.html, "text/html")
    message.send()
    letter.state, letter.sent_at, letter.raw = Letter.State.SENT, now, message.message().as_bytes()
    letter.save(update_fields=["state", "sent_at", "raw"])
    return True


def _mailbox(name: str, address: str) -> str:
    plain = " ".join("".join(sign for sign in name if sign.isprintable() and sign not in '"<>\\').split())
    return f'"{plain}" <{address}>' if plain else address
