"""Named writes of links: making, changing, publishing, pausing, resuming, ending.

Where two could change the same link, its row is locked first: idle on SQLite, whose transactions begin IMMEDIATE and
so have one writer at a time, and right on another server.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from datetime import datetime
from functools import partial
from typing import Any

from django.db import transaction

from cravik.core.documents.link import read_link, write_link
from cravik.core.documents.link_draft import cleared_words, in_currency, without_empty
from cravik.core.link.content import SUBJECTS, LinkContent, PageContent
from cravik.core.link.limits import closes_at
from cravik.core.pricing.money import Money
from cravik.core.pricing.offer import simple_offer
from cravik.core.pricing.schedule import has_later_payments
from cravik.core.pricing.tax import STANDARD
from cravik.core.text.money_text import format_money
from cravik.links.counting import note_codes
from cravik.links.item_line import line_of_item, with_line
from cravik.links.models import Address, Edition, Link, LinkTally, SoldItem, items_of_draft
from cravik.links.naming import MAX_NAME_LENGTH, MAX_SLUG_LENGTH, MAX_SUFFIX_LENGTH, first_free, slug_from
from cravik.links.spots import make_first_spot
from cravik.links.terms import effective_of, next_number, write_draft
from cravik.setup.defaults import defaults_of
from cravik.setup.models import Business
from cravik.setup.saving import ChangedElsewhere, NameTaken

Document = dict[str, Any]


class NotInThatState(Exception):
    """The link's state does not allow the step; ``state`` is what it is now."""

    def __init__(self, state: str) -> None:
        super().__init__(f"The link is {state} now.")
        self.state = state


class NotReady(Exception):
    """The draft cannot be published; ``sentences`` say why, one each."""

    def __init__(self, *sentences: str) -> None:
        super().__init__(" ".join(sentences))
        self.sentences = sentences


class AddressTaken(Exception):
    """Another link answers at that address, or once did. ``free`` is the nearest that is free."""

    def __init__(self, free: str) -> None:
        super().__init__(f"That address is taken; {free} is free.")
        self.free = free


@transaction.atomic
def make_link(business: Business, purpose: str, amount: Money, now: datetime, words: str = "") -> Link:
    """A draft with a unique name and a readable address, from a purpose and an amount. It follows Setup in all."""
    name = free_name(business, f"{purpose} · {format_money(amount)}")
    content = LinkContent(name, simple_offer(purpose, amount), follows=SUBJECTS, page=PageContent(words=words))
    return keep_new_link(business, write_link(content), {}, now)


def keep_new_link(business: Business, draft: Document, items: Mapping[str, Any], now: datetime) -> Link:
    """A new link with that draft, its items by line, its address and its first spot. In the transaction under way."""
    effective = effective_of(draft, {line: item.pk for line, item in items.items()}, defaults_of(business))
    link = Link.objects.create(
        business=business,
        name=draft["name"],
        draft=draft,
        effective=effective,
        made_at=now,
        changed_at=now,
        state_since=now,
    )
    SoldItem.objects.bulk_create(SoldItem(link=link, line=line, item=item) for line, item in items.items())
    LinkTally.objects.create(link=link)
    Address.objects.create(link=link, slug=_free_slug(slug_from(link.title)))
    make_first_spot(link, now)
    return link


@dataclass(frozen=True)
class LineTyped:
    """What is typed on the bench about one line. What belongs to an item is the item's, whatever is typed.

    ``amount`` is None where the line's price is none that the bench edits.
    """

    name: str = ""
    amount: Money | None = None
    ships: bool = False
    weight_g: int = 0
    tax_category: str = STANDARD


@dataclass(frozen=True)
class DraftTyped:
    """What is typed on the bench: the title, the currency, the words, and each line by its key."""

    title: str
    currency: str
    words: str = ""
    lines: Mapping[str, LineTyped] = field(default_factory=dict)


@dataclass(frozen=True)
class DraftChanged:
    """The link after a change, and a sentence about what the change cleared, if it did."""

    link: Link
    cleared: str = ""


