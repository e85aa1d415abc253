"""What is to come soon, as home and results say it: by hand, from what each buyer agreed to."""

from __future__ import annotations

from datetime import date

import time_machine
from django.test import TestCase

from cravik.links.models import Link
from cravik.orders.models import Order
from cravik.orders.running.to_come import to_come
from cravik.orders.running_path import running_path
from cravik.payments.models import KeptCard
from cravik.setup.models import RunningSettings
from tests.factories import MembershipFactory
from tests.over_time import DEPOSIT, ENDLESS, INSTALMENTS, buy, live, noon

JAN_10, FEB_9 = date(2026, 1, 10), date(2026, 2, 9)


class ToComeTest(TestCase):
    def setUp(self) -> None:
        member = MembershipFactory(business__time_zone="Europe/Dublin")
        self.business = member.business
        self.client.force_login(member.user)

    def sums(self, today: date, link: Link | None = None) -> list[tuple[str, str]]:
        return [(each.major, each.currency) for each in to_come(self.business, today, link)]

    def test_nothing_where_nothing_runs(self) -> None:
        buy(self.business, {"kind": "once"}, JAN_10)
        self.assertEqual(self.sums(JAN_10), [])

    def test_what_falls_due_in_thirty_days_whether_it_is_taken_or_asked_for(self) -> None:
        buy(self.business, INSTALMENTS, JAN_10)  # 33.33 on 10 February and on 10 March
        club = buy(self.business, ENDLESS, JAN_10, "10.00")
        buy(self.business, DEPOSIT, JAN_10, "50.00")  # 40.00 on 9 February, taken
        RunningSettings.objects.create(
            business=self.business, revision=1, decided_at=noon(JAN_10, self.business), rest=RunningSettings.Rest.ASKED
        )
        buy(self.business, DEPOSIT, JAN_10, "5.00")  # 4.00 on 9 February, asked for
        buy(self.business, ENDLESS, JAN_10, "7", currency="JPY")
        self.assertEqual(self.sums(JAN_10), [("44.00", "EUR")])
        self.assertEqual(self.sums(date(2026, 1, 12)), [("87.33", "EUR"), ("7", "JPY")])
        self.assertEqual(self.sums(date(2026, 1, 12), club.link), [("10.00", "EUR")])
        self.assertEqual(self.sums(date(2026, 2, 11)), [("43.33", "EUR"), ("7", "JPY")])

    def test_no_longer_once_it_is_paid_late_or_paused(self) -> None:
        order = buy(self.business, ENDLESS, JAN_10, "10.00")
        late = buy(self.business, ENDLESS, JAN_10, "5.00")
        KeptCard.objects.filter(kept_by__checkout=late.checkout).update(token="gone")
        self.assertEqual(self.sums(date(2026, 2, 10)), [("30.00", "EUR")])  # then, and on 10 March
        live(self.business, date(2026, 2, 10), date(2026, 2, 10))
        self.assertEqual(Order.objects.get(id=late.pk).paid.major, "5.00")  # declined: in arrears, not to come
        self.assertEqual(self.sums(date(2026, 2, 11)), [("15.00", "EUR")])  # each again on 10 March
        with time_machine.travel(noon(date(2026, 2, 11), self.business), tick=False):
            self.client.post(running_path(order), {"act": "pause"})
        self.assertEqual(self.sums(date(2026, 2, 11)), [("5.00", "EUR")])

    def test_home_and_results_say_it_apart_from_what_was_paid(self) -> None:
        order = buy(self.business, ENDLESS, JAN_10, "1234.00")
        other = buy(self.business, {"kind": "once"}, JAN_10)
        with time_machine.travel(noon(date(2026, 1, 12), self.business), tick=False):
            self.assertContains(self.client.get("/"), "To come")
            for page in ("/results/", f"/links/{order.link_id}/results/"):
                said = self.client.get(page).content.decode()
                self.assertIn("not counted here until it is paid", said)
                self.assertIn(
                    'counted here until it is paid: <span class="money">€1,234.00</span>', " ".join(said.split())
                )
            self.assertNotContains(self.client.get(f"/links/{other.link_id}/results/"), "To come")
