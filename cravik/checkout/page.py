"""Showing the buyer's page: the same one for buyers and for rehearsals."""

from __future__ import annotations

import json
from collections.abc import Mapping
from dataclasses import dataclass, field
from datetime import date
from functools import cached_property, lru_cache
from typing import Any

from django.http import HttpRequest, HttpResponse
from django.shortcuts import render
from django.template.loader import render_to_string
from django.urls import reverse

from cravik.catalogue.queries import ShownPicture, first_picture, goods_words
from cravik.catalogue.stock import sold_out_options
from cravik.checkout.choosing import Choosing
from cravik.checkout.forms import AgreeForm, CardForm, ContactForm
from cravik.checkout.number_format import number_locale
from cravik.checkout.page_token import PageToken
from cravik.checkout.where import WhereForm
from cravik.core.documents.offer import read_offer
from cravik.core.offer import Offer
from cravik.core.quote import Quote, quote
from cravik.links.models import Link
from cravik.links.queries import LivePage
from cravik.setup.conditions import Agreed, agreed_in
from cravik.setup.contact import contact_of
from cravik.setup.looks import Look, look_of
from cravik.setup.models import Business

_TOKEN_PLACE = "token-of-this-page"  # noqa: S105  # a place, no secret


@dataclass(frozen=True)
class Seller:
    """What a buyer sees of the business."""

    name: str
    support_email: str
    statement_text: str
    country: str

    @classmethod
    def of(cls, business: Business, setting: Mapping[str, Any]) -> Seller:
        """As a link with that setting shows it."""
        return cls(business.name, **contact_of(business, setting.get("contact")), country=business.country)


@dataclass(frozen=True)
class Goods:
    """What of the item changes without the link: its picture, what is handed over, in words, and which
    combinations of options are not left, by the options' names."""

    picture: ShownPicture | None = None
    words: str = ""
    sold_out: tuple[tuple[str, ...], ...] = ()

    @classmethod
    def of(cls, item_id: int | None) -> Goods:
        if item_id is None:
            return cls()
        return cls(first_picture(item_id), goods_words(item_id), sold_out_options(item_id))


@dataclass(frozen=True)
class Display:
    """What stands around the offer: the seller's words, the look, the terms, and what is known of the item."""

    words: str = ""
    look: Look = field(default_factory=Look)
    #: The terms that the buyer is asked to agree to.
    agreed: Agreed | None = None
    goods: Goods = field(default_factory=Goods)

    @classmethod
    def of(cls, words: str, setting: Mapping[str, Any], goods: Goods) -> Display:
        """For a link's or an edition's words and setting."""
        return cls(words, look_of(setting.get("look", {})), agreed_in(setting), goods)


@dataclass
class Page:
    """What one buyer's page shows: the offer and its slip, the forms, and what has to be said."""

    seller: Seller
    offer: Offer
    display: Display
    #: The day that it is shown on, in the seller's time zone.
    on: date
    #: The signed note that comes back with the form; see ``page_token``.
    note: str
    #: Where the form is sent.
    action: str
    rehearsal: bool
    #: What the price hangs on: as it was sent, and supposed until then.
    choosing: Choosing
    contact: ContactForm = field(default_factory=ContactForm)
    card: CardForm = field(default_factory=CardForm)
    agree: AgreeForm | None = None
    #: Codes of messages above the form; their words are in ``checkout/_notices.html``.
    notices: tuple[str, ...] = ()
    decline_reason: str = ""
    former: Quote | None = None

    @cached_property
    def slip(self) -> Quote:
        return quote(self.offer, self.choosing.basket(self.on))

    @property
    def where(self) -> WhereForm:
        return self.choosing.where

    @property
    def country(self) -> str:
        """Where it is sent to, or taxed, or nothing where that does not matter."""
        return self.where.place.country if self.where.place else ""


def show_page(request: HttpRequest, page: Page, status: int = 200) -> HttpResponse:
    """Render the page with the visitor's number format."""
    context = _context(page, number_locale(request))
    return _uncached(request, render(request, "checkout/page.html", context, status=status))


def show_live_page(request: HttpRequest, live: LivePage, token: PageToken) -> HttpResponse:
    """The page as everybody sees it first. It differs by its token alone, so the rest is made once."""
    goods = Goods.of(live.item_id)
    before, after = _halves(live, token.day_in(live.time_zone), goods, number_locale(request))
    return _uncached(request, HttpResponse(f"{before}{token.signed()}{after}"))


@lru_cache(maxsize=512)
def _halves(live: LivePage, on: date, goods: Goods, locale: str) -> tuple[str, str]:
    """The page before and after its token. All that it shows is in the arguments, so it is never stale."""
    setting = json.loads(live.setting)
    own = setting.get("contact", {})
    seller = Seller(
        live.seller_name,
        own.get("support_email") or live.support_email,
        own.get("statement_text") or live.statement_text,
        live.country,
    )
    offer = read_offer(json.loads(live.offer_document))
    display = Display.of(live.words, setting, goods)
    choosing = Choosing(offer, seller.country, goods.sold_out)
    action = reverse("pay:live", args=[live.slug])
    page = Page(seller, offer, display, on, _TOKEN_PLACE, action, rehearsal=False, choosing=choosing)
    rendered = render_to_string("checkout/page.html", _context(page, locale))
    before, _, after = rendered.partition(f'value="{_TOKEN_PLACE}"')
    return f'{before}value="', f'"{after}'


def _context(page: Page, locale: str) -> dict[str, object]:
    return {"page": page, "look": page.display.look, "number_locale": locale}


def show_closed(request: HttpRequest, link: Link, *, sold_out: bool = False) -> HttpResponse:
    """What a paused, ended, unpublished or sold-out link answers: kindly, and with whom to ask."""
    setting = link.edition.setting if link.edition else {}
    context = {"link": link, "look": look_of(setting.get("look", {})), "seller": Seller.of(link.business, setting)}
    if sold_out:
        return _uncached(request, render(request, "checkout/closed.html", context | {"sold_out": True}))
    # 200 for a pause, which passes; 410 where it is over; 404 where it never began.
    status = {Link.State.PAUSED: 200, Link.State.ENDED: 410}.get(Link.State(link.state), 404)
    template = "checkout/closed.html" if status != 404 else "404.html"
    return _uncached(request, render(request, template, context, status=status))


def _uncached(request: HttpRequest, response: HttpResponse) -> HttpResponse:
    """Kept by no shared cache; a page that came back from a form is not kept at all."""
    response["Cache-Control"] = "private, no-store" if request.method == "POST" else "private, no-cache"
    response["Vary"] = "Accept-Language, Cookie"
    return response
