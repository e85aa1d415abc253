"""The buyer's page: the same one for buyers and for rehearsals, whatever leads to it."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date, datetime
from functools import cached_property
from zoneinfo import ZoneInfo

from cravik.catalogue.queries import ShownItem, shown_items
from cravik.checkout.declines import decline_words
from cravik.checkout.opening import Opened, Seller
from cravik.checkout.page_token import PageToken
from cravik.checkout.pages.notices import NOTICES, Notice
from cravik.checkout.parts.base import Moment, Offered, PricedBasket
from cravik.checkout.selection import LineForm, Selection
from cravik.core.english import listed
from cravik.core.errors import BasketRefused, Fault
from cravik.core.link.closing import pieces_left
from cravik.core.link.onward import host_of
from cravik.core.link.running import RunningRules
from cravik.core.link.steps import left_at_prices
from cravik.core.pricing.offer import Offer
from cravik.core.pricing.price import FixedPrice
from cravik.core.pricing.quote import Quote
from cravik.core.text.money_text import format_money
from cravik.core.text.price_words import price_in_words
from cravik.core.text.running_words import KEEPS_CARD, agreed_words
from cravik.core.text.schedule_words import later_words, plan_picked, schedule_words
from cravik.links.life.shown_version import ShownVersion
from cravik.setup.looks import ShownLook
from cravik.setup.running import rules_at
from cravik.setup.ways import NOTHING, ways_allowed
from cravik.ui.form_data import FormData


@dataclass
class Page:
    """What one buyer's page shows: the offer and its slip, the parts with what was typed, and what has to be said."""

    seller: Seller
    offered: Offered
    selection: Selection
    #: When it was shown: the seller's day, and the instant.
    on: date
    at: datetime
    #: Where the form is sent.
    action: str
    rehearsal: bool
    #: Of its readable address; nothing where nobody else sees it.
    slug: str = ""
    #: Codes of what stands at its head; see ``NOTICES``.
    notices: tuple[str, ...] = ()
    decline_reason: str = ""
    former: Quote | None = None
    #: What stood in the address and could not be filled in, by the labels of the fields.
    ignored: tuple[str, ...] = ()
    #: How what is due later is collected and stopped; None: as it was when the page was shown.
    rules: RunningRules | None = None

    @property
    def shown_notices(self) -> list[Notice]:
        """What stands at its head."""
        return [NOTICES[code] for code in self.notices]

    @property
    def decline_words(self) -> str:
        return decline_words(self.decline_reason)

    @property
    def ignored_words(self) -> str:
        return listed([f"“{label}”" for label in self.ignored], "and")

    @property
    def offer(self) -> Offer:
        return self.offered.offer

    @property
    def version(self) -> ShownVersion:
        return self.offered.version

    @property
    def look(self) -> ShownLook:
        return self.version.look

    @property
    def faults(self) -> list[Fault]:
        """What is wrong and stands at no field."""
        return self.selection.faults

    @cached_property
    def picked(self) -> PricedBasket | None:
        """What is picked, or None while that cannot be bought as it stands."""
        try:
            return self.selection.picked(self.on, self.at)
        except BasketRefused:
            return None

    @cached_property
    def why_no_sum(self) -> list[Fault]:
        """What is wrong with the basket as a whole, while there is no sum."""
        try:
            self.selection.picked(self.on, self.at)
        except BasketRefused as refused:
            return [fault for fault in refused.faults if not self.selection.field_of(fault)]
        return []

    @property
    def slip(self) -> Quote | None:
        return self.picked.quote if self.picked else None

    @property
    def later_words(self) -> str:
        """What is due later, after “today”, and what it comes to in all; nothing where all of it is paid now."""
        if self.picked is None:
            return ""
        plan = plan_picked(self.picked.offer.plan, self.picked.basket.plan)
        return later_words(plan, self.picked.quote, self.on, self.offered.locale) if plan else ""

    @property
    def agreed_words(self) -> str:
        """What the buyer agrees to beyond what is paid now, as it is kept with the agreement; nothing where that is
        nothing."""
        if self.picked is None:
            return ""
        if not self.picked.quote.schedule:
            return KEEPS_CARD if self.version.content.asks.keep_card else ""
        plan = plan_picked(self.picked.offer.plan, self.picked.basket.plan)
        if plan is None:
            return ""
        rules = self.rules or rules_at(self.seller.business_id, self.at)
        return f"{schedule_words(plan, self.picked.quote, self.on, self.offered.locale)}. {agreed_words(plan, rules)}"

    @property
    def is_free(self) -> bool:
        """Whether nothing is due, now or later, so that nobody has to say with what they pay."""
        return self.selection.way(self.slip) == NOTHING

    @property
    def price_words(self) -> str:
        return price_in_words(self.offer, self.offered.locale)

    @property
    def country(self) -> str:
        """Where it is sent to, or taxed, or nothing where that does not matter."""
        place = self.picked.basket.destination if self.picked else None
        return place.country if place else ""

    @property
    def sends(self) -> bool:
        return any(line.ships for line in self.offer.lines)

    @property
    def is_plain(self) -> bool:
        """Whether it is one thing, named as the whole."""
        return len(self.offer.lines) == 1

    @property
    def only(self) -> LineForm:
        """The line of what is sold alone."""
        (line,) = self.selection.lines
        return line

    @property
    def item(self) -> ShownItem:
        """What of the catalogue stands at the head of the page: the item of what is sold alone."""
        if not self.is_plain:
            return ShownItem()
        return self.only.item

    @property
    def has_several_pictures(self) -> bool:
        """Whether some item has more than one, to step through."""
        return any(len(line.item.pictures) > 1 for line in self.selection.lines)

    @property
    def reduced(self) -> FixedPrice | None:
        """The price of one thing that is sold by itself, where it was higher before."""
        if not self.is_plain:
            return None
        (line,) = self.offer.lines
        price = line.price
        return price if isinstance(price, FixedPrice) and price.saving else None

    @property
    def pays_the_price(self) -> bool:
        """Whether what is paid is that price and nothing else, so that the former one stands beside it."""
        if self.slip is None or self.reduced is None:
            return False
        return self.slip.total == self.slip.due_now == self.reduced.amount

    @property
    def cancelled(self) -> str:
        """Where who cancels goes to, or nothing."""
        return self.version.content.after.cancelled or ""

    @property
    def cancelled_host(self) -> str:
        return host_of(self.cancelled)

    @property
    def button_words(self) -> str:
        """What the pay button says; never without the sum, where there is one to pay."""
        own = self.version.content.page.button
        has_sum = "{amount}" in own
        if self.slip and not self.slip.due_now:
            usual = "Begin" if self.slip.schedule else "Get it"
            return usual if has_sum or not own else own
        amount = format_money(self.slip.due_now, self.offered.locale) if self.slip else ""
        words = own or "Pay"
        return " ".join((words.replace("{amount}", amount) if has_sum else f"{words} {amount}").split())


