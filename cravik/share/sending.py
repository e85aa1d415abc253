"""Messages that send a link: by e-mail, by text message, by the phone's own sheet, or by the clipboard.

Each way is a channel with a spot of its own, made the first time that it is used, so that its results can be told
apart.
"""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from urllib.parse import quote

from cravik.core.text.price_words import price_in_words
from cravik.links.life.shown_version import shown_to_buyers
from cravik.links.models import Link, Spot
from cravik.links.places.spots import channel_spot
from cravik.people.actors import Actor
from cravik.setup.hosts import address_of
from cravik.setup.messages.filling import WebAddress, fill_line, fill_text
from cravik.setup.messages.kinds import INVITATION, SHORT_INVITATION
from cravik.setup.messages.message import MessageKind
from cravik.setup.messages.wording import words_of


@dataclass(frozen=True)
class Channel:
    """A way to send a message: what its spot is called, its button, and which wording it has."""

    key: str
    spot_name: str
    verb: str
    wording: MessageKind
    #: What opens it, with ``{subject}`` and ``{text}`` for the message; nothing: only a script can.
    scheme: str = ""


#: ``mailto:`` by RFC 6068. ``sms:`` by RFC 5724.
CHANNELS = {
    each.key: each
    for each in (
        Channel("email", "E-mail", "Write an e-mail", INVITATION, "mailto:?subject={subject}&body={text}"),
        Channel("text", "Text message", "Write a text message", SHORT_INVITATION, "sms:?body={text}"),
        Channel("sheet", "Shared from a phone", "Share", SHORT_INVITATION),
        Channel("copy", "Copied message", "Copy a message", SHORT_INVITATION),
    )
}


@dataclass(frozen=True)
class Message:
    """A message ready to be sent. ``opens`` is the address that opens it in a program, where there is one."""

    subject: str
    text: str
    opens: str


class NothingToSend(Exception):
    """The link has nothing yet that could be bought."""


def made_message(link: Link, channel: Channel, now: datetime, *, by: Actor) -> Message:
    """The message with the address of the channel's spot, which is made if need be. Raises ``NothingToSend`` and
    ``TooManySpots``."""
    if link.version_id is None:
        raise NothingToSend
    return message_of(link, channel, channel_spot(link, channel.key, channel.spot_name, now, by=by))


def message_of(link: Link, channel: Channel, spot: Spot) -> Message:
    """The message with the spot's address, in the seller's words."""
    shown = shown_to_buyers(link)
    assert shown is not None
    words = words_of(link.business, channel.wording.kind)
    contact = shown.own_contact.get("support_email") or link.business.support_email
    values = {
        "business": link.business.name,
        "thing": shown.offer.title,
        "price": price_in_words(shown.offer),
        "address": WebAddress(address_of(spot.link.business_id, spot.path)),
        "contact": contact,
    }
    subject, text = fill_line(words.subject, values), fill_text(words.body, values)
    opens = channel.scheme.format(subject=_quoted(subject), text=_quoted(text)) if channel.scheme else ""
    return Message(subject, text, opens)


def messages_ready(link: Link) -> dict[str, Message]:
    """The messages of the channels that were used already, by key."""
    if link.version_id is None:
        return {}
    spots = Spot.objects.filter(link=link, channel__in=CHANNELS, ended_at=None)
    return {spot.channel: message_of(link, CHANNELS[spot.channel], spot) for spot in spots}


def _quoted(text: str) -> str:
    """For an address: a line's end is CRLF there (RFC 6068, section 5)."""
    return quote(text.replace("\n", "\r\n"), safe="")
