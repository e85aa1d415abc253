"""The buyer presses the button."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import datetime

from django.db.models import Q
from django.http import Http404, HttpRequest, HttpResponse, HttpResponseRedirect
from django.urls import reverse
from django.utils import timezone
from django.views.decorators.csrf import csrf_exempt
from django.views.decorators.http import require_POST

from cravik.buyers.keys import buyer_key
from cravik.catalogue.stock import SoldOut
from cravik.checkout.framing import by_address, framed_where_allowed
from cravik.checkout.models import Checkout
from cravik.checkout.number_format import number_locale
from cravik.checkout.opening import Closed, Opened, open_address
from cravik.checkout.page_token import PageToken, TokenRefused, live_token, parse_token, rehearsal_token
from cravik.checkout.pages.closed import CLOSED_STATUS, show_closed
from cravik.checkout.pages.page import Page, offered_at, offered_of, page_of, pieces_at
from cravik.checkout.pages.showing import show_page
from cravik.checkout.parts.base import Moment, PricedBasket
from cravik.checkout.rehearsing import opened_draft
from cravik.core.errors import BasketRefused, Fault
from cravik.core.link.closing import why_closed
from cravik.core.link.counted import NOTHING_YET
from cravik.core.pricing.money import Money
from cravik.core.pricing.offer import Offer
from cravik.core.pricing.quote import Quote
from cravik.core.statistics.ladder import Rung
from cravik.journal.fields import note_fields
from cravik.journal.services import climb
from cravik.journal.visitors import network_mark, visitor_mark
from cravik.links.access import link_or_404
from cravik.links.counting import NoPlaceLeft, NoUseLeft, TooFewLeft
from cravik.links.models import Version
from cravik.links.queries import counted_anew
from cravik.links.shown_version import ShownVersion, shown_version
from cravik.orders.again_views import again_path, led_to_bank
from cravik.orders.own_page import own_path
from cravik.orders.paying.bounds_of_buyer import CodeUsedByBuyer, EnoughForOne, EnoughPieces
from cravik.orders.paying.submission import PaymentSubmission
from cravik.orders.paying.take import (
    PageUsed,
    PaidAlready,
    StepReached,
    take_payment,
)
from cravik.orders.paying.under_way import OneUnderWay, TooManyUnderWay
from cravik.payments.models import Attempt
from cravik.payments.ways import present_ways
from cravik.payments.ways.card import bank_address
from cravik.people.access import SellerRequest, seller_page
from cravik.people.roles import Permission
from cravik.ui.fields import clean_line
from cravik.ui.form_data import FormData
from cravik.ui.framing import framed_by_ourselves
from cravik.ui.see_other import lead_to

#: The codes of a core refusal that mean that the whole page is closed.
_CLOSED: dict[str, Closed] = {"closed": "day", "not_open_yet": "not_open_yet"}
#: What the page says where something was gone; its words are in ``checkout/_notices.html``.
_NOTICES: dict[type[Exception], str] = {
    SoldOut: "sold_out",
    NoPlaceLeft: "no_place_left",
    NoUseLeft: "code_used_up",
    CodeUsedByBuyer: "code_used_by_you",
    EnoughForOne: "enough_for_one",
    PaidAlready: "paid_already",
    OneUnderWay: "one_under_way",
    TooManyUnderWay: "too_many_under_way",
}


@csrf_exempt  # the page's signed token stands in for a cookie, which buyers are not given
@require_POST
@framed_where_allowed(by_address)
def pay(request: HttpRequest, slug: str) -> HttpResponse:
    """Pay on a live page."""
    opened = open_address(slug)
    if opened is None or opened.version is None:
        raise Http404
    now = timezone.now()
    token = _token_of(request, opened.link_id, rehearsal=False)
    if token is None:
        closed = opened.why_closed(now)
        return _closed(request, opened, closed) if closed else _shown_anew(request, opened, "altered", now)
    seen = _seen(token, opened)
    if seen is not None and token.holds(now):
        return _PayRequest(request, opened, seen, token, now).answer()
    if sent_before := _sent_before(request, opened, token, now):
        return sent_before
    if closed := opened.why_closed(now):
        return _closed(request, opened, closed)
    if token.version_id != opened.version.version_id:
        return _shown_anew(request, opened, "terms_changed", now, token, seen)
    # The price is promised no more: it is worked out as of now, and a changed sum is shown first.
    return _PayRequest(request, opened, opened.version, token.shown_now(token.version_id, now), now, was=token).answer()


@require_POST
@seller_page(Permission.MAKE)
@framed_by_ourselves
def pay_rehearsal(request: SellerRequest, link_id: int) -> HttpResponse:
    """Pay on the rehearsal's page."""
    link = link_or_404(request, link_id)
    opened = opened_draft(link)
    if opened.version is None:
        return HttpResponseRedirect(reverse("checkout:rehearsal", args=[link.pk]))
    now = timezone.now()
    token = _token_of(request, link.pk, rehearsal=True)
    if token is None:
        return _shown_anew(request, opened, "altered", now, revision=link.revision)
    if token.revision != link.revision:
        sent_before = _sent_before(request, opened, token, now)
        return sent_before or _shown_anew(request, opened, "terms_changed", now, revision=link.revision)
    if not token.holds(now):
        token = token.shown_now(None, now)
    return _PayRequest(request, opened, opened.version, token, now).answer()


