"""The parts of the bench: what a seller decides of a link, one subject a file.

A part of a line (``LINE_PARTS``) is there once for each line of the offer; a part of the link (``LINK_PARTS``) once.
``TERMS_PARTS`` are decided on pages of their own. Sheet, saving and sentence go through these lists alone.
"""

from cravik.links.bench.parts.base import BenchLine, BenchPart, lines_on_bench
from cravik.links.bench.parts.currency import CurrencyPart
from cravik.links.bench.parts.line_name import LineNamePart
from cravik.links.bench.parts.price import FixedPricePart, PricePart
from cravik.links.bench.parts.sending import SendingPart
from cravik.links.bench.parts.terms import (
    ConditionsPart,
    ContactPart,
    DeliveryPart,
    FeePart,
    LookPart,
    TaxPart,
    TermsPart,
)
from cravik.links.bench.parts.title import TitlePart
from cravik.links.bench.parts.words import WordsPart

#: The part of each kind of price that the bench can change.
PRICE_PARTS: dict[str, type[PricePart]] = {part.kind: part for part in (FixedPricePart,)}
#: In the order in which they stand at a line, after its price, whose part is that of its kind.
LINE_PARTS: tuple[type[BenchPart], ...] = (LineNamePart, SendingPart)
#: In the order in which they stand on the bench, after the lines.
LINK_PARTS: tuple[type[BenchPart], ...] = (CurrencyPart, TitlePart, WordsPart)
#: In the order of the bench's list of terms.
TERMS_PARTS: tuple[type[TermsPart], ...] = (DeliveryPart, TaxPart, ConditionsPart, LookPart, ContactPart, FeePart)
#: In the order in which changes are put into a draft: what is in a currency comes after the currency.
_IN_ORDER: tuple[type[BenchPart], ...] = (CurrencyPart, PricePart, *LINE_PARTS, *LINK_PARTS, *TERMS_PARTS)
ALL_PARTS: dict[str, type[BenchPart]] = {str(part.name): part for part in _IN_ORDER}

__all__ = [
    "ALL_PARTS",
    "LINE_PARTS",
    "LINK_PARTS",
    "TERMS_PARTS",
    "BenchLine",
    "BenchPart",
    "TermsPart",
    "lines_on_bench",
    "parts_of_line",
]


def parts_of_line(line: BenchLine) -> tuple[type[BenchPart], ...]:
    """The parts of one line of the bench, in order; a line without a price begins with a fixed one."""
    kind = line.document.get("price", {}).get("kind", FixedPricePart.kind)
    return (PRICE_PARTS.get(kind, PricePart), *LINE_PARTS)
