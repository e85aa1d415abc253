"""Sending a letter about an order once more."""

from __future__ import annotations

from datetime import datetime

from django.db import transaction

from cravik.events.writing import write
from cravik.mailroom.models import Letter
from cravik.mailroom.services import OutgoingLetter, queue_letters, send_again
from cravik.mailroom.tasks import deliver_waiting_letters
from cravik.orders.happened import LetterAgain, about
from cravik.orders.models import Order
from cravik.people.actors import Actor
from cravik.setup.messages.kinds import KINDS
from cravik.upkeep.queue import enqueue_once


def can_go_again(letter: Letter) -> bool:
    """Whether it is one to the buyer, and not on its way anyhow."""
    to_buyer = letter.kind in KINDS and KINDS[letter.kind].to == "the buyer"
    return to_buyer and letter.state in (Letter.State.SENT, Letter.State.PARKED)


@transaction.atomic
def send_letter_again(order: Order, letter: Letter, seen: int, now: datetime, *, by: Actor) -> bool:
    """Send the letter as it was, to where the buyer is written to now. Whether it goes out.

    ``seen`` is how many letters there were on the page on which it was pressed: a second press on it sends nothing.
    """
    order = Order.objects.select_for_update().select_related("business").get(id=order.pk)
    if not can_go_again(letter) or Letter.objects.filter(order_id=order.pk).count() != seen:
        return False
    if letter.state == Letter.State.PARKED and letter.to_address == order.buyer_email:
        send_again(letter)
    else:
        again = OutgoingLetter(
            kind=letter.kind,
            occasion=f"again-{letter.pk}-{seen}",
            to_name=order.buyer_name,
            to_address=order.buyer_email,
            subject=letter.subject,
            text=letter.text,
            html=letter.html,
            reply_to=letter.reply_to,
            rehearsal=letter.rehearsal,
            order_id=order.pk,
            enclosed=tuple(letter.enclosed),
        )
        queue_letters(order.business, [again], now)
    write(LetterAgain(letter.subject, order.buyer_email), about(order), now, by)
    enqueue_once(deliver_waiting_letters)
    return True
