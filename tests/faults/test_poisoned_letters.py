"""An address that no mail can be sent to, got past every form: everybody else's letters go out all the same."""

from __future__ import annotations

import unittest

from tests.faults.test_killed_server import APPROVES, PAGE, eventually
from tests.running import RunningApplication

POISON = "a@\u200b.de"


class PoisonedLettersTest(unittest.TestCase):
    def test_one_that_cannot_be_sent_holds_up_no_other(self) -> None:
        application = RunningApplication.on_sample(self.addCleanup)
        form = application.filled_in_form(PAGE, APPROVES)
        status, _ = application.post(f"{PAGE}pay/", form | {"email": POISON})
        self.assertEqual(status, 400, "the form does not take it")
        order = application.query("SELECT max(id) FROM orders_order")[0][0]
        application.write("DELETE FROM mailroom_letter WHERE occasion LIKE ?", f"order-{order}%")
        poisoned = "UPDATE orders_order SET buyer_email = ?, letters_due = 1, letters_tries = 0 WHERE id = ?"
        application.write(poisoned, POISON, order)
        status, _ = application.post(f"{PAGE}pay/", form)
        self.assertEqual(status, 303)
        sent = "SELECT count(*) FROM mailroom_letter WHERE to_address = ? AND state = 'sent'"
        self.assertTrue(eventually(lambda: application.query(sent, "maren@dunes.example")[0][0] == 1))
        failed = "SELECT tries, state FROM mailroom_letter WHERE to_address = ?"
        self.assertTrue(eventually(lambda: [row for row in application.query(failed, POISON) if row[0] >= 1] != []))
