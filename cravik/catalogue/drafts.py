"""An item as somebody wants it to be: what forms and spreadsheets are read into, and what services write."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from math import prod

from cravik.core.errors import Fault
from cravik.core.pricing.money import Money

MAX_PRICES, MAX_OPTION_GROUPS, MAX_OPTIONS = 12, 4, 24
#: Ways to pick an option of every group, each with stock of its own.
MAX_VARIANTS = 240
MAX_OPTION_NAME = 40
MAX_WORDS_LENGTH = 5000
#: The fields that an item and its draft have in common, by the same names.
PLAIN = ("name", "words", "kind", "code", "weight_g", "tax_category", "currency")


@dataclass(frozen=True, slots=True)
class PriceDraft:
    label: str
    amount: Money


@dataclass(frozen=True, slots=True)
class OptionDraft:
    """``option_id`` is that of the option which it changes; None makes a new one."""

    name: str
    add: Money
    weight_g: int = 0
    code: str = ""
    option_id: int | None = None
    picture_id: int | None = None


@dataclass(frozen=True, slots=True)
class OptionGroupDraft:
    name: str
    options: tuple[OptionDraft, ...]


def variants_fault(options: Iterable[int]) -> Fault | None:
    """What is wrong with groups of so many options each, or None."""
    variants = prod(options)
    return Fault("too_many_variants", count=variants, most=MAX_VARIANTS) if variants > MAX_VARIANTS else None


@dataclass(frozen=True, slots=True)
class ItemDraft:
    """The whole of an item without its pictures and stock."""

    name: str
    words: str
    kind: str
    code: str
    weight_g: int
    tax_category: str
    currency: str
    prices: tuple[PriceDraft, ...] = ()
    option_groups: tuple[OptionGroupDraft, ...] = ()

    def plain(self) -> dict[str, str | int]:
        """The fields that an item has by the same names."""
        return {name: getattr(self, name) for name in PLAIN}
