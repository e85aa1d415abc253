"""The buyer presses the button."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

from csp.decorators import csp_replace
from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import redirect
from django.utils import timezone
from django.views.decorators.clickjacking import xframe_options_sameorigin
from django.views.decorators.csrf import csrf_exempt
from django.views.decorators.http import require_POST

from cravik.catalogue.stock import SoldOut, sold_out_options
from cravik.checkout.choosing import Choosing
from cravik.checkout.forms import AgreeForm, CardForm, ContactForm
from cravik.checkout.models import Checkout
from cravik.checkout.page import Display, Goods, Page, Seller, show_closed, show_page
from cravik.checkout.page_token import PageToken, TokenRefused, new_token, read_token
from cravik.core.ladder import Rung
from cravik.core.offer import Offer
from cravik.core.quote import Quote, quote
from cravik.journal.services import climb
from cravik.journal.visitors import visitor_mark
from cravik.links.models import Edition, Link
from cravik.links.queries import address_at
from cravik.links.views import link_or_404
from cravik.orders.services import PaidAlready, Wish, take_payment
from cravik.payments.gateway import Card
from cravik.payments.gateways import present_gateway
from cravik.payments.models import Attempt
from cravik.setup.access import SellerRequest, seller_page
from cravik.setup.conditions import agreed_in


@dataclass(frozen=True)
class Shown:
    """The terms that the next page of a link has to show."""

    offer: Offer
    words: str
    setting: Mapping[str, Any]
    edition_id: int | None
    revision: int


@csrf_exempt  # the page's signed token stands in for a cookie, which buyers are not given
@require_POST
def pay(request: HttpRequest, slug: str) -> HttpResponse:
    """Pay on a live page."""
    address = address_at(slug)
    if address is None or address.link.edition is None:
        raise Http404
    link, edition = address.link, address.link.edition
    present = Shown(edition.offer, edition.words, edition.setting, edition.pk, 0)
    is_live = link.state == Link.State.LIVE
    token = _token_of(request, link, rehearsal=False)
    if token is None:
        return _show_anew(request, link, present, "altered") if is_live else show_closed(request, link)
    if is_live and token.edition_id == present.edition_id:
        return _pay_for(request, link, token, present)
    seen = Edition.objects.filter(id=token.edition_id, link=link).first()
    if seen and token.holds(timezone.now()):
        return _pay_for(request, link, token, Shown(seen.offer, seen.words, seen.setting, seen.pk, 0))
    if sent_before := _sent_before(token):
        return sent_before
    if not is_live:
        return show_closed(request, link)
    return _show_anew(request, link, present, "terms_changed", token.visit_id, _former(request, link, token, seen))


@require_POST
@seller_page
@xframe_options_sameorigin
@csp_replace({"frame-ancestors": ["'self'"]})
def pay_rehearsal(request: SellerRequest, link_id: int) -> HttpResponse:
    """Pay on the rehearsal's page."""
    link = link_or_404(request, link_id)
    present = Shown(link.offer, link.words, link.setting, None, link.revision)
    token = _token_of(request, link, rehearsal=True)
    if token is None:
        return _show_anew(request, link, present, "altered")
    if token.revision != link.revision:
        return _sent_before(token) or _show_anew(request, link, present, "terms_changed")
    return _pay_for(request, link, token, present)


def _former(request: HttpRequest, link: Link, token: PageToken, seen: Edition | None) -> Quote | None:
    """What the terms that were seen cost where the buyer is, if they can still be reckoned."""
    if seen is None:
        return None
    choosing = Choosing(seen.offer, link.business.country, initial=request.POST.dict())
    return quote(seen.offer, choosing.basket(token.day_in(link.business.time_zone)))


