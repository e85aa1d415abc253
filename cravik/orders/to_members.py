"""A letter to everybody who acts for a business."""

from __future__ import annotations

from cravik.mailroom.services import OutgoingLetter
from cravik.people.models import Business
from cravik.setup.messages.message import MessageKind
from cravik.setup.messages.wording import Composed


def letters_to_members(
    business: Business,
    kind: MessageKind,
    occasion: str,
    composed: Composed,
    *,
    reply_to: str = "",
    rehearsal: bool = False,
    order_id: int | None = None,
) -> list[OutgoingLetter]:
    """One for each, once an occasion."""
    return [
        OutgoingLetter(
            kind=kind.kind,
            occasion=f"{occasion}-to-{member.pk}",
            to_name=member.name,
            to_address=member.email,
            **vars(composed),
            reply_to=reply_to,
            rehearsal=rehearsal,
            order_id=order_id,
        )
        for member in business.members.filter(is_active=True)
    ]
