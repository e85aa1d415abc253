"""Who came to the sample's links in its year: by which spot, from where, how far they got, at which field they went.

Behind it is a story that the results let one find: a spot that earns and one that draws crowds and sells nothing, a
question that loses buyers, a price that was lowered and worked.
"""

from __future__ import annotations

import random
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from datetime import UTC, date, datetime, time, timedelta
from functools import cache
from math import cos, pi

from cravik.checkout.asked import AskedField, asked_fields
from cravik.core.statistics.ladder import Rung
from cravik.demo.catalogue import SampleLink
from cravik.journal.models import Campaign, FieldPath, LeftOut, Visit
from cravik.links.life.shown_version import shown_version
from cravik.links.models import Link, Spot


@dataclass(frozen=True)
class Stream:
    """Who comes by one spot: how many against other spots, how much more readily they climb each rung, and how they
    come."""

    weight: float = 1.0
    pull: tuple[float, float, float] = (1.0, 1.0, 1.0)
    phones: float = 0.6
    sites: tuple[str, ...] = ("",)
    campaign: str = ""


#: By the beginning of the spot's name.
_STREAMS: Mapping[str, Stream] = {
    "Main link": Stream(sites=("", "", "search.example", "kiteclub.example")),
    "Stall sign": Stream(0.8, (1.3, 1.2, 1.05), phones=0.95),
    "Winter newsletter": Stream(
        0.9, (1.1, 1.05, 1.0), 0.5, campaign="utm_campaign=winter&utm_medium=email&utm_source=newsletter"
    ),
    "Newsletter": Stream(0.9, (1.1, 1.05, 1.0), 0.5, campaign="utm_campaign=spring&utm_source=newsletter"),
    "Page of the kite club": Stream(0.9, (1.0, 1.0, 1.0), 0.4, ("kiteclub.example",)),
    "Film of the big race": Stream(
        2.6, (0.28, 0.2, 0.5), 0.8, ("films.example",), "utm_medium=video&utm_source=bigrace"
    ),
    "Poster at the lighthouse": Stream(0.7, (1.0, 0.9, 1.0), phones=0.97),
}
#: How many of those who begin and go do so at a field, against one at any other.
_LOSES = {"card_number": 2.5, "answer.flown": 14.0, "email": 1.6, "street": 1.8, "phone": 2.0}
#: How often what is typed in a field is refused at first.
_REFUSED = {"card_number": 0.05, "postcode": 0.06, "email": 0.02, "expiry": 0.03}
_LEFT_OUT = {LeftOut.Reason.ROBOT: 0.05, LeftOut.Reason.PREVIEW: 0.03, LeftOut.Reason.OWN: 0.02}


@dataclass
class Crowd:
    """What came to one link, to be written at once."""

    link: Link
    visits: list[Visit] = field(default_factory=list)
    left_out: list[LeftOut] = field(default_factory=list)

    def write(self, chance: random.Random) -> None:
        Visit.objects.bulk_create(self.visits, batch_size=2000)
        LeftOut.objects.bulk_create(self.left_out, batch_size=2000, ignore_conflicts=True)
        paths = (path_of(visit, chance) for visit in self.visits if visit.rung >= Rung.STARTED)
        FieldPath.objects.bulk_create(paths, batch_size=2000)


def crowd_of(link: Link, sample: SampleLink, now: datetime, chance: random.Random, scale: int) -> Crowd:
    """The visits of as many days as the sample says, each shown the version of its time."""
    crowd, spots = Crowd(link), list(link.spots.all())
    versions = list(link.versions.exclude(number=None).order_by("published_at").values_list("published_at", "id"))
    first, last = sample.up
    for days_ago in range(first, last - 1, -1):
        day = now.date() - timedelta(days=days_ago)
        for _ in range(_how_many(sample.visits_a_day * scale * _season(day), chance)):
            at = datetime.combine(day, time(), UTC) + timedelta(seconds=chance.triangular(6, 23.9, 19) * 3600)
            if not (link.published_at and link.published_at < at < now - timedelta(days=last, minutes=5)):
                continue
            version = [pk for published_at, pk in versions if published_at <= at][-1]
            climbs = sample.climbs if sample.later is None or days_ago > sample.later.days_ago else sample.later.climbs
            there = [spot for spot in spots if spot.made_at <= at and not (spot.ended_at and spot.ended_at < at)]
            crowd.visits.append(_visit(link, version, there, at, climbs, chance))
            for reason, share in _LEFT_OUT.items():
                if chance.random() < share:
                    crowd.left_out.append(_left_out(crowd.visits[-1], reason))
    return crowd


