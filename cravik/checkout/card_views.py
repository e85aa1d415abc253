"""The picture of a card: a live link's for everybody, a draft's for its seller."""

from __future__ import annotations

from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import render
from django.utils import timezone
from django.views.decorators.http import require_safe

from cravik.checkout.card.content import card_of
from cravik.checkout.card.drawing import drawn
from cravik.checkout.opening import Opened, open_address
from cravik.checkout.pages.page import offered_at
from cravik.checkout.rehearsing import opened_draft
from cravik.core.text.money_text import DEFAULT_LOCALE
from cravik.links.access import link_or_404
from cravik.people.access import SellerRequest, seller_page
from cravik.people.roles import Permission


@require_safe
def card(request: HttpRequest, slug: str) -> HttpResponse:
    """The card of the link at that address, as it is now. The address in a page names the very card by its key, and
    may be kept for ever."""
    opened = open_address(slug)
    if opened is None or opened.version is None:
        raise Http404
    picture, key = _picture(opened)
    is_named = request.GET.get("card") == key
    picture["Cache-Control"] = f"public, max-age={31_536_000 if is_named else 300}{', immutable' if is_named else ''}"
    return picture


@require_safe
@seller_page(Permission.SEE)
def draft_card(request: SellerRequest, link_id: int) -> HttpResponse:
    """The card that the draft would have."""
    opened = opened_draft(link_or_404(request, link_id))
    if opened.version is None:
        return render(request, "404.html", status=404)
    picture, _ = _picture(opened)
    picture["Cache-Control"] = "private, no-cache"
    return picture


def _picture(opened: Opened) -> tuple[HttpResponse, str]:
    assert opened.version is not None
    offered = offered_at(opened, opened.version, timezone.now(), DEFAULT_LOCALE)
    shown = card_of(offered, opened.seller())
    return HttpResponse(drawn(shown), content_type="image/jpeg"), shown.key
