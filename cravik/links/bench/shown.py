"""What the bench shows of a draft beside its parts: the sentence, what a buyer pays, and what is missing."""

from __future__ import annotations

import re
from collections.abc import Iterable
from dataclasses import dataclass, replace

from django.utils import timezone

from cravik.catalogue.digital_goods import downloads_without_goods
from cravik.catalogue.models import Item
from cravik.core.documents.link_draft import gaps_in
from cravik.core.documents.partial_offer import read_partial_offer
from cravik.core.link.limits import NO_LIMITS
from cravik.core.text.faults import gap_words
from cravik.core.text.sentence import sentence
from cravik.links.bench.advising import Advice, advice_on
from cravik.links.bench.history import History, history_of
from cravik.links.bench.parts.kind import KindPart
from cravik.links.bench.phrases import BenchPhrase, phrases_of
from cravik.links.bench.sheet import BenchSheet
from cravik.links.bench.subjects import Subjects, subjects_of
from cravik.links.bench.what_if import WhatIf
from cravik.links.life.lifecycle import reason_words, why_not_publishable
from cravik.links.life.versions import unpublished_changes
from cravik.links.models import Link, Todo, items_of_draft


@dataclass(frozen=True)
class ShownAdvice:
    """Advice on one phrase that one act mends: the number that the phrase bears, and the editor that it leads to, if
    there is one."""

    number: int
    advice: tuple[Advice, ...]
    editor: str

    @property
    def mend(self) -> Advice | None:
        """The piece of advice whose mend mends all of it, if there is one."""
        return self.advice[0] if self.advice[0].mend else None

    @property
    def keys(self) -> str:
        return "+".join(each.key for each in self.advice)

    @property
    def words(self) -> str:
        return " ".join(each.words for each in self.advice)


@dataclass(frozen=True)
class Bench:
    """What the bench shows of a draft."""

    phrases: tuple[BenchPhrase, ...]
    subjects: Subjects
    #: The panel to be shown first: that of the first gap, or else of the price.
    opens: str
    #: What buyers pay and the seller keeps, in the cases that the seller thinks of; None while there is no sum.
    what_if: WhatIf | None
    #: What is missing, a sentence each, with the editor in which it is decided.
    gaps: tuple[BenchPhrase, ...]
    #: Why it cannot be published, though nothing is missing.
    reasons: tuple[str, ...]
    #: Items that are promised as downloads, and have nothing to give yet.
    lacking: tuple[Item, ...]
    advice: tuple[ShownAdvice, ...]
    history: History
    #: What publishing would change for buyers, in words.
    changes: tuple[str, ...]
    #: What the seller noted as still to do.
    todos: tuple[Todo, ...]


def bench_of(link: Link, sheet: BenchSheet | None = None) -> Bench:
    """The draft of the link, as its bench shows it today; its phrases open the editors of the ``sheet``."""
    sheet = sheet or BenchSheet(link)
    content = link.content if link.effective else None
    offer = content.offer if content else read_partial_offer(link.draft["offer"])
    steps = content.steps if content else ()
    limits = content.limits if content else NO_LIMITS
    spoken = sentence(offer, steps=steps, limits=limits, zone=link.business.time_zone)
    phrases = phrases_of(spoken, sheet)
    gaps = (sheet.panel_of(phrase.editor) for phrase in phrases if phrase.gap and phrase.editor)
    opens = next(gaps, f"{KindPart.name}-{sheet.lines[0].line.key}")
    subjects = subjects_of(sheet, phrases)
    advice = tuple(_advice(link, sheet))
    phrases = tuple(_marked(phrase, advice) for phrase in phrases)
    head, history = (phrases, subjects, opens), history_of(link)
    beside = (advice, history, unpublished_changes(link))
    todos = tuple(Todo.objects.filter(link=link))
    lacking = tuple(downloads_without_goods([item.pk for item in items_of_draft(link).values()]))
    if content is None:
        missing = gaps_in(link.draft)
        missing_at = tuple(
            BenchPhrase(gap_words(each), _editor_of(each.at.removeprefix("offer."), sheet)) for each in missing
        )
        return Bench(*head, None, missing_at, (), lacking, *beside, todos=todos)
    reasons = tuple(reason_words(fault) for fault in why_not_publishable(link.pk, content))
    return Bench(*head, WhatIf(link, timezone.localdate()), (), reasons, lacking, *beside, todos=todos)


def _advice(link: Link, sheet: BenchSheet) -> Iterable[ShownAdvice]:
    """The advice by the phrases that it is about, in its order."""
    groups: list[tuple[str, list[Advice]]] = []
    for each in advice_on(link):
        editor = _editor_of(each.fault.at, sheet)
        group = next((told for at, told in groups if at == editor and _have_one_mend(told[0], each)), None)
        if group is None:
            groups.append((editor, [each]))
        else:
            group.append(each)
    for number, (editor, told) in enumerate(groups, start=1):
        yield ShownAdvice(number, tuple(told), editor)


def _have_one_mend(one: Advice, other: Advice) -> bool:
    return bool(one.mend and other.mend and one.mend.is_same_as(other.mend))


def _editor_of(at: str, sheet: BenchSheet) -> str:
    """The editor that the phrase at the path opens, or the phrase of what holds it; nothing where none does."""
    editor = sheet.opened_by(at)
    while at and not editor:
        at = re.sub(r"(\[\d+\]|\.?[^.\[\]]+)$", "", at)
        editor = sheet.opened_by(at)
    return editor


def _marked(phrase: BenchPhrase, advice: Iterable[ShownAdvice]) -> BenchPhrase:
    return replace(phrase, marks=tuple(each.number for each in advice if each.editor and each.editor == phrase.editor))
