"""The offer sentence on the bench: each of its phrases opens an editor."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass, replace

from cravik.core.text.sentence import Phrase
from cravik.links.bench.sheet import BenchSheet


@dataclass(frozen=True)
class BenchPhrase:
    """A phrase of the offer sentence, the name of the editor that it opens, if there is one, and the comma
    or full stop that must not be parted from it. A ``gap`` is still to be decided."""

    text: str
    editor: str
    after: str = ""
    gap: bool = False
    #: The numbers of the advice that is about it.
    marks: tuple[int, ...] = ()


def phrases_of(spoken: Iterable[Phrase], sheet: BenchSheet) -> tuple[BenchPhrase, ...]:
    """The phrases of a sentence, which open editors of the sheet."""
    phrases: list[BenchPhrase] = []
    for phrase in spoken:
        text = phrase.text
        if phrases and text[0] in ",;.":
            phrases[-1] = replace(phrases[-1], after=text[0])
            text = text[1:]
        phrases.append(BenchPhrase(text, sheet.opened_by(phrase.about) if phrase.about else "", gap=phrase.gap))
    return tuple(phrases)
