"""Many presses at the same instant, against the shipped server."""

from __future__ import annotations

import json
import re
import tempfile
import unittest
from concurrent.futures import ThreadPoolExecutor
from typing import Any
from urllib.parse import urlsplit

from tests.links import document, line
from tests.page_fields import picked_in
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

    def test_fifty_buyers_at_once_for_the_last_seven_at_a_price(self) -> None:
        """Seven get it, the others are shown the new sum and charged nothing; pressed again, they pay that."""
        step = {"line": "seat", "price": {"kind": "fixed", "amount": "200.00"}, "after_orders": 7}
        page = self.page_of(document(line("seat", "Seat", "150.00"), steps=[step]))
        forms = [
            self.application.filled_in_form(page, "9000000000000019", f"s{number}@seats.example")
            for number in range(50)
        ]
        with ThreadPoolExecutor(12) as senders:
            answers = list(senders.map(lambda form: self.application.post(f"{page}pay/", form)[0], forms))
        self.assertEqual((answers.count(303), answers.count(409)), (7, 43))
        self.assertEqual(self.sums_of("seats.example"), [15_000] * 7)
        late = forms[answers.index(409)]
        shown = self.application.post(f"{page}pay/", late)[1]
        again = picked_in(shown)
        self.assertEqual(again["seen_total"], "200.00")
        token = re.findall(r'name="page" value="([^"]+)"', shown)[-1]
        self.assertEqual(self.application.post(f"{page}pay/", late | again | {"page": token})[0], 303)
        self.assertEqual(self.sums_of("seats.example"), [15_000] * 7 + [20_000])

    def page_of(self, link: dict[str, Any]) -> str:
        """Where the link of that document is, published."""
        with tempfile.NamedTemporaryFile("w", suffix=".json") as file:
            json.dump(link, file)
            file.flush()
            address = self.application.run("link", "import", file.name, "--publish")
        return urlsplit(address.strip()).path

    def sums_of(self, place: str) -> list[int]:
        """What the counter took of the buyers with addresses there, each."""
        rows = self.application.query(
            "SELECT moved.amount_minor FROM payments_movement AS moved"
            " JOIN payments_due AS due ON due.id = moved.due_id"
            " JOIN checkout_checkout AS checkout ON checkout.id = due.checkout_id WHERE checkout.buyer_email LIKE ?"
            " ORDER BY moved.id",
            f"%@{place}",
        )
        return [minor for (minor,) in rows]
