"""From when until when it can be bought, how many there are, and how many one buyer may have."""

from __future__ import annotations

from calendar import monthrange
from dataclasses import dataclass
from datetime import datetime, timedelta
from functools import cached_property
from typing import Any, ClassVar
from zoneinfo import ZoneInfo

from django import forms
from django.utils import timezone

from cravik.core.documents.data import LimitsData, put_or_drop
from cravik.core.documents.partial_offer import read_partial_offer
from cravik.core.english import instant_words
from cravik.core.link.limits import Limits
from cravik.core.pricing.partial_offer import PartialLine
from cravik.core.text.limits_words import distance_words
from cravik.core.text.pieces_words import COUNT_WORDS, guessed_word, pieces_words, word_of
from cravik.links.bench.changes import Change, DraftInHand
from cravik.links.bench.parts.base import BenchPart
from cravik.links.bench.parts.instants import instant_field, instant_shown, instant_typed
from cravik.links.life.counting import pieces_of
from cravik.links.life.lifecycle import reason_words, too_few_pieces
from cravik.ui.fields import CountField

_INSTANTS, _COUNTS = ("opens_at", "closes_at"), ("orders", "orders_per_buyer")
#: What is said of each line, in a field named after it.
_OF_LINES = ("pieces", "counted_as", "pieces_per_buyer")
_WORDS = [(word, "copies of an edition" if word == "edition" else many) for word, (_, many) in COUNT_WORDS.items()]


@dataclass(frozen=True)
class LineLimits:
    """The fields of one line, with its name where there are several, and what is taken of it already, in words."""

    name: str
    fields: list[forms.BoundField]
    taken: str


@dataclass(frozen=True)
class ShownInstant:
    """An instant of the draft as the bench tells it: what happens, when, and how far off that is."""

    what: str
    when: str
    distance: str


class LimitsPart(BenchPart):
    name = "limits"
    heading = "When, and how many"
    mark = "orders"
    called = "Limits"
    adds = "Closing date or places"
    found_by = "opening deadline seats tickets edition copies sold out per buyer"
    template = "links/bench/parts/limits.html"
    phrases = ("limits",)
    pieces: ClassVar = {"limits": "links/bench/parts/_limits_shown.html"}

    @property
    def is_shown(self) -> bool:
        return True

    @property
    def before(self) -> LimitsData:
        return self.link.draft.get("limits", {})

    @property
    def zone(self) -> str:
        return self.link.business.time_zone

    def add_fields(self) -> None:
        for name, label in zip(_INSTANTS, ("Opens", "Closes"), strict=True):
            self.fields[name] = instant_field(label)
        for line in self.lines:
            self.fields[f"pieces.{line.key}"] = CountField(label="In all")
            self.fields[f"counted_as.{line.key}"] = forms.ChoiceField(
                label="Counted in", choices=_WORDS, required=False
            )
            self.fields[f"pieces_per_buyer.{line.key}"] = CountField(label="Per buyer")
        self.fields["orders"] = CountField(label="Total orders", help_text="However many pieces are in each.")
        self.fields["orders_per_buyer"] = CountField(label="Orders per buyer")

    @cached_property
    def lines(self) -> tuple[PartialLine, ...]:
        return read_partial_offer(self.link.draft["offer"]).lines

    @cached_property
    def _limits(self) -> Limits:
        """What the draft says of pieces."""
        before: dict[str, Any] = {**self.before}
        return Limits(**{name: before.get(name, {}) for name in _OF_LINES})

    @property
    def whole(self) -> list[forms.BoundField]:
        return [self[name] for name in (*_INSTANTS, *_COUNTS)]

    @property
    def of_lines(self) -> list[LineLimits]:
        taken = pieces_of(self.link.pk).taken
        return [
            LineLimits(
                line.name if len(self.lines) > 1 else "",
                [self[f"{name}.{line.key}"] for name in _OF_LINES],
                pieces_words(taken[line.key], word_of(line, self._limits)) if taken.get(line.key) else "",
            )
            for line in self.lines
        ]

    @property
    def quick_ends(self) -> list[tuple[str, str]]:
        """Ends that are one press away: what is said, and the hour of the seller's zone."""
        today = timezone.now().astimezone(ZoneInfo(self.zone)).date()
        month_end = today.replace(day=monthrange(today.year, today.month)[1])
        days = {"Tonight": today, "In a week": today + timedelta(days=7), "End of the month": month_end}
        return [(words, f"{day:%Y-%m-%d}T23:59") for words, day in days.items()]

    def read(self) -> dict[str, Any]:
        before: dict[str, Any] = {**self.before}
        shown: dict[str, Any] = {name: before.get(name) or "" for name in _COUNTS}
        shown |= {name: instant_shown(self.zone, before.get(name)) for name in _INSTANTS}
        for line in self.lines:
            shown |= {f"{name}.{line.key}": before.get(name, {}).get(line.key) or "" for name in _OF_LINES}
            shown[f"counted_as.{line.key}"] = word_of(line, self._limits)
        return shown

    def check(self) -> None:
        opens, closes = (self.cleaned_data.get(name) for name in _INSTANTS)
        if opens and closes and closes <= opens:
            self.add_error("closes_at", "It closes before it opens.")
        limits = Limits(pieces=self._by_line("pieces"), counted_as=self._by_line("counted_as"))
        for key, fault in too_few_pieces(self.link.pk, self.lines, limits).items():
            self.add_error(f"pieces.{key}", reason_words(fault))
        for line in self.lines:
            for name in ("pieces", "pieces_per_buyer"):
                number = self._by_line(name).get(line.key)
                if number is not None and number < line.quantity.min and not self.has_error(f"{name}.{line.key}"):
                    self.add_error(f"{name}.{line.key}", f"An order takes {line.quantity.min:,} or more of it.")

    def _by_line(self, name: str) -> dict[str, Any]:
        """What is said of each line under that name, where something is."""
        typed = {line.key: self.cleaned_data.get(f"{name}.{line.key}") for line in self.lines}
        if name == "counted_as":
            typed = {line.key: word for line in self.lines if (word := typed[line.key]) != guessed_word(line.name)}
        return {key: said for key, said in typed.items() if said}

    def _instant(self, name: str) -> str | None:
        """The instant that was typed; as it was, to the second, where the field was left alone."""
        if name not in self.changed_data:
            before: dict[str, Any] = {**self.before}
            return before.get(name)
        return instant_typed(self.zone, self.cleaned_data[name])

    @property
    def piece(self) -> LimitsData:
        return put_or_drop(
            LimitsData(),
            **{name: self._instant(name) for name in _INSTANTS},
            **{name: self.cleaned_data[name] for name in _COUNTS},
            **{name: self._by_line(name) for name in _OF_LINES},
        )

    @classmethod
    def put(cls, draft: DraftInHand, change: Change) -> None:
        draft.put_or_drop("limits", change.piece)

    @property
    def shown(self) -> list[ShownInstant]:
        now, shown = timezone.now(), []
        for name, ahead, past in (("opens_at", "Opens", "Opened"), ("closes_at", "Closes", "Closed")):
            if at := {**self.before}.get(name):
                instant = datetime.fromisoformat(str(at))
                local = instant.astimezone(ZoneInfo(self.zone))
                what = ahead if instant > now else past
                shown.append(ShownInstant(what, instant_words(local), distance_words(instant, now)))
        return shown
