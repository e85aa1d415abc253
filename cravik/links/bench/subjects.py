"""What is set of a draft, each subject with its value, and what can be added to it. Each opens its editor."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from dataclasses import dataclass
from textwrap import shorten

from cravik.links.bench.parts import BenchPart
from cravik.links.bench.phrases import BenchPhrase
from cravik.links.bench.sheet import THINGS, BenchSheet

#: Characters that are shown of a value.
_LONGEST = 80


@dataclass(frozen=True)
class SetSubject:
    """A subject of which the draft says something: what it is called, of which line where there are several, and its
    value."""

    editor: str
    called: str
    line: str
    value: str


@dataclass(frozen=True)
class Addable:
    """A subject in the list of what can be added: the words that it is offered by, and others that it is found by."""

    editor: str
    words: str
    found_by: str
    #: What the draft says of it already: it is not offered then, and found nevertheless.
    value: str = ""


@dataclass(frozen=True)
class Subjects:
    """The subjects of a draft."""

    decided: tuple[SetSubject, ...]
    addable: tuple[Addable, ...]


def subjects_of(sheet: BenchSheet, phrases: Iterable[BenchPhrase]) -> Subjects:
    """The subjects of the sheet's draft, in working order; ``phrases`` are those of its sentence."""
    by_editor: dict[str, list[str]] = {}
    for phrase in phrases:
        if phrase.editor and not phrase.gap:
            by_editor.setdefault(phrase.editor, []).append(phrase.text.strip())
    decided: list[SetSubject] = []
    first: list[Addable] = []
    others = [Addable(THINGS, "Another item", "thing product bundle several")]
    if len(sheet.lines) > 1:
        decided.append(SetSubject(THINGS, "Items", "", str(len(sheet.lines))))
    for line, parts in _by_panel(sheet):
        values = {part.editor: part.value or ", ".join(by_editor.get(part.editor, ())) for part in parts}
        editor = next((editor for editor, each in values.items() if each), "")
        value = ", ".join(filter(None, values.values()))
        called = next((part.called for part in parts if part.called), "")
        value = shorten(value.removeprefix(f"{called.lower()} "), _LONGEST, placeholder=" …")
        if called and value:
            decided.append(SetSubject(editor, called, line, value))
        for part in parts:
            if part.adds:
                words = f"{part.adds} for “{line}”" if line else part.adds
                found_by = f"{called} {part.heading} {part.found_by}"
                (first if part.is_added_first else others).append(Addable(part.editor, words, found_by, value))
    return Subjects(tuple(decided), (*first, *others))


def _by_panel(sheet: BenchSheet) -> Iterator[tuple[str, list[BenchPart]]]:
    """The parts of each panel that is shown, and the name of its line; those of Setup's subjects come last."""
    for panel in sheet.all_panels():
        yield panel.line, [part for part in panel.parts if part.is_shown]
    for part in sheet.settings:
        yield "", [part]
