"""The parts of the bench: what a seller decides of a link, one subject a file.

A part of a line (``LINE_PARTS``) is there once for each line of the offer; a part of the link (``LINK_PARTS``) once.
``SETTING_PARTS`` are decided on pages of their own. Sheet, saving and sentence go through these lists alone.
"""

from cravik.links.bench.parts.after import AfterPart
from cravik.links.bench.parts.asks import AsksPart
from cravik.links.bench.parts.base import BenchLine, BenchPart, lines_on_bench
from cravik.links.bench.parts.button import ButtonPart
from cravik.links.bench.parts.card import CardPart
from cravik.links.bench.parts.codes import CodesPart
from cravik.links.bench.parts.currency import CurrencyPart
from cravik.links.bench.parts.files import FilesPart
from cravik.links.bench.parts.from_setup import (
    ContactPart,
    DeliveryPart,
    FeePart,
    LookPart,
    SettingPart,
    TaxPart,
    TermsPart,
)
from cravik.links.bench.parts.kind import KindPart
from cravik.links.bench.parts.labels import LabelsPart
from cravik.links.bench.parts.limits import LimitsPart
from cravik.links.bench.parts.line_name import LineNamePart
from cravik.links.bench.parts.options import OptionsPart
from cravik.links.bench.parts.pictures import PicturesPart
from cravik.links.bench.parts.plans import PlanPart
from cravik.links.bench.parts.prices import PRICE_PARTS, PricePart, kind_of
from cravik.links.bench.parts.quantity import QuantityPart
from cravik.links.bench.parts.questions import QuestionsPart
from cravik.links.bench.parts.sending import SendingPart
from cravik.links.bench.parts.steps import StepsPart
from cravik.links.bench.parts.stock import StockPart
from cravik.links.bench.parts.title import TitlePart
from cravik.links.bench.parts.withdrawal import WithdrawalPart
from cravik.links.bench.parts.words import WordsPart
from cravik.ui.form_data import FormData

#: In the order in which they stand at a line. The price's part is that of its kind.
LINE_PARTS: tuple[type[BenchPart], ...] = (
    LineNamePart,
    KindPart,
    PricePart,
    QuantityPart,
    OptionsPart,
    PicturesPart,
    StockPart,
    FilesPart,
    SendingPart,
    WithdrawalPart,
)
#: In the order in which they stand on the bench, after the lines.
LINK_PARTS: tuple[type[BenchPart], ...] = (
    CurrencyPart,
    TitlePart,
    WordsPart,
    StepsPart,
    PlanPart,
    CodesPart,
    LimitsPart,
    QuestionsPart,
    AsksPart,
    ButtonPart,
    CardPart,
    AfterPart,
    LabelsPart,
)
#: In the order of the bench's list of settings.
SETTING_PARTS: tuple[type[SettingPart], ...] = (DeliveryPart, TaxPart, TermsPart, LookPart, ContactPart, FeePart)
#: In the order in which changes are put into a draft: what is in a currency comes after the currency, and another kind
#: of price after the price that it takes the place of.
_IN_ORDER: tuple[type[BenchPart], ...] = (
    CurrencyPart,
    QuantityPart,
    PricePart,
    KindPart,
    LineNamePart,
    OptionsPart,
    SendingPart,
    WithdrawalPart,
    *LINK_PARTS[1:],
    *SETTING_PARTS,
)
ALL_PARTS: dict[str, type[BenchPart]] = {str(part.name): part for part in _IN_ORDER}

__all__ = [
    "ALL_PARTS",
    "LINE_PARTS",
    "LINK_PARTS",
    "SETTING_PARTS",
    "BenchLine",
    "BenchPart",
    "SettingPart",
    "lines_on_bench",
    "parts_of_line",
]


def parts_of_line(line: BenchLine, data: FormData | None) -> list[type[BenchPart]]:
    """The parts of one line of the bench, in order. The price is read by the kind that the page showed."""
    kind = kind_of(line.document.get("price"))
    shown = str((data or {}).get(f"shown_kind.{line.key}", kind))
    price = PRICE_PARTS.get(shown, PRICE_PARTS[kind])
    return [price if part is PricePart else part for part in LINE_PARTS]
