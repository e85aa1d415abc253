"""Many presses at the same instant, against the shipped server."""

from __future__ import annotations

import unittest
from concurrent.futures import ThreadPoolExecutor

from tests.running import RunningApplication

PAGE = "/for/tail-ribbon-five-metres/"


class AtOnceTest(unittest.TestCase):
    @classmethod
    def setUpClass(cls) -> None:
        cls.application = RunningApplication.on_sample(cls.addClassCleanup)

    def paid_by(self, email: str) -> list[int]:
        rows = self.application.query("SELECT number FROM orders_order WHERE buyer_email = ? ORDER BY number", email)
        return [number for (number,) in rows]

    def test_the_same_page_sent_twelve_times_at_once_is_paid_once(self) -> None:
        form = self.application.filled_in_form(PAGE, "9000000000000019", "once@dunes.example")
        with ThreadPoolExecutor(12) as senders:
            answers = list(senders.map(lambda _: self.application.post(f"{PAGE}pay/", form), range(12)))
        self.assertEqual({status for status, _ in answers}, {303})
        self.assertEqual(len({leads_to.partition("?")[0] for _, leads_to in answers}), 1)
        self.assertEqual(len(self.paid_by("once@dunes.example")), 1)

    def test_sixty_buyers_at_once_are_all_paid_and_numbered_without_a_gap(self) -> None:
        forms = [
            self.application.filled_in_form(PAGE, "9000000000000019", f"b{number}@crowd.example")
            for number in range(60)
        ]
        with ThreadPoolExecutor(12) as senders:
            answers = list(senders.map(lambda form: self.application.post(f"{PAGE}pay/", form)[0], forms))
        self.assertEqual(set(answers), {303})
        rows = self.application.query(
            "SELECT number FROM orders_order WHERE buyer_email LIKE '%@crowd.example' ORDER BY number"
        )
        numbers = [number for (number,) in rows]
        self.assertEqual(len(set(numbers)), 60)
        every = [
            number
            for (number,) in self.application.query(
                "SELECT number FROM orders_order WHERE NOT rehearsal ORDER BY number"
            )
        ]
        self.assertEqual(every, list(range(1001, 1001 + len(every))))
