"""Showing the buyer's page: the same one for buyers and for rehearsals."""

from __future__ import annotations

from dataclasses import dataclass, field

from django.http import HttpRequest, HttpResponse
from django.shortcuts import render

from cravik.checkout.forms import CardForm, ContactForm
from cravik.checkout.number_format import number_locale
from cravik.checkout.page_token import PageToken
from cravik.core.offer import Offer
from cravik.core.quote import Quote, quote
from cravik.links.models import Link


@dataclass
class Page:
    """What one buyer's page shows: the offer and its slip, the forms, and what has to be said."""

    link: Link
    offer: Offer
    words: str
    token: PageToken
    #: Where the form is sent.
    action: str
    contact: ContactForm = field(default_factory=ContactForm)
    card: CardForm = field(default_factory=CardForm)
    #: Codes of messages above the form; their words are in ``checkout/_notices.html``.
    notices: tuple[str, ...] = ()
    decline_reason: str = ""
    former: Quote | None = None

    @property
    def slip(self) -> Quote:
        return quote(self.offer)


def show_page(request: HttpRequest, page: Page, status: int = 200) -> HttpResponse:
    """Render the page with the visitor's number format. It is kept in no shared cache."""
    context = {"page": page, "link": page.link, "number_locale": number_locale(request)}
    response = render(request, "checkout/page.html", context, status=status)
    response["Cache-Control"] = "private, no-store" if request.method == "POST" else "private, no-cache"
    response["Vary"] = "Accept-Language, Cookie"
    return response


def show_closed(request: HttpRequest, link: Link) -> HttpResponse:
    """What a paused, ended or unpublished link answers: kindly, and with whom to ask."""
    # 200 for a pause, which passes; 410 where it is over; 404 where it never began.
    status = {Link.State.PAUSED: 200, Link.State.ENDED: 410}.get(Link.State(link.state), 404)
    template = "checkout/closed.html" if status != 404 else "404.html"
    response = render(request, template, {"link": link}, status=status)
    response["Cache-Control"] = "private, no-cache"
    return response