@transaction.atomic
def change_draft(link: Link, typed: DraftTyped, seen_revision: int, now: datetime) -> DraftChanged:
    """Put new terms on the bench. What buyers see stays until they are published.

    Raises ``ChangedElsewhere`` unless ``seen_revision`` is the one that is stored, and ``PriceTooLow``.
    """
    fresh = locked(link)
    if fresh.revision != seen_revision:
        raise ChangedElsewhere
    former = fresh.draft["offer"]["currency"]
    typed_anew = [key for key, line in typed.lines.items() if line.amount is not None]
    draft, cleared = in_currency(fresh.draft, typed.currency, typed_anew)
    items = items_of_draft(fresh)
    for key, line in typed.lines.items():
        draft = with_line(draft, key, partial(_typed_line, typed=line, is_item=key in items))
        if item := items.get(key):
            draft = with_line(draft, key, partial(line_of_item, item=item, currency=typed.currency))
    if len(_lines(draft)) > 1 or not items:
        draft = draft | {"offer": draft["offer"] | {"title": typed.title}}
    if len(_lines(draft)) == 1 and not items:
        draft = with_line(draft, _lines(draft)[0]["key"], lambda there: there | {"name": typed.title})
    page = without_empty(draft.get("page", {}) | {"words": typed.words})
    draft = {key: value for key, value in draft.items() if key != "page"} | ({"page": page} if page else {})
    write_draft(fresh, draft, defaults_of(fresh.business), now)
    return DraftChanged(fresh, cleared_words(cleared, former))


def _lines(draft: Document) -> list[Document]:
    lines: list[Document] = draft["offer"]["lines"]
    return lines


def _typed_line(there: Document, typed: LineTyped, *, is_item: bool) -> Document:
    line = dict(there)
    if typed.amount is not None:
        before = line.get("price", {})
        same = before.get("kind") == "fixed"
        line["price"] = (before if same else {"kind": "fixed"}) | {"amount": typed.amount.major}
    if is_item:
        return line
    if typed.name:
        line["name"] = typed.name
    parts = {
        "ships": typed.ships,
        "weight_g": typed.weight_g if typed.ships else 0,
        "tax_category": typed.tax_category if typed.tax_category != STANDARD else "",
    }
    others = {key: value for key, value in line.items() if key not in parts}
    return others | {key: value for key, value in parts.items() if value}


@transaction.atomic
def rename(link: Link, name: str) -> None:
    """Give the link another name, for the seller's eyes. Raises ``NameTaken``."""
    fresh = locked(link)
    if Link.objects.filter(business=link.business, name=name).exclude(id=link.id).exists():
        raise NameTaken(free_name(link.business, name))
    Link.objects.filter(id=link.id).update(name=name, draft=fresh.draft | {"name": name})


@transaction.atomic
def change_address(link: Link, slug: str) -> None:
    """Let the link answer at ``slug``, and go on answering where it did. Raises ``AddressTaken``."""
    locked(link)
    holder = Address.objects.filter(slug=slug).first()
    if holder and holder.link_id != link.id:
        raise AddressTaken(_free_slug(slug))
    Address.objects.filter(link=link, current=True).exclude(slug=slug).update(current=False)
    Address.objects.update_or_create(slug=slug, defaults={"link": link, "current": True})


LATER_PAYMENTS = (
    "Later payments are not collected yet, so a link that asks for some cannot be published. You can rehearse it, or"
    " let buyers pay all of it at once."
)
KEPT_CARDS = "Cards are not kept yet, so a link that asks for that cannot be published. You can rehearse it."


def why_not_ready(link: Link) -> tuple[str, ...]:
    """What stands in the way of publishing the draft, a sentence each."""
    if link.effective is None:
        return link.gaps
    content = read_link(link.effective["link"])
    reasons = [LATER_PAYMENTS] if has_later_payments(content.offer.plan) else []
    return tuple(reasons + ([KEPT_CARDS] if content.asks.keep_card else []))


@transaction.atomic
def publish(link: Link, now: datetime) -> Link:
    """Make the draft what buyers see. A live or paused link keeps its state and gets new terms; one that ended by its
    day or count is live again.

    Raises ``NotReady``, and ``NotInThatState`` for a link that was ended by hand.
    """
    fresh = locked(link)
    if fresh.ended_why == Link.EndedWhy.BY_HAND:
        raise NotInThatState(fresh.state)
    if reasons := why_not_ready(fresh):
        raise NotReady(*reasons)
    if fresh.edition is None or fresh.has_unpublished_changes:
        fresh.edition = make_edition(fresh, now)
    content = read_link(fresh.edition.effective["link"])
    fresh.closes_at = closes_at(content.limits, content.offer.window)
    note_codes(fresh, (code.code for code in content.offer.codes))
    if fresh.state in (Link.State.DRAFT, Link.State.ENDED):
        fresh.state, fresh.ended_why, fresh.state_since = Link.State.LIVE, "", now
        fresh.published_at = fresh.published_at or now
    fresh.save()
    return fresh


