"""Queueing and delivering letters."""

from __future__ import annotations

import io
from dataclasses import dataclass
from datetime import datetime, timedelta
from email.mime.image import MIMEImage
from email.utils import format_datetime
from functools import lru_cache
from html import unescape
from pathlib import Path

import structlog
from django.conf import settings
from django.core.mail import EmailMultiAlternatives, get_connection
from django.db import transaction
from django.db.models import Q
from PIL import Image

from cravik.mailroom.models import Letter
from cravik.people.models import Business
from cravik.ui.letters import LOGO
from cravik.ui.picture_files import file_named, name_in_address
from cravik.upkeep.hooks import Hook

#: A letter that was taken for delivery longer ago than this was cut off, and is taken again.
CUT_OFF_AFTER = timedelta(minutes=10)
_BATCH = 50
#: A letter that fails so often is parked; between its tries lies this, and twice this.
MAX_TRIES = 3
TRY_AGAIN_AFTER = timedelta(minutes=1)

logger = structlog.stdlib.get_logger("cravik.mailroom")


@dataclass(frozen=True)
class Enclosure:
    """A file that goes with a letter."""

    name: str
    content: bytes
    content_type: str


#: Asked for the files that go with a letter, by what it has ``enclosed``.
enclosures: Hook[[list[int]], list[Enclosure]] = Hook("cravik.mailroom.services.enclosures")


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
    order_id: int | None = None
    enclosed: tuple[int, ...] = ()


def queue_letters(business: Business, drafts: list[OutgoingLetter], now: datetime) -> None:
    """Keep the letters for delivery, each once an occasion however often it is queued. One to nobody, since whom it
    was for had their data erased, is none."""
    Letter.objects.bulk_create(
        [
            Letter(
                business=business,
                kind=draft.kind,
                occasion=draft.occasion,
                to_name=draft.to_name,
                to_address=draft.to_address,
                reply_to=draft.reply_to,
                subject=" ".join(draft.subject.split())[:250],
                text=draft.text,
                html=draft.html,
                rehearsal=draft.rehearsal,
                order_id=draft.order_id,
                enclosed=list(draft.enclosed),
                written_at=now,
            )
            for draft in drafts
            if draft.to_address
        ],
        ignore_conflicts=True,
    )


def deliver_waiting(now: datetime) -> int:
    """Deliver the letters that wait, oldest first, and return how many went out.

    Letters are taken in one transaction, handed over outside any, and marked one by one, so a slow mail server holds up
    nobody and a letter that cannot be sent holds up no other. One that was taken and never marked is sent again after
    ``CUT_OFF_AFTER``, under the same Message-ID, by which mail programs know it for the same.
    """
    delivered = 0
    while taken := _take_batch(now):
        delivered += sum(_deliver(letter, now) for letter in taken)
    return delivered


def _deliver(letter: Letter, now: datetime) -> bool:
    try:
        message_of(letter, now).send()
    except Exception as trouble:  # whatever a mail server or library raises is about this letter alone
        _put_off(letter, trouble, now)
        return False
    Letter.objects.filter(id=letter.pk).update(state=Letter.State.SENT, sent_at=now, trouble="")
    return True


def _put_off(letter: Letter, trouble: Exception, now: datetime) -> None:
    """Try the letter later, ever later; after ``MAX_TRIES`` it is parked."""
    tries = letter.tries + 1
    is_over = tries >= MAX_TRIES
    Letter.objects.filter(id=letter.pk).update(
        state=Letter.State.PARKED if is_over else Letter.State.WAITING,
        tries=tries,
        trouble=f"{type(trouble).__name__}: {trouble}"[:300],
        not_before=None if is_over else now + tries * TRY_AGAIN_AFTER,
    )
    say = logger.error if is_over else logger.warning
    say("a letter could not be sent", letter=letter.pk, kind=letter.kind, tries=tries, trouble=type(trouble).__name__)


def send_again(letter: Letter) -> None:
    """Let a letter that was parked be tried again, from the beginning."""
    parked = Letter.objects.filter(id=letter.pk, state=Letter.State.PARKED)
    parked.update(state=Letter.State.WAITING, tries=0, not_before=None)


@transaction.atomic
def _take_batch(now: datetime) -> list[Letter]:
    due = Q(not_before__isnull=True) | Q(not_before__lte=now)
    free = Q(state=Letter.State.WAITING) & due | Q(state=Letter.State.TAKEN, taken_at__lt=now - CUT_OFF_AFTER)
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
    message.attach_alternative(_with_its_logo(message, letter.html), "text/html")
    for files in enclosures.call(letter.enclosed) if letter.enclosed else ():
        for each in files:
            message.attach(each.name, each.content, each.content_type)
    return message


def _with_its_logo(message: EmailMultiAlternatives, html: str) -> str:
    """The letter, its logo going with it instead of being fetched when it is opened: as PNG, which every program shows.

    Without one, or where its file is gone or damaged, it stays as it is.
    """
    found = LOGO.search(html)
    path = file_named(name_in_address(unescape(found[2]))) if found else None
    if path is None:
        return html
    try:
        picture = MIMEImage(_as_png(path, path.stat().st_mtime_ns), "png")
    except OSError:
        return html
    picture.add_header("Content-ID", "<logo>")
    picture.add_header("Content-Disposition", "inline", filename="logo.png")
    message.mixed_subtype = "related"  # type: ignore[attr-defined]  # the stubs leave it out
    message.attach(picture)
    return LOGO.sub(r"\1cid:logo\3", html)


@lru_cache(maxsize=32)
def _as_png(path: Path, _changed: int) -> bytes:
    png = io.BytesIO()
    with Image.open(path) as logo:
        logo.save(png, "PNG")
    return png.getvalue()


def _mailbox(name: str, address: str) -> str:
    plain = " ".join("".join(sign for sign in name if sign.isprintable() and sign not in '"<>\\').split())
    return f'"{plain}" <{address}>' if plain else address
