"""What the bench shows of a draft beside its parts: the sentence, what a buyer pays, and what is missing."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass, replace

from django.utils import timezone

from cravik.core.documents.partial_offer import read_partial_offer
from cravik.core.errors import BasketRefused
from cravik.core.pricing.quote import Quote, quote
from cravik.core.pricing.supposed import supposed_basket
from cravik.core.pricing.tax import Place
from cravik.core.text.sentence import Phrase, sentence
from cravik.links.bench.sheet import BenchSheet
from cravik.links.lifecycle import why_not_ready
from cravik.links.models import Link


@dataclass(frozen=True)
class BenchPhrase:
    """A phrase of the offer sentence, the name of the editor that it opens, if there is one, and the comma
    or full stop that must not be parted from it. A ``gap`` is still to be decided."""

    text: str
    editor: str
    after: str = ""
    gap: bool = False


@dataclass(frozen=True)
class Bench:
    """What the bench shows of a draft. ``slip`` is what the supposed buyer pays; None while there is no sum."""

    phrases: tuple[BenchPhrase, ...]
    #: Where the slip's buyer is, where that matters.
    place: Place | None
    slip: Quote | None
    gaps: tuple[str, ...]
    #: Why it cannot be published, though nothing is missing.
    reasons: tuple[str, ...]


def bench_of(link: Link, sheet: BenchSheet | None = None) -> Bench:
    """The draft of the link, as its bench shows it today; its phrases open the editors of the ``sheet``."""
    document = link.effective["link"]["offer"] if link.effective else link.draft["offer"]
    phrases = tuple(_phrases(sentence(read_partial_offer(document)), sheet or BenchSheet(link)))
    if gaps := link.gaps:
        return Bench(phrases, None, None, gaps, ())
    offer = link.offer
    basket = supposed_basket(offer, timezone.localdate(), link.business.country)
    try:
        slip = quote(replace(offer, window=None), basket)
    except BasketRefused:
        slip = None
    return Bench(phrases, basket.destination, slip, (), why_not_ready(link))


def _phrases(spoken: Iterable[Phrase], sheet: BenchSheet) -> list[BenchPhrase]:
    phrases: list[BenchPhrase] = []
    for phrase in spoken:
        text = phrase.text
        if phrases and text[0] in ",;.":
            phrases[-1] = replace(phrases[-1], after=text[0])
            text = text[1:]
        phrases.append(BenchPhrase(text, sheet.opened_by(phrase.about) if phrase.about else "", gap=phrase.gap))
    return phrases
