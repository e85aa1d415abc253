"""What the sample's seller did with her links: labels, a second version of one, a card, somebody who waits."""

from __future__ import annotations

import secrets
from datetime import datetime, timedelta
from typing import Any

from cravik.core.pricing.money import Money
from cravik.demo.seller import seller_of
from cravik.links.bench.saving import change_part
from cravik.links.models import Link, Waiting
from cravik.people.models import Business

_LABELS = {
    "market": ("Delta kite", "Diamond kite for beginners", "Sled kite", "Tail ribbon"),
    "beach": ("Workshop on the beach", "Beach weekend", "Flying day", "Summer workshop"),
    "online": ("Sled kite pattern to print", "Delta kite", "Night-flying light kit"),
}
_WAITING = ("nils@strand.example", "ada.vetch@dunes.example", "spar@school.example")
#: What a second version of the workshop says, part by part.
_WORKSHOP: tuple[tuple[str, Any], ...] = (
    (
        "words",
        "Three hours, a kite of your own to take home.\n\n- **Bring** a warm coat\n- **We have** everything else",
    ),
    (
        "questions",
        [
            {
                "key": "age",
                "kind": "one_of",
                "label": "Who comes?",
                "options": ["an adult", "a child"],
                "required": True,
            },
            {"key": "flown", "kind": "number", "label": "How many kites have you flown?", "whole": True},
        ],
    ),
    ("asks", {"phone": "optional"}),
    ("button", "Take a seat for {amount}"),
    ("card", {"title": "Build a kite on the beach", "words": "Three hours in the dunes, and you fly it home."}),
    (
        "after",
        {
            "message": "See you at the slipway, {buyer}. We start whatever the weather.",
            "go_to": "https://windlestraw.example/workshop",
        },
    ),
)


def look_after(business: Business, now: datetime) -> None:
    """Sort, mend and keep the links as a seller would have done by now."""
    links = {link.title: link for link in Link.objects.of(business).select_related("business")}
    for title, link in links.items():
        labels = [label for label, names in _LABELS.items() if title.startswith(names)]
        if labels:
            _change(link, "labels", labels, now - timedelta(days=9))
    workshop = next(link for title, link in links.items() if title.startswith("Workshop"))
    Link.objects.filter(id=workshop.pk).update(is_starting_point=True)
    for link in links.values():
        if link.state == Link.State.PAUSED:
            for number, email in enumerate(_WAITING):
                _waits(link, email, now - timedelta(days=3 * number + 1))


def _waits(link: Link, email: str, at: datetime) -> None:
    key = secrets.token_urlsafe(18)
    Waiting.objects.create(link=link, email=email, email_key=email, key=key, made_at=at, confirmed_at=at)


def repriced(link: Link, minor: int, at: datetime) -> Link:
    """The link of one line at another fixed price."""
    (line,) = link.draft["offer"]["lines"]
    price = {"kind": "fixed", "amount": Money(minor, link.draft["offer"]["currency"]).major}
    return change_line(link, line["key"], "price", price, at)


def change_line(link: Link, line: str, part: str, piece: object, at: datetime) -> Link:
    """The link with a part of that line changed."""
    return change_part(link, part, piece, link.revision, at, by=seller_of(link.business), line=line).link


def reshape(link: Link, at: datetime) -> Link:
    """The workshop as its second version has it, on its bench: it asks more than the first."""
    for part, piece in _WORKSHOP:
        _change(link, part, piece, at)
    return Link.objects.get(id=link.pk)


def _change(link: Link, part: str, piece: Any, at: datetime) -> None:
    fresh = Link.objects.get(id=link.pk)
    change_part(fresh, part, piece, fresh.revision, at, by=seller_of(fresh.business))
