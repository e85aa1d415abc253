"""The bench as a seller fills it in: every part of the link, and the revision that the page showed."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from functools import cached_property

from django import forms

from cravik.links.bench.changes import Change
from cravik.links.bench.parts import (
    LINK_PARTS,
    TERMS_PARTS,
    BenchLine,
    BenchPart,
    TermsPart,
    lines_on_bench,
    parts_of_line,
)
from cravik.links.bench.parts.base import Sent
from cravik.links.models import Link
from cravik.setup.defaults import defaults_of


class RevisionForm(forms.Form):
    revision = forms.IntegerField(widget=forms.HiddenInput, min_value=1)


@dataclass(frozen=True)
class SheetLine:
    """One line on the bench, with its parts."""

    line: BenchLine
    parts: list[BenchPart]


class BenchSheet:
    """The whole bench of a link, with what was sent (``data``) or what its draft says."""

    def __init__(self, link: Link, data: Sent | None = None) -> None:
        self.link = link
        self.is_bound = data is not None
        self.form = RevisionForm(data, initial={"revision": link.revision})
        self.lines = [
            SheetLine(line, [part(link, line, data) for part in parts_of_line(line)]) for line in lines_on_bench(link)
        ]
        self.parts = [part(link, data=data) for part in LINK_PARTS]
        #: What keeps it from being saved, and stands at no field.
        self.trouble: list[str] = []

    @cached_property
    def terms(self) -> list[TermsPart]:
        """What the link has from Setup or of its own, in words."""
        defaults = defaults_of(self.link.business)
        return [part(self.link, defaults) for part in TERMS_PARTS]

    @property
    def by_name(self) -> dict[str, BenchPart]:
        """The parts of the whole link, for those that stand inside of another part's row."""
        return {part.name: part for part in self.parts}

    def all_parts(self) -> Iterator[BenchPart]:
        for line in self.lines:
            yield from line.parts
        yield from self.parts

    def is_valid(self) -> bool:
        """Whether everything can be taken. Each part is asked, so that every fault is told at once."""
        return all([self.form.is_valid(), *(part.is_valid() for part in self.all_parts())])

    @property
    def revision(self) -> int:
        """The revision that a valid sheet was filled in over."""
        return int(self.form.cleaned_data["revision"])

    def changes(self) -> list[Change]:
        """What a valid sheet says."""
        return [change for part in self.all_parts() for change in part.changes()]

    def refuse(self, part: str, line: str, words: str) -> None:
        """Tell at a part's field why what it says cannot be kept."""
        for each in self.all_parts():
            if each.name == part and each.fields and each.editor == f"{part}-{line}":
                each.add_error(next(iter(each.fields)), words)

    def errors(self) -> dict[str, list[str]]:
        """What is wrong, by the names of fields; what stands at none, by ``__all__``."""
        forms_of_it = [self.form, *self.all_parts()]
        found = {name: [str(each) for each in told] for form in forms_of_it for name, told in form.errors.items()}
        return found | ({"__all__": self.trouble} if self.trouble else {})

    def opened_by(self, phrase: str) -> str:
        """The editor that the phrase at that path of the sentence opens, or nothing."""
        for part in self.parts:
            if part.opens(phrase):
                return part.editor
        for terms in TERMS_PARTS:
            if phrase in terms.phrases:
                return str(terms.name)
        for number, line in enumerate(self.lines):
            at = f"lines[{number}]."
            for part in line.parts if phrase.startswith(at) else ():
                if part.opens(phrase.removeprefix(at)):
                    return part.editor
        return ""
