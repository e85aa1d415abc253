"""How much of what is long is done: a sample that is the same every time, or all of it in ``make proofs``."""

from __future__ import annotations

import os
import random
from collections.abc import Sequence
from typing import TypeVar

_Case = TypeVar("_Case")

IS_WHOLE = os.environ.get("CRAVIK_PROOFS") == "1"


def count_of(whole: int, sampled: int) -> int:
    """So many of what is drawn at random."""
    return whole if IS_WHOLE else sampled


def sample_of(cases: Sequence[_Case], one_in: int, seed: str = "") -> list[_Case]:
    """All of the cases, or one in so many; which ones, says the seed."""
    return list(cases) if IS_WHOLE else random.Random(f"1907 {seed}").sample(cases, -(-len(cases) // one_in))


def dealt(cases: Sequence[_Case], hands: int) -> list[list[_Case]]:
    """All of the cases for each of so many hands, or each case for one of them."""
    if IS_WHOLE:
        return [list(cases)] * hands
    shuffled = random.Random(1907).sample(cases, len(cases))
    return [shuffled[hand::hands] for hand in range(hands)]
