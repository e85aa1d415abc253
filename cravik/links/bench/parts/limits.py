"""From when until when it can be bought, how many in all, and how many by one buyer."""

from __future__ import annotations

from calendar import monthrange
from dataclasses import dataclass
from datetime import datetime, timedelta
from typing import Any, ClassVar
from zoneinfo import ZoneInfo

from django.utils import timezone

from cravik.core.english import instant_words
from cravik.core.text.limits_words import distance_words
from cravik.links.bench.changes import Change, Document, DraftInHand
from cravik.links.bench.parts.base import BenchPart
from cravik.links.bench.parts.instants import instant_field, said_in, shown_in
from cravik.ui.fields import CountField

_INSTANTS, _COUNTS = ("opens_at", "closes_at"), ("orders", "orders_per_buyer")


@dataclass(frozen=True)
class ShownInstant:
    """An instant of the draft as the bench tells it: what happens, when, and how far off that is."""

    what: str
    when: str
    distance: str


class LimitsPart(BenchPart):
    name = "limits"
    heading = "When it can be bought"
    mark = "orders"
    adds = "an end"
    template = "links/bench/parts/limits.html"
    phrases = ("limits",)
    pieces: ClassVar = {"limits": "links/bench/parts/_limits_shown.html"}

    @property
    def is_shown(self) -> bool:
        return True

    @property
    def before(self) -> Document:
        return dict(self.link.draft.get("limits") or {})

    @property
    def zone(self) -> str:
        return self.link.business.time_zone

    def add_fields(self) -> None:
        for name, label in zip(_INSTANTS, ("Opens", "Closes"), strict=True):
            self.fields[name] = instant_field(label)
        self.fields["closes_at"].widget.attrs["data-first"] = ""
        self.fields["orders"] = CountField(label="Orders in all", help_text="Empty: any number.")
        self.fields["orders_per_buyer"] = CountField(label="Orders by one buyer", help_text="Empty: any number.")

    @property
    def quick_ends(self) -> list[tuple[str, str]]:
        """Ends that are one press away: what is said, and the hour of the seller's zone."""
        today = timezone.now().astimezone(ZoneInfo(self.zone)).date()
        month_end = today.replace(day=monthrange(today.year, today.month)[1])
        days = {"Tonight": today, "In a week": today + timedelta(days=7), "End of the month": month_end}
        return [(words, f"{day:%Y-%m-%d}T23:59") for words, day in days.items()]

    def read(self) -> dict[str, Any]:
        shown: dict[str, Any] = {name: self.before.get(name) or "" for name in _COUNTS}
        shown |= {name: shown_in(self.zone, self.before.get(name)) for name in _INSTANTS}
        return shown

    def check(self) -> None:
        opens, closes = (self.cleaned_data.get(name) for name in _INSTANTS)
        if opens and closes and closes <= opens:
            self.add_error("closes_at", "It closes before it opens.")

    def _instant(self, name: str) -> str | None:
        """The instant that was typed; as it was, to the second, where the field was left alone."""
        if name not in self.changed_data:
            return self.before.get(name)
        return said_in(self.zone, self.cleaned_data[name])

    @property
    def piece(self) -> Document:
        said: Document = {name: self._instant(name) for name in _INSTANTS}
        said |= {name: self.cleaned_data[name] for name in _COUNTS}
        return {name: value for name, value in said.items() if value}

    @classmethod
    def put(cls, draft: DraftInHand, change: Change) -> None:
        draft.put_or_drop("limits", change.piece)

    @property
    def shown(self) -> list[ShownInstant]:
        now, told = timezone.now(), []
        for name, ahead, past in (("opens_at", "Opens", "Opened"), ("closes_at", "Closes", "Closed")):
            if at := self.before.get(name):
                instant = datetime.fromisoformat(at)
                local = instant.astimezone(ZoneInfo(self.zone))
                what = ahead if instant > now else past
                told.append(ShownInstant(what, instant_words(local), distance_words(instant, now)))
        return told
