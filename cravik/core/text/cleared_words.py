"""What was cleared of a draft because its amount was in the former currency."""

from __future__ import annotations

from collections.abc import Sequence

from cravik.core.coded import Coded
from cravik.core.english import listed
from cravik.core.text.faults.wording import Words, worded

WORDS: Words = {
    "line_price": "the price of “{line}”",
    "option_adds": "what the options of “{line}” add",
    "code": "the code {code}",
    "code_minimum": "the least order of the code {code}",
    "deposit": "the deposit",
    "plan": "the plan “{plan}”",
    "plan_prices": "the prices of the plan “{plan}”",
    "first_prices": "the prices of the first payments",
    "steps": "the prices that change later",
    "delivery": "the charges for delivery",
    "fee_fixed": "the fixed part of the fee",
}


def cleared_words(cleared: Sequence[Coded], former: str) -> str:
    """What was cleared, in a sentence; nothing where nothing was. ``former`` is the currency."""
    if not cleared:
        return ""
    it, was = ("it", "was") if len(cleared) == 1 else ("they", "were")
    return f"Cleared, because {it} {was} in {former}: {listed([worded(each, WORDS) for each in cleared], 'and')}."
