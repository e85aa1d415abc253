"""Showing the buyer's page.

What of it everybody sees alike is kept in each process, by the version's id and the few things that may change without
a new version; the token, which is everybody's own, stands beside it.
"""

from __future__ import annotations

from dataclasses import replace
from datetime import UTC, date, datetime, time
from functools import lru_cache

from django.http import HttpRequest, HttpResponse
from django.middleware.csrf import get_token
from django.template.loader import render_to_string
from django.urls import reverse
from django.utils.html import escape, format_html_join

from cravik.catalogue.queries import ShownItem
from cravik.checkout.card.content import card_of
from cravik.checkout.opening import Opened, Seller
from cravik.checkout.page_token import PageToken
from cravik.checkout.pages.offer_data import offer_data
from cravik.checkout.pages.page import Page
from cravik.checkout.parts.base import Moment, Offered
from cravik.checkout.selection import Selection
from cravik.core.link.running import RunningRules
from cravik.core.link.steps import Step, reached_steps, with_steps
from cravik.core.pricing.schedule import has_later_payments
from cravik.links.life.shown_version import shown_version
from cravik.setup.hosts import base_at
from cravik.setup.running import rules_at
from cravik.ui.framing import is_on_page

_MAX_CACHED_PAGES = 512
#: Pieces of the page that change with what is chosen, and are no part's own.
_PIECES = {name: f"checkout/_{name}.html" for name in ("slip", "asks", "note", "total", "button", "gone")}


def show_page(request: HttpRequest, page: Page, token: PageToken, status: int = 200) -> HttpResponse:
    """The page as this visitor has it."""
    return _shown(request, _rendered(page, is_on_page(request)), token, status)


def show_live_page(request: HttpRequest, opened: Opened, offered: Offered, token: PageToken) -> HttpResponse:
    """The page as everybody sees it first, made once for as long as nothing that it shows changes."""
    seller, version_id = opened.seller(), offered.version.version_id
    assert version_id is not None
    reached = reached_steps(offered.version.content.steps, token.instant, opened.counted_for(offered.version))
    on = token.day_in(seller.time_zone)
    items = tuple(sorted(offered.items.items()))
    asks_later = has_later_payments(offered.version.content.offer.plan)
    rules = rules_at(seller.business_id, token.instant) if asks_later else None
    kept = _kept_page(
        version_id,
        reached,
        items,
        seller,
        on,
        opened.row.slug,
        offered.locale,
        offered.moment,
        offered.ways,
        rules,
        is_on_page(request),
    )
    return _shown(request, kept, token)


@lru_cache(maxsize=_MAX_CACHED_PAGES)
def _kept_page(
    version_id: int,
    reached: tuple[Step, ...],
    items: tuple[tuple[str, ShownItem], ...],
    seller: Seller,
    on: date,
    slug: str,
    locale: str,
    moment: Moment,
    ways: tuple[str, ...],
    rules: RunningRules | None,
    on_page: bool,
) -> str:
    """All that it shows is in its arguments, so it is never stale; a version's id stands for ever for the same."""
    version = shown_version(version_id)
    # Whether it is open was judged before; what it shows does not hang on the instant.
    offer = replace(with_steps(version.offer, reached), window=None)
    offered = Offered(offer, version, seller.country, dict(items), locale, moment, ways)
    at = datetime.combine(on, time(), UTC)
    action = reverse("pay:live", args=[slug])
    page = Page(seller, offered, Selection(offered), on, at, action, rehearsal=False, slug=slug, rules=rules)
    return _rendered(page, on_page)


def _rendered(page: Page, on_page: bool) -> str:
    """The document but for what is the visitor's own, with which it ends."""
    card = page.version.content.page.card
    context = {
        "page": page,
        "on_page": on_page,
        "look": page.look,
        "number_locale": page.offered.locale,
        "title": card.title or page.offer.title,
        "description": card.words or f"{page.price_words} to {page.seller.name}",
    }
    if page.slug:  # others may show it
        context |= _for_others(page)
    return render_to_string("checkout/page.html", context)


def _for_others(page: Page) -> dict[str, object]:
    """What stands in the head for those who show the page elsewhere. Their addresses are whole ones."""
    base = page.seller.base or base_at("")
    address, shown = f"{base}{reverse('checkout:page', args=[page.slug])}", card_of(page.offered, page.seller)
    picture = f"{base}{reverse('checkout:card', args=[page.slug])}?card={shown.key}"
    words = page.version.content.page.card.words
    data = offer_data(
        page.version.content, page.offer, seller=page.seller.name, address=address, words=words, picture=picture
    )
    return {"address": address, "picture": picture, "data": data}


# The fields of a form may stand outside of it and name it; what is the same for all then needs no place to be put into.
_FIELD = '<input type="hidden" form="pay" name="{}" value="{}">\n'


def _shown(request: HttpRequest, document: str, token: PageToken, status: int = 200) -> HttpResponse:
    fields = [("page", token.signed())]
    if token.rehearsal:
        fields.append(("csrfmiddlewaretoken", get_token(request)))
    own = format_html_join("", _FIELD, fields)
    return uncached(request, HttpResponse(f"{document}{own}</body>\n</html>\n", status=status))


def changed_pieces(page: Page) -> dict[str, str]:
    """The pieces of the page that change with what is chosen, by the names under which they stand there."""
    context = {"page": page, "number_locale": page.offered.locale}
    pieces: dict[str, str] = {name: render_to_string(template, context) for name, template in _PIECES.items()}
    for line in page.selection.lines:
        for line_part, _ in line.parts():
            if line_part.piece:
                shown = render_to_string(line_part.piece, {**context, "line": line})
                pieces[f"{line_part.name}-{line.line.key}"] = shown
    for part in page.selection.parts:
        for name, template in part.pieces.items():
            pieces[name] = render_to_string(template, {**context, "part": part})
        pieces |= {name: escape(text) for name, text in part.texts(page.picked).items()}
    return pieces


def uncached(request: HttpRequest, response: HttpResponse) -> HttpResponse:
    """Kept by no shared cache; a page that came back from a form is not kept at all."""
    response["Cache-Control"] = "private, no-store" if request.method == "POST" else "private, no-cache"
    response["Vary"] = "Accept-Language, Cookie"
    return response
