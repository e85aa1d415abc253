"""How an item stands in a row of a table: several prices, options and counts in one cell each.

Parts of a cell are separated by ``|``, what belongs to one part by ``;`` and the options of a variant by ``+``;
where such a sign belongs to a name, a backslash stands before it.

>>> joined([("1.2 m", "-6.00"), ("a|b", "")])
'1.2 m; -6.00 | a\\\\|b'
>>> parted("1.2 m; -6.00 | a\\\\|b")
[['1.2 m', '-6.00'], ['a|b']]
"""

from __future__ import annotations

import re
from collections.abc import Iterable, Sequence

_SIGNS = "|;+\\"


def joined(parts: Iterable[Sequence[str]]) -> str:
    """One cell of several parts; what is empty at the end of a part is left out."""
    cells = []
    for part in parts:
        texts = [escaped(text) for text in part]
        while texts and not texts[-1]:
            texts.pop()
        cells.append("; ".join(texts))
    return " | ".join(cells)


def parted(cell: str) -> list[list[str]]:
    """The parts of a cell, each as its texts; parts that are empty are left out."""
    parts = [[plain(text) for text in split(part, ";")] for part in split(cell, "|")]
    return [part for part in parts if any(part)]


def escaped(text: str) -> str:
    return re.sub(r"[|;+\\]", r"\\\g<0>", text)


def plain(text: str) -> str:
    """``text`` with the backslashes before signs taken away, and no space around it."""
    return re.sub(r"\\([|;+\\])", r"\1", text).strip()


def split(text: str, sign: str) -> list[str]:
    """``text`` parted at each ``sign`` that has no backslash before it."""
    parts, current, place = [], "", 0
    while place < len(text):
        here = text[place]
        if here == "\\" and place + 1 < len(text) and text[place + 1] in _SIGNS:
            current += text[place : place + 2]
            place += 2
            continue
        if here == sign:
            parts.append(current)
            current = ""
        else:
            current += here
        place += 1
    return [*parts, current]
