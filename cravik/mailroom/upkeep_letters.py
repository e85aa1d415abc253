"""Letters to those who look after the installation."""

from __future__ import annotations

from datetime import datetime

from django.urls import reverse

from cravik.mailroom.services import OutgoingLetter, queue_letters
from cravik.mailroom.tasks import deliver_waiting_letters
from cravik.people.models import User
from cravik.setup.messages.filling import WebAddress
from cravik.setup.messages.message import MessageKind, Words
from cravik.setup.messages.placeholders import Placeholder
from cravik.setup.messages.wording import compose
from cravik.ui.addresses import absolute
from cravik.upkeep.queue import enqueue_once

BACKUP_FAILS = "backup_fails"
_MESSAGE = MessageKind(
    BACKUP_FAILS,
    "Back-ups fail",
    "whoever looks after the installation",
    "when the day's back-up could not be taken or is not sound",
    (
        Placeholder("why", "what went wrong", "There is no room for a back-up."),
        Placeholder(
            "address", "where it is seen to", WebAddress("https://pay.windlestraw.example/setup/installation/")
        ),
    ),
    Words(
        "The back-up failed",
        "The back-up failed",
        "{why}\n\nIt is tried again within the hour, and from then on. Earlier back-ups are as they were.\n\n"
        "[Look at the installation]({address})",
    ),
)


def tell_of_failing_backups(words: str, now: datetime) -> None:
    """Write to everybody who looks after the installation and has a business here."""
    for user in User.objects.filter(is_superuser=True, is_active=True):
        business = user.businesses.order_by("id").first()
        if business is None:
            continue
        values = {"why": words, "address": WebAddress(absolute(reverse("setup:installation")))}
        composed = compose(_MESSAGE, _MESSAGE.original, values)
        letter = OutgoingLetter(
            kind=BACKUP_FAILS,
            occasion=f"user-{user.pk}-{now:%Y%m%dT%H}",
            to_name=user.name,
            to_address=user.email,
            **vars(composed),
        )
        queue_letters(business, [letter], now)
    enqueue_once(deliver_waiting_letters)
