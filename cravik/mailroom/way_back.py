"""The way back for somebody who forgot their password: a letter, and a line in the window of the installation."""

from __future__ import annotations

import sys
from datetime import datetime

from cravik.mailroom.models import WAY_BACK, Letter
from cravik.mailroom.services import OutgoingLetter, queue_letters
from cravik.mailroom.tasks import deliver_waiting_letters
from cravik.setup.messages.filling import WebAddress
from cravik.setup.messages.kinds import MessageKind, Placeholder, Words
from cravik.setup.messages.wording import compose
from cravik.setup.models import User
from cravik.upkeep.queue import enqueue_once

#: Seconds in which one user is sent one such letter, however often it is asked for.
_ONCE_IN = 300
_MESSAGE = MessageKind(
    WAY_BACK,
    "A new password",
    "you",
    "when a new password is asked for",
    (
        Placeholder("email", "the address of the account", "orla@windlestraw.example"),
        Placeholder("address", "where it is chosen", WebAddress("https://pay.windlestraw.example/password/")),
    ),
    Words(
        "Choose a new password",
        "Choose a new password",
        "Somebody asked for a new password for {email}.\n\n"
        "[Choose it here]({address})\n\n"
        "The address works for an hour, and once. If it was not you, do nothing: your password stays as it is.",
    ),
)


def send_way_back(user: User, address: str, now: datetime) -> None:
    """Queue the letter, and print the address for whoever runs the installation: its mail may never leave it."""
    occasion = f"user-{user.pk}-{int(now.timestamp()) // _ONCE_IN}"
    if Letter.objects.filter(kind=WAY_BACK, occasion=occasion).exists():
        return
    print(f"\n  A new password for {user.email}:  {address}\n", file=sys.stderr, flush=True)
    business = user.businesses.order_by("id").first()
    if business is None:
        return
    composed = compose(_MESSAGE, _MESSAGE.original, {"email": user.email, "address": WebAddress(address)})
    letter = OutgoingLetter(
        kind=WAY_BACK, occasion=occasion, to_name=user.name, to_address=user.email, **vars(composed)
    )
    queue_letters(business, [letter], now)
    enqueue_once(deliver_waiting_letters)
