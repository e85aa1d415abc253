"""Links made of lines in which a seller says what they sell: what was understood, as a draft, and the drafts kept."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime
from functools import cached_property
from typing import Any

from django.db import transaction

from cravik.catalogue.models import Item
from cravik.catalogue.queries import items_called
from cravik.catalogue.services import ensure_code
from cravik.core.coded import Coded
from cravik.core.documents.link import FORMAT as LINK_FORMAT
from cravik.core.documents.link import read_link
from cravik.core.documents.link_draft import gaps_in
from cravik.core.documents.offer import FORMAT as OFFER_FORMAT
from cravik.core.documents.partial_offer import read_partial_offer
from cravik.core.documents.writing import written
from cravik.core.link.content import SUBJECTS
from cravik.core.link.limits import NO_LIMITS, Limits
from cravik.core.pricing.offer import Offer
from cravik.core.pricing.partial_offer import PartialOffer
from cravik.core.text.faults import gap_words
from cravik.core.text.faults.wording import worded
from cravik.core.text.said.reading import Said, read_said
from cravik.core.text.sentence import Phrase, sentence
from cravik.links.items.line import PriceTooLow, line_of_item
from cravik.links.life.from_setup import effective_of
from cravik.links.making.drafts import keep_new_link
from cravik.links.models import Link
from cravik.links.places.addresses import free_name
from cravik.links.places.naming import free_key
from cravik.links.refusals import NOT_FROM_CATALOGUE
from cravik.people.actors import Actor
from cravik.people.models import Business
from cravik.setup.defaults import Defaults, defaults_of

Document = dict[str, Any]
#: So many lines are read at once.
MAX_SAID = 50
#: What is told of a subject that was said and is decided elsewhere.
_ELSEWHERE = {
    "delivery": "What delivery costs is as you set it under Delivery in Setup.",
    "tax": "Tax is as you set it under Tax in Setup.",
    "codes": "Discount codes are added on the bench.",
    "fee": "Whether buyers may cover the fee is set under The processor's fee in Setup.",
}


@dataclass(frozen=True)
class SaidLink:
    """A line as it was understood: the ``draft`` that a link would have, and the ``items`` that it would sell."""

    business: Business
    defaults: Defaults
    text: str
    said: Said
    draft: Document
    items: dict[str, Item]
    limits: Limits = NO_LIMITS
    #: Why things of the same name in the catalogue are not the ones that are sold.
    declined: tuple[Coded, ...] = ()

    @property
    def is_understood(self) -> bool:
        return self.said.is_whole and bool(self.draft["offer"]["title"])

    @cached_property
    def effective(self) -> Document | None:
        """All that buyers would see and pay by; None while something is missing."""
        return effective_of(self.draft, {line: item.pk for line, item in self.items.items()}, self.defaults)

    @property
    def says_something(self) -> bool:
        """Whether there is a name or a price to be shown."""
        return bool(self.draft["offer"]["title"]) or any("price" in line for line in self.draft["offer"]["lines"])

    @property
    def offer(self) -> Offer | PartialOffer:
        if self.effective is None:
            return read_partial_offer(self.draft["offer"])
        return read_link(self.effective["link"]).offer

    @property
    def phrases(self) -> tuple[Phrase, ...]:
        return sentence(self.offer, limits=self.limits)

    @property
    def gaps(self) -> tuple[str, ...]:
        return tuple(gap_words(gap) for gap in gaps_in(self.draft)) if self.effective is None else ()

    @property
    def notes(self) -> list[str]:
        """What else the seller should know of how it was understood."""
        told = [_ELSEWHERE[subject] for subject in self.said.elsewhere]
        told += [f"The text does not say {words}." for words in self.said.unsaid]
        told += [f"“{item.name}” is sold from your catalogue." for item in self.items.values()]
        return [*told, *(worded(each, NOT_FROM_CATALOGUE) for each in self.declined)]


def lines_in(text: str) -> list[str]:
    """The lines in which something stands."""
    return [line.strip() for line in text.splitlines() if line.strip()]


def read_lines(business: Business, text: str) -> list[SaidLink]:
    """What each line says that is not empty, up to ``MAX_SAID``."""
    read = [(line, read_said(line, business.currency)) for line in lines_in(text)[:MAX_SAID]]
    if not read:
        return []
    defaults = defaults_of(business)
    items = items_called(business, [line.name for _, said in read for line in said.offer.lines if line.name])
    return [_said_link(business, defaults, items, line, said) for line, said in read]


def read_line(business: Business, text: str) -> SaidLink:
    """What one line says, though it be nothing."""
    said = read_said(text, business.currency)
    items = items_called(business, [line.name for line in said.offer.lines if line.name])
    return _said_link(business, defaults_of(business), items, text, said)


def _said_link(business: Business, defaults: Defaults, called: Mapping[str, Item], text: str, said: Said) -> SaidLink:
    """What was read, as a link would have it. A thing of a name or code of the catalogue is that item, unless options
    of its own are said of it; where no price is said, it has the item's."""
    lines: list[Document] = []
    items: dict[str, Item] = {}
    declined: list[Coded] = []
    keys: dict[str, str] = {}
    for partial in said.offer.lines:
        line = written(partial) | {"key": free_key(partial.name, [each["key"] for each in lines], "line")}
        keys[partial.key] = line["key"]
        if partial.name and (item := called.get(partial.name)):
            line, why_not = _selling(line, item, said.currency)
            if why_not:
                declined.append(why_not)
            else:
                items[line["key"]] = item
        lines.append(line)
    title = lines[0].get("name", "") if len(lines) == 1 else said.offer.title
    offer: Document = {"format": OFFER_FORMAT, "title": title, "currency": said.currency, "lines": lines}
    plan = written(said.offer.plan)
    for choice in plan.get("of", []):
        if own := choice.pop("prices", None):
            choice["prices"] = {keys[key]: price for key, price in own.items()}
    if plan["kind"] != "once":
        offer["plan"] = plan
    if said.offer.window:
        offer["window"] = written(said.offer.window)
    draft = {"format": LINK_FORMAT, "name": title, "offer": offer, "follows": list(SUBJECTS)}
    limits = said.limits.with_keys(keys)
    if limits != NO_LIMITS:
        draft["limits"] = written(limits)
    return SaidLink(business, defaults, text, said, draft, items, limits, tuple(declined))


