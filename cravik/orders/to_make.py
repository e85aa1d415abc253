"""What is to be made for the orders that were found: pieces by item and options, and whose they are, to tick off."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Collection, Iterable
from dataclasses import dataclass
from datetime import datetime

from django.db import transaction

from cravik.orders.exports import answer_words
from cravik.orders.models import Order, OrderQuerySet, TickedLine

#: So many rows to tick are laid out at once; a form takes no more fields.
MAX_ROWS = 1500


@dataclass(frozen=True)
class PieceOf:
    """So many pieces for one order, with what its buyer said. ``key`` names it in a form."""

    order: Order
    key: str
    pieces: int
    answers: tuple[tuple[str, str], ...]
    is_ticked: bool


@dataclass(frozen=True)
class Batch:
    """All the pieces of one thing with the same options, oldest order first."""

    name: str
    options: str
    of: tuple[PieceOf, ...]

    @property
    def pieces(self) -> int:
        return sum(each.pieces for each in self.of)

    @property
    def left(self) -> int:
        """How many pieces are not ticked off yet."""
        return sum(each.pieces for each in self.of if not each.is_ticked)


def to_make(orders: OrderQuerySet) -> tuple[list[Batch], int]:
    """The batches of the orders, the largest first, and of how many orders: the first of them that fit."""
    whole = orders.select_related("checkout").prefetch_related("checkout__lines", "ticked_lines")
    batches: defaultdict[tuple[str, str], list[PieceOf]] = defaultdict(list)
    rows = laid_out = 0
    for order in whole[:MAX_ROWS]:
        lines = order.checkout.line.quote_document["lines"]
        if rows + len(lines) > MAX_ROWS:
            break
        rows, laid_out = rows + len(lines), laid_out + 1
        answers = tuple((each["label"], answer_words(each["answer"])) for each in order.checkout.answers)
        ticked = {each.line for each in order.ticked_lines.all()}
        for line in lines:
            key = line["key"]
            of = PieceOf(order, f"{order.pk}:{key}", line["quantity"], answers, key in ticked)
            batches[line["name"], ", ".join(line["options"])].append(of)
    found = [Batch(name, options, tuple(of)) for (name, options), of in batches.items()]
    return sorted(found, key=lambda each: (-each.pieces, each.name, each.options)), laid_out


@transaction.atomic
def tick(orders: OrderQuerySet, ticked: Collection[str], shown: Iterable[str], now: datetime) -> None:
    """Tick off those of the lines that were ``shown`` that are ``ticked``, and no longer the others.

    Both are keys of ``PieceOf``; what was not shown, or is of none of the orders, stays as it is.
    """
    wanted: defaultdict[int, dict[str, bool]] = defaultdict(dict)
    for key in shown:
        order_id, _, line = key.partition(":")
        if order_id.isascii() and order_id.isdigit() and len(order_id) < 19:
            wanted[int(order_id)][line] = key in ticked
    for order in orders.filter(id__in=list(wanted)).select_related("checkout").prefetch_related("checkout__lines"):
        lines = {line["key"] for line in order.checkout.line.quote_document["lines"]}
        for line in lines & wanted[order.pk].keys():
            if wanted[order.pk][line]:
                TickedLine.objects.get_or_create(order=order, line=line, defaults={"at": now})
            else:
                TickedLine.objects.filter(order=order, line=line).delete()
