"""What a message says in a business: the seller's wording, else the original."""

from __future__ import annotations

import difflib
from dataclasses import dataclass
from datetime import datetime

from django.db import transaction
from django.template.loader import render_to_string

from cravik.setup.looks import Look
from cravik.setup.messages.filling import PLACEHOLDER, Values, fill_html, fill_line, fill_text
from cravik.setup.messages.kinds import KINDS, MessageKind, Words
from cravik.setup.models import Business, Wording
from cravik.setup.saving import ChangedElsewhere


@dataclass(frozen=True)
class Composed:
    """A message with its placeholders filled in."""

    subject: str
    text: str
    html: str


def words_of(business: Business, kind: str) -> Words:
    """The wording that holds for the kind of message."""
    own = Wording.objects.filter(business=business, kind=kind).first()
    return Words(own.subject, own.heading, own.body) if own else KINDS[kind].original


def compose(words: Words, values: Values, *, look: Look | None = None, rehearsal: bool = False) -> Composed:
    """The message, in the product's own look or that of a kit. A rehearsed one says so first, whatever the wording."""
    heading, text = fill_line(words.heading, values), fill_text(words.body, values)
    warning = "REHEARSAL. No money moved and nothing was counted.\n\n" if rehearsal else ""
    page = {"heading": heading, "body": fill_html(words.body, values), "rehearsal": rehearsal}
    page |= {"look": (look or Look()).letter, "business": values.get("business", "")}
    subject = fill_line(words.subject, values)
    return Composed(
        subject=f"Rehearsal: {subject}" if rehearsal else subject,
        text=f"{warning}{heading}\n\n{text}\n",
        html=render_to_string("ui/letter.html", page),
    )


def unknown_placeholders(kind: MessageKind, wording: str) -> list[str]:
    """A sentence for every name in braces that the kind of message has nothing for."""
    known = [each.name for each in kind.placeholders]
    sentences = []
    for name in dict.fromkeys(PLACEHOLDER.findall(wording)):
        if name not in known:
            near = difflib.get_close_matches(name.lower(), known, 1, 0.5)
            hint = f" Do you mean {{{near[0]}}}?" if near else ""
            sentences.append(f"{{{name}}} stands for nothing in this message.{hint}")
    return sentences


@transaction.atomic
def change_wording(business: Business, kind: str, words: Words, seen_revision: int, now: datetime) -> None:
    """Let the message say this. Raises ``ChangedElsewhere``."""
    there = Wording.objects.filter(business=business, kind=kind).first()
    if (there.revision if there else 0) != seen_revision:
        raise ChangedElsewhere
    Wording.objects.update_or_create(
        business=business,
        kind=kind,
        defaults={
            "subject": words.subject,
            "heading": words.heading,
            "body": words.body,
            "revision": seen_revision + 1,
            "changed_at": now,
        },
    )


def take_original(business: Business, kind: str) -> None:
    """Let the message say what it said at first."""
    Wording.objects.filter(business=business, kind=kind).delete()
