"""The parts of the buyer's page: what a buyer decides or says, one a file.

A part of a line (``LINE_PARTS``) gives its fields for one line of the offer and reads them into that line of the
basket; a part of the order (``ORDER_PARTS``) is a form that fills the rest of the basket, or what is kept beside it.
Page, slip, paying and the script go through these two lists and know no part by name.
"""

from cravik.checkout.parts.agree import AgreePart
from cravik.checkout.parts.amount import AmountPart
from cravik.checkout.parts.answers import AnswersPart
from cravik.checkout.parts.base import LinePart, OrderPart
from cravik.checkout.parts.card import CardPart
from cravik.checkout.parts.code import CodePart
from cravik.checkout.parts.contact import ContactPart
from cravik.checkout.parts.extra import ExtraPart
from cravik.checkout.parts.level import LevelPart
from cravik.checkout.parts.notes import NotesPart
from cravik.checkout.parts.options import OptionsPart
from cravik.checkout.parts.place import PlacePart
from cravik.checkout.parts.plan import PlanPart
from cravik.checkout.parts.quantity import QuantityPart
from cravik.checkout.parts.way import WayPart
from cravik.checkout.parts.withdrawal import WithdrawalPart

#: In the order in which they stand at a line.
LINE_PARTS: tuple[LinePart, ...] = (ExtraPart(), LevelPart(), OptionsPart(), AmountPart(), QuantityPart())
#: In the order in which they stand on the page, after the lines.
ORDER_PARTS: tuple[type[OrderPart], ...] = (
    CodePart,
    ContactPart,
    PlacePart,
    NotesPart,
    AnswersPart,
    PlanPart,
    WayPart,
    CardPart,
    WithdrawalPart,
    AgreePart,
)

__all__ = ["LINE_PARTS", "ORDER_PARTS", "LinePart", "OrderPart"]
