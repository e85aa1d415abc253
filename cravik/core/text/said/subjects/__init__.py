"""The subjects of the grammar, in the order in which a line is put together of them.

A new subject is a file with its ``RULES`` and a ``build(draft)``, and a row here.
"""

from __future__ import annotations

from collections.abc import Callable

from cravik.core.text.said.covering import Grammar
from cravik.core.text.said.draft import Draft
from cravik.core.text.said.subjects import (
    asks,
    changing,
    codes,
    deposits,
    names,
    open_prices,
    options,
    plans,
    prices,
    quantities,
    steps,
    window,
    wording,
)

_SUBJECTS = (names, prices, open_prices, steps, quantities, options, plans, deposits, codes, window, asks, wording)

GRAMMAR = Grammar(rule for subject in _SUBJECTS for rule in subject.RULES)
#: The same with what is said only of a link that there is.
CHANGES = Grammar(rule for subject in (*_SUBJECTS, changing) for rule in subject.RULES)
BUILD: tuple[Callable[[Draft], None], ...] = tuple(subject.build for subject in _SUBJECTS)
