"""Keeping what was changed on the bench. What buyers see stays until it is published."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import datetime
from functools import partial
from typing import Any

from django.db import transaction

from cravik.core.documents.link_draft import cleared_words
from cravik.links.bench.changes import Change, DraftInHand
from cravik.links.bench.parts import ALL_PARTS
from cravik.links.item_line import line_of_item
from cravik.links.lifecycle import locked
from cravik.links.models import Link, items_of_draft
from cravik.links.terms import write_draft
from cravik.setup.defaults import defaults_of
from cravik.setup.saving import ChangedElsewhere


@dataclass(frozen=True)
class DraftChanged:
    """The link after a change, and a sentence about what the change cleared, if it did."""

    link: Link
    cleared: str = ""


def change_part(
    link: Link, part: str, piece: Any, seen_revision: int, now: datetime, *, line: str = ""
) -> DraftChanged:
    """Let one part say ``piece``, of a ``line`` or of the whole link. Raises as ``change_parts`` does."""
    return change_parts(link, [Change(part, piece, line)], seen_revision, now)


@transaction.atomic
def change_parts(link: Link, changes: Iterable[Change], seen_revision: int, now: datetime) -> DraftChanged:
    """Let the parts say what they say now, all of it or nothing. What belongs to an item is the item's all the same.

    Raises ``ChangedElsewhere`` unless ``seen_revision`` is the one that is stored, and ``PriceTooLow``.
    """
    fresh = locked(link)
    if fresh.revision != seen_revision:
        raise ChangedElsewhere
    former = fresh.draft["offer"]["currency"]
    order = list(ALL_PARTS)
    draft = DraftInHand(fresh.draft, sorted(changes, key=lambda change: order.index(change.part)))
    for change in draft.changes:
        ALL_PARTS[change.part].put(draft, change)
    for key, item in items_of_draft(fresh).items():
        currency = draft.document["offer"]["currency"]
        draft.put_line(key, partial(line_of_item, item=item, currency=currency))
    write_draft(fresh, draft.document, defaults_of(fresh.business), now)
    return DraftChanged(fresh, cleared_words(draft.cleared, former))
