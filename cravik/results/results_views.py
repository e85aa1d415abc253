"""Results: which link, or which spot of one, brings what, and what became of it over time."""

from __future__ import annotations

from collections.abc import Mapping
from datetime import date, timedelta

from django.core.paginator import Paginator
from django.http import Http404
from django.http.response import HttpResponseBase
from django.shortcuts import render
from django.utils import timezone
from django.views.decorators.http import require_safe

from cravik.core.graphics.picture import Picture
from cravik.journal.models import LeftOut
from cravik.journal.queries import left_out
from cravik.links.access import link_or_404
from cravik.orders.running.to_come import to_come
from cravik.people.access import SellerRequest, seller_page
from cravik.people.roles import Permission
from cravik.results.comparing import OF_ALL_LINKS, OF_LINK
from cravik.results.comparing.base import ComparedKind, Scope
from cravik.results.comparing.comparison import comparison_of
from cravik.results.exhibits import Exhibit, comparison_exhibit, staying_exhibit, stops_exhibit, time_exhibit
from cravik.results.over_time import NARROW, grains_for, over_time, usual_grain
from cravik.results.staying import LinkStaying, staying_of
from cravik.results.stops import stops_of
from cravik.setup.periods import Period, day_in, period_of

#: Days that are one press away, in words.
SPANS = {7: "7 days", 30: "30 days", 90: "90 days", 365: "a year"}
PAGE = 25
_LONGEST = timedelta(days=3660)
_KEPT = "results period"


@require_safe
@seller_page(Permission.SEE)
def results(request: SellerRequest) -> HttpResponseBase:
    """Every link, compared."""
    return _answer(request, Scope(request.business, _period(request)), OF_ALL_LINKS)


@require_safe
@seller_page(Permission.SEE)
def link_results(request: SellerRequest, link_id: int) -> HttpResponseBase:
    """One link: its spots compared, and where its buyers stop."""
    link = link_or_404(request, link_id)
    return _answer(request, Scope(request.business, _period(request), link), OF_LINK)


@require_safe
@seller_page(Permission.SEE)
def guide(request: SellerRequest) -> HttpResponseBase:
    """What is counted and how, in a seller's words."""
    return render(request, "results/guide.html")


def _answer(request: SellerRequest, scope: Scope, kinds: Mapping[str, ComparedKind]) -> HttpResponseBase:
    period, link = scope.period, scope.link
    kind = kinds.get(request.GET.get("by", "")) or next(iter(kinds.values()))
    grains = grains_for(period)
    grain = request.GET.get("per", "")
    grain = grain if grain in grains else usual_grain(period)
    if wanted := request.GET.get("as"):
        exhibit, of = _exhibit(request.GET.get("of", ""), scope, kind, grain)
        name = f"{link.slug if link else 'links'}-{of}-{period.first}-{period.last}"
        if file := exhibit.as_file(wanted, name):
            return file
        raise Http404
    comparison, timed = comparison_of(kind, scope), over_time(scope, grain)
    counts = left_out(request.business.pk, period, [link.pk] if link else None)
    today = period_of(request.business, None, None, timezone.now()).last
    shown = (period.first, period.last)
    staying = staying_of(link, timezone.now()) if link else None
    context = {
        "to_come": to_come(request.business, today, link),
        "staying": staying,
        "staying_pictures": _both(staying, scope.words) if staying and staying.found.tells else (),
        "comparison": comparison,
        "page": Paginator(comparison.rows, PAGE).get_page(request.GET.get("page")),
        "kind": kind,
        "kinds": kinds.values(),
        "timed": timed,
        "pictures": (timed.picture(), timed.picture(NARROW)),
        "grains": grains,
        "stops": stops_of(scope, timed.now.visits.ladder) if link and link.version_id else None,
        "period": period,
        "spans": [(words, *_span(today, days), _span(today, days) == shown) for days, words in SPANS.items()],
        "today": today,
        "link": link,
        "left_out": [(LeftOut.Reason(reason).label, count) for reason, count in counts.items()],
    }
    return render(request, "results/results.html", context)


def _both(staying: LinkStaying, words: str) -> tuple[Picture, Picture]:
    """As a desk shows it, and a phone."""
    return staying.picture(words), staying.picture(words, NARROW)


def _exhibit(name: str, scope: Scope, kind: ComparedKind, grain: str) -> tuple[Exhibit, str]:
    """What is taken away, and what the file is called after it."""
    if name == "stops" and scope.link and scope.link.version_id:
        return stops_exhibit(scope), "stops"
    if name == "staying" and scope.link and (found := staying_of(scope.link, timezone.now())):
        return staying_exhibit(found, scope), "staying"
    if name == "time":
        return time_exhibit(scope, grain), f"by-{grain}"
    return comparison_exhibit(kind, scope), f"by-{kind.key}"


def _span(today: date, days: int) -> tuple[date, date]:
    return (today - timedelta(days=days - 1), today)


def _period(request: SellerRequest) -> Period:
    """The days that the address names, else those that were last looked at, else the last thirty."""
    named = [day_in(request.GET.get(name, "")) for name in ("from", "to")]
    if not any(named):
        named = [day_in(each) for each in request.session.get(_KEPT, ["", ""])]
    first, last = named
    period = period_of(request.business, first, last, timezone.now())
    if period.first > period.last or period.last - period.first > _LONGEST:
        period = period_of(request.business, None, None, timezone.now())
    if first or last:
        request.session[_KEPT] = [period.first.isoformat(), period.last.isoformat()]
    return period
