"""Keeping what was changed on the bench. What buyers see stays until it is published."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from datetime import datetime
from functools import partial
from typing import Any

from django.db import transaction

from cravik.core.documents.link_draft import cleared_words
from cravik.links.bench.acts import ACTS, Acting, ActRefused
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
    """The link after a change, a sentence about what the change cleared, if it did, and the panel to be shown."""

    link: Link
    cleared: str = ""
    opens: str = ""


@dataclass(frozen=True)
class Act:
    """What is done to the list of lines: its name in ``ACTS``, the line, and the form that it was sent with."""

    name: str
    line: str
    sent: Mapping[str, Any]


def change_part(
    link: Link, part: str, piece: Any, seen_revision: int, now: datetime, *, line: str = ""
) -> DraftChanged:
    """Let one part say ``piece``, of a ``line`` or of the whole link. Raises as ``change_parts`` does."""
    return change_parts(link, [Change(part, piece, line)], seen_revision, now)


@transaction.atomic
def change_parts(
    link: Link, changes: Iterable[Change], seen_revision: int, now: datetime, act: Act | None = None
) -> DraftChanged:
    """Let the parts say what they say now, and then do the ``act``: all of it or nothing. What belongs to an item is
    the item's all the same.

    Raises ``ChangedElsewhere`` unless ``seen_revision`` is the one that is stored, ``PriceTooLow`` and ``ActRefused``.
    """
    fresh = locked(link)
    if fresh.revision != seen_revision:
        raise ChangedElsewhere
    former = fresh.draft["offer"]["currency"]
    order = list(ALL_PARTS)
    kept = {key: dict(prices) for key, prices in fresh.former_prices.items()}
    draft = DraftInHand(fresh.draft, sorted(changes, key=lambda change: order.index(change.part)), former_prices=kept)
    for change in draft.changes:
        ALL_PARTS[change.part].put(draft, change)
    opens = ""
    if act:
        opens = _do(act, fresh, draft, now)
        fresh = locked(link)  # with the items that its lines sell now
    currency = draft.document["offer"]["currency"]
    for key, item in items_of_draft(fresh).items():
        draft.put_line(key, partial(line_of_item, item=item, currency=currency))
    _keep_former_prices(fresh, {} if currency != former else draft.former_prices)
    write_draft(fresh, draft.document, defaults_of(fresh.business), now)
    return DraftChanged(fresh, cleared_words(draft.cleared, former), opens)


def _do(act: Act, link: Link, draft: DraftInHand, now: datetime) -> str:
    if act.name not in ACTS:
        raise ActRefused("The bench knows no such thing to do.")
    acting = Acting(link, draft, act.line, act.sent, now)
    ACTS[act.name](acting)
    return acting.opens


def _keep_former_prices(link: Link, prices: dict[str, Any]) -> None:
    kept = {key: by_kind for key, by_kind in prices.items() if by_kind}
    if kept != link.former_prices:
        link.former_prices = kept
        link.save(update_fields=["former_prices"])
