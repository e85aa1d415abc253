"""Changes to a draft, part by part, before they are kept."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass, field
from typing import Any, NamedTuple, cast

from cravik.core.coded import Coded
from cravik.core.documents.data import FormerPrices, LineData, LinkData, PriceData, put, put_or_drop, without_empty
from cravik.links.items.line import with_line


class Change(NamedTuple):
    """That a ``part`` says ``piece`` now, of one ``line`` of the offer or, where that is empty, of the whole link."""

    part: str
    piece: Any
    line: str = ""


@dataclass
class DraftInHand:
    """A draft while ``changes`` are put into it. ``cleared`` names what a change of currency took out of it.

    ``former_prices`` are those of other kinds that its lines had, by line and kind.
    """

    document: LinkData
    changes: Sequence[Change] = ()
    cleared: tuple[Coded, ...] = ()
    former_prices: FormerPrices = field(default_factory=dict)

    @property
    def lines(self) -> list[LineData]:
        return self.document["offer"]["lines"]

    def line(self, key: str) -> LineData:
        """The line as it is now."""
        return next(line for line in self.lines if line["key"] == key)

    def set_aside(self, key: str) -> dict[str, PriceData]:
        """The prices of other kinds that the line had, by kind, to be added to and taken from."""
        return self.former_prices.setdefault(key, {})

    def put(self, **pieces: Any) -> None:
        """Put pieces at the top of the link document."""
        self.document = put(self.document, **pieces)

    def put_or_drop(self, name: str, piece: Any) -> None:
        """Let the link document have ``piece`` under the name; what is empty stands nowhere."""
        self.document = put_or_drop(self.document, **{name: piece})

    def put_section(self, name: str, **pieces: Any) -> None:
        """Put pieces into a section of the link document; what is empty stands nowhere, nor does an empty section."""
        section = cast(dict[str, Any], self.document.get(name, {}))
        self.put_or_drop(name, without_empty({**section, **pieces}))

    def put_in_offer(self, **pieces: Any) -> None:
        self.put(offer=put(self.document["offer"], **pieces))

    def put_line(self, key: str, change: Callable[[LineData], LineData]) -> None:
        """Put ``change`` of the line in its place. What is sold alone gives its name to the whole."""
        self.document = with_line(self.document, key, change)
