"""Many payments while the application is killed again and again: none is lost or doubled, and nothing leaks."""

from __future__ import annotations

import random
import time
import unittest

from tests.faults.crowd import Crowd
from tests.faults.links import import_published, nothing_leaks, tally
from tests.faults.test_killed_server import eventually
from tests.running import RunningApplication
from tests.sampling import count_of

PAYMENTS, KILLS = count_of(200, 50), count_of(6, 2)
SENDERS, PLACES, STOCK = 4, 150, 120


class KilledAtRandomTest(unittest.TestCase):
    def setUp(self) -> None:
        self.application = RunningApplication.on_sample(self.addCleanup)

    def test_no_payment_is_lost_doubled_oversold_or_leaked(self) -> None:
        items = "SELECT i.code, c.id FROM catalogue_item i JOIN catalogue_variant c ON c.item_id = i.id"
        code, variant = self.application.query(f"{items} WHERE i.code != '' AND c.key = '' LIMIT 1")[0]
        self.application.write("UPDATE catalogue_variant SET count = ? WHERE id = ?", STOCK, variant)
        codes = {"codes": [{"code": "WIND", "kind": "percent", "percent": "50"}]}
        paths = [
            import_published(self.application, "Places", limits={"orders": PLACES, "pieces": {"thing": PLACES}}),
            import_published(self.application, "Pieces", items={"thing": code}),
            import_published(self.application, "Codes", offer=codes, code_rules={"WIND": {"uses": 30}}),
        ]
        chance = random.Random(11)
        crowd = Crowd(self.application, paths, SENDERS, PAYMENTS)
        crowd.start()
        kills = 0
        while crowd.is_paying:
            time.sleep(chance.uniform(0.6, 1.6))
            if kills < KILLS:
                self.application.kill_everything()
                self.application.start()
                kills += 1
        crowd.wait()
        self.assertGreater(kills, 1)
        # What is still open when nobody pays any more is brought to its end at the next start.
        self.application.kill_everything()
        self.application.start()
        self.assertTrue(eventually(lambda: nothing_leaks(self.application) == {}, 90), nothing_leaks(self.application))
        buyers = {email for (email,) in self.application.query("SELECT buyer_email FROM orders_order")}
        self.assertLessEqual(crowd.paid.keys(), buyers, "a buyer was told that they had paid, and there is no order")
        self.assertGreater(len(crowd.paid), PAYMENTS // 4)
        sold = sum(tally(self.application, path)[0] for path in paths[1:2])
        self.assertGreater(sold, PAYMENTS // 20, "counted stock was among what the killed server sold")
        left = self.application.query("SELECT count FROM catalogue_variant WHERE id = ?", variant)[0][0]
        self.assertEqual(left, STOCK - sold)
        self.assertLessEqual(tally(self.application, paths[0])[0], PLACES)
        numbers = [n for (n,) in self.application.query("SELECT number FROM orders_order WHERE NOT rehearsal")]
        self.assertEqual(sorted(numbers), list(range(1001, 1001 + len(numbers))))