def make_edition(link: Link, now: datetime, *, rehearsed: bool = False) -> Edition:
    """The draft as it is, kept: the next edition, or the one of its rehearsals. The caller holds the link's lock."""
    edition = Edition.objects.create(
        link=link,
        number=None if rehearsed else next_number(link),
        revision=link.revision if rehearsed else None,
        document=link.draft,
        effective=link.effective,
        published_at=now,
    )
    SoldItem.objects.bulk_create(
        SoldItem(link=link, edition=edition, line=line, item=item) for line, item in items_of_draft(link).items()
    )
    return edition


@transaction.atomic
def rehearsed_edition(link: Link, now: datetime) -> Edition:
    """What a rehearsal of the draft was paid by, kept once a revision."""
    fresh = locked(link)
    there = Edition.objects.filter(link=fresh, revision=fresh.revision).first()
    return there or make_edition(fresh, now, rehearsed=True)


def pause(link: Link, now: datetime) -> Link:
    """Stop taking payments for now. Raises ``NotInThatState`` unless the link is live."""
    return _move(link, {Link.State.LIVE}, Link.State.PAUSED, now)


def resume(link: Link, now: datetime) -> Link:
    """Take payments again, after a pause or an end by hand."""
    return _move(link, {Link.State.PAUSED, Link.State.ENDED}, Link.State.LIVE, now)


def end(link: Link, now: datetime) -> Link:
    """Take no more payments. Raises ``NotInThatState`` unless the link is live or paused."""
    return _move(link, {Link.State.LIVE, Link.State.PAUSED}, Link.State.ENDED, now, Link.EndedWhy.BY_HAND)


def end_by_count(link_id: int, now: datetime) -> None:
    """The last order that the link may have was paid. In the transaction under way."""
    _end_live(Link.objects.filter(id=link_id), Link.EndedWhy.COUNT, now)


def end_what_is_due(now: datetime) -> int:
    """End every link whose day has come; returns how many. Safe to run at any time and twice."""
    return _end_live(Link.objects.filter(closes_at__lte=now), Link.EndedWhy.DAY, now)


def _end_live(links: Any, why: Link.EndedWhy, now: datetime) -> int:
    going = links.filter(state__in=[Link.State.LIVE, Link.State.PAUSED])
    ended: int = going.update(state=Link.State.ENDED, ended_why=why, state_since=now)
    return ended


@transaction.atomic
def _move(link: Link, allowed: set[str], to: Link.State, now: datetime, why: str = "") -> Link:
    fresh = locked(link)
    if fresh.state == to:  # pressed twice
        return fresh
    if fresh.state not in allowed or fresh.ended_why not in ("", Link.EndedWhy.BY_HAND):
        raise NotInThatState(fresh.state)
    fresh.state, fresh.state_since, fresh.ended_why = to, now, why
    fresh.save(update_fields=["state", "state_since", "ended_why"])
    return fresh


def locked(link: Link) -> Link:
    """The link as it is stored now, which nobody else changes before this transaction ends."""
    links = Link.objects.select_for_update(of=("self",)).select_related("business", "edition")
    return links.prefetch_related("sold_items__item").get(id=link.id)


def free_name(business: Business, wanted: str) -> str:
    """The name, or the first like it that no other link of the business has."""
    # Those that begin alike are looked up once: a hundred links of one name ask no more than the first.
    alike = Link.objects.filter(business=business, name__startswith=wanted[: MAX_NAME_LENGTH - MAX_SUFFIX_LENGTH])
    return first_free(wanted, set(alike.values_list("name", flat=True)).__contains__, " ", MAX_NAME_LENGTH)


def _free_slug(wanted: str) -> str:
    alike = Address.objects.filter(slug__startswith=wanted[: MAX_SLUG_LENGTH - MAX_SUFFIX_LENGTH])
    return first_free(wanted, set(alike.values_list("slug", flat=True)).__contains__, "-", MAX_SLUG_LENGTH)
