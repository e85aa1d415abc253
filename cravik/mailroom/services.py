"""Queueing and delivering letters."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime, timedelta
from email.utils import format_datetime

from django.conf import settings
from django.core.mail import EmailMultiAlternatives, get_connection
from django.db import transaction
from django.db.models import Q
from django.utils.html import strip_tags

from cravik.mailroom.models import Letter
from cravik.setup.models import Business

#: A letter that was taken for delivery longer ago than this was cut off, and is taken again.
CUT_OFF_AFTER = timedelta(minutes=10)
_BATCH = 50


@dataclass(frozen=True)
class OutgoingLetter:
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


def queue_letters(business: Business, drafts: list[OutgoingLetter], now: datetime) -> None:
    """Keep the letters for delivery, each once an occasion however often it is queued."""
    Letter.objects.bulk_create(
        [
            Letter(
                business=business,
                kind=draft.kind,
                occasion=draft.occasion,
                to_name=draft.to_name,
                to_address=draft.to_address,
                reply_to=draft.reply_to,
                subject=" ".join(strip_tags(draft.subject).split())[:250],
                text=draft.text,
                html=draft.html,
                rehearsal=draft.rehearsal,
                written_at=now,
            )
            for draft in drafts
        ],
        ignore_conflicts=True,
    )


def deliver_waiting(now: datetime) -> int:
    """Deliver the letters that wait, oldest first, and return how many went out.

    Letters are taken in one transaction, handed over outside any, and marked in another, so a slow
    mail server holds up nobody. One that was taken and never marked is sent again after
    ``CUT_OFF_AFTER``, under the same Message-ID, by which mail programs know it for the same.
    """
    delivered = 0
    while taken := _take_batch(now):
        for letter in taken:
            message_of(letter, now).send()
        Letter.objects.filter(id__in=[letter.pk for letter in taken]).update(state=Letter.State.SENT, sent_at=now)
        delivered += len(taken)
    return delivered


@transaction.atomic
def _take_batch(now: datetime) -> list[Letter]:
    free = Q(state=Letter.State.WAITING) | Q(state=Letter.State.TAKEN, taken_at__lt=now - CUT_OFF_AFTER)
    letters = list(Letter.objects.select_related("business").filter(free).order_by("id")[:_BATCH])
    Letter.objects.filter(id__in=[letter.pk for letter in letters]).update(state=Letter.State.TAKEN, taken_at=now)
    return letters


def message_of(letter: Letter, sent_at: datetime) -> EmailMultiAlternatives:
    """The letter as a mail message, the same whenever it is composed for the same instant."""
    message = EmailMultiAlternatives(
        subject=letter.subject,
        body=letter.text,
        from_email=_mailbox(letter.business.name, settings.DEFAULT_FROM_EMAIL),
        to=[_mailbox(letter.to_name, letter.to_address)],
        reply_to=[letter.reply_to] if letter.reply_to else None,
        headers={
            "Message-ID": f"<letter-{letter.pk}@{settings.DEFAULT_FROM_EMAIL.partition('@')[2]}>",
            "Date": format_datetime(sent_at),
        },
        connection=get_connection(),
    )
    message.attach_alternative(letter.html, "text/html")
    return message


def _mailbox(name: str, address: str) -> str:
    plain = " ".join("".join(sign for sign in name if sign.isprintable() and sign not in '"<>\\').split())
    return f'"{plain}" <{address}>' if plain else address
