"""The buyer's page, its rehearsal, and the note that somebody began to fill it in."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import replace
from datetime import datetime
from functools import wraps

from django.http import Http404, HttpRequest, HttpResponse, JsonResponse
from django.shortcuts import redirect, render
from django.urls import reverse
from django.utils import timezone
from django.views.decorators.csrf import csrf_exempt
from django.views.decorators.http import require_POST, require_safe

from cravik.checkout.asked import names_asked
from cravik.checkout.framing import by_address, by_spot, framed_where_allowed
from cravik.checkout.number_format import number_locale
from cravik.checkout.oembed import discovery
from cravik.checkout.opening import Opened, open_address, open_spot, room_wanted
from cravik.checkout.page_token import PageToken, TokenRefused, live_token, parse_token, rehearsal_token
from cravik.checkout.pages.closed import show_closed
from cravik.checkout.pages.page import Page, is_gone, offered_at, page_of
from cravik.checkout.pages.showing import changed_pieces, show_live_page, show_page
from cravik.checkout.parts.base import Offered
from cravik.checkout.rehearsing import opened_draft, opened_parsed
from cravik.checkout.selection import fillable
from cravik.core.errors import BasketRefused
from cravik.core.statistics.ladder import Rung
from cravik.core.text.faults import gap_words
from cravik.journal.fields import MAX_FIELDS, Touched, note_fields
from cravik.journal.services import VisitedPage, climb, note_coming, note_rehearsal
from cravik.links.access import link_or_404
from cravik.links.life.shown_version import ShownVersion, shown_draft, shown_version
from cravik.links.making.from_text import read_line
from cravik.links.models import Link, Version
from cravik.links.places.locks import Locked, locked_in
from cravik.links.queries import counted_anew, first_spot_of, present_address
from cravik.people.access import SellerRequest, acts_for, seller_page
from cravik.people.roles import Permission
from cravik.setup.ways import NOTHING
from cravik.ui.framing import framed_by_ourselves
from cravik.upkeep.queued_sqlite.power_cuts import outliving_no_power_cut


def _with_its_token(view: Callable[[HttpRequest, PageToken], HttpResponse]) -> Callable[[HttpRequest], HttpResponse]:
    """For what a page's script sends: the view gets the page's token, and what has none of ours is refused."""

    @wraps(view)
    def refusing(request: HttpRequest) -> HttpResponse:
        try:
            token = parse_token(request.POST.get("page", ""))
        except TokenRefused:
            return HttpResponse(status=400)
        return view(request, token)

    return refusing


@require_safe
@framed_where_allowed(by_address)
def page(request: HttpRequest, slug: str) -> HttpResponse:
    """What a link shows to whoever opens its readable address."""
    opened = open_address(slug)
    if opened is None:
        raise Http404
    if not opened.row.is_current:
        return _led_to_link(request, present_address(opened.link_id))
    return _show_opened(request, opened, request.GET.dict())


@require_safe
@framed_where_allowed(by_spot)
def spot_page(request: HttpRequest, code: str) -> HttpResponse:
    """The same for the short code of one of its spots: the page itself, so that the spot is known."""
    opened = open_spot(code)
    if opened is None:
        raise Http404
    return show_at_spot(request, opened, request.GET.dict())


def show_at_spot(
    request: HttpRequest, opened: Opened, query: Mapping[str, str], notices: tuple[str, ...] = ()
) -> HttpResponse:
    """The page at a spot, filled in as the query says; where an ended spot leads to. ``notices`` stand above it."""
    if opened.row.is_spot_ended:
        leads_to = opened.row.leads_to
        return redirect(leads_to) if leads_to else _led_to_link(request, opened.row.slug)
    return _show_opened(request, opened, query, notices)


def _led_to_link(request: HttpRequest, slug: str) -> HttpResponse:
    """On to the link's present address, with all that this one says: what it fills in, and the campaign."""
    query = request.META.get("QUERY_STRING", "")
    return redirect(f"{reverse('checkout:page', args=[slug])}{f'?{query}' if query else ''}")


def _show_opened(
    request: HttpRequest, opened: Opened, query: Mapping[str, str], notices: tuple[str, ...] = ()
) -> HttpResponse:
    now, version = timezone.now(), opened.version
    why = opened.why_closed(now)
    if why not in (None, "all_held") or version is None or version.version_id is None:
        return show_closed(request, opened, why or "draft")
    offered = offered_at(opened, version, now, number_locale(request))
    if why or is_gone(offered):
        if any([*room_wanted.call(opened.link_id, frozenset(version.items.values()), timezone.now)]):
            return _show_opened(request, replace(opened, row=counted_anew(opened.row)), query, notices)
        return show_closed(request, opened, why or "sold_out")
    row = opened.row
    met = VisitedPage(row.business_id, row.link_id, row.spot_id, version.version_id)
    visit = note_coming(request, met, now, is_own=acts_for(request, row.business_id))
    token = live_token(row.link_id, version.version_id, row.spot_id, visit.visit_id, now, left_out=visit.left_out)
    action = reverse("pay:live", args=[row.slug])
    locked = locked_in(row.link_id, query)
    filled = {name: value for name, value in fillable(offered, query).items() if name not in locked.altered}
    if filled or locked.altered or notices:
        page, token = _filled_page(opened, offered, token, action, filled, locked)
        return show_page(request, replace(page, notices=notices + page.notices), token)
    response = show_live_page(request, opened, offered, token)
    response["Link"] = discovery(request)
    response.may_be_found = row.is_findable  # type: ignore[attr-defined]  # for SearchEnginesMiddleware
    return response


