"""What goes with a parcel, as PDF: packing slips and address labels."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import asdict
from datetime import datetime
from pathlib import Path
from typing import Any

from django.utils import timezone
from django.utils.formats import date_format

from cravik.orders.exports import answer_words
from cravik.orders.label_sheets import LabelSheet
from cravik.orders.models import Order
from cravik.people.models import Business
from cravik.ui.paper import typeset

_PAPER = Path(__file__).parent / "paper"
_WORDS = {"to": "To", "from": "From", "pieces": "Pieces", "thing": "What goes in"}


def packing_slips(business: Business, orders: Iterable[Order], now: datetime) -> bytes:
    """A page an order, without prices. Of whole orders."""
    with timezone.override(business.time_zone):
        slips = [_slip(order) for order in orders]
    sender = [business.name, *(line for line in business.address.split("\n") if line.strip())]
    data = {"title": "Packing slips", "seller": business.name, "from": sender, "page": "a4", "words": _WORDS}
    return typeset(_PAPER / "packing.typ", data | {"slips": slips}, now)


def address_labels(
    seller: str, addresses: Sequence[Sequence[str]], sheet: LabelSheet, skipped: int, now: datetime
) -> bytes:
    """A label for each address; the first ``skipped`` of the sheet are gone already."""
    data = {"title": "Address labels", "seller": seller, "sheet": asdict(sheet), "skipped": skipped}
    return typeset(_PAPER / "labels.typ", data | {"labels": list(addresses)}, now)


def _slip(order: Order) -> dict[str, Any]:
    made_on = date_format(timezone.localtime(order.made_at), "j M Y")
    answers = [(each["label"], answer_words(each["answer"])) for each in order.checkout.answers]
    beside = [("Product codes", ", ".join(order.stock_codes)), *answers]
    return {
        "heading": str(order).capitalize(),
        "ordered": f"Ordered on {made_on}",
        "address": order.checkout.address_lines or [order.buyer_name],
        "lines": [
            {"pieces": line["quantity"], "name": line["name"], "options": ", ".join(line["options"])}
            for line in order.checkout.line.quote_document["lines"]
        ],
        "answers": [{"label": label, "answer": words} for label, words in beside if words],
    }
