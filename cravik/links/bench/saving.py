"""Keeping what was changed on the bench. What buyers see stays until it is published."""

from __future__ import annotations

import copy
from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from datetime import datetime
from functools import partial
from typing import Any

from django.db import transaction

from cravik.core.coded import Coded
from cravik.core.text.cleared_words import cleared_words
from cravik.links.bench.acting import Acting, ActRefused
from cravik.links.bench.acts import ACTS
from cravik.links.bench.changes import Change, DraftInHand
from cravik.links.bench.history import remember, state_of, stay_with
from cravik.links.bench.parts import ALL_PARTS
from cravik.links.items.line import line_of_item
from cravik.links.life.from_setup import write_draft
from cravik.links.life.lifecycle import locked
from cravik.links.models import Link, items_of_draft
from cravik.people.actors import Actor
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
    link: Link, part: str, piece: Any, seen_revision: int, now: datetime, *, by: Actor, line: str = ""
) -> DraftChanged:
    """Let one part say ``piece``, of a ``line`` or of the whole link. Raises as ``change_parts`` does."""
    return change_parts(link, [Change(part, piece, line)], seen_revision, now, by=by)


@transaction.atomic
def change_parts(
    link: Link, changes: Iterable[Change], seen_revision: int, now: datetime, act: Act | None = None, *, by: Actor
) -> DraftChanged:
    """Let the parts say what they say now, and then do the ``act``: all of it or nothing. What belongs to an item is
    the item's all the same.

    Raises ``ChangedElsewhere`` unless ``seen_revision`` is the one that is stored, ``PriceTooLow`` and ``ActRefused``.
    """
    fresh = locked(link)
    if fresh.revision != seen_revision:
        raise ChangedElsewhere
    saving = _Saving(fresh, changes, now, by)
    saving.put_changes()
    opens = saving.do(act) if act else ""
    saving.keep()
    return DraftChanged(saving.link, saving.cleared_words, opens)


class _Saving:
    """A change of a link's draft under way, in one transaction."""

    def __init__(self, link: Link, changes: Iterable[Change], now: datetime, by: Actor) -> None:
        order = list(ALL_PARTS)
        self.link, self.now, self.by = link, now, by
        self.former_currency = link.draft["offer"]["currency"]
        self.before, self.before_revision = copy.deepcopy(state_of(link)), link.revision
        kept = {key: dict(prices) for key, prices in link.former_prices.items()}
        sorted_changes = sorted(changes, key=lambda change: order.index(change.part))
        self.draft = DraftInHand(link.draft, sorted_changes, former_prices=kept)
        #: What undoing calls it.
        self.done: list[Coded] = []

    def put_changes(self) -> None:
        for change in self.draft.changes:
            former = self.draft.document
            ALL_PARTS[change.part].put(self.draft, change)
            if self.draft.document != former:
                self.done.append(self._called(change))
        if self.draft.document["offer"]["currency"] != self.former_currency:
            self.draft.former_prices = {}

    def _called(self, change: Change) -> Coded:
        """The part that was changed, and the thing whose it is where there are several."""
        of = self.draft.line(change.line).get("name") if change.line and len(self.draft.lines) > 1 else ""
        return Coded("part_changed", part=change.part, **({"of": of} if of else {}))

    def do(self, act: Act) -> str:
        """Do the act on the draft; returns the panel that is shown after it."""
        if act.name not in ACTS:
            raise ActRefused.of("act_unknown")
        acting = Acting(self.link, self.draft, act.line, act.sent, self.now, self.by, self.keep)
        ACTS[act.name](acting)
        if acting.done:
            self.done = [acting.done]
        return acting.opens

    def keep(self) -> Link:
        """Write the draft in hand, and remember what it was; what belongs to an item is the item's all the same."""
        fresh = locked(self.link)  # with the items that its lines sell now
        currency = self.draft.document["offer"]["currency"]
        for key, item in items_of_draft(fresh).items():
            self.draft.put_line(key, partial(line_of_item, item=item, currency=currency))
        keep_former_prices(fresh, self.draft.former_prices)
        write_draft(fresh, self.draft.document, defaults_of(fresh.business), self.now)
        if self.done:
            remember(fresh, self.before, self.before_revision, self.done, self.now, by=self.by)
        else:
            stay_with(fresh, self.before_revision)
        self.link, self.before, self.before_revision, self.done = fresh, state_of(fresh), fresh.revision, []
        return fresh

    @property
    def cleared_words(self) -> str:
        return cleared_words(self.draft.cleared, self.former_currency)


def keep_former_prices(link: Link, prices: dict[str, Any]) -> None:
    """Let these be the prices of other kinds that the link's lines had, by line and kind."""
    kept = {key: by_kind for key, by_kind in prices.items() if by_kind}
    if kept != link.former_prices:
        link.former_prices = kept
        link.save(update_fields=["former_prices"])
