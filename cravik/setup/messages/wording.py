"""What a message says in a business: the seller's wording, else the original."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime

from django.db import transaction
from django.template.loader import render_to_string

from cravik.people.actors import Actor
from cravik.people.models import Business
from cravik.setup.happened import record
from cravik.setup.looks import ShownLook
from cravik.setup.messages.filling import Values, fill_html, fill_line, fill_text, unknown_placeholders
from cravik.setup.messages.kinds import KINDS
from cravik.setup.messages.message import MessageKind, Words
from cravik.setup.models import Wording
from cravik.setup.saving import ChangedElsewhere
from cravik.ui.addresses import absolute

#: What a wording says only of a payment that was made.
_OF_A_PAYMENT = ("card_ending", "statement", "amount", "amount_in_words", "kept")


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


def words_for_nothing_paid(business: Business, kind: str) -> Words:
    """The wording for an order that was free: a seller's own may thank for a payment that there was none of."""
    words, free = words_of(business, kind), KINDS[kind].when_free
    speaks = any(f"{{{name}}}" in part for name in _OF_A_PAYMENT for part in (words.subject, words.heading, words.body))
    return free if free and (speaks or words == KINDS[kind].original) else words


def compose(
    kind: MessageKind, words: Words, values: Values, *, look: ShownLook | None = None, rehearsal: bool = False
) -> Composed:
    """The message, in the product's own look or that of a look. A rehearsed one says so first, whatever the wording.

    Raises ``ValueError`` for a value that is none of the kind's placeholders: whoever reads it may not see more.
    """
    if too_many := values.keys() - kind.names:
        raise ValueError(f"the reader of {kind.kind} is not told {sorted(too_many)}")
    heading, text = fill_line(words.heading, values), fill_text(words.body, values)
    warning = "REHEARSAL. No money moved and nothing was counted.\n\n" if rehearsal else ""
    page = {"heading": heading, "body": fill_html(words.body, values), "rehearsal": rehearsal}
    look = look or ShownLook()
    page |= {"look": look.letter, "business": values.get("business", ""), "logo_words": look.logo_words}
    page["logo"] = absolute(look.logo) if look.logo else ""
    subject = fill_line(words.subject, values)
    return Composed(
        subject=f"Rehearsal: {subject}" if rehearsal else subject,
        text=f"{warning}{heading}\n\n{text}\n",
        html=render_to_string("ui/letter.html", page),
    )


def refusals(kind: MessageKind, wording: str) -> list[str]:
    """A sentence for everything in braces that the kind of message has nothing for."""
    return [
        f"{{{name[:60]}}} stands for nothing in this message." + (f" Do you mean {{{near}}}?" if near else "")
        for name, near in unknown_placeholders(wording, kind.names).items()
    ]


@transaction.atomic
def change_wording(
    business: Business, kind: str, words: Words, seen_revision: int, now: datetime, *, by: Actor
) -> None:
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
    record(business.pk, f"message.{kind}", _message(kind), now, by)


@transaction.atomic
def take_original(business: Business, kind: str, now: datetime, *, by: Actor) -> None:
    """Let the message say what it said at first."""
    gone, _ = Wording.objects.filter(business=business, kind=kind).delete()
    if gone:
        record(business.pk, f"message.{kind}", _message(kind), now, by, "given its default wording")


def _message(kind: str) -> str:
    return f"Message “{KINDS[kind].title}”"
