"""Making the buyer's page: the same one for buyers and for rehearsals.

The page is assembled here alone. What of it everybody sees alike is kept in each process, by the edition's id and the
few things that may change without a new edition; the token, which is everybody's own, stands beside it.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace
from datetime import UTC, date, datetime, time
from functools import cached_property, lru_cache

from django.http import HttpRequest, HttpResponse
from django.middleware.csrf import get_token
from django.shortcuts import render
from django.template.loader import render_to_string
from django.utils import timezone
from django.utils.html import format_html_join

from cravik.catalogue.queries import ShownItem, shown_items
from cravik.checkout.opening import Closed, Opened, Seller
from cravik.checkout.page_token import PageToken
from cravik.checkout.parts.base import Offered
from cravik.checkout.selection import PricedBasket, Selection
from cravik.core.errors import BasketRefused, Fault
from cravik.core.link.limits import opens_at
from cravik.core.link.steps import Step, reached_steps, with_steps
from cravik.core.pricing.money import Money
from cravik.core.pricing.offer import Offer
from cravik.core.pricing.price import FixedPrice
from cravik.core.pricing.quote import Quote
from cravik.core.text.money_text import format_money
from cravik.core.text.price_words import price_in_words
from cravik.links.effective import Effective, effective_edition
from cravik.setup.looks import Look

_KEPT_PAGES = 512
#: What answers a page that takes no payments: 200 for what passes, 410 for what is over, 404 for what never began.
CLOSED_STATUS: Mapping[Closed, int] = {"draft": 404, "by_hand": 410, "day": 410, "count": 410}


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
    #: Codes of messages above the form; their words are in ``checkout/_notices.html``.
    notices: tuple[str, ...] = ()
    decline_reason: str = ""
    former: Quote | None = None

    @property
    def offer(self) -> Offer:
        return self.offered.offer

    @property
    def terms(self) -> Effective:
        return self.offered.terms

    @property
    def look(self) -> Look:
        return self.terms.look

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
    def is_free(self) -> bool:
        """Whether nothing is due now, so that no card is needed."""
        return self.slip is not None and not self.slip.due_now

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
    def item(self) -> ShownItem:
        """What of the catalogue stands at the head of the page: the item of what is sold alone."""
        if not self.is_plain:
            return ShownItem()
        (line,) = self.selection.lines
        return line.item

    @property
    def former_price(self) -> Money | None:
        """What one thing, bought once and by itself, cost before; None where nothing says so."""
        if not self.is_plain or self.slip is None:
            return None
        (line,), (sold,) = self.offer.lines, self.slip.lines
        price, is_all = line.price, sold.quantity == 1 and self.slip.total == sold.amount
        if not (is_all and isinstance(price, FixedPrice)) or price.was is None:
            return None
        return price.was if price.was > price.amount else None

    @property
    def button_words(self) -> str:
        """What the pay button says; never without the sum."""
        amount = format_money(self.slip.due_now, self.offered.locale) if self.slip else ""
        own = self.terms.content.page.button
        if self.slip and not self.slip.due_now:
            return "Get it" if not self.slip.schedule else "Begin"
        if own and amount:
            return own.replace("{amount}", amount) if "{amount}" in own else f"{own} {amount}"
        return f"Pay {amount}".strip()


def offered_of(terms: Effective, offer: Offer, home: str, locale: str) -> Offered:
    """What a page is made of, with what is known of its items now."""
    by_item = shown_items(set(terms.items.values()))
    items = {line: by_item[item] for line, item in terms.items.items() if item in by_item}
    return Offered(offer, terms, home, items, locale)


def is_gone(offered: Offered) -> bool:
    """Whether something that every order holds is sold out."""
    lines = offered.offer.lines
    required = [line for line in lines if not line.optional] or list(lines)
    gone = [offered.item_of(line).is_gone for line in required]
    return any(gone) if any(not line.optional for line in lines) else all(gone)


def show_page(request: HttpRequest, page: Page, token: PageToken, status: int = 200) -> HttpResponse:
    """The page as this visitor has it."""
    return _shown(request, _rendered(page), token, status)


def show_live_page(
    request: HttpRequest, opened: Opened, offered: Offered, token: PageToken, action: str
) -> HttpResponse:
    """The page as everybody sees it first, made once for as long as nothing that it shows changes."""
    seller, edition_id = opened.seller(), offered.terms.edition_id
    assert edition_id is not None
    reached = reached_steps(offered.terms.content.steps, token.instant, opened.orders)
    on = token.day_in(seller.time_zone)
    items = tuple(sorted(offered.items.items()))
    kept = _kept_page(edition_id, reached, items, seller, on, action, offered.locale)
    return _shown(request, kept, token)


@lru_cache(maxsize=_KEPT_PAGES)
def _kept_page(
    edition_id: int,
    reached: tuple[Step, ...],
    items: tuple[tuple[str, ShownItem], ...],
    seller: Seller,
    on: date,
    action: str,
    locale: str,
) -> str:
    """All that it shows is in its arguments, so it is never stale; an edition's id stands for ever for the same."""
    terms = effective_edition(edition_id)
    # Whether it is open was judged before; what it shows does not hang on the instant.
    offer = replace(with_steps(terms.offer, reached), window=None)
    offered = Offered(offer, terms, seller.country, dict(items), locale)
    at = datetime.combine(on, time(), UTC)
    return _rendered(Page(seller, offered, Selection(offered), on, at, action, rehearsal=False))


