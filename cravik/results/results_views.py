"""Results: which link, or which spot of one, brings what."""

from __future__ import annotations

from datetime import date, timedelta

from django.http import StreamingHttpResponse
from django.http.response import HttpResponseBase
from django.shortcuts import render
from django.utils import timezone
from django.utils.dateparse import parse_date
from django.views.decorators.http import require_safe

from cravik.journal.models import LeftOut
from cravik.journal.queries import left_out
from cravik.links.access import link_or_404
from cravik.links.models import Link
from cravik.results.figures import Comparison, Counted, links_compared, spots_compared
from cravik.setup.access import SellerRequest, seller_page
from cravik.setup.periods import Period, period_of
from cravik.ui.spreadsheets import as_text, csv_response

#: Days that are one press away, in words.
SPANS = {7: "7 days", 30: "30 days", 90: "90 days", 365: "a year"}
_LONGEST = timedelta(days=3660)
_KEPT = "results period"


@require_safe
@seller_page
def results(request: SellerRequest) -> HttpResponseBase:
    """Every link, compared."""
    period = _period(request)
    return _answer(request, links_compared(request.business, period), period, None)


@require_safe
@seller_page
def link_results(request: SellerRequest, link_id: int) -> HttpResponseBase:
    """The spots of one link, compared."""
    link, period = link_or_404(request, link_id), _period(request)
    return _answer(request, spots_compared(link, period), period, link)


def _answer(request: SellerRequest, comparison: Comparison, period: Period, link: Link | None) -> HttpResponseBase:
    if request.GET.get("as") == "csv":
        return _csv(comparison, f"{link.slug if link else 'links'}-{period.first}-{period.last}.csv")
    counts = left_out(request.business.pk, period, [link.pk] if link else None)
    today = period_of(request.business, None, None, timezone.now()).last
    shown = (period.first, period.last)
    context = {
        "comparison": comparison,
        "period": period,
        "spans": [(words, *_span(today, days), _span(today, days) == shown) for days, words in SPANS.items()],
        "today": today,
        "link": link,
        "what": "spot" if link else "link",
        "left_out": [(LeftOut.Reason(reason).label, count) for reason, count in counts.items()],
    }
    return render(request, "results/results.html", context)


def _span(today: date, days: int) -> tuple[date, date]:
    return (today - timedelta(days=days - 1), today)


def _period(request: SellerRequest) -> Period:
    """The days that the address names, else those that were last looked at, else the last thirty."""
    named = [_day(request.GET.get(name, "")) for name in ("from", "to")]
    if not any(named):
        named = [_day(each) for each in request.session.get(_KEPT, ["", ""])]
    first, last = named
    period = period_of(request.business, first, last, timezone.now())
    if period.first > period.last or period.last - period.first > _LONGEST:
        period = period_of(request.business, None, None, timezone.now())
    if first or last:
        request.session[_KEPT] = [period.first.isoformat(), period.last.isoformat()]
    return period


def _day(text: str) -> date | None:
    try:
        return parse_date(text)
    except ValueError:
        return None


def _csv(comparison: Comparison, name: str) -> StreamingHttpResponse:
    head = ["name", "opened", "started", "tried", "paid", "rate", "rate_low", "rate_high", "money"]
    return csv_response(name, head, (_cells(row.counted) for row in comparison.rows))


def _cells(each: Counted) -> list[object]:
    ladder, rate = each.ladder, each.rate
    shares = [f"{share:.4f}" if rate.tells else "" for share in (rate.share, rate.low, rate.high)]
    money = "; ".join(f"{taken.major} {taken.currency}" for taken in each.money)
    return [as_text(each.name), ladder.opened, ladder.started, ladder.tried, ladder.paid, *shares, money]
