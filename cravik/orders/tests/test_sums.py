"""Sums by day and month: the same figures as visits and ledger, whatever happened when."""

from __future__ import annotations

import io
from datetime import date, datetime, timedelta
from typing import Any
from unittest import mock
from zoneinfo import ZoneInfo

import time_machine
from django.core.management import CommandError, call_command
from django.test import TestCase

from cravik.core.statistics.ladder import Ladder, Rung
from cravik.journal.facets import OF_ALL_LINKS, OF_LINK
from cravik.journal.models import Facet, LateDay, LeftOut, SummedUntil, Visit, VisitSum
from cravik.journal.parts import parts_of
from cravik.journal.queries import left_out, visits_by, visits_by_day, visits_of_links
from cravik.journal.services import VisitedPage, climb, leave_out, open_visit
from cravik.journal.visitors import Visitor
from cravik.links.places.spots import first_spot, make_spot
from cravik.orders.models import MoneySum, Order
from cravik.orders.summing import _read, differences, forget_sums, sum_days
from cravik.orders.takings import money_by, money_by_day, money_of_links
from cravik.payments.models import Movement
from cravik.setup.periods import Period
from tests.factories import BROWSER, BY, BusinessFactory, make_live
from tests.paying import give_back, pay_live

DUBLIN = ZoneInfo("Europe/Dublin")
#: The clocks go forward on the last Sunday of March, and back on that of October.
BEGAN = datetime(2026, 3, 27, 12, tzinfo=DUBLIN)
NOW = datetime(2026, 11, 5, 12, tzinfo=DUBLIN)
SUMMER = datetime(2026, 6, 3, 12, tzinfo=DUBLIN)
SOON = BEGAN + timedelta(days=50)


