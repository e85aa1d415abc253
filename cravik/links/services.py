"""Named writes of links: making, changing, publishing, pausing, resuming, ending."""

from __future__ import annotations

from dataclasses import dataclass, replace
from datetime import datetime

from django.db import transaction

from cravik.core.money import Money
from cravik.core.money_text import in_figures
from cravik.core.offer import simple_offer
from cravik.core.price import FixedPrice
from cravik.core.tax import STANDARD
from cravik.links.item_line import named, sold
from cravik.links.models import Address, Edition, Link
from cravik.links.naming import LONGEST_NAME, LONGEST_SLUG, first_free, slug_from
from cravik.links.terms import settled, write_draft
from cravik.setup.defaults import defaults_of
from cravik.setup.models import Business


class ChangedElsewhere(Exception):
    """The link was saved from another tab or by another person since the page was opened."""


class NotInThatState(Exception):
    """The link's state does not allow the step; ``state`` is what it is now."""

    def __init__(self, state: str) -> None:
        super().__init__(f"The link is {state} now.")
        self.state = state


class AddressTaken(Exception):
    """Another link answers at that address, or once did. ``free`` is the nearest that is free."""

    def __init__(self, free: str) -> None:
        super().__init__(f"That address is taken; {free} is free.")
        self.free = free


class NameTaken(Exception):
    """Another link of the business has that name. ``free`` is the nearest that is free."""

    def __init__(self, free: str) -> None:
        super().__init__(f"That name is taken; {free} is free.")
        self.free = free


@transaction.atomic
def make_link(business: Business, purpose: str, amount: Money, now: datetime, words: str = "") -> Link:
    """A draft with a unique name and a readable address, from a purpose and an amount."""
    name = _free_name(business, f"{purpose} · {in_figures(amount)}")
    terms = settled(simple_offer(purpose, amount), {}, defaults_of(business))
    link = Link.objects.create(
        business=business,
        name=name,
        draft=terms.document,
        setting=terms.setting,
        words=words,
        made_at=now,
        changed_at=now,
        state_since=now,
    )
    Address.objects.create(link=link, slug=_free_slug(slug_from(purpose)))
    return link


@dataclass(frozen=True)
class DraftTyped:
    """What is typed on the bench. What belongs to an item is the item's, whatever is typed."""

    purpose: str
    amount: Money
    words: str = ""
    ships: bool = False
    weight_g: int = 0
    tax_category: str = STANDARD


@transaction.atomic
def change_draft(link: Link, typed: DraftTyped, seen_revision: int, now: datetime) -> Link:
    """Put new terms on the bench. What buyers see stays until they are published.

    Raises ``ChangedElsewhere`` unless ``seen_revision`` is the one that is stored, and ``PriceTooLow``.
    """
    fresh = _locked(link)
    if fresh.revision != seen_revision:
        raise ChangedElsewhere
    offer, words = fresh.offer, fresh.words
    line = replace(offer.lines[0], price=FixedPrice(typed.amount), choices=())
    offer = replace(offer, currency=typed.amount.currency, lines=(line,), fee=None, delivery=None)
    if fresh.item:
        offer = sold(offer, fresh.item)
    else:
        words = typed.words
        weight_g = typed.weight_g if typed.ships else 0
        line = replace(line, ships=typed.ships, weight_g=weight_g, tax_category=typed.tax_category)
        offer = named(replace(offer, lines=(line,)), typed.purpose)
    write_draft(fresh, offer, words, defaults_of(fresh.business), now)
    return fresh


@transaction.atomic
def rename(link: Link, name: str) -> None:
    """Give the link another name, for the seller's eyes. Raises ``NameTaken``."""
    if Link.objects.filter(business=link.business, name=name).exclude(id=link.id).exists():
        raise NameTaken(_free_name(link.business, name))
    Link.objects.filter(id=link.id).update(name=name)


@transaction.atomic
def change_address(link: Link, slug: str) -> None:
    """Let the link answer at ``slug``, and go on answering where it did. Raises ``AddressTaken``."""
    holder = Address.objects.filter(slug=slug).first()
    if holder and holder.link_id != link.id:
        raise AddressTaken(_free_slug(slug))
    Address.objects.filter(link=link, current=True).exclude(slug=slug).update(current=False)
    Address.objects.update_or_create(slug=slug, defaults={"link": link, "current": True})


@transaction.atomic
def publish(link: Link, now: datetime) -> Link:
    """Make the draft what buyers see. A live or paused link keeps its state and gets new terms."""
    fresh = _locked(link)
    if fresh.state == Link.State.ENDED:
        raise NotInThatState(fresh.state)
    if fresh.edition is None or fresh.has_unpublished_changes:
        fresh.edition = Edition.objects.create(
            link=fresh,
            number=fresh.editions.count() + 1,
            offer_document=fresh.draft,
            words=fresh.words,
            setting=fresh.setting,
            published_at=now,
        )
    if fresh.state == Link.State.DRAFT:
        fresh.state, fresh.state_since, fresh.published_at = Link.State.LIVE, now, now
    fresh.save()
    return fresh


def pause(link: Link, now: datetime) -> Link:
    """Stop taking payments for now. Raises ``NotInThatState`` unless the link is live."""
    return _move(link, {Link.State.LIVE}, Link.State.PAUSED, now)


def resume(link: Link, now: datetime) -> Link:
    """Take payments again, after a pause or an end by hand."""
    return _move(link, {Link.State.PAUSED, Link.State.ENDED}, Link.State.LIVE, now)


def end(link: Link, now: datetime) -> Link:
    """Take no more payments. Raises ``NotInThatState`` unless the link is live or paused."""
    return _move(link, {Link.State.LIVE, Link.State.PAUSED}, Link.State.ENDED, now)


@transaction.atomic
def _move(link: Link, allowed: set[str], to: Link.State, now: datetime) -> Link:
    fresh = _locked(link)
    if fresh.state == to:  # pressed twice
        return fresh
    if fresh.state not in allowed:
        raise NotInThatState(fresh.state)
    fresh.state, fresh.state_since = to, now
    fresh.ended_why = Link.EndedWhy.BY_HAND if to == Link.State.ENDED else ""
    fresh.save(update_fields=["state", "state_since", "ended_why"])
    return fresh


def _locked(link: Link) -> Link:
    """The link as it is stored now; the transaction already holds the write lock."""
    return Link.objects.select_related("business", "edition", "item").get(id=link.id)


def _free_name(business: Business, wanted: str) -> str:
    names = Link.objects.filter(business=business)
    return first_free(wanted, lambda name: names.filter(name=name).exists(), " ", LONGEST_NAME)


def _free_slug(wanted: str) -> str:
    return first_free(wanted, lambda slug: Address.objects.filter(slug=slug).exists(), "-", LONGEST_SLUG)
