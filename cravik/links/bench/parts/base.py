"""What every part of the bench is made of."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from typing import Any, ClassVar

from django import forms

from cravik.catalogue.models import Item
from cravik.links.bench.changes import Change, DraftInHand
from cravik.links.models import Link, items_of_draft

Document = dict[str, Any]
#: What a form sends: texts by the fields' names.
Sent = Mapping[str, Any]


@dataclass(frozen=True)
class BenchLine:
    """A line of the draft as it lies on the bench, with the item that it sells, if it sells one."""

    key: str
    document: Document
    item: Item | None
    is_first: bool
    is_only: bool

    @property
    def name(self) -> str:
        return str(self.document.get("name", ""))


def lines_on_bench(link: Link) -> list[BenchLine]:
    """The lines of the link's draft, in order."""
    lines, items = link.draft["offer"]["lines"], items_of_draft(link)
    return [
        BenchLine(line["key"], line, items.get(line["key"]), number == 0, len(lines) == 1)
        for number, line in enumerate(lines)
    ]


class BenchPart(forms.Form):
    """One subject of a link: its fields, and its piece of the link document. A part of a line has a ``line``."""

    name: ClassVar[str]
    template: ClassVar[str]
    #: The paths of the offer sentence's phrases that open it; of a part of a line, what follows ``lines[0].``.
    phrases: ClassVar[tuple[str, ...]] = ()

    def __init__(self, link: Link, line: BenchLine | None = None, data: Sent | None = None) -> None:
        self.link = link
        self._line = line
        super().__init__(data, initial=self.read())
        self.add_fields()

    def add_fields(self) -> None:
        """Give the form what can be changed here."""

    @property
    def line(self) -> BenchLine:
        assert self._line is not None, f"{self.name} is a part of the whole link"
        return self._line

    @property
    def editor(self) -> str:
        """What the page calls it; the phrases of the sentence name it."""
        return f"{self.name}-{self._line.key}" if self._line else self.name

    @property
    def is_shown(self) -> bool:
        return bool(self.fields)

    def opens(self, phrase: str) -> bool:
        """Whether the phrase at that path of the sentence opens it."""
        return phrase in self.phrases

    def read(self) -> dict[str, Any]:
        """What its fields show of the draft."""
        return {}

    @property
    def piece(self) -> Any:
        """Its piece of the document, as a valid form says it."""
        raise NotImplementedError

    def changes(self) -> Iterator[Change]:
        """What a valid form changes; nothing where there is nothing to change here."""
        if self.fields:
            yield Change(self.name, self.piece, self._line.key if self._line else "")

    @classmethod
    def put(cls, draft: DraftInHand, change: Change) -> None:
        """Put its piece into the draft."""
        raise NotImplementedError
