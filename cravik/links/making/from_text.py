"""Links made of lines in which a seller says what they sell: what was understood, as a draft, and the drafts kept."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime
from functools import cached_property
from typing import NamedTuple, cast
from zoneinfo import ZoneInfo

from django.db import transaction

from cravik.catalogue.models import Item
from cravik.catalogue.queries import items_called
from cravik.catalogue.services import ensure_code
from cravik.core.coded import Coded
from cravik.core.documents.data import (
    CodeData,
    EffectiveData,
    LineData,
    LinkData,
    OfferData,
    PlanData,
    WindowData,
    put,
    put_or_drop,
    without,
)
from cravik.core.documents.link import FORMAT as LINK_FORMAT
from cravik.core.documents.link import read_link
from cravik.core.documents.link_draft import gaps_in
from cravik.core.documents.offer import FORMAT as OFFER_FORMAT
from cravik.core.documents.partial_offer import read_partial_offer
from cravik.core.documents.writing import written
from cravik.core.link.content import SUBJECTS
from cravik.core.link.limits import NO_LIMITS, Limits
from cravik.core.pricing.discounts import code_with_keys
from cravik.core.pricing.offer import Offer
from cravik.core.pricing.partial_offer import PartialOffer
from cravik.core.text.faults import gap_words
from cravik.core.text.faults.wording import worded
from cravik.core.text.said.pieces import When
from cravik.core.text.said.reading import Said, read_said
from cravik.core.text.sentence import Phrase, sentence
from cravik.links.items.line import PriceTooLow, line_of_item
from cravik.links.life.from_setup import effective_of
from cravik.links.making.drafts import keep_new_link
from cravik.links.models import MAX_NOTE_LENGTH, Link, Todo
from cravik.links.places.addresses import free_name
from cravik.links.places.naming import free_key
from cravik.links.refusals import NOT_FROM_CATALOGUE
from cravik.people.actors import Actor
from cravik.people.models import Business
from cravik.setup.defaults import Defaults, defaults_of

#: So many lines are read at once.
MAX_READ = 50
#: What is told of a subject that was said and is decided elsewhere.
_ELSEWHERE = {
    "delivery": "What delivery costs is as you set it under Delivery in Setup.",
    "tax": "Tax is as you set it under Tax in Setup.",
    "codes": "Discount codes are added on the bench.",
    "fee": "Whether buyers may cover the fee is set under The processor's fee in Setup.",
}


@dataclass(frozen=True)
class ParsedLink:
    """A line as it was understood: the ``draft`` that a link would have, and the ``items`` that it would sell."""

    business: Business
    defaults: Defaults
    text: str
    parsed: Said
    draft: LinkData
    items: dict[str, Item]
    limits: Limits = NO_LIMITS
    #: Why things of the same name in the catalogue are not the ones that are sold.
    declined: tuple[Coded, ...] = ()

    @property
    def is_understood(self) -> bool:
        return self.parsed.is_whole and bool(self.draft["offer"]["title"])

    @cached_property
    def effective(self) -> EffectiveData | None:
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
        steps = read_link(self.effective["link"]).steps if self.effective else ()
        return sentence(self.offer, steps=steps, limits=self.limits, zone=self.business.time_zone)

    @property
    def gaps(self) -> tuple[str, ...]:
        return tuple(gap_words(gap) for gap in gaps_in(self.draft)) if self.effective is None else ()

    @property
    def notes(self) -> list[str]:
        """What else the seller should know of how it was understood."""
        notes = [_ELSEWHERE[subject] for subject in self.parsed.elsewhere]
        notes += [f"The text does not say {words}." for words in self.parsed.unsaid]
        notes += [f"“{item.name}” is sold from your catalogue." for item in self.items.values()]
        return [*notes, *(worded(each, NOT_FROM_CATALOGUE) for each in self.declined)]


def lines_in(text: str) -> list[str]:
    """The lines in which something stands."""
    return [line.strip() for line in text.splitlines() if line.strip()]


def when_at(business: Business, now: datetime) -> When:
    """The seller's day, in their zone."""
    zone = ZoneInfo(business.time_zone)
    return When(now.astimezone(zone).date(), zone, now)


def read_lines(business: Business, text: str, now: datetime) -> list[ParsedLink]:
    """What each line says that is not empty, up to ``MAX_READ``."""
    when = when_at(business, now)
    read = [(line, read_said(line, business.currency, when)) for line in lines_in(text)[:MAX_READ]]
    if not read:
        return []
    defaults = defaults_of(business)
    items = items_called(business, [line.name for _, parsed in read for line in parsed.offer.lines if line.name])
    return [_parsed_link(business, defaults, items, line, parsed) for line, parsed in read]


def read_line(business: Business, text: str, now: datetime) -> ParsedLink:
    """What one line says, though it be nothing."""
    parsed = read_said(text, business.currency, when_at(business, now))
    items = items_called(business, [line.name for line in parsed.offer.lines if line.name])
    return _parsed_link(business, defaults_of(business), items, text, parsed)


