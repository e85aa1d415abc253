"""The letters about what is paid over time."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from datetime import date
from zoneinfo import ZoneInfo

from django.utils.html import format_html

from cravik.checkout.declines import decline_words
from cravik.core.english import counted, day_words
from cravik.core.pricing.money import total_of
from cravik.core.text.money_text import format_money_clearly
from cravik.mailroom.services import OutgoingLetter
from cravik.orders.invoicing.enclosing import documents_block
from cravik.orders.models import IssuedDocument, Order
from cravik.orders.own_page import mailed_payments_path
from cravik.orders.running_path import running_path
from cravik.orders.to_buyer import letter_to_buyer
from cravik.orders.to_members import letters_to_members
from cravik.orders.tries import words_of_try
from cravik.payments.models import Agreement, Attempt, Due, Movement
from cravik.payments.ways import paid_with_words
from cravik.setup.hosts import address_of
from cravik.setup.messages.filling import Block, Values, WebAddress
from cravik.setup.messages.message import MessageKind
from cravik.setup.messages.over_time import (
    PAYMENT_COMES,
    PAYMENT_CONFIRM,
    PAYMENT_FAILED,
    PAYMENT_FAILED_NOTICE,
    PAYMENT_TAKEN,
    PAYMENTS_WAIT,
    PLAN_CHANGED,
    PLAN_CHANGED_NOTICE,
)
from cravik.setup.messages.wording import compose, words_of
from cravik.ui.addresses import absolute


def paragraphs(*sentences: str) -> Block:
    """Sentences that stand in a letter one below the other; those that are empty are none."""
    said = [sentence for sentence in sentences if sentence]
    html = format_html("".join(["<p>{}</p>"] * len(said)), *said) if said else ""
    return Block("\n\n".join(said), html)


def letter_of_later_payment(order: Order, movement: Movement, documents: Sequence[IssuedDocument]) -> OutgoingLetter:
    """The receipt for a payment after the first, once for each."""
    assert movement.attempt is not None
    zone = ZoneInfo(order.business.time_zone)
    values: Values = {
        "amount": format_money_clearly(movement.amount),
        "on": day_words(movement.at.astimezone(zone).date()),
        "paid_with": paid_with_words(movement.attempt),
        "next": paragraphs(next_words(order.checkout_id)),
        "documents": documents_block(order, list(documents)),
        "reference": order.checkout.reference,
    }
    letter = _to_buyer(order, PAYMENT_TAKEN, f"movement-{movement.pk}", values)
    return replace(letter, enclosed=tuple(each.pk for each in documents))


def next_words(checkout_id: int) -> str:
    """What comes next, in a sentence."""
    unpaid = Due.objects.filter(checkout=checkout_id, state__in=Due.UNPAID).order_by("on", "position").first()
    if unpaid is not None:
        return f"Next: {format_money_clearly(unpaid.left)} on {day_words(unpaid.on)}."
    agreement = Agreement.objects.filter(checkout=checkout_id).first()
    if agreement and agreement.ends_on:
        return f"There are no more payments. It ends on {day_words(agreement.ends_on)}."
    return "That was the last payment: all of it is paid."


def letter_before(order: Order, due: Due, agreement: Agreement) -> OutgoingLetter:
    """That a payment comes, or is to be made now."""
    card = f"the card ending in {agreement.kept_card.ending}" if agreement.kept_card else "your card"
    if due.reason:
        how = paragraphs(
            due.reason, f"It is taken from {card} then. If you don't agree, say so on the page below before it."
        )
    elif due.collect_on is None:
        how = paragraphs("Nothing is taken by itself: pay it on the page below.")
    elif agreement.repeats and due.position == 1:
        how = paragraphs(
            f"Your trial ends then, and {format_money_clearly(due.left)} is taken from {card}.",
            "If you don't want to go on, stop on the page below before that day.",
        )
    else:
        how = paragraphs(f"It is taken from {card} then. You can also pay it now on the page below.")
    values: Values = {"amount": format_money_clearly(due.left), "on": day_words(due.on), "how": how}
    return _to_buyer(order, PAYMENT_COMES, f"due-{due.pk}-{due.on}-{due.tell_on}", values)


def letters_of_failure(
    order: Order, attempt: Attempt, again_on: date | None, until: date | None, then: str
) -> list[OutgoingLetter]:
    """To buyer and seller: that a payment could not be taken, when it is tried again, or by when it is to be paid, and
    what becomes of the plan then."""
    amount = format_money_clearly(attempt.amount)
    if again_on:
        how = paragraphs(f"It is tried again on {day_words(again_on)}, unless it is paid before.")
    elif until:
        how = paragraphs(f"This card isn't tried again. Please pay by {day_words(until)}.", then)
    else:
        how = paragraphs("It isn't tried again.", then)
    to_buyer: Values = {"amount": amount, "why": _decline_words(attempt.reason), "how": how}
    notice: Values = {"amount": amount, "why": words_of_try(attempt), "how": how}
    occasion = f"attempt-{attempt.pk}"
    return [
        _to_buyer(order, PAYMENT_FAILED, occasion, to_buyer),
        *_to_members(order, PAYMENT_FAILED_NOTICE, occasion, notice),
    ]


def _decline_words(reason: str) -> str:
    """Why it was declined, without what to press: the letter says that itself."""
    return decline_words(reason).partition(". ")[0].rstrip(".:") + "."


def letter_to_confirm(order: Order, attempt: Attempt, until: date) -> OutgoingLetter:
    values: Values = {"amount": format_money_clearly(attempt.amount), "until": day_words(until)}
    return _to_buyer(order, PAYMENT_CONFIRM, f"attempt-{attempt.pk}", values)


def letter_of_waiting(order: Order, dues: Sequence[Due]) -> OutgoingLetter:
    """That dues wait for the buyer's word, since one other was just taken."""
    sum_of = total_of([due.left for due in dues], order.currency)
    values: Values = {
        "amount": format_money_clearly(sum_of),
        "count": counted(len(dues), "payment", "payments"),
    }
    return _to_buyer(order, PAYMENTS_WAIT, f"dues-{'-'.join(str(due.pk) for due in dues)}"[:60], values)


