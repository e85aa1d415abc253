"""What is said of faults, of advice, of gaps and of mends: the only place in the core where it is worded.

A room that has faults of its own keeps their words, and hands them to ``fault_words``.

>>> from cravik.core.errors import Fault
>>> fault_words(Fault("quantity_above_maximum", "lines[0].quantity", line="Delta kite", limit=1200))
'The most of “Delta kite” is 1,200.'
"""

from __future__ import annotations

from cravik.core.coded import Coded
from cravik.core.errors import Fault
from cravik.core.text.faults import advice, amounts, answers, baskets, documents, gaps, invoices, names, numbers, qr
from cravik.core.text.faults.wording import Words, worded

WORDS: Words = {
    **amounts.WORDS,
    **answers.WORDS,
    **baskets.WORDS,
    **documents.WORDS,
    **advice.WORDS,
    **names.WORDS,
    **numbers.WORDS,
    **invoices.WORDS,
    **qr.WORDS,
}


def fault_words(fault: Fault, own: Words | None = None) -> str:
    """One or two sentences: what is wrong, and what to do. ``own`` are the words of another room, which go first."""
    words = worded(fault, own or {}) or worded(fault, WORDS)
    part = fault.fields.get("within")
    return f"In the {part}: {words}" if part else words


def all_fault_words(faults: tuple[Fault, ...], own: Words | None = None) -> tuple[str, ...]:
    """The same of several, each sentence once."""
    return tuple(dict.fromkeys(fault_words(fault, own) for fault in faults))


def gap_words(gap: Fault) -> str:
    """What is said of a gap of a draft."""
    gap = gaps.named(gap)
    return worded(gap, gaps.WORDS) or f"{gaps.where_words(gap)}{fault_words(gap)}"


def mend_words(mend: Coded) -> str:
    """What the button says that mends what advice was given on."""
    return worded(mend, advice.MENDS)