def _filled_page(
    opened: Opened, offered: Offered, token: PageToken, action: str, filled: Mapping[str, str], locked: Locked
) -> tuple[Page, PageToken]:
    """The page with what its address says, but for what cannot be had, and its token, which knows what is locked."""
    page = page_of(opened, offered, token, action, shown=filled)
    wrong = page.selection.wrong_of(filled, page.on, page.at)
    had = {name: value for name, value in filled.items() if name not in wrong}
    token = replace(token, locked={name: value for name, value in locked.fields.items() if name in had})
    page = page_of(opened, offered, token, action, shown=had)
    notices = (("address_ignored",) if wrong else ()) + (("address_altered",) if locked.altered else ())
    return replace(page, notices=notices, ignored=tuple(wrong.values())), token


@require_safe
@seller_page(Permission.SEE)
@framed_by_ourselves
def rehearsal(request: SellerRequest, link_id: int) -> HttpResponse:
    """The very page of the draft, for its seller alone; what is paid here counts nowhere."""
    link = link_or_404(request, link_id)
    opened = opened_draft(link)
    if opened.version is None:
        return render(request, "checkout/gaps.html", {"link": link, "gaps": [gap_words(gap) for gap in link.gaps]})
    now = timezone.now()
    if request.headers.get("Sec-Fetch-Dest") != "iframe":  # where the bench shows it beside itself
        note_rehearsal(VisitedPage(link.business_id, link.pk, opened.row.spot_id), now)
    token = rehearsal_token(link.pk, link.revision, now)
    offered = offered_at(opened, opened.version, now, number_locale(request))
    page = page_of(opened, offered, token, reverse("pay:rehearsal", args=[link.pk]))
    return show_page(request, page, token)


@require_safe
@seller_page(Permission.MAKE)
@framed_by_ourselves
def line_preview(request: SellerRequest) -> HttpResponse:
    """The page of what is said in one line and is no link yet, to be looked at."""
    opened = opened_parsed(read_line(request.business, request.GET.get("said", "")[:4000], timezone.now()))
    if opened.version is None:
        return HttpResponse(status=204)
    now = timezone.now()
    token = rehearsal_token(0, 0, now)
    offered = offered_at(opened, opened.version, now, number_locale(request))
    return show_page(request, page_of(opened, offered, token, ""), token)


@csrf_exempt  # works out a sum and writes nothing
@require_POST
@_with_its_token
def slip(request: HttpRequest, token: PageToken) -> HttpResponse:
    """What an open page would cost as it is filled in, as the parts of the page that say so."""
    shown = _shown_by(token, timezone.now())
    if shown is None:
        return HttpResponse(status=400)
    opened, version = shown
    offered = offered_at(opened, version, token.instant, number_locale(request))
    page = page_of(opened, offered, token, "", data=request.POST)
    page.selection.is_valid(NOTHING)
    try:
        picked = page.selection.picked(page.on, page.at)
        page.selection.put_at_fields(page.selection.beyond(picked.quote))
    except BasketRefused as refused:
        page.selection.put_at_fields(refused.faults)
    quoted = page.slip
    answer: dict[str, object] = {
        "pieces": changed_pieces(page),
        "errors": page.selection.typed_errors(),
        "free": page.is_free,
        "seen_total": quoted.total.major if quoted else "",
        "seen_now": quoted.due_now.major if quoted else "",
    }
    response = JsonResponse(answer)
    response["Cache-Control"] = "no-store"
    return response


def _shown_by(token: PageToken, now: datetime) -> tuple[Opened, ShownVersion] | None:
    """What the page of the token shows: the version that it was opened with, or the draft of a rehearsal."""
    if token.rehearsal:
        link = Link.objects.select_related("business").filter(id=token.link_id).first()
        version = shown_draft(link) if link else None
        return (opened_draft(link), version) if link and version else None
    row = first_spot_of(token.link_id)
    if row is None or token.version_id is None:
        return None
    try:
        version = shown_version(token.version_id)
    except Version.DoesNotExist:
        return None
    return (Opened(row, version), version) if version.link_id == token.link_id else None


@csrf_exempt  # a note about a page, by its own signed token; nobody's authority is used
@require_POST
@_with_its_token
def started(request: HttpRequest, token: PageToken) -> HttpResponse:
    """The page's script says that somebody began to fill it in."""
    if token.visit_id and not token.rehearsal:
        with outliving_no_power_cut():
            climb(token.visit_id, token.link_id, Rung.STARTED, timezone.now())
    return HttpResponse(status=204)


@csrf_exempt  # as above
@require_POST
@_with_its_token
def fields(request: HttpRequest, token: PageToken) -> HttpResponse:
    """The page's script says which fields were touched, and which of them last."""
    if token.visit_id and token.version_id and not token.rehearsal:
        names = names_asked(token.version_id)
        touched = [name for name in request.POST.getlist("touched")[:MAX_FIELDS] if name in names]
        if touched:
            with outliving_no_power_cut():
                note_fields(token.visit_id, token.link_id, Touched(touched, last=touched[-1]), timezone.now())
    return HttpResponse(status=204)