def _closed(request: HttpRequest, opened: Opened, why: Closed) -> HttpResponse:
    """Nothing was charged: 410 where the link is over, 409 where it may be open again."""
    return show_closed(request, opened, why, status=CLOSED_STATUS.get(why, 409))


def _token_of(request: HttpRequest, link_id: int, *, rehearsal: bool) -> PageToken | None:
    """The note of the page that was sent, if it is one of this link and kind."""
    try:
        token = parse_token(request.POST.get("page", ""))
    except TokenRefused:
        return None
    return token if token.link_id == link_id and token.rehearsal is rehearsal else None


def _seen(token: PageToken, opened: Opened) -> ShownVersion | None:
    """The version that the page showed, if it is one of this link."""
    if token.version_id is None:
        return None
    try:
        version = shown_version(token.version_id)
    except Version.DoesNotExist:
        return None
    return version if version.link_id == opened.link_id else None


def _sent_before(request: HttpRequest, opened: Opened, token: PageToken, now: datetime) -> HttpResponse | None:
    """Where a page that was paid, or is being paid, leads whoever sends it once more: its buyer to the confirmation,
    anyone else to a fresh page."""
    used = Q(attempts__state__in=Attempt.MAY_HAVE_PAID) | Q(order__isnull=False)
    checkout = Checkout.objects.filter(used, reference=token.reference).first()
    if checkout is None:
        return None
    if checkout.is_of(buyer_key(request.POST.get("email", "")), clean_line(request.POST.get("name", ""))):
        return lead_to(request, own_path(token.reference))
    return _shown_anew(request, opened, "page_used", now)


