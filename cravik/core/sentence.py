"""The offer sentence: the whole offer said in one plain sentence, phrase by phrase.

>>> from cravik.core.money import Money
>>> from cravik.core.offer import simple_offer
>>> "".join(phrase.text for phrase in sentence(simple_offer("Kite repair", Money(2400, "EUR"))))
'€24.00 for Kite repair, paid once.'
"""

from __future__ import annotations

from dataclasses import dataclass

from cravik.core.money_text import DEFAULT_LOCALE, in_figures
from cravik.core.offer import Offer


@dataclass(frozen=True)
class Phrase:
    """A piece of the sentence. ``about`` names the part of the offer that it speaks of, and is
    empty for the words that only join the others."""

    text: str
    about: str = ""


def sentence(offer: Offer, locale: str = DEFAULT_LOCALE) -> tuple[Phrase, ...]:
    """The phrases in reading order; joined without a space they are the sentence."""
    line = offer.lines[0]
    return (
        Phrase(in_figures(line.price.amount, locale), "price"),
        Phrase(" for "),
        Phrase(offer.title, "purpose"),
        Phrase(", paid once."),
    )
