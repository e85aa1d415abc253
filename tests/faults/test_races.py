"""Many buyers at the same instant for the last of something, against the shipped server: nobody gets what is gone."""

from __future__ import annotations

import unittest
from collections import Counter
from concurrent.futures import ThreadPoolExecutor

from tests.faults.links import bring_in, nothing_leaks, tally
from tests.running import RunningApplication

APPROVES = "9000000000000019"
BUYERS = 14


class RacesTest(unittest.TestCase):
    @classmethod
    def setUpClass(cls) -> None:
        cls.application = RunningApplication.on_sample(cls.addClassCleanup)

    def race(self, path: str, buyers: int = BUYERS, **fields: str) -> Counter[int]:
        """Every buyer opens the page, then all of them press at once; how many got which answer."""
        name = path.strip("/").rpartition("/")[2]
        forms = [
            self.application.filled_in_form(path, APPROVES, f"{name}-{number}@race.example") | fields
            for number in range(buyers)
        ]
        with ThreadPoolExecutor(buyers) as senders:
            answers = Counter(senders.map(lambda form: self.application.post(f"{path}pay/", form)[0], forms))
        self.assertEqual(nothing_leaks(self.application), {})
        return answers

    def sums(self, path: str) -> list[int]:
        """What was paid for each order of the link, in the order of their numbers."""
        slug = path.strip("/").rpartition("/")[2]
        rows = self.application.query(
            "SELECT m.amount_minor FROM payments_movement m JOIN links_address a ON a.link_id = m.link_id"
            " WHERE a.slug = ? ORDER BY m.id",
            slug,
        )
        return [minor for (minor,) in rows]

    def test_the_last_five_pieces(self) -> None:
        items = "SELECT i.code, c.id FROM catalogue_item i JOIN catalogue_variant c ON c.item_id = i.id"
        found = self.application.query(f"{items} WHERE i.code != '' AND c.key = '' ORDER BY i.id LIMIT 1")
        code, variant = found[0]
        path = bring_in(self.application, "Last pieces", items={"thing": code})
        stock = "SELECT count FROM catalogue_variant WHERE id = ?"
        self.application.write("UPDATE catalogue_variant SET count = 5 WHERE id = ?", variant)
        self.assertEqual(self.race(path), {303: 5, 409: BUYERS - 5})
        self.assertEqual(self.application.query(stock, variant), [(0,)])

    def test_the_last_five_pieces_by_twos(self) -> None:
        items = "SELECT i.code, c.id FROM catalogue_item i JOIN catalogue_variant c ON c.item_id = i.id"
        found = self.application.query(f"{items} WHERE i.code != '' AND c.key = '' ORDER BY i.id DESC LIMIT 1")
        code, variant = found[0]
        quantity = {"quantity": {"default": 2, "min": 1, "max": 9}}
        path = bring_in(self.application, "Last pairs", items={"thing": code}, line=quantity)
        self.application.write("UPDATE catalogue_variant SET count = 5 WHERE id = ?", variant)
        self.assertEqual(self.race(path), {303: 2, 409: BUYERS - 2})
        self.assertEqual(self.application.query("SELECT count FROM catalogue_variant WHERE id = ?", variant), [(1,)])

    def test_the_last_three_places(self) -> None:
        path = bring_in(self.application, "Last places", limits={"orders": 3})
        self.assertEqual(self.race(path), {303: 3, 409: BUYERS - 3})
        self.assertEqual(tally(self.application, path), (3, 0))
        self.assertEqual(self.application.get(path)[0], 410)

    def test_the_last_two_uses_of_a_code(self) -> None:
        codes = {"codes": [{"code": "WIND", "kind": "amount", "amount": "4.00"}]}
        path = bring_in(self.application, "Last uses", offer=codes, code_rules={"WIND": {"uses": 2}})
        seen = {"code": "wind ", "seen_total": "20.00", "seen_now": "20.00"}
        self.assertEqual(self.race(path, **seen), {303: 2, 409: BUYERS - 2})
        self.assertEqual(self.sums(path), [2000, 2000])

    def test_the_last_orders_at_a_steps_price(self) -> None:
        dearer = {"line": "thing", "price": {"kind": "fixed", "amount": "30.00"}, "after_orders": 7}
        path = bring_in(self.application, "Last at this price", steps=[dearer])
        self.assertEqual(self.race(path, buyers=50), {303: 7, 409: 43})
        self.assertEqual(self.sums(path), [2400] * 7)
        form = self.application.filled_in_form(path, APPROVES, "late@race.example")
        self.assertEqual((form["seen_total"], self.application.post(f"{path}pay/", form)[0]), ("30.00", 303))
        self.assertEqual(self.sums(path), [2400] * 7 + [3000])
