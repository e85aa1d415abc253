"""What a message is: who gets it and when, what it may tell, and its wording."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from cravik.setup.messages.filling import Value
from cravik.setup.messages.placeholders import Placeholder


@dataclass(frozen=True)
class Words:
    """The wording of a message; the body is Markdown."""

    subject: str
    heading: str
    body: str


@dataclass(frozen=True)
class MessageKind:
    """A message, who gets it and when."""

    kind: str
    title: str
    to: str
    when: str
    placeholders: tuple[Placeholder, ...]
    original: Words
    #: What of the wording is used.
    parts: tuple[str, ...] = ("subject", "heading", "body")
    #: What it says where nothing is paid, unless the seller's wording speaks of no payment either.
    when_free: Words | None = None

    @property
    def names(self) -> frozenset[str]:
        """All that its reader may be told."""
        return frozenset(each.name for each in self.placeholders)

    @property
    def samples(self) -> Mapping[str, Value]:
        """What each stands for, for anybody."""
        return {each.name: each.sample for each in self.placeholders}