def _selling(line: Document, item: Item, currency: str) -> tuple[Document, Coded | None]:
    """The line with what it has from the item; or as it is, and why it does not sell it."""
    if "choices" in line:
        return line, Coded("has_options_of_its_own", item=item.name)
    if "price" not in line and item.price is not None and item.currency == currency:
        line = line | {"price": {"kind": "fixed", "amount": item.price.major}}
    try:
        return line_of_item(line, item, currency), None
    except PriceTooLow as refused:
        return line, Coded("price_too_low", item=item.name, least=refused.least)


@transaction.atomic
def make_said(said: Sequence[SaidLink], now: datetime, *, by: Actor) -> list[Link]:
    """A draft of each; all of them or none. Each has to be understood."""
    return [_make(each, now, by) for each in said]


def _make(said: SaidLink, now: datetime, by: Actor) -> Link:
    draft = said.draft
    for item in said.items.values():
        ensure_code(item)
    if said.items:
        draft = draft | {"items": {line: item.code for line, item in said.items.items()}}
        offer = draft["offer"]
        lines = [_with_code(line, said.items.get(line["key"])) for line in offer["lines"]]
        draft = draft | {"offer": offer | {"lines": lines}}
    # No price is in the name: it would stay when the price is another.
    name = free_name(said.business, draft["offer"]["title"])
    return keep_new_link(said.business, draft | {"name": name}, said.items, now, by=by)


def _with_code(line: Document, item: Item | None) -> Document:
    """The line of an item, which may have got its code only now."""
    return line | {"sku": item.code} if item else line