def _rendered(page: Page) -> str:
    """The document but for what is the visitor's own, with which it ends."""
    card = page.terms.content.page.card
    context = {
        "page": page,
        "look": page.look,
        "number_locale": page.offered.locale,
        "title": card.title or page.offer.title,
        "description": card.words or f"{page.price_words} to {page.seller.name}",
    }
    return render_to_string("checkout/page.html", context)


# The fields of a form may stand outside of it and name it; what is the same for all then needs no place to be put into.
_FIELD = '<input type="hidden" form="pay" name="{}" value="{}">\n'


def _shown(request: HttpRequest, document: str, token: PageToken, status: int = 200) -> HttpResponse:
    fields = [("page", token.signed())]
    if token.rehearsal:
        fields.append(("csrfmiddlewaretoken", get_token(request)))
    own = format_html_join("", _FIELD, fields)
    return _uncached(request, HttpResponse(f"{document}{own}</body>\n</html>\n", status=status))


def parts_of_page(page: Page) -> dict[str, str]:
    """The pieces of the page that change with what is chosen, by the names under which they stand there."""
    context = {"page": page, "number_locale": page.offered.locale}
    names = ("slip", "asks", "note", "region", "total", "button", "gone")
    return {name: render_to_string(f"checkout/_{name}.html", context) for name in names}


def show_closed(request: HttpRequest, opened: Opened, why: Closed, *, status: int | None = None) -> HttpResponse:
    """What a link answers that takes no payments now: kindly, why, and with whom to ask."""
    terms = opened.terms
    status = status or CLOSED_STATUS.get(why, 200)
    if terms is None:
        return _uncached(request, render(request, "404.html", status=404))
    seller = opened.seller()
    context = {
        "why": why,
        "title": terms.offer.title,
        "look": terms.look,
        "seller": seller,
        "opens_at": opens_at(terms.content.limits, terms.offer.window),
    }
    with timezone.override(seller.time_zone):
        return _uncached(request, render(request, "checkout/closed.html", context, status=status))


def _uncached(request: HttpRequest, response: HttpResponse) -> HttpResponse:
    """Kept by no shared cache; a page that came back from a form is not kept at all."""
    response["Cache-Control"] = "private, no-store" if request.method == "POST" else "private, no-cache"
    response["Vary"] = "Accept-Language, Cookie"
    return response
