"""The figures on the command line: the same that home shows."""

from __future__ import annotations

import io
import json
from datetime import timedelta
from typing import Any

import time_machine
from django.core.management import CommandError, call_command
from django.test import TestCase
from django.utils import timezone

from cravik.core.statistics.rates import MIN_VISITS_TO_TELL, conversion
from cravik.journal.models import Visit
from cravik.journal.services import VisitedPage, climb, open_visit
from cravik.journal.visitors import Visitor
from cravik.links.places.spots import make_spot, move_spot
from cravik.orders.models import Order
from cravik.payments.models import Movement
from tests.factories import BROWSER, BY, NOW, MembershipFactory, make_live
from tests.paying import filled_in, give_back, pay_live, send


def results(*arguments: str) -> dict[str, Any]:
    out = io.StringIO()
    call_command("results", *arguments, stdout=out)
    found: dict[str, Any] = json.loads(out.getvalue())
    return found


class ResultsCommandTest(TestCase):
    def setUp(self) -> None:
        self.member = MembershipFactory(business__time_zone="Europe/Dublin")
        self.link = make_live(self.member.business)
        self.stall = make_spot(self.link, "Stall sign", NOW, by=BY)

    def test_figures_are_by_link_and_spot_and_those_of_home(self) -> None:
        pay_live(self.client, self.link)
        page = self.client.get(self.stall.path, headers={"user-agent": f"{BROWSER} stall"})
        form = filled_in(page, email="b@dunes.example")
        send(self.client, self.link, form, **{"user-agent": f"{BROWSER} stall"})
        found = results()
        link = found["links"][0]
        self.assertEqual((link["opened"], link["paid"], link["money"], link["rate"]), (2, 2, {"EUR": "48.00"}, None))
        self.assertEqual(
            [(spot["name"], spot["paid"], spot["money"]) for spot in link["spots"]],
            [("Main link", 1, {"EUR": "24.00"}), ("Stall sign", 1, {"EUR": "24.00"})],
        )
        self.assertEqual((found["time_zone"], found["left_out"]), ("Europe/Dublin", {}))
        self.client.force_login(self.member.user)
        row = self.client.get("/").context["rows"][0]
        self.assertEqual((row.ladder.opened, row.ladder.paid, row.money[0].major), (2, 2, "48.00"))

    def test_what_a_spot_brought_before_it_was_moved_stays_with_the_link_of_that_time(self) -> None:
        other = make_live(self.member.business, "Tail ribbon", 300)
        self.client.get(self.stall.path, headers={"user-agent": f"{BROWSER} one"})
        move_spot(self.stall, other, NOW, by=BY)
        for number in range(2):
            self.client.get(self.stall.path, headers={"user-agent": f"{BROWSER} {number}"})
        by_link = {
            link["link"]: {spot["name"]: spot["opened"] for spot in link["spots"]} for link in results()["links"]
        }
        self.assertEqual(by_link[self.link.slug]["Stall sign"], 1)
        self.assertEqual(by_link[other.slug]["Stall sign"], 2)

    def test_rates_have_their_interval_once_there_is_enough_to_tell(self) -> None:
        first = self.link.spots.get(is_first=True)
        now = timezone.now()
        for number in range(MIN_VISITS_TO_TELL):
            here = VisitedPage(self.link.business_id, self.link.pk, first.pk)
            visit = open_visit(here, Visitor(f"v{number}"), now).visit_id
            if number < 5:
                climb(visit, self.link.pk, 4, now)
        link = results("--link", self.link.slug)["links"][0]
        rate = conversion(5, MIN_VISITS_TO_TELL)
        expected = tuple(f"{share:.4f}" for share in (rate.share, rate.low, rate.high))
        self.assertEqual((link["rate"], link["rate_low"], link["rate_high"]), expected)

    def test_days_are_the_sellers_and_both_included(self) -> None:
        first = self.link.spots.get(is_first=True)
        met = VisitedPage(self.link.business_id, self.link.pk, first.pk)
        # Half past eleven at night in UTC is half past twelve of the next day in a Dublin summer.
        for day, hour in ((14, 22), (14, 23), (15, 22), (15, 23)):
            open_visit(met, Visitor(f"{day}-{hour}"), NOW.replace(month=7, day=day, hour=hour, minute=30))
        found = results("--from", "2026-07-15", "--to", "2026-07-15")
        self.assertEqual((found["links"][0]["opened"], found["from"], found["to"]), (2, "2026-07-15", "2026-07-15"))
        with time_machine.travel(NOW, tick=False):
            usual = results()
        self.assertEqual((usual["from"], usual["to"]), ("2026-10-25", "2026-11-23"))

    def test_money_is_net_of_refunds_on_the_day_on_which_it_moved(self) -> None:
        pay_live(self.client, self.link)
        give_back(Order.objects.get(), "4.00", Movement.objects.get().at + timedelta(days=1))
        today = timezone.now().astimezone().date()
        money = [
            results("--from", str(today), "--to", str(today + timedelta(days=days)))["links"][0]["money"]
            for days in (0, 2)
        ]
        self.assertEqual(money, [{"EUR": "24.00"}, {"EUR": "20.00"}])

    def test_one_spot_alone_and_what_is_not_there(self) -> None:
        found = results("--spot", self.stall.code.lower())
        self.assertEqual([spot["spot"] for spot in found["links"][0]["spots"]], [self.stall.code])
        other = make_live(purpose="Box kite")
        for arguments in (
            ("--link", "nowhere"),
            ("--spot", "XXXXXX"),
            ("--business", "Nobody"),
            (),
            ("--from", "2026-02-02", "--to", "2026-01-01", "--business", other.business.name),
        ):
            with self.subTest(arguments), self.assertRaises(CommandError) as refused:
                results(*arguments)
            self.assertEqual(refused.exception.returncode, 2)
        self.assertEqual(len(results("--link", other.slug)["links"]), 1)
        self.assertEqual(Visit.objects.count(), 0)