def offered_of(
    opened: Opened, version: ShownVersion, offer: Offer, locale: str, moment: Moment | None = None
) -> Offered:
    """What a page is made of, with what is known of its items now."""
    by_item = shown_items(set(version.items.values()))
    items = {line: by_item[item] for line, item in version.items.items() if item in by_item}
    ways = ways_allowed(opened.row.ways, offer.currency)
    return Offered(offer, version, opened.row.country, items, locale, moment or Moment(), ways)


def is_gone(offered: Offered) -> bool:
    """Whether something that every order holds is sold out."""
    lines = offered.offer.lines
    required = [line for line in lines if not line.optional]
    return any(map(offered.is_gone, required)) if required else all(map(offered.is_gone, lines))


def page_of(
    opened: Opened,
    offered: Offered,
    token: PageToken,
    action: str,
    data: FormData | None = None,
    shown: FormData | None = None,
) -> Page:
    """The page that ``token`` speaks of, with what was sent (``data``), or what its fields show at first."""
    return page_with(opened, Selection(offered, data, shown, token.locked), token, action)


def page_with(opened: Opened, selection: Selection, token: PageToken, action: str) -> Page:
    """The page with what is picked on it."""
    seller = opened.seller(selection.offered.version)
    on, slug = token.day_in(seller.time_zone), "" if token.rehearsal else opened.row.slug
    return Page(seller, selection.offered, selection, on, token.instant, action, token.rehearsal, slug)


def offered_at(opened: Opened, version: ShownVersion, instant: datetime, locale: str) -> Offered:
    """What a page of the version is made of at the instant, after what is counted now."""
    offer = version.offer_at(instant, opened.counted_for(version))
    return offered_of(opened, version, offer, locale, _moment(opened, version, instant))


def _moment(opened: Opened, version: ShownVersion, instant: datetime) -> Moment:
    day = instant.astimezone(ZoneInfo(opened.row.time_zone)).date()
    left: dict[str, int] = {}
    if version.content.page.tells_left:
        left = left_at_prices(version.content.steps, instant, opened.counted_for(version))
    return Moment(version.a_code_works(day), tuple(left.items()), pieces_at(opened, version))


def pieces_at(opened: Opened, version: ShownVersion) -> tuple[tuple[str, int], ...]:
    """How many pieces are left now of each line of which there are only so many."""
    return tuple(pieces_left(version.content, opened.counted_for(version)).items())