def _pay_for(request: HttpRequest, link: Link, token: PageToken, shown: Shown) -> HttpResponse:
    contact, card = ContactForm(request.POST), CardForm(request.POST)
    sold_out = sold_out_options(link.item_id)
    choosing = Choosing(shown.offer, link.business.country, sold_out, request.POST)
    agree = AgreeForm(request.POST, to=agreed_in(shown.setting))
    now = timezone.now()

    def page_again(status: int, *notices: str, note: str = "", decline_reason: str = "") -> HttpResponse:
        """The page once more with what was typed. It is made only where the payment did not go through."""
        page = _page(request, link, token, shown, choosing)
        page.contact, page.card, page.notices, page.decline_reason = contact, card, notices, decline_reason
        page.agree = agree
        page.note = note or page.note
        return show_page(request, page, status=status)

    if "reckon" in request.POST:
        typed = request.POST.dict()
        contact, card = ContactForm(initial=typed), CardForm(initial=typed)
        agree = AgreeForm(to=agree.to, initial=typed)
        choosing = Choosing(shown.offer, link.business.country, sold_out, initial=typed)
        return page_again(200)
    if not contact.is_valid() & card.is_valid() & choosing.is_valid() & agree.is_valid():
        if sent_before := _sent_before(token):
            return sent_before
        if token.visit_id:
            climb(token.visit_id, link.pk, Rung.STARTED, now)
        return page_again(400, "mistakes")
    quoted = quote(shown.offer, choosing.basket(token.day_in(link.business.time_zone)))
    if choosing.matters and request.POST.get("seen_total") != quoted.total.major:
        return _sent_before(token) or page_again(409, "place_changed")
    wish = Wish(
        link=link,
        offer=shown.offer,
        quoted=quoted,
        where=choosing.where.said,
        picked=choosing.options.picked,
        agreed_to=agree.to.version_id if agree.to else None,
        own_contact=shown.setting.get("contact", {}),
        token=token,
        name=contact.cleaned_data["name"],
        email=contact.cleaned_data["email"],
        card=Card(card.cleaned_data["card_number"], card.cleaned_data["expiry"], card.cleaned_data["security_code"]),
        visitor="" if token.rehearsal else visitor_mark(request, now.date()),
    )
    try:
        attempt = take_payment(wish, present_gateway(), now, may_be_second=request.POST.get("second") == "yes")
    except SoldOut:
        return page_again(409, "sold_out")
    except PaidAlready:
        return page_again(409, "paid_already")
    if attempt.state in Attempt.OPEN_STATES:
        return redirect("confirmation:page", token.reference)
    note = token.shown_again().signed()
    if attempt.state == Attempt.State.DECLINED:
        return page_again(402, note=note, decline_reason=attempt.reason)
    return page_again(503, "not_reached", note=note)


def _page(request: HttpRequest, link: Link, token: PageToken, shown: Shown, choosing: Choosing | None = None) -> Page:
    seller = Seller.of(link.business, shown.setting)
    on = token.day_in(link.business.time_zone)
    display = Display.of(shown.words, shown.setting, Goods.of(link.item_id))
    typed = request.POST.dict()
    return Page(
        seller,
        shown.offer,
        display,
        on,
        token.signed(),
        request.path,
        rehearsal=token.rehearsal,
        choosing=choosing or Choosing(shown.offer, seller.country, display.goods.sold_out, initial=typed),
    )


def _token_of(request: HttpRequest, link: Link, *, rehearsal: bool) -> PageToken | None:
    """The note of the page that was sent, if it is one of this link and kind."""
    try:
        token = read_token(request.POST.get("page", ""))
    except TokenRefused:
        return None
    return token if token.link_id == link.id and token.rehearsal is rehearsal else None


def _sent_before(token: PageToken) -> HttpResponse | None:
    """Where a page that was paid, or is being paid, leads whoever sends it once more."""
    if Checkout.objects.filter(reference=token.reference, attempts__state__in=Attempt.OPEN_STATES).exists():
        return redirect("confirmation:page", token.reference)
    return None


def _show_anew(
    request: HttpRequest,
    link: Link,
    shown: Shown,
    notice: str,
    visit_id: int | None = None,
    former: Quote | None = None,
) -> HttpResponse:
    """The page as it is now, with what was typed still in it, for the same visit. Nothing was charged."""
    rehearsal = shown.edition_id is None
    token = new_token(link.pk, shown.edition_id, shown.revision, rehearsal, visit_id, timezone.now())
    page = _page(request, link, token, shown)
    typed = request.POST.dict()
    page.contact, page.card = ContactForm(initial=typed), CardForm(initial=typed)
    page.notices, page.former = (notice,), former
    return show_page(request, page, status=409 if notice == "terms_changed" else 400)
