"""Sharing a whole number out in proportion, so that the parts sum to the whole.

The method of the largest remainder (Hamilton's): each part is first rounded down, and the units
left over go to the largest remainders, the earlier of equal ones first.

>>> in_proportion(1000, [1, 1, 1])
[334, 333, 333]
>>> in_equal_parts(10003, 4)
[2501, 2501, 2501, 2500]
"""

from __future__ import annotations

from collections.abc import Sequence


def in_proportion(whole: int, weights: Sequence[int]) -> list[int]:
    """``whole`` (not negative) shared over ``weights`` (not negative); all nothing where they sum to nothing."""
    total = sum(weights)
    if not whole or not total:
        return [0] * len(weights)
    parts, remainders = [], []
    for weight in weights:
        part, remainder = divmod(whole * weight, total)
        parts.append(part)
        remainders.append(remainder)
    left = whole - sum(parts)
    if left:
        for place in sorted(range(len(weights)), key=lambda place: -remainders[place])[:left]:
            parts[place] += 1
    return parts


def in_equal_parts(whole: int, count: int) -> list[int]:
    """``whole`` (not negative) in ``count`` parts that differ by at most one, the larger first."""
    part, left = divmod(whole, count)
    return [part + 1] * left + [part] * (count - left)
