"""What a link asks its buyers beside name and e-mail, which are always asked."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

Ask = Literal["no", "optional", "required"]


@dataclass(frozen=True, slots=True)
class LabelledAsk:
    """A text that may be asked for, under a label of the seller's (empty: the product's own)."""

    ask: Ask = "no"
    label: str = ""


@dataclass(frozen=True, slots=True)
class Asks:
    """``address`` ``if sent`` is asked where the offer sends something; ``newsletter`` is the sentence that a
    buyer may tick; ``keep_card`` keeps the card for later payments."""

    phone: Ask = "no"
    address: Literal["if sent", "optional", "required"] = "if sent"
    invoice: Literal["no", "optional"] = "no"
    note: LabelledAsk = LabelledAsk()
    reference: LabelledAsk = LabelledAsk()
    newsletter: str | None = None
    keep_card: bool = False


NOTHING_MORE = Asks()
