"""Many buyers at the same instant for the last of something, against the shipped server: nobody gets what is gone."""

from __future__ import annotations

import random
import unittest
from collections import Counter
from concurrent.futures import ThreadPoolExecutor

from tests.faults.links import import_published, nothing_leaks, pieces, tally
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
        path = import_published(self.application, "Last pieces", items={"thing": code})
        stock = "SELECT count FROM catalogue_variant WHERE id = ?"
        self.application.write("UPDATE catalogue_variant SET count = 5 WHERE id = ?", variant)
        self.assertEqual(self.race(path), {303: 5, 409: BUYERS - 5})
        self.assertEqual(self.application.query(stock, variant), [(0,)])

    def test_the_last_five_pieces_by_twos(self) -> None:
        items = "SELECT i.code, c.id FROM catalogue_item i JOIN catalogue_variant c ON c.item_id = i.id"
        found = self.application.query(f"{items} WHERE i.code != '' AND c.key = '' ORDER BY i.id DESC LIMIT 1")
        code, variant = found[0]
        quantity = {"quantity": {"default": 2, "min": 1, "max": 9}}
        path = import_published(self.application, "Last pairs", items={"thing": code}, line=quantity)
        self.application.write("UPDATE catalogue_variant SET count = 5 WHERE id = ?", variant)
        self.assertEqual(self.race(path), {303: 2, 409: BUYERS - 2})
        self.assertEqual(self.application.query("SELECT count FROM catalogue_variant WHERE id = ?", variant), [(1,)])

    def test_the_last_three_places(self) -> None:
        path = import_published(self.application, "Last places", limits={"orders": 3})
        self.assertEqual(self.race(path), {303: 3, 409: BUYERS - 3})
        self.assertEqual(tally(self.application, path), (3, 0))
        self.assertEqual(self.application.get(path)[0], 410)

    def test_the_last_five_places_by_ones_twos_and_threes(self) -> None:
        """Forty buyers at once, in three drawn orders: what is paid is what is taken, and never more than there is."""
        for seed in range(3):
            with self.subTest(seed=seed):
                self.last_places(seed)

    def last_places(self, seed: int) -> None:
        wanted = [number for number in (1, 2, 3) for _ in range(13)] + [1]
        random.Random(seed).shuffle(wanted)
        line, limits = {"quantity": {"max": None}}, {"pieces": {"thing": 5}}
        path = import_published(self.application, f"Last seats {seed}", limits=limits, line=line)
        forms = []
        for number, many in enumerate(wanted):
            form = self.application.filled_in_form(path, APPROVES, f"seat-{seed}-{number}@race.example")
            total = f"{24 * many}.00"
            forms.append(form | {"quantity.thing": str(many), "seen_total": total, "seen_now": total})
        with ThreadPoolExecutor(len(forms)) as senders:
            answers = list(senders.map(lambda form: self.application.post(f"{path}pay/", form)[0], forms))
        taken = [many for many, answer in zip(wanted, answers, strict=True) if answer == 303]
        self.assertEqual((set(answers), sum(taken)), ({303, 409}, 5), "ones are there to fill it up")
        self.assertEqual(sorted(self.sums(path)), sorted(2400 * many for many in taken))
        self.assertEqual(pieces(self.application, path), {"thing": (5, 0)})
        self.assertEqual(self.application.get(path)[0], 410)
        self.assertEqual(nothing_leaks(self.application), {})

    def test_the_last_two_uses_of_a_code(self) -> None:
        codes = {"codes": [{"code": "WIND", "kind": "amount", "amount": "4.00"}]}
        path = import_published(self.application, "Last uses", offer=codes, code_rules={"WIND": {"uses": 2}})
        seen = {"code": "wind ", "seen_total": "20.00", "seen_now": "20.00"}
        self.assertEqual(self.race(path, **seen), {303: 2, 409: BUYERS - 2})
        self.assertEqual(self.sums(path), [2000, 2000])

    def test_the_last_orders_at_a_steps_price(self) -> None:
        dearer = {"line": "thing", "price": {"kind": "fixed", "amount": "30.00"}, "after_orders": 7}
        path = import_published(self.application, "Last at this price", steps=[dearer])
        self.assertEqual(self.race(path, buyers=50), {303: 7, 409: 43})
        self.assertEqual(self.sums(path), [2400] * 7)
        form = self.application.filled_in_form(path, APPROVES, "late@race.example")
        self.assertEqual((form["seen_total"], self.application.post(f"{path}pay/", form)[0]), ("30.00", 303))
        self.assertEqual(self.sums(path), [2400] * 7 + [3000])
