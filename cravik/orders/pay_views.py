"""The buyer presses the button: what becomes of it is decided in ``paying/pressing.py``, and shown here once."""

from __future__ import annotations

from dataclasses import dataclass, replace
from datetime import date, datetime

from django.http import Http404, HttpRequest, HttpResponse, HttpResponseRedirect
from django.urls import reverse
from django.utils import timezone
from django.views.decorators.csrf import csrf_exempt
from django.views.decorators.http import require_POST

from cravik.checkout.framing import by_address, framed_where_allowed
from cravik.checkout.number_format import number_locale
from cravik.checkout.opening import Opened, open_address
from cravik.checkout.page_token import PageToken, live_token, rehearsal_token
from cravik.checkout.pages.closed import CLOSED_STATUS, show_closed
from cravik.checkout.pages.page import offered_at, offered_of, page_of, page_with
from cravik.checkout.pages.showing import show_page
from cravik.checkout.rehearsing import opened_draft
from cravik.core.pricing.quote import Quote
from cravik.journal.visitors import network_mark, visitor_mark
from cravik.links.access import link_or_404
from cravik.links.life.shown_version import ShownVersion
from cravik.orders.again_views import again_path, led_to_bank
from cravik.orders.own_page import own_path
from cravik.orders.paying.decisions import (
    AtBank,
    Closed,
    Decision,
    Declined,
    Outdated,
    Paid,
    SentBefore,
    ShownAgain,
    Undecided,
)
from cravik.orders.paying.pressing import press_live, press_rehearsal
from cravik.people.access import SellerRequest, seller_page
from cravik.people.roles import Permission
from cravik.ui.framing import framed_by_ourselves
from cravik.ui.see_other import lead_to
from cravik.ui.timings import Clock

#: Fields that are never filled in again.
_FORGOTTEN = ("security_code", "page")


@csrf_exempt  # the page's signed token stands in for a cookie, which buyers are not given
@require_POST
@framed_where_allowed(by_address)
def pay(request: HttpRequest, slug: str) -> HttpResponse:
    """Pay on a live page."""
    opened = open_address(slug)
    if opened is None or opened.version is None:
        raise Http404
    now = timezone.now()
    return _answer(request, opened, press_live(opened, request.POST, _Presser(request), now), now)


@require_POST
@seller_page(Permission.MAKE)
@framed_by_ourselves
def pay_rehearsal(request: SellerRequest, link_id: int) -> HttpResponse:
    """Pay on the rehearsal's page."""
    link = link_or_404(request, link_id)
    opened, now = opened_draft(link), timezone.now()
    if opened.version is None:
        return HttpResponseRedirect(reverse("checkout:rehearsal", args=[link.pk]))
    decision = press_rehearsal(opened, link.revision, request.POST, _Presser(request), now)
    return _answer(request, opened, decision, now, revision=link.revision)


@dataclass(frozen=True)
class _Presser:
    request: HttpRequest

    @property
    def locale(self) -> str:
        return number_locale(self.request)

    @property
    def clock(self) -> Clock:
        return timezone.now

    def visitor(self, day: date) -> str:
        return visitor_mark(self.request, day)

    def network(self, day: date) -> str:
        return network_mark(self.request, day)

    def absolute(self, path: str) -> str:
        return self.request.build_absolute_uri(path)


def _answer(
    request: HttpRequest, opened: Opened, decision: Decision, now: datetime, *, revision: int = 0
) -> HttpResponse:
    """Each decision as it is shown. ``revision`` is that of a rehearsed draft."""
    match decision:
        case Closed(why):  # 410 where the link is over, 409 where it may be open again
            return show_closed(request, opened, why, status=CLOSED_STATUS.get(why, 409))
        case Outdated():
            return _shown_anew(request, opened, decision, now, revision)
        case ShownAgain():
            page = page_with(decision.opened, decision.selection, decision.token, request.path)
            page.notices = decision.notices
            return show_page(request, page, decision.token, decision.status)
        case SentBefore(reference) | Paid(reference):
            return lead_to(request, own_path(reference))
        case Undecided(reference):
            return lead_to(request, own_path(reference), 503)
        case AtBank(attempt, reference):
            return led_to_bank(request, attempt, reference)
        case Declined(reference, outcome):
            again = again_path(opened.link_id, reference, rehearsal=opened.is_rehearsed)
            return lead_to(request, again, outcome)


def _shown_anew(request: HttpRequest, opened: Opened, outdated: Outdated, now: datetime, revision: int) -> HttpResponse:
    """The page as it is now, with what was typed still in it, for the same visit. Nothing was charged."""
    version, token = opened.version, outdated.token
    assert version is not None
    fresh = _fresh_token(opened, version, token, now, revision)
    typed = {name: value for name, value in request.POST.items() if name not in _FORGOTTEN}
    offered = offered_at(opened, version, fresh.instant, number_locale(request))
    page = page_of(opened, offered, fresh, request.path, shown=typed)
    page.notices = (outdated.notice,)
    if outdated.seen is not None and token is not None:
        page.former = _former(request, opened, outdated.seen, token)
    return show_page(request, page, fresh, 400 if outdated.notice == "altered" else 409)


def _fresh_token(
    opened: Opened, version: ShownVersion, token: PageToken | None, now: datetime, revision: int
) -> PageToken:
    row = opened.row
    if version.version_id is None:
        return rehearsal_token(row.link_id, revision, now)
    if token is None:
        return live_token(row.link_id, version.version_id, row.spot_id, None, now)
    spot_id = token.spot_id or row.spot_id
    return live_token(row.link_id, version.version_id, spot_id, token.visit_id, now, locked=token.locked)


def _former(request: HttpRequest, opened: Opened, seen: ShownVersion, token: PageToken) -> Quote | None:
    """What the version that was seen costs as the page was filled in, if that can still be worked out."""
    offer = replace(seen.offer_at(token.instant, opened.counted_for(seen)), window=None)
    offered = offered_of(opened, seen, offer, number_locale(request))
    return page_of(opened, offered, token, request.path, data=request.POST).slip
