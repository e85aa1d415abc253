"""What a buyer is told of money that went back."""

from __future__ import annotations

from dataclasses import replace

from django.utils.html import format_html

from cravik.core.text.money_text import format_money_clearly
from cravik.mailroom.services import OutgoingLetter
from cravik.orders.invoicing.enclosing import documents_block
from cravik.orders.models import IssuedDocument, Order
from cravik.orders.to_buyer import letter_to_buyer
from cravik.payments.models import Refund
from cravik.payments.ways import paid_with_words
from cravik.setup.messages.after_paying import REFUND
from cravik.setup.messages.filling import Block, Values


def letter_about_refund(order: Order, refund: Refund) -> OutgoingLetter:
    """The letter for the refund, once for each."""
    documents = list(IssuedDocument.objects.filter(movement__refund=refund))
    values: Values = {
        "amount": format_money_clearly(refund.amount),
        "paid_with": paid_with_words(refund.charge),
        "note": Block(refund.note, format_html("<p>{}</p>", refund.note) if refund.note else ""),
        "reference": order.checkout.reference,
        "documents": documents_block(order, documents),
    }
    letter = letter_to_buyer(order, REFUND, f"refund-{refund.pk}", values)
    return replace(letter, enclosed=tuple(each.pk for each in documents))
