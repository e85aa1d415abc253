"""The spots of a link as a seller sees them: what each is, who came last, what it brought, and what to do next."""

from __future__ import annotations

from dataclasses import dataclass, replace
from datetime import datetime, timedelta

from django.core.paginator import Page, Paginator
from django.db.models import Q, QuerySet
from django.urls import reverse

from cravik.core.pricing.money import Money
from cravik.core.statistics.ladder import Ladder
from cravik.core.statistics.rates import Rate, conversion
from cravik.journal.queries import AtSpot, ladders_by_spot, last_visits
from cravik.links.models import Link, Spot, SpotMove
from cravik.orders.takings import money_by_spot
from cravik.setup.hosts import address_base
from cravik.setup.periods import usual_period
from cravik.share.models import Sighting
from cravik.share.on_pages.sightings import last_seen
from cravik.share.pasted import OldButton, out_of_date

PAGE = 50
#: How long a spot may be silent, and a new one.
SILENCE, PATIENCE = timedelta(days=30), timedelta(days=7)
#: What the list can be sorted by, as a seller says it.
ORDERS = {"": "Newest", "name": "Name", "visits": "Visits", "money": "Money"}


@dataclass(frozen=True)
class SpotLine:
    """A spot with what it did in the last 30 days."""

    spot: Spot
    #: That of the main link is the readable one.
    address: str
    photo: str
    ladder: Ladder
    rate: Rate
    money: list[Money]
    last_visit: datetime | None
    #: What to do next, in a sentence, where there is something.
    next: str
    #: Where its button was last seen on a page.
    seen: Sighting | None = None


@dataclass(frozen=True)
class SpotList:
    """A page of a link's spots, those that were moved away, the order that holds, and the pasted buttons to see to."""

    page: Page[int]
    lines: list[SpotLine]
    moved: list[SpotMove]
    sort: str
    #: The buttons pasted at any spot of the link that are out of date.
    old_buttons: list[OldButton]


def spots_listed(link: Link, q: str, sort: str, number: str, now: datetime) -> SpotList:
    """The spots whose name, note or code has the words; ended ones come last."""
    sort = sort if sort in ORDERS else ""
    ladders, money = _figures(link, now)
    found = _found(link, q)
    if sort in ("visits", "money"):
        rows = list(found.order_by("-id").values_list("id", "ended_at"))
        own = link.business.currency

        def worth(pk: int) -> tuple[int, int]:
            at = (link.pk, pk)
            taken = sum(each.minor for each in money.get(at, []) if each.currency == own)
            opened = ladders.get(at, Ladder()).opened
            return (opened, taken) if sort == "visits" else (taken, opened)

        rows.sort(key=lambda row: (row[1] is None, worth(row[0])), reverse=True)
        ids = [pk for pk, _ in rows]
    else:
        order = ("name", "id") if sort == "name" else ("-is_first", "-id")
        ids = list(found.order_by("ended_at", *order).values_list("id", flat=True))
    page = Paginator(ids, PAGE).get_page(number)
    shown = Spot.objects.in_bulk(list(page.object_list))
    last = last_visits(list(page.object_list))
    base = address_base(link.business_id)
    old = out_of_date(link)
    words_of, seen = {each.spot.pk: each.words for each in old}, last_seen(list(page.object_list))
    lines = [_line(link, shown[pk], base, ladders, money, last.get(pk), now) for pk in page.object_list]
    lines = [replace(line, next=words_of.get(line.spot.pk, line.next), seen=seen.get(line.spot.pk)) for line in lines]
    return SpotList(page, lines, _moved(link), sort, old)


def _moved(link: Link) -> list[SpotMove]:
    """The spots that lead elsewhere now, each by the last time that it left."""
    left = SpotMove.objects.filter(left=link, spot__link__removed_at=None).exclude(spot__link=link)
    by_spot = {move.spot_id: move for move in left.order_by("id").select_related("spot__link")}
    return sorted(by_spot.values(), key=lambda move: move.pk, reverse=True)[:PAGE]


def line_of(spot: Spot, now: datetime) -> SpotLine:
    """One spot alone."""
    link = spot.link
    ladders, money = _figures(link, now)
    base = address_base(link.business_id)
    return _line(link, spot, base, ladders, money, last_visits([spot.pk]).get(spot.pk), now)


def _figures(link: Link, now: datetime) -> tuple[dict[AtSpot, Ladder], dict[AtSpot, list[Money]]]:
    """How far visits got, and the money, of the days that home shows too."""
    period = usual_period(link.business, now)
    visits = ladders_by_spot(link.business_id, period, [link.pk])
    return visits, money_by_spot(link.business_id, period, [link.pk])


def _found(link: Link, q: str) -> QuerySet[Spot]:
    spots = Spot.objects.filter(link=link)
    for word in q.split()[:8]:
        spots = spots.filter(Q(name__icontains=word) | Q(note__icontains=word) | Q(code__iexact=word))
    return spots


def _line(
    link: Link,
    spot: Spot,
    base: str,
    ladders: dict[AtSpot, Ladder],
    money: dict[AtSpot, list[Money]],
    last_visit: datetime | None,
    now: datetime,
) -> SpotLine:
    ladder = ladders.get((link.pk, spot.pk), Ladder())
    return SpotLine(
        spot,
        f"{base}{link.path if spot.is_first else spot.path}",
        _photo_address(spot),
        ladder,
        conversion(ladder.paid, ladder.opened),
        money.get((link.pk, spot.pk), []),
        last_visit,
        _next(link, spot, ladder, last_visit, now),
    )


def _photo_address(spot: Spot) -> str:
    """Where the smallest file of the photo is shown, or nothing."""
    photo = spot.photo
    return reverse("pictures:show", args=[photo["name"], min(photo["widths"])]) if photo else ""


def _next(link: Link, spot: Spot, ladder: Ladder, last_visit: datetime | None, now: datetime) -> str:
    if spot.ended_at or spot.is_first:
        return ""
    if link.archived_at or link.state == Link.State.ENDED:
        return "The link has ended. Move this spot to another one."
    if link.state == Link.State.DRAFT:
        return "Publish the link before you put it up."
    if last_visit is None:
        return "Nobody has come yet. Is it up?" if now - spot.made_at > PATIENCE else ""
    if now - last_visit > SILENCE:
        return f"Nobody has come for {(now - last_visit).days} days. Is it still up?"
    if ladder.opened >= 50 and not ladder.paid:
        return f"{ladder.opened} came and nobody paid. Do they expect something else there?"
    return ""