@dataclass
class _PayRequest:
    """One press of a page's button: what it showed, what was sent, and what is answered.

    ``was`` is the token as it was sent, where its price is promised no more.
    """

    request: HttpRequest
    opened: Opened
    version: ShownVersion
    token: PageToken
    now: datetime
    was: PageToken | None = None

    def __post_init__(self) -> None:
        self.locale = number_locale(self.request)
        offer = self.version.offer_at(self.token.instant, self.opened.counted_for(self.version))
        self.page = self._page_of(offer, self.request.POST)

    def _page_of(self, offer: Offer, data: FormData | None, shown: FormData | None = None) -> Page:
        moment = Moment(pieces=pieces_at(self.opened, self.version))
        offered = offered_of(self.opened, self.version, offer, self.locale, moment)
        return page_of(self.opened, offered, self.token, self.request.path, data, shown)

    def answer(self) -> HttpResponse:
        page, selection = self.page, self.page.selection
        if closed := why_closed(self.version.content, page.at, NOTHING_YET):
            return _closed(self.request, self.opened, closed)
        picked, refusal = self._picked()
        if "update_total" in self.request.POST:
            faults = selection.beyond(picked.quote) if picked else refusal.faults if refusal else ()
            return self._with_new_total(faults)
        way = selection.way(picked.quote if picked else None)
        is_valid = selection.is_valid(way)
        if refusal:
            if closing := next((_CLOSED[fault.code] for fault in refusal.faults if fault.code in _CLOSED), None):
                return _closed(self.request, self.opened, closing)
            selection.put_at_fields(refusal.faults)
        if picked is None or not is_valid:
            if sent_before := self._sent_before():
                return sent_before
            if self.token.visit_id:
                climb(self.token.visit_id, self.version.link_id, Rung.STARTED, self.now)
                touched = selection.touched(way)
                note_fields(self.token.visit_id, self.version.link_id, touched, self.now)
            return self._shown(400, "mistakes")
        if beyond := selection.beyond(picked.quote):
            return self._sent_before() or self._shown_beyond(beyond)
        if not self._saw(picked.quote):
            return self._sent_before() or self._shown(409, "sum_changed")
        return self._take(picked)

    def _sent_before(self) -> HttpResponse | None:
        return _sent_before(self.request, self.opened, self.token, self.now)

    def _picked(self) -> tuple[PricedBasket | None, BasketRefused | None]:
        try:
            return self.page.selection.picked(self.page.on, self.page.at), None
        except BasketRefused as refused:
            return None, refused

    def _saw(self, quoted: Quote) -> bool:
        """Whether the sums that stood on the page are those that are charged."""
        seen_total, seen_now = self.request.POST.get("seen_total"), self.request.POST.get("seen_now")
        if seen_total is None or seen_now is None:
            return not self.page.selection.matters and self._promised() == (quoted.total, quoted.due_now)
        return (seen_total, seen_now) == (quoted.total.major, quoted.due_now.major)

    def _promised(self) -> tuple[Money, Money]:
        """What the page of a plain link showed, by its token."""
        was = self.was or self.token
        offer = self.version.offer_at(was.instant, self.opened.counted_for(self.version))
        page = self._page_of(offer, self.request.POST)
        quoted = page.selection.picked(was.day_in(page.seller.time_zone), was.instant).quote
        return quoted.total, quoted.due_now

    def _take(self, picked: PricedBasket) -> HttpResponse:
        may_be_second = self.request.POST.get("second") == "yes"
        try:
            outcome = take_payment(self._submission(picked), present_ways(), self.now, may_be_second=may_be_second)
        except PageUsed:
            return _shown_anew(self.request, self.opened, "page_used", self.now)
        except StepReached as other:
            self.page = self._page_of(other.offer, self.request.POST)
            self.page.selection.is_valid(self.page.selection.way(picked.quote))
            return self._shown(409, "step_reached")
        except TooFewLeft:
            self.opened = replace(self.opened, row=counted_anew(self.opened.row))
            self.page = self._page_of(self.page.offer, self.request.POST)
            return self._shown_beyond(self.page.selection.beyond(picked.quote))
        except EnoughPieces as enough:
            return self._shown_beyond([self.page.selection.enough_of(enough.line, enough.most, enough.had)])
        except (NoUseLeft, CodeUsedByBuyer) as refused:
            return self._without_code(_NOTICES[type(refused)])
        except (SoldOut, NoPlaceLeft, EnoughForOne, PaidAlready, OneUnderWay, TooManyUnderWay) as refused:
            return self._shown(409, _NOTICES[type(refused)])
        link_id, reference = self.token.link_id, self.token.reference
        if outcome.attempt is not None and bank_address(outcome.attempt):
            return led_to_bank(self.request, outcome.attempt, reference)
        if outcome.is_taken:
            return lead_to(self.request, own_path(reference), outcome.status)
        return lead_to(self.request, again_path(link_id, reference, rehearsal=self.token.rehearsal), outcome.status)

    def _submission(self, picked: PricedBasket) -> PaymentSubmission:
        way = self.page.selection.way(picked.quote)
        submitted = self.page.selection.submitted(way)
        return PaymentSubmission(
            business_id=self.opened.row.business_id,
            spot_id=self.token.spot_id or self.opened.row.spot_id,
            version=self.version,
            limits=(self.opened.version or self.version).content.limits,
            offer=self.page.offer,
            picked=picked,
            token=self.token,
            where=submitted.where,
            answers=submitted.answers,
            name=submitted.name,
            email=submitted.email,
            means=present_ways()[way].means_of(submitted.means),
            visitor="" if self.token.rehearsal else visitor_mark(self.request, self.now.date()),
            network="" if self.token.rehearsal else network_mark(self.request, self.now.date()),
            statement_text=self.page.seller.statement_text,
            typed={"page": self.token.signed(), **self.page.selection.typed_to_keep()},
            touched=self.page.selection.touched(way),
            return_address=self.request.build_absolute_uri(own_path(self.token.reference)),
        )

    def _shown(self, status: int, *notices: str) -> HttpResponse:
        """The page once more with what was typed. It is shown only where nothing was asked of the card."""
        self.page.notices = notices
        return show_page(self.request, self.page, self.token, status)

    def _shown_beyond(self, faults: Sequence[Fault]) -> HttpResponse:
        """The page with what can be had at the quantities of which more is wanted."""
        self.page.selection.is_valid(self.page.selection.way(None))
        self.page.selection.put_at_fields(faults)
        if faults and all(fault.code == "too_many_for_one" for fault in faults):
            return self._shown(400, "mistakes")
        if self.page.is_plain and any(fault.limit == 0 for fault in faults):
            self.page.faults.clear()
            return self._shown(409, "no_place_left")
        return self._shown(409, "too_few_left")

    def _with_new_total(self, faults: Sequence[Fault]) -> HttpResponse:
        """The page with what was typed and what is wrong with it, before anything but the sum is judged."""
        typed = {name: self.request.POST.getlist(name) for name in self.request.POST}
        shown = {name: values if len(values) > 1 else values[0] for name, values in typed.items() if values}
        blank = dict.fromkeys((name for form in self.page.selection.lines for name in form.fields), "")
        self.page = self._page_of(self.page.offer, None, blank | shown)
        self.page.selection.put_at_fields(faults)
        return self._shown(200)

    def _without_code(self, notice: str) -> HttpResponse:
        """The page with the sum that holds without the code that was typed."""
        sent = self.request.POST.copy()
        sent["code"] = ""
        self.page = self._page_of(self.page.offer, sent)
        self.page.selection.is_valid(self.page.selection.way(None))
        return self._shown(409, notice)


