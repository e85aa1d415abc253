"""The results on the command line: exactly what the pages say, as JSON."""

from __future__ import annotations

import argparse
import json
from datetime import date
from typing import Any

from django.core.management.base import CommandError, CommandParser
from django.utils import timezone

from cravik.links.finding.found import sorted_links
from cravik.links.models import Address, Link, Spot
from cravik.links.queries import listed_links
from cravik.people.models import Business
from cravik.results.comparing import OF_ALL_LINKS, OF_LINK
from cravik.results.comparing.base import Scope
from cravik.results.comparing.comparison import comparison_of
from cravik.results.report import figures_of, report
from cravik.setup.periods import day_in, period_of
from cravik.upkeep.commands import DataCommand

UNKNOWN = 2


class Command(DataCommand):
    help = (
        "Print visits, rates with their 95 % interval, and money by link and spot, as JSON. Days are the seller's, both"
        " included; without them the last 30. Exit status 2 for what is not there."
    )

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("--business", metavar="NAME", help="whose, where there are several businesses")
        parser.add_argument("--link", metavar="SLUG", help="of this link alone")
        parser.add_argument("--spot", metavar="CODE", help="of this spot alone")
        parser.add_argument(
            "--by", choices=sorted({*OF_ALL_LINKS, *OF_LINK}), help="compared by this, as the page does"
        )
        parser.add_argument("--from", dest="first", metavar="DAY", type=_day)
        parser.add_argument("--to", dest="last", metavar="DAY", type=_day)

    def handle(self, *args: Any, **options: Any) -> None:
        business = _business(options["business"], options["link"], options["spot"])
        period = period_of(business, options["first"], options["last"], timezone.now())
        if period.first > period.last:
            raise CommandError(f"{period.first} is after {period.last}.", returncode=UNKNOWN)
        links = sorted_links(listed_links(Link.objects.of(business)), "")
        if options["link"]:
            links = links.filter(addresses__slug=options["link"])
        if options["spot"]:
            links = links.filter(spots__code=options["spot"].upper())
        found = list(links)
        if not found and (options["link"] or options["spot"]):
            raise CommandError("There is no such link or spot.", returncode=UNKNOWN)
        document = report(business, period, found, options["spot"] or "")
        if options["by"]:
            scope = Scope(business, period, found[0] if options["link"] else None)
            document = _compared(scope, options["by"])
        self.stdout.write(json.dumps(document, ensure_ascii=False, indent=2))


def _compared(scope: Scope, by: str) -> dict[str, Any]:
    """The rows of the page in its order, and its sentence."""
    kind = (OF_LINK if scope.link else OF_ALL_LINKS).get(by)
    if kind is None:
        goes = "for all links together" if scope.link else "for one link: add --link SLUG"
        raise CommandError(f"--by {by} goes {goes}.", returncode=UNKNOWN)
    comparison = comparison_of(kind, scope)
    return {
        "from": scope.period.first.isoformat(),
        "to": scope.period.last.isoformat(),
        "time_zone": scope.period.time_zone,
        "says": "".join(piece.text for piece in comparison.sentence),
        "by": by,
        "rows": [{"name": row.counted.name, **figures_of(row.counted)} for row in comparison.rows],
    }


def _day(text: str) -> date:
    if day := day_in(text):
        return day
    raise argparse.ArgumentTypeError(f"“{text[:40]}” is no day such as 2026-11-23")


def _business(name: str | None, slug: str | None, code: str | None) -> Business:
    """The business that is named, the one whose link or spot is meant, or the only one."""
    businesses = Business.objects.all()
    if name:
        businesses = businesses.filter(name=name)
    elif slug:
        businesses = businesses.filter(id__in=Address.objects.filter(slug=slug).values("link__business"))
    elif code:
        businesses = businesses.filter(id__in=Spot.objects.filter(code=code.upper()).values("link__business"))
    found = list(businesses[:2])
    if not found:
        raise CommandError("There is no such business, link or spot.", returncode=UNKNOWN)
    if len(found) > 1:
        raise CommandError("There are several businesses: say which with --business NAME.", returncode=UNKNOWN)
    return found[0]