def letter_of_change(order: Order, occasion: str, what: str, *details: str) -> OutgoingLetter:
    """To the buyer: that something of their payments is another way now."""
    return _to_buyer(order, PLAN_CHANGED, occasion, {"what": what, "details": paragraphs(*details)})


def notices_of_change(order: Order, occasion: str, what: str, *details: str) -> list[OutgoingLetter]:
    """The same to everybody who acts for the business."""
    return _to_members(order, PLAN_CHANGED_NOTICE, occasion, {"what": what, "details": paragraphs(*details)})


def _to_buyer(order: Order, kind: MessageKind, occasion: str, values: Values) -> OutgoingLetter:
    address = address_of(order.business_id, mailed_payments_path(order.checkout.reference))
    return letter_to_buyer(order, kind, occasion, {**values, "payments_address": WebAddress(address)})


def _to_members(order: Order, kind: MessageKind, occasion: str, values: Values) -> list[OutgoingLetter]:
    known: Values = {
        "buyer": order.buyer_name,
        "buyer_email": order.buyer_email,
        "business": order.business.name,
        "thing": order.title,
        "order": str(order).capitalize(),
        "order_address": WebAddress(absolute(running_path(order))),
        **values,
    }
    composed = compose(kind, words_of(order.business, kind.kind), known, rehearsal=order.rehearsal)
    return letters_to_members(
        order.business,
        kind,
        occasion,
        composed,
        reply_to=order.buyer_email,
        rehearsal=order.rehearsal,
        order_id=order.pk,
    )