def _parsed_link(
    business: Business, defaults: Defaults, called: Mapping[str, Item], text: str, parsed: Said
) -> ParsedLink:
    return ParsedLink(business, defaults, text, parsed, *document_of(parsed, called))


class ParsedDocument(NamedTuple):
    """What a line says as a link's document, without a name of its own; see ``ParsedLink``."""

    draft: LinkData
    items: dict[str, Item]
    limits: Limits
    declined: tuple[Coded, ...]


def document_of(parsed: Said, called: Mapping[str, Item]) -> ParsedDocument:
    """What was read, as a link would have it. A thing of a name or code of the catalogue is that item, unless options
    of its own are said of it; where no price is said, it has the item's."""
    lines: list[LineData] = []
    items: dict[str, Item] = {}
    declined: list[Coded] = []
    keys: dict[str, str] = {}
    for partial in parsed.offer.lines:
        key = free_key(partial.name, [each["key"] for each in lines], "line")
        line = put(LineData(key=key), **without(written(partial), "key"))
        keys[partial.key] = line["key"]
        if partial.name and (item := called.get(partial.name)):
            line, why_not = _selling(line, item, parsed.currency)
            if why_not:
                declined.append(why_not)
            else:
                items[line["key"]] = item
        lines.append(line)
    title = lines[0].get("name", "") if len(lines) == 1 else parsed.offer.title
    offer: OfferData = {"format": OFFER_FORMAT, "title": title, "currency": parsed.currency, "lines": lines}
    plan = _with_keys(cast(PlanData, written(parsed.offer.plan)), keys)
    if plan["kind"] != "once":
        offer["plan"] = plan
    if parsed.offer.codes:
        offer["codes"] = [cast(CodeData, written(code_with_keys(code, keys))) for code in parsed.offer.codes]
    if parsed.offer.window:
        offer["window"] = cast(WindowData, written(parsed.offer.window))
    draft: LinkData = {"format": LINK_FORMAT, "name": title, "offer": offer, "follows": list(SUBJECTS)}
    limits = parsed.limits.with_keys(keys)
    draft = put_or_drop(
        draft,
        steps=[put(written(step), line=keys[step.line]) for step in parsed.steps],
        limits=written(limits),
        asks=written(parsed.asks),
        questions=[written(question) for question in parsed.questions],
        code_rules={code: written(rule) for code, rule in parsed.code_rules.items()},
        page={"button": parsed.button} if parsed.button else {},
        labels=list(parsed.labels),
    )
    return ParsedDocument(draft, items, limits, tuple(declined))


def _with_keys(plan: PlanData, keys: Mapping[str, str]) -> PlanData:
    """The plan with the lines' own keys in place of those that the text had of them."""
    choices = plan.get("of", [])
    for choice in choices:
        if own := choice.get("prices"):
            choice["prices"] = {keys[key]: price for key, price in own.items()}
    for simple in (plan, *(choice["plan"] for choice in choices)):
        if first := simple.get("first"):
            first["prices"] = {keys[key]: price for key, price in first["prices"].items()}
    return plan


def _selling(line: LineData, item: Item, currency: str) -> tuple[LineData, Coded | None]:
    """The line with what it has from the item; or as it is, and why it does not sell it."""
    if "choices" in line:
        return line, Coded("has_options_of_its_own", item=item.name)
    if "price" not in line and item.price is not None and item.currency == currency:
        line = put(line, price={"kind": "fixed", "amount": item.price.major})
    try:
        return line_of_item(line, item, currency), None
    except PriceTooLow as refused:
        return line, Coded("price_too_low", item=item.name, least=refused.least)


@transaction.atomic
def make_from_lines(parsed: Sequence[ParsedLink], now: datetime, *, by: Actor) -> list[Link]:
    """A draft of each; all of them or none. Each has to be understood."""
    return [_make(each, now, by) for each in parsed]


def _make(parsed: ParsedLink, now: datetime, by: Actor) -> Link:
    draft = parsed.draft
    for item in parsed.items.values():
        ensure_code(item)
    if parsed.items:
        draft = put(draft, items={line: item.code for line, item in parsed.items.items()})
        lines = [_with_code(line, parsed.items.get(line["key"])) for line in draft["offer"]["lines"]]
        draft = put(draft, offer=put(draft["offer"], lines=lines))
    # No price is in the name: it would stay when the price is another.
    name = free_name(parsed.business, draft["offer"]["title"])
    link = keep_new_link(parsed.business, put(draft, name=name), parsed.items, now, by=by)
    Todo.objects.bulk_create(Todo(link=link, text=note[:MAX_NOTE_LENGTH], made_at=now) for note in parsed.parsed.notes)
    return link


def _with_code(line: LineData, item: Item | None) -> LineData:
    """The line of an item, which may have got its code only now."""
    return put(line, sku=item.code) if item else line
