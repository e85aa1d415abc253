"""Instants that a seller types as days and hours of their own zone."""

from __future__ import annotations

from datetime import datetime
from zoneinfo import ZoneInfo

from django import forms

_TYPED = "%Y-%m-%dT%H:%M"


def instant_field(label: str) -> forms.DateTimeField:
    """A field for a day and an hour, which may be left empty."""
    return forms.DateTimeField(
        label=label,
        required=False,
        input_formats=[_TYPED, "%Y-%m-%dT%H:%M:%S"],
        widget=forms.DateTimeInput(attrs={"type": "datetime-local"}, format=_TYPED),
        error_messages={"invalid": "Write a day and an hour, such as 2026-12-31 18:00."},
    )


def instant_shown(zone: str, instant: str | None) -> datetime | str:
    """What such a field shows of an instant of a document: that hour of the zone; nothing for none."""
    return datetime.fromisoformat(instant).astimezone(ZoneInfo(zone)).replace(tzinfo=None) if instant else ""


def instant_typed(zone: str, typed: datetime | None) -> str | None:
    """The instant that was typed as an hour of the zone, as documents have it: with the offset of that day."""
    return typed.replace(tzinfo=ZoneInfo(zone)).isoformat() if typed else None
