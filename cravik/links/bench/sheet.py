"""The bench as a seller fills it in: every part of the link, and the revision that the page showed."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from functools import cached_property

from django import forms
from django.db.models import prefetch_related_objects

from cravik.links.bench.changes import Change
from cravik.links.bench.parts import (
    LINK_PARTS,
    SETTING_PARTS,
    BenchLine,
    BenchPart,
    SettingPart,
    lines_on_bench,
    parts_of_line,
)
from cravik.links.models import Link
from cravik.setup.defaults import defaults_of
from cravik.ui.form_data import FormData

#: The editor of the list of what a link sells, and the phrase that says how buyers take of it.
THINGS = "things"


class RevisionForm(forms.Form):
    revision = forms.IntegerField(widget=forms.HiddenInput, min_value=1)


@dataclass(frozen=True)
class Panel:
    """Parts that lie side by side and are shown together; ``name`` is what the page calls it."""

    name: str
    heading: str
    #: Of which line it is, by its name, where there are several.
    line: str
    parts: list[BenchPart]

    @property
    def of(self) -> str:
        return f" of “{self.line}”" if self.line else ""

    @property
    def is_shown(self) -> bool:
        return any(part.is_shown for part in self.parts)


@dataclass(frozen=True)
class SheetLine:
    """One line on the bench, with its parts."""

    line: BenchLine
    parts: list[BenchPart]
    panels: list[Panel]


class BenchSheet:
    """The whole bench of a link, with what was sent (``data``) or what its draft says.

    Of what was sent by the page's script, which sends what was touched, only those lines are looked at
    (``is_whole`` is False).
    """

    def __init__(self, link: Link, data: FormData | None = None, *, is_whole: bool = True) -> None:
        # What the catalogue has of the items is read once, and not for each line.
        prefetch_related_objects([link], *(f"sold_items__item__{each}" for each in ("pictures", "variants", "files")))
        self.link = link
        self.is_bound = data is not None
        self.form = RevisionForm(data, initial={"revision": link.revision})
        self.lines = []
        named = [name.partition(".")[2] for name in data or ()]
        for line in lines_on_bench(link):
            if not is_whole and not any(name.startswith(line.key) for name in named):
                continue
            parts = [part(link, line, data) for part in parts_of_line(line, data)]
            name = "" if line.is_only else line.name or "what is not named yet"
            self.lines.append(SheetLine(line, parts, _panels(parts, name)))
        self.parts = [part(link, data=data) for part in LINK_PARTS]
        self.panels = _panels(self.parts)
        #: What keeps it from being saved, by the names of fields, or by ``__all__`` where it stands at none.
        self.trouble: dict[str, list[str]] = {}

    @cached_property
    def settings(self) -> list[SettingPart]:
        """What the link has from Setup or of its own, in words."""
        defaults = defaults_of(self.link.business)
        return [part(self.link, defaults) for part in SETTING_PARTS]

    @property
    def by_name(self) -> dict[str, BenchPart]:
        """The parts of the whole link, for those that stand inside of another part's row."""
        return {part.name: part for part in self.parts}

    def all_parts(self) -> Iterator[BenchPart]:
        for line in self.lines:
            yield from line.parts
        yield from self.parts

    def all_panels(self) -> Iterator[Panel]:
        """Those that are shown, in working order: what the whole is for, each line, and the rest."""
        of_lines = [panel for line in self.lines for panel in line.panels]
        yield from (panel for panel in [*self.panels[:1], *of_lines, *self.panels[1:]] if panel.is_shown)

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
        """Tell at a part's field why what it says cannot be kept, or at none where it has no field."""
        for each in self.all_parts():
            if each.editor == f"{part}-{line}" and each.is_sent:
                each.add_error(next(iter(each.fields)), words)
                return
        self.trouble = {"__all__": [words]}

    def errors(self) -> dict[str, list[str]]:
        """What is wrong, by the names of fields; what stands at none, by ``__all__``."""
        found = {name: [str(each) for each in errors] for name, errors in self.form.errors.items()}
        for part in self.all_parts():
            found |= part.faults
        return found | self.trouble

    @property
    def reshaped(self) -> list[str]:
        """The panels of a valid sheet that have other fields once it is saved."""
        return [part.panel for part in self.all_parts() if part.is_reshaped]

    def opened_by(self, phrase: str) -> str:
        """The editor that the phrase at that path of the sentence opens, or nothing."""
        if phrase == THINGS:
            return THINGS
        for part in self.parts:
            if part.opens(phrase):
                return part.editor
        for setting in SETTING_PARTS:
            if phrase in setting.phrases:
                return str(setting.name)
        for number, line in enumerate(self.lines):
            at = f"lines[{number}]."
            for part in line.parts if phrase.startswith(at) else ():
                if part.opens(phrase.removeprefix(at)):
                    return part.editor
        return ""

    def panel_of(self, editor: str) -> str:
        """The panel on which that editor lies."""
        return self._panels_by_editor.get(editor, "settings")

    @cached_property
    def _panels_by_editor(self) -> dict[str, str]:
        return {part.editor: part.panel for part in self.all_parts()}


def _panels(parts: list[BenchPart], line: str = "") -> list[Panel]:
    """The panels of the parts, in their order; ``line`` names whose they are."""
    names = dict.fromkeys(part.panel for part in parts)
    laid = {name: [part for part in parts if part.panel == name] for name in names}
    panels = [Panel(name, lying[0].heading, line, lying) for name, lying in laid.items()]
    return [panel for panel in panels if panel.heading]
