"""What editors are told of a link's address that is pasted into them, so that they show a card: oEmbed 1.0.

The answer is of the type ``link``: a title, who sells, and the card's picture. It says what buyers see and nothing
more; a link that cannot be bought is not told at all.
"""

from __future__ import annotations

from datetime import datetime
from typing import Any
from urllib.parse import urlencode, urlsplit

from django.http import Http404, HttpRequest, HttpResponse
from django.http.response import HttpResponseBase
from django.urls import Resolver404, resolve, reverse
from django.utils import timezone
from django.views.decorators.http import require_safe

from cravik.checkout.card.content import card_of
from cravik.checkout.opening import Opened, open_address, open_spot
from cravik.checkout.pages.page import offered_at
from cravik.core.text.money_text import DEFAULT_LOCALE
from cravik.setup.hosts import base_at, is_at_home
from cravik.ui.public_answers import public_json

MEDIA_TYPE = "application/json+oembed"
#: The card's picture in pixels, and for how many seconds an answer may be kept.
_WIDE, _HIGH, _KEPT = 1200, 630, 300
#: What of an address may be asked about, and how it is opened.
_OPENED_BY = {
    "checkout:page": lambda named: open_address(named["slug"]),
    "spot:page": lambda named: open_spot(named["code"]),
}


@require_safe
def oembed(request: HttpRequest) -> HttpResponseBase:
    """What is at the ``url``, one of this very host. 404 for what is not there or cannot be bought, 501 for another
    ``format`` than JSON."""
    if request.GET.get("format", "json") != "json":
        return HttpResponse("Only JSON is given.", status=501, content_type="text/plain; charset=utf-8")
    opened, now = _opened(request), timezone.now()
    if opened is None or opened.version is None or opened.why_closed(now):
        raise Http404
    document = _document_of(opened, now, _bound(request, "maxwidth"), _bound(request, "maxheight"))
    return public_json(request, document, seconds=_KEPT)


def discovery(request: HttpRequest) -> str:
    """The ``Link`` header of a page that tells where its oEmbed is (RFC 8288)."""
    query = urlencode({"url": request.build_absolute_uri(request.path), "format": "json"})
    return f'<{request.build_absolute_uri(reverse("checkout:oembed"))}?{query}>; rel="alternate"; type="{MEDIA_TYPE}"'


def _opened(request: HttpRequest) -> Opened | None:
    """What the address of this host leads to; None where that is nothing that is sold."""
    try:
        asked = urlsplit(request.GET.get("url", "")[:2000])
        found = resolve(asked.path) if asked.netloc.lower() == request.get_host().lower() else None
    except (Resolver404, ValueError):
        return None
    opens = _OPENED_BY.get(found.view_name) if found else None
    opened = opens(found.kwargs) if opens and found else None
    return opened if opened and is_at_home(opened.row.business_id, asked.hostname or "") else None


def _document_of(opened: Opened, now: datetime, width: int, height: int) -> dict[str, Any]:
    assert opened.version is not None
    seller = opened.seller()
    card = card_of(offered_at(opened, opened.version, now, DEFAULT_LOCALE), seller)
    document = {
        "version": "1.0",
        "type": "link",
        "title": f"{card.title}, {card.price}",
        "author_name": seller.name,
        "provider_name": urlsplit(base_at(opened.row.host)).hostname,
        "provider_url": base_at(opened.row.host),
        "cache_age": _KEPT,
    }
    if width >= _WIDE and height >= _HIGH:
        picture = f"{base_at(opened.row.host)}{reverse('checkout:card', args=[opened.row.slug])}?card={card.key}"
        document |= {"thumbnail_url": picture, "thumbnail_width": _WIDE, "thumbnail_height": _HIGH}
    return document


def _bound(request: HttpRequest, name: str) -> int:
    """The most that is wanted, in pixels; no bound where none is named or what is named is no number."""
    text = request.GET.get(name, "")
    return int(text) if text.isascii() and text.isdigit() and len(text) < 7 else 10**6
