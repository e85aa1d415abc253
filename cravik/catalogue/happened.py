"""What happens to items."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime

from cravik.catalogue.models import Item
from cravik.events.kinds import Happening, of_kind
from cravik.events.writing import About, write
from cravik.people.actors import Actor


@of_kind("item.made")
@dataclass(frozen=True)
class ItemMade:
    name: str

    def words(self) -> str:
        return f"“{self.name}” added to the catalogue"


@of_kind("item.changed")
@dataclass(frozen=True)
class ItemChanged:
    """``what`` of it, in a word: item, pictures, files, codes."""

    what: str = "item"

    def words(self) -> str:
        return f"{self.what[:1].upper()}{self.what[1:]} changed"


@of_kind("item.counted")
@dataclass(frozen=True)
class StockCounted:
    """How many of a variant there are by the seller's count; none where it is not counted."""

    variant: int
    code: str
    former: int | None
    count: int | None

    def words(self) -> str:
        count, former = ("not counted" if each is None else f"{each:,}" for each in (self.count, self.former))
        return f"Stock{f' of {self.code}' if self.code else ''}: {count}, was {former}"


@of_kind("item.archived")
@dataclass(frozen=True)
class ItemArchived:
    def words(self) -> str:
        return "Archived"


@of_kind("item.listed_again")
@dataclass(frozen=True)
class ItemListedAgain:
    def words(self) -> str:
        return "Back in the catalogue"


@of_kind("item.removed")
@dataclass(frozen=True)
class ItemRemoved:
    name: str

    def words(self) -> str:
        return f"“{self.name}” removed"


def about(item: Item) -> About:
    return About(item.business_id, item_id=item.pk)


def record(what: Happening, item: Item, now: datetime, by: Actor) -> None:
    """Write down what happened to an item, in the transaction under way."""
    write(what, about(item), now, by)
