"""What a seller reads of a refund that a processor refused, by its reason."""

from __future__ import annotations

from collections.abc import Mapping

REFUSALS: Mapping[str, str] = {
    "nothing_to_refund": "The processor says that there is nothing left of this payment to give back.",
    "key_reused": "The processor knows this refund under another amount. Open the page again and repeat it.",
}
_OTHERWISE = "The processor refused it without a reason that we know."


def refused_words(reason: str) -> str:
    """In a sentence."""
    return REFUSALS.get(reason, _OTHERWISE)
