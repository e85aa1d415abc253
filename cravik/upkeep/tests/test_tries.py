"""Bounds on trying: exact however many come at once, and over when their time is."""

from __future__ import annotations

import threading
from datetime import timedelta
from unittest import mock

from django.db import DatabaseError, connection
from django.test import TestCase, TransactionTestCase

from cravik.upkeep.models import Tries
from cravik.upkeep.tries import Bound, forget_tries, give_back, take_try
from tests.factories import NOW

BOUND = Bound(10, timedelta(hours=1))


class TriesTest(TestCase):
    def take(self, minutes: int = 0, whose: str = "a") -> bool:
        return take_try("guess", whose, bound=BOUND, now=NOW + timedelta(minutes=minutes))

    def test_so_many_are_granted_in_a_window_that_trying_on_does_not_move(self) -> None:
        self.assertEqual([self.take(minutes) for minutes in range(12)], [True] * 10 + [False] * 2)
        self.assertFalse(self.take(59))
        self.assertTrue(self.take(60))
        self.assertTrue(self.take(whose="b"))
        self.assertEqual(Tries.objects.count(), 2)

    def test_one_that_was_right_does_not_count(self) -> None:
        for _ in range(30):
            self.assertTrue(self.take())
            give_back("guess", "a")

    def test_what_is_over_is_dropped_and_nobodys_address_is_kept(self) -> None:
        self.take(whose="203.0.113.9")
        self.assertNotIn("203", Tries.objects.get().key)
        self.assertEqual([forget_tries(NOW), forget_tries(NOW + timedelta(hours=2))], [0, 1])

    def test_where_it_cannot_be_written_nobody_is_kept_out(self) -> None:
        with mock.patch("cravik.upkeep.tries._taken", side_effect=DatabaseError("disk full")):
            self.assertTrue(self.take())


class AtOnceTest(TransactionTestCase):
    def test_sixty_at_once_get_ten(self) -> None:
        granted: list[bool] = []
        start = threading.Barrier(12)

        def guess() -> None:
            start.wait()
            for _ in range(5):
                granted.append(take_try("guess", "a", bound=BOUND, now=NOW))
            connection.close()

        threads = [threading.Thread(target=guess) for _ in range(12)]
        for thread in threads:
            thread.start()
        for thread in threads:
            thread.join()
        self.assertEqual((len(granted), granted.count(True)), (60, 10))
