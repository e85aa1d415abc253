"""What a newcomer does first: start on an empty folder with the sample, and buy something."""

from __future__ import annotations

import tempfile
import unittest

from tests.faults.test_killed_server import APPROVES, PAGE, eventually
from tests.running import RunningApplication

_SENT = """
SELECT count(*) FROM mailroom_letter WHERE kind = 'receipt' AND state = 'sent' AND enclosed != '[]' AND order_id =
    (SELECT max(id) FROM orders_order)
"""


class FirstStartTest(unittest.TestCase):
    def test_a_receipt_is_sent_with_its_document(self) -> None:
        with tempfile.TemporaryDirectory() as data, RunningApplication(data, "--demo") as application:
            status, _ = application.post(f"{PAGE}pay/", application.filled_in_form(PAGE, APPROVES))
            self.assertEqual(status, 303)
            self.assertTrue(eventually(lambda: application.query(_SENT)[0][0] == 1), application.complaints()[-2000:])
