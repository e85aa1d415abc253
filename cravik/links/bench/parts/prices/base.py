"""What a line costs: what the parts of all kinds of price have in common."""

from __future__ import annotations

from typing import Any, ClassVar, cast

from cravik.core.documents.data import PriceData, put_or_drop
from cravik.core.pricing.money import Money
from cravik.links.bench.changes import Change, DraftInHand
from cravik.links.bench.parts.base import BenchPart


class PricePart(BenchPart):
    """The price of a line as its ``kind`` has it. Fields that are left empty are gaps of the draft; what is written
    there and cannot be read is a fault."""

    name = "price"
    lies_with = "kind"
    has_amounts = True
    phrases = ("price",)
    #: What the bench calls it in the page, and a seller in words.
    kind: ClassVar[str] = ""
    label: ClassVar[str] = ""
    template = "links/bench/prices/fields.html"
    #: Whether it is of use only where several can be bought.
    is_for_many: ClassVar[bool] = False
    #: The most pieces of a line that has it; None: no bound of its own.
    most_pieces: ClassVar[int | None] = None

    @property
    def is_shown(self) -> bool:
        return True

    @property
    def before(self) -> PriceData:
        """The price as the draft has it; nothing where there is none."""
        price: PriceData = self.line.document.get("price") or {}
        return price

    def field_named(self, name: str) -> str:
        """How the field is called on the page."""
        return f"{name}.{self.line.key}"

    @classmethod
    def shows(cls, price: PriceData) -> bool:
        """Whether this is the part that shows the price."""
        return price.get("kind") == cls.kind

    @classmethod
    def amount_in(cls, price: PriceData) -> str:
        """The amount that a price of another kind may begin with; empty where there is none."""
        return str(price.get("amount") or "")

    @classmethod
    def begin(cls, amount: str) -> PriceData:
        """A price of this kind made from the ``amount`` of another."""
        raise NotImplementedError

    @classmethod
    def put(cls, draft: DraftInHand, change: Change) -> None:
        """The piece is the whole price; an empty one is none yet."""
        draft.put_line(change.line, lambda line: put_or_drop(line, price=change.piece))


def major(amount: Money | None) -> str | None:
    """The amount as documents have it."""
    return None if amount is None else amount.major


def price_of(**parts: Any) -> PriceData:
    """The price of those parts, without those that are left empty."""
    return cast(PriceData, present(**parts))


def present(**parts: Any) -> dict[str, Any]:
    """The parts of a document without those that are left empty."""
    return {name: value for name, value in parts.items() if value is not None}
