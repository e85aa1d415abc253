"""What is not waited for until it is on the disk, and what is."""

from __future__ import annotations

from django.db import connection, transaction
from django.test import TransactionTestCase

from cravik.upkeep.queued_sqlite.power_cuts import outliving_no_power_cut


class PowerCutsTest(TransactionTestCase):
    def setUp(self) -> None:
        connection.ensure_connection()
        before = self.level()
        self.set_level("FULL")
        self.addCleanup(self.set_level, before)

    def set_level(self, level: str | int) -> None:
        connection.connection.execute(f"PRAGMA synchronous={level}")

    def level(self) -> int:
        return int(connection.connection.execute("PRAGMA synchronous").fetchone()[0])

    def test_only_what_is_written_meanwhile_is_not_waited_for(self) -> None:
        with outliving_no_power_cut(), transaction.atomic():
            self.assertEqual(self.level(), 1)
        self.assertEqual(self.level(), 2)
        with self.assertRaises(ZeroDivisionError), outliving_no_power_cut(), transaction.atomic():
            1 / 0  # noqa: B018
        self.assertEqual(self.level(), 2)

    def test_a_transaction_under_way_is_waited_for(self) -> None:
        with transaction.atomic(), outliving_no_power_cut():
            self.assertEqual(self.level(), 2)

    def test_a_connection_that_was_closed_meanwhile_comes_back_as_it_should_be(self) -> None:
        with outliving_no_power_cut():
            connection.close()
        connection.ensure_connection()
        self.assertNotEqual(self.level(), 1)
