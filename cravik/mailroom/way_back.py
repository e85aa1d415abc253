"""Letters about accounts: the way back for somebody who forgot their password, and opening a business. Each stands in
the window of the installation too, if it is one."""

from __future__ import annotations

import sys
from datetime import datetime

from django.conf import settings
from django.core.mail import EmailMultiAlternatives
from django.urls import reverse
from django.utils import timezone
from django_tasks import task

from cravik.mailroom.models import WAY_BACK, Letter
from cravik.mailroom.services import OutgoingLetter, queue_letters
from cravik.mailroom.tasks import deliver_waiting_letters
from cravik.people.models import User
from cravik.people.services import way_back_address
from cravik.setup.messages.filling import WebAddress
from cravik.setup.messages.message import MessageKind, Words
from cravik.setup.messages.placeholders import Placeholder
from cravik.setup.messages.wording import compose
from cravik.ui.addresses import absolute
from cravik.upkeep.queue import enqueue_once

#: Seconds in which one user is sent one such letter, however often it is asked for.
_ONCE_IN = 300
SIGN_UP = "sign_up"
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


_CONFIRM = MessageKind(
    SIGN_UP,
    "Open your business",
    "a stranger",
    "when somebody wants to open a business",
    (
        Placeholder("email", "the address", "orla@windlestraw.example"),
        Placeholder("address", "where it is confirmed", WebAddress("https://pay.windlestraw.example/sign-up/x/")),
    ),
    Words(
        "Open your business",
        "Open your business",
        "Somebody wants to open a business here with {email}.\n\n"
        "[Open it]({address})\n\n"
        "The address works for an hour; you choose your password there. If it was not you, do nothing.",
    ),
)
_HAS_ONE = MessageKind(
    SIGN_UP,
    "You have an account",
    "you",
    "when somebody wants to open a business with your address",
    _CONFIRM.placeholders,
    Words(
        "You have an account here",
        "You have an account here",
        "Somebody wanted to open a business with {email}, which has an account already.\n\n"
        "[Sign in]({address})\n\n"
        "If it was not you, do nothing.",
    ),
)


def send_way_back(email: str, now: datetime) -> None:
    """Queue the letter to whoever signs in with the address, if anyone does, and print where it leads for whoever runs
    the installation: its mail may never leave it."""
    user = User.objects.filter(email=email, is_active=True).first()
    if user is None:
        return
    occasion = f"user-{user.pk}-{int(now.timestamp()) // _ONCE_IN}"
    if Letter.objects.filter(kind=WAY_BACK, occasion=occasion).exists():
        return
    address = way_back_address(user)
    _show(f"A new password for {user.email}:  {address}")
    business = user.businesses.order_by("id").first()
    if business is None:
        return
    composed = compose(_MESSAGE, _MESSAGE.original, {"email": user.email, "address": WebAddress(address)})
    letter = OutgoingLetter(
        kind=WAY_BACK, occasion=occasion, to_name=user.name, to_address=user.email, **vars(composed)
    )
    queue_letters(business, [letter], now)
    enqueue_once(deliver_waiting_letters)


def _show(line: str) -> None:
    """To whoever sits at the window in which Cravik runs. Where that is a log, a secret has no place in it."""
    if sys.stderr.isatty():
        print(f"\n  {line}\n", file=sys.stderr, flush=True)


def send_sign_up(email: str, address: str) -> None:
    """Send a stranger the address that opens their business, and who has an account a word about that. It belongs to no
    business, so no mailroom keeps it."""
    kind = _CONFIRM
    if User.objects.filter(email=email).exists():
        kind, address = _HAS_ONE, absolute(reverse("people:sign_in"))
    else:
        _show(f"A business for {email}:  {address}")
    composed = compose(kind, kind.original, {"email": email, "address": WebAddress(address)})
    message = EmailMultiAlternatives(composed.subject, composed.text, settings.DEFAULT_FROM_EMAIL, [email])
    message.attach_alternative(composed.html, "text/html")
    message.send()


@task()
def send_way_back_to(email: str) -> None:
    send_way_back(email, timezone.now())


@task()
def send_sign_up_to(email: str, address: str) -> None:
    send_sign_up(email, address)


def want_way_back(email: str) -> None:
    """Have it looked into in the background."""
    send_way_back_to.enqueue(email)


def ask_to_confirm(email: str, address: str) -> None:
    """The same for opening a business."""
    send_sign_up_to.enqueue(email, address)
