"""The versions of a link as its seller looks back on them: what each changed."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

from cravik.core.documents.data import EffectiveData
from cravik.core.documents.link import read_link
from cravik.core.link.content import LinkContent
from cravik.core.text.differences import differences
from cravik.links.life.shown_version import shown_version
from cravik.links.models import Link


def changes_for_buyers(before: EffectiveData, after: EffectiveData, zone: str) -> tuple[str, ...]:
    """What differs, in words, between two documents as versions have them (``Version.effective``)."""
    return _changes(before, after, read_link(before["link"]), read_link(after["link"]), zone)


def unpublished_changes(link: Link) -> tuple[str, ...]:
    """What publishing the draft would change for buyers; nothing for what was never published, or has gaps."""
    if link.version is None or link.effective is None or not link.has_unpublished_changes:
        return ()
    shown = shown_version(link.version.pk).content  # which is kept, and so is the draft's
    return _changes(link.version.effective, link.effective, shown, link.content, link.business.time_zone)


def _changes(
    before: EffectiveData, after: EffectiveData, was: LinkContent, now: LinkContent, zone: str
) -> tuple[str, ...]:
    changes = (*differences(was, now, zone=zone), *_changes_beside(before, after))
    return changes or (() if before == after else ("what comes from the catalogue",))


def _changes_beside(before: EffectiveData, after: EffectiveData) -> Iterator[str]:
    """What differs in what stands beside the link document: its look, its terms and its contact."""
    if before["look"] != after["look"]:
        yield "the look"
    was, now = (each["conditions"] for each in (before, after))
    if was.get("name") != now.get("name"):
        yield f"terms: {_called(was)} → {_called(now)}"
    elif was != now:
        yield f"a new version of the terms {_called(now)}"
    if before["contact"] != after["contact"]:
        yield "whom buyers ask, or what their statement says"


def _called(terms: dict[str, Any]) -> str:
    return f"“{terms['name']}”" if terms else "none"