def _shown_anew(
    request: HttpRequest,
    opened: Opened,
    notice: str,
    now: datetime,
    token: PageToken | None = None,
    seen: ShownVersion | None = None,
    revision: int = 0,
) -> HttpResponse:
    """The page as it is now, with what was typed still in it, for the same visit. Nothing was charged."""
    version, row = opened.version, opened.row
    assert version is not None
    if version.version_id is None:
        fresh = rehearsal_token(row.link_id, revision, now)
    else:
        spot_id = (token.spot_id if token else None) or row.spot_id
        visit_id, locked = (token.visit_id, token.locked) if token else (None, None)
        fresh = live_token(row.link_id, version.version_id, spot_id, visit_id, now, locked=locked)
    typed = {name: value for name, value in request.POST.items() if name not in ("security_code", "page")}
    offered = offered_at(opened, version, fresh.instant, number_locale(request))
    page = page_of(opened, offered, fresh, request.path, shown=typed)
    page.notices = (notice,)
    if seen is not None and token is not None:
        page.former = _former(request, opened, seen, token)
    return show_page(request, page, fresh, 400 if notice == "altered" else 409)


def _former(request: HttpRequest, opened: Opened, seen: ShownVersion, token: PageToken) -> Quote | None:
    """What the version that was seen costs as the page was filled in, if that can still be worked out."""
    offer = replace(seen.offer_at(token.instant, opened.counted_for(seen)), window=None)
    offered = offered_of(opened, seen, offer, number_locale(request))
    return page_of(opened, offered, token, request.path, data=request.POST).slip
