"""Documents that go with letters: named in them, and enclosed as PDF."""

from __future__ import annotations

from collections.abc import Sequence

from django.utils.html import format_html, format_html_join

from cravik.core.text.money_text import format_money
from cravik.mailroom.services import Enclosure
from cravik.orders.invoicing.pdf import file_name, pdf_of
from cravik.orders.models import IssuedDocument, Order
from cravik.orders.own_page import mailed_document_path
from cravik.setup.hosts import address_of
from cravik.setup.messages.filling import Block


def enclosed_with(document_ids: Sequence[int]) -> list[Enclosure]:
    """The documents of a letter, as they go with it."""
    found = IssuedDocument.objects.in_bulk(document_ids)
    there = (found[each] for each in document_ids if each in found)
    return [Enclosure(file_name(each), pdf_of(each), "application/pdf") for each in there]


def documents_block(order: Order, documents: Sequence[IssuedDocument]) -> Block:
    """The documents by number and sum, each with its address; nothing where there are none."""
    if not documents:
        return Block("", "")
    rows = [
        (
            f"{each}, {format_money(each.total, order.checkout.number_locale)}",
            address_of(order.business_id, mailed_document_path(order.checkout.reference, each.pk)),
        )
        for each in documents
    ]
    text = "\n".join(f"  {words}: {address}" for words, address in rows)
    items = format_html_join("", '<li><a href="{}">{}</a></li>', ((address, words) for words, address in rows))
    return Block(f"Enclosed as PDF:\n{text}", format_html("<p>Enclosed as PDF:</p><ul>{}</ul>", items))