def path_of(visit: Visit, chance: random.Random) -> FieldPath:
    """Which fields the visit came to: all that there are, or up to the one at which it went."""
    assert visit.version_id is not None
    asked = _asked(visit.version_id)
    names = [each.name for each in asked]
    refused: list[str] = []
    if visit.rung == Rung.STARTED:
        names = names[: _went_at(names, chance) + 1]
        blank = []
    else:
        blank = [each.name for each in asked if each.may_go and not each.is_required and chance.random() < 0.6]
        refused = [name for name in names if chance.random() < _REFUSED.get(name, 0)]
    return FieldPath(
        visit=visit,
        business_id=visit.business_id,
        link_id=visit.link_id,
        opened_at=visit.opened_at,
        reached=names,
        blank=blank,
        refused=refused,
        last=names[-1],
    )


def _went_at(names: Sequence[str], chance: random.Random) -> int:
    return chance.choices(range(len(names)), [_LOSES.get(name, 1.0) for name in names])[0]


@cache
def _asked(version_id: int) -> tuple[AskedField, ...]:
    return asked_fields(shown_version(version_id))


def _how_many(expected: float, chance: random.Random) -> int:
    """A count that varies as independent arrivals do, near enough."""
    whole = (
        int(chance.gauss(expected, expected**0.5) + 0.5)
        if expected > 4
        else sum(chance.random() < expected / 20 for _ in range(20))
    )
    return max(0, whole)


def _season(day: date) -> float:
    """Kites fly in summer and sell before Christmas; more is looked at on weekends."""
    summer = 1 + 0.45 * cos(2 * pi * (day.timetuple().tm_yday - 190) / 365)
    gifts = 1.5 if (day.month, day.day) > (11, 20) and (day.month, day.day) < (12, 20) else 1.0
    return summer * gifts * (1.25 if day.weekday() >= 5 else 0.9)


def _visit(
    link: Link, version: int, spots: Sequence[Spot], at: datetime, climbs: tuple[float, ...], chance: random.Random
) -> Visit:
    streams = [_STREAMS.get(spot.name, Stream()) for spot in spots]
    spot, stream = chance.choices(list(zip(spots, streams, strict=True)), [each.weight for each in streams])[0]
    phone = chance.random() < stream.phones
    rung = Rung.OPENED
    for share, pull, following in zip(climbs, stream.pull, (Rung.STARTED, Rung.TRIED, Rung.PAID), strict=True):
        if chance.random() > min(0.98, share * pull):
            break
        rung = following
    pace = chance.lognormvariate(0.35, 0.5) * (1.3 if phone else 1.0)
    after = (0, 25 * pace, 80 * pace, 80 * pace + 1)
    reached = [at + timedelta(seconds=seconds) for seconds in after]
    return Visit(
        business_id=link.business_id,
        link_id=link.pk,
        spot_id=spot.pk,
        version_id=version,
        visitor=f"{chance.getrandbits(128):032x}",
        rung=rung,
        opened_at=at,
        started_at=reached[1] if rung >= Rung.STARTED else None,
        tried_at=reached[2] if rung >= Rung.TRIED else None,
        paid_at=reached[3] if rung >= Rung.PAID else None,
        last_at=reached[rung - 1],
        device=Visit.Device.PHONE if phone else chance.choices((Visit.Device.DESK, Visit.Device.TABLET), (5, 1))[0],
        referrer=chance.choice(stream.sites),
        campaign_id=_campaign(link.business_id, stream.campaign) if stream.campaign else None,
    )


def _campaign(business_id: int, query: str) -> int:
    return Campaign.objects.get_or_create(business_id=business_id, query=query)[0].pk


def _left_out(beside: Visit, reason: LeftOut.Reason) -> LeftOut:
    return LeftOut(
        business_id=beside.business_id,
        link_id=beside.link_id,
        spot_id=beside.spot_id,
        minute=beside.opened_at.replace(second=0, microsecond=0),
        reason=reason,
        visits=1,
    )
