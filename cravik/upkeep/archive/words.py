"""An archive in words, for the window of a command and for the screen."""

from __future__ import annotations

from collections.abc import Iterator, Mapping

from cravik.core.english import counted, listed
from cravik.core.pricing.money import Money
from cravik.core.text.money_text import format_money_clearly
from cravik.upkeep.archive.shelf import Known

_TAKEN = "taken "


def figures_words(figures: Mapping[str, int]) -> str:
    """Such as ``142 orders, 8,310.00 euros (EUR) and 20.00 British pounds (GBP) taken``. ``taken EUR`` is in minor
    units."""
    orders = figures.get("orders", 0)
    sums = [
        format_money_clearly(Money(value, name.removeprefix(_TAKEN)))
        for name, value in sorted(figures.items())
        if name.startswith(_TAKEN) and value
    ]
    text = counted(orders, "order", "orders") if orders else "no order yet"
    return f"{text}, {listed(sums, 'and')} taken" if sums else text


def known_lines(known: Known) -> Iterator[str]:
    """What was found when it was verified, a sentence each."""
    if known.figures:
        yield f"It holds {figures_words(known.figures)}."
    for name in known.missing:
        yield f"{name} is named by the database, and was not there."
    yield from known.faults
    if not known.faults:
        yield "Verified: restored into an empty folder, and everything compared."