class SumsTest(TestCase):
    def setUp(self) -> None:
        self.business = BusinessFactory(time_zone="Europe/Dublin")
        with time_machine.travel(BEGAN, tick=False):
            self.links = [make_live(self.business), make_live(self.business, "Tail ribbon", 300)]
            self.spots = [first_spot(link) for link in self.links]
            self.spots.append(make_spot(self.links[0], "Stall sign", BEGAN, by=BY))
        self.period = Period(date(2026, 3, 1), date(2026, 11, 30), "Europe/Dublin")

    def live_until(self, last: datetime) -> None:
        """Visits on every sort of day, at the edges of days and of daylight saving, some paid through the page."""
        instants = [BEGAN + timedelta(days=days, hours=hours) for days in range(0, 222, 3) for hours in (0, 7, 11)]
        edges = ((3, 29), (10, 25), (7, 1), (8, 1))
        instants += [
            datetime(2026, *edge, tzinfo=DUBLIN) + timedelta(minutes=minutes)
            for edge in edges
            for minutes in (-1, 0, 59, 60, 121, 1439, 1440)
        ]
        for number, instant in enumerate(sorted(instant for instant in instants if instant < last)):
            spot = self.spots[number % 3]
            met = VisitedPage(self.business.pk, spot.link_id, spot.pk, spot.link.version_id)
            visitor = Visitor(
                f"v{number}", f"n{number}", ("", "kites.example")[number % 2], ("desk", "phone")[number % 2]
            )
            visit = open_visit(met, visitor, instant, ("", "utm_source=letter")[number % 2]).visit_id
            assert visit is not None
            if number % 4 == 1:
                climb(visit, spot.link_id, Rung(2 + number % 3), instant + timedelta(seconds=20 + number * 7))
            if number % 5 == 0:
                leave_out(met, LeftOut.Reason.ROBOT, instant)
        for month in range(4, last.month):
            with time_machine.travel(datetime(2026, month, 25, 23, 58, tzinfo=DUBLIN), tick=False):
                pay_live(self.client, self.links[0], **{"user-agent": f"{BROWSER} {month}"})

    def figures(self) -> dict[str, Any]:
        """All there is to be read, of periods of several kinds."""
        ids, found = [link.pk for link in self.links], {}
        inner = Period(date(2026, 4, 7), date(2026, 10, 25), "Europe/Dublin")
        for period in (self.period, inner, Period(inner.last, inner.last, "Europe/Dublin")):
            pk, key = self.business.pk, f"{period.first} – {period.last}"
            found[key] = (
                [visits_by(facet, pk, period) for facet in OF_ALL_LINKS],
                [visits_of_links(facet, pk, period, ids) for facet in OF_LINK],
                [money_by(facet, pk, period) for facet in OF_ALL_LINKS],
                [money_of_links(facet, pk, period, ids) for facet in OF_LINK],
                [visits_by_day(pk, period, each) for each in (None, *ids)],
                [money_by_day(pk, period, each) for each in (None, *ids)],
                left_out(pk, period, ids[:1]),
            )
        return found

    def test_figures_are_the_same_with_sums_and_without(self) -> None:
        self.live_until(NOW)
        without = self.figures()
        whole = visits_by(Facet.LINK, self.business.pk, self.period)
        self.assertEqual(sum(each.ladder.opened for each in whole.values()), Visit.objects.count())
        self.assertEqual(sum(each.ladder.paid for each in whole.values()), Visit.objects.filter(rung=4).count())
        by_day = visits_by_day(self.business.pk, self.period, None)
        self.assertEqual(by_day[date(2026, 10, 25)].ladder.opened, 6)
        with self.assertNumQueries(5):
            sum_days(self.business, BEGAN)
        self.assertGreater(sum_days(self.business, NOW), 200)
        self.assertEqual(self.figures(), without)
        parts = parts_of(self.business.pk, self.period)
        self.assertEqual((len(parts.months), len(parts.instants)), (8, 1))
        self.assertEqual(parts_of(self.business.pk, self.period, by_day=True).months, ())
        self.assertEqual(sum_days(self.business, NOW), 0)
        counted = VisitSum.objects.count(), MoneySum.objects.count()
        forget_sums(self.business)
        self.assertEqual(self.figures(), without)
        sum_days(self.business, NOW)
        self.assertEqual((VisitSum.objects.count(), MoneySum.objects.count()), counted)
        self.assertEqual(self.figures(), without)

    def test_what_happens_to_a_day_that_is_summed_is_read_at_once_and_summed_again(self) -> None:
        met = VisitedPage(self.business.pk, self.links[0].pk, self.spots[0].pk)
        visit = open_visit(met, Visitor("a", "n"), BEGAN).visit_id
        assert visit is not None
        for reason in ("robot", "robot"):
            leave_out(met, LeftOut.Reason(reason), BEGAN)
        self.assertEqual(sum_days(self.business, BEGAN + timedelta(days=1)), 0)  # over, but not for a day
        sum_days(self.business, SOON)
        climb(visit, met.link_id, Rung.PAID, BEGAN + timedelta(days=9))
        self.assertEqual(LateDay.objects.count(), 1)
        for _ in range(2):
            ladder = visits_by(Facet.LINK, self.business.pk, self.period)[str(met.link_id)].ladder
            self.assertEqual(ladder, Ladder(1, 1, 1, 1))
            sum_days(self.business, SOON)
        self.assertFalse(LateDay.objects.exists())
        month = VisitSum.objects.get(facet=Facet.LINK, grain="M", day="2026-03-01")
        self.assertEqual((month.paid, month.pace_86400), (1, 0))
        climb(visit, met.link_id, Rung.TRIED, SOON)  # falls nowhere, so nothing is late
        self.assertFalse(LateDay.objects.exists())

    def test_what_happens_while_a_day_is_read_is_not_lost_and_nobody_writes_what_is_old(self) -> None:
        met = VisitedPage(self.business.pk, self.links[0].pk, self.spots[0].pk)
        visits = [open_visit(met, Visitor(mark, "n"), BEGAN).visit_id for mark in "abc"]

        def meanwhile(*, summed: bool) -> Any:
            """Something happens to the day, and maybe somebody else sums, once it has been read."""

            def read_and_then(*day: Any) -> Any:
                read = _read(*day)
                climb(visits.pop(), met.link_id, Rung.STARTED, SOON)
                if summed:
                    with mock.patch("cravik.orders.summing._read", _read):
                        sum_days(self.business, SOON)
                return read

            return mock.patch("cravik.orders.summing._read", read_and_then)

        for summed in (False, True, True):
            with meanwhile(summed=summed):
                sum_days(self.business, BEGAN + timedelta(days=2))
            counted = visits_by(Facet.LINK, self.business.pk, self.period)[str(met.link_id)].ladder.started
            self.assertEqual(counted, 3 - len(visits))
        sum_days(self.business, SOON)
        self.assertEqual(list(differences(self.business)), [])

    def test_another_time_zone_has_other_days(self) -> None:
        met = VisitedPage(self.business.pk, self.links[0].pk, self.spots[0].pk)
        open_visit(met, Visitor("a", "n"), datetime(2026, 4, 1, 0, 30, tzinfo=DUBLIN))
        sum_days(self.business, SOON)
        self.business.time_zone = "America/Chicago"
        self.business.save()
        chicago = Period(date(2026, 3, 31), date(2026, 3, 31), "America/Chicago")
        for _ in range(2):
            self.assertEqual(visits_by_day(self.business.pk, chicago, None).keys(), {date(2026, 3, 31)})
            self.assertEqual(len(visits_by(Facet.DEVICE, self.business.pk, chicago)), 1)
            sum_days(self.business, SOON)
        self.assertEqual(SummedUntil.objects.get().time_zone, "America/Chicago")
        self.assertFalse(VisitSum.objects.filter(day__month=4).exists())

    def test_the_command_finds_what_is_wrong_and_mends_it(self) -> None:
        self.live_until(SUMMER)
        out = io.StringIO()
        with time_machine.travel(SUMMER, tick=False):
            call_command("sums", stdout=out)
            call_command("sums", "--check", stdout=out)
            self.assertIn("Every sum is right.", out.getvalue())
            VisitSum.objects.filter(grain="D", facet=Facet.LINK).order_by("id")[:1].get().delete()
            MoneySum.objects.filter(grain="D", day=date(2026, 5, 25)).update(minor=1)
            self.assertEqual(len(list(differences(self.business))), 2)
            with self.assertRaisesMessage(CommandError, "2 days are wrong"):
                call_command("sums", "--check", stdout=out)
            call_command("sums", "--again", stdout=out)
            call_command("sums", "--check", stdout=out)

    def test_what_was_refunded_counts_on_its_own_day_and_without_rehearsals(self) -> None:
        with time_machine.travel(BEGAN, tick=False):
            pay_live(self.client, self.links[0])
        give_back(Order.objects.get(), "4.00", Movement.objects.get().at + timedelta(days=40))
        sum_days(self.business, SOON)
        by_day = money_by_day(self.business.pk, self.period, self.links[0].pk)
        self.assertEqual(
            {day: [each.major for each in money] for day, money in by_day.items()},
            {date(2026, 3, 27): ["24.00"], date(2026, 5, 6): ["-4.00"]},
        )
        (taken,) = money_by(Facet.DEVICE, self.business.pk, self.period).values()
        self.assertEqual([each.major for each in taken], ["20.00"])
