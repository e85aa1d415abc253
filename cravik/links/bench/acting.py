"""What an act on the bench works with, and how it is refused."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from datetime import datetime
from typing import Any

from cravik.catalogue.models import Item
from cravik.catalogue.services import ensure_code
from cravik.core.coded import Coded
from cravik.core.documents.data import LineData, without
from cravik.core.text.faults import fault_words
from cravik.core.text.refusal import Refusal
from cravik.links.bench.changes import DraftInHand
from cravik.links.bench.refusals import WORDS
from cravik.links.models import Link, SoldItem
from cravik.people.actors import Actor


class ActRefused(Refusal):
    """The act cannot be done. Each fault stands at the name of its field, or at none."""

    words = WORDS

    @property
    def by_field(self) -> dict[str, list[str]]:
        """The sentences by the names of the fields at which they stand."""
        found: dict[str, list[str]] = {}
        for fault in self.faults:
            found.setdefault(fault.at or "__all__", []).append(fault_words(fault, self.words))
        return found


class Acting:
    """An act on the draft of a link under way: of the ``line`` with that key, or of none. ``sent`` is the form.

    ``opens`` is the panel that is shown after it, ``done`` what undoing calls it.
    """

    def __init__(
        self,
        link: Link,
        draft: DraftInHand,
        line: str,
        sent: Mapping[str, Any],
        now: datetime,
        by: Actor,
        keep: Callable[[], Link],
    ) -> None:
        self.link, self.draft, self.line, self.sent, self._keep = link, draft, line, sent, keep
        self.now, self.by = now, by
        self.opens = ""
        self.done: Coded | None = None

    def settle(self) -> None:
        """Keep what was typed first, so that what is in effect of the link is the draft in hand."""
        self.link = self._keep()
        self.draft.document = self.link.draft

    @property
    def place(self) -> int:
        keys = [line["key"] for line in self.draft.lines]
        if self.line not in keys:
            raise ActRefused.of("thing_gone")
        return keys.index(self.line)

    def put_lines(self, lines: list[LineData]) -> None:
        self.draft.put_in_offer(lines=lines)
        if len(lines) == 1:  # what is sold alone gives its name to the whole, and is no extra
            only = without(lines[0], "optional")
            self.draft.put_in_offer(lines=[only], title=only.get("name", ""))

    def let_sell(self, key: str, item: Item) -> None:
        """Let the line sell the item: its name, options and the rest come with it when the draft is kept."""
        ensure_code(item)
        SoldItem.objects.create(link=self.link, line=key, item=item)
        self.draft.put(items=self.draft.document.get("items", {}) | {key: item.code})
