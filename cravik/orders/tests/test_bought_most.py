"""What buyers bought most is the first case of the what-if table."""

from __future__ import annotations

from django.test import Client

from cravik.orders.bought_most import bought_most_of
from tests.bench_form import BenchCase
from tests.links import line, make_link
from tests.paying import pay_live


class BoughtMostTest(BenchCase):
    def test_the_first_case_is_what_most_of_the_last_orders_had(self) -> None:
        span = {"name": "Span", "options": [{"name": "1.2 m"}, {"name": "1.8 m", "add": "6.00"}]}
        link = make_link(line(quantity={"max": 9}, choices=[span]), business=self.member.business)
        self.assertIsNone(bought_most_of(link))
        bought = (("1", "1.2 m", "24.00"), ("3", "1.8 m", "90.00"), ("3", "1.8 m", "90.00"))
        for number, (quantity, option, total) in enumerate(bought):
            picked = {"quantity.kite": quantity, "option.kite.1": option, "seen_total": total, "seen_now": total}
            pay_live(Client(), link, email=f"maren{number}@dunes.example", **picked)
        most = {"lines": [{"key": "kite", "quantity": 3, "options": {"Span": "1.8 m"}}]}
        self.assertEqual(bought_most_of(link), most)
        self.assertContains(self.client.get(f"/links/{link.pk}/"), "€90.00")
