"""The day's back-up, what is told of it, and which of them stay."""

from __future__ import annotations

import itertools
import os
from datetime import timedelta
from unittest import mock

from cravik.mailroom.models import Letter
from cravik.people.models import Membership
from cravik.upkeep.archive.by_hand import take_wanted
from cravik.upkeep.archive.daily import newest_daily, take_daily_if_due, trouble_now
from cravik.upkeep.archive.shelf import archive_named, check, shelf
from cravik.upkeep.archive.taking import BackupFailed, take_before_upgrade, take_by_hand
from cravik.upkeep.archive.tests.base import ArchiveTestCase
from cravik.upkeep.archive.wanted import is_wanted, last_outcome, put_outcome_aside, restore_wanted, want_restore
from tests.factories import NOW, UserFactory


class DailyTest(ArchiveTestCase):
    def test_no_gap_grows_to_a_day_whenever_it_is_started(self) -> None:
        taken = []
        for minute in range(0, 3 * 24 * 60, 5):
            now = NOW + timedelta(minutes=minute)
            if take_daily_if_due(now).startswith("cravik-"):
                taken.append(now)
        gaps = [after - before for before, after in itertools.pairwise(taken)]
        self.assertEqual(len(taken), 4)
        self.assertLess(max(gaps), timedelta(days=1))
        newest = newest_daily()
        self.assertEqual((newest.taken_at, newest.is_sound), (taken[-1], True))

    def test_one_that_fails_is_told_once_and_tried_again_within_the_hour(self) -> None:
        user = UserFactory(is_superuser=True)
        Membership.objects.create(user=user, business=self.link.business)
        failing = mock.patch("cravik.upkeep.archive.daily.take_daily", side_effect=BackupFailed("The disk is gone."))
        tries = 0
        with failing as taking, self.assertLogs("cravik.backup", "ERROR"):
            for minute in range(0, 61, 5):
                take_daily_if_due(NOW + timedelta(minutes=minute))
            tries = taking.call_count
        self.assertEqual(tries, 4)
        trouble = trouble_now()
        self.assertEqual((trouble.since, trouble.words), (NOW, "The disk is gone."))
        letter = Letter.objects.get()
        self.assertEqual((letter.to_address, "The disk is gone." in letter.text), (user.email, True))
        take_daily_if_due(NOW + timedelta(hours=2))
        self.assertIsNone(trouble_now())
        self.assertTrue(newest_daily().is_sound)

    def test_one_that_a_wrong_clock_took_counts_for_nothing(self) -> None:
        take_daily_if_due(NOW + timedelta(days=300))
        self.assertIn("cravik-2026", take_daily_if_due(NOW))

    def test_a_spoiled_one_counts_for_nothing(self) -> None:
        take_daily_if_due(NOW)
        (archive,) = shelf()
        archive.path.write_bytes(archive.path.read_bytes()[:-20])
        check(archive.path, NOW)
        self.assertIsNone(newest_daily())
        self.assertIn("cravik-", take_daily_if_due(NOW + timedelta(minutes=5)))
        self.assertEqual([each.is_sound for each in shelf()], [True])

    def test_those_by_hand_and_before_an_upgrade_stay(self) -> None:
        kept = {take_by_hand(NOW - timedelta(days=28)), take_before_upgrade(NOW - timedelta(days=27))}
        for day in range(5):
            take_daily_if_due(NOW + timedelta(days=day))
            take_daily_if_due(NOW + timedelta(days=day, hours=1))
        self.assertEqual(take_wanted(NOW + timedelta(days=5)), "")
        self.assertEqual([each.why for each in shelf()], ["by-hand", "daily", "daily", "upgrade", "by-hand"])
        self.assertTrue(all(path.exists() for path in kept))
        self.assertIsNone(archive_named("../secret_key"))


class WantedTest(ArchiveTestCase):
    def test_what_cannot_be_restored_is_said_and_asked_for_once(self) -> None:
        want_restore("nothing.tar.gz")
        self.assertFalse(is_wanted(), "whoever asked is answered first")
        os.utime(self.data / "restore-wanted", (0, 0))
        self.assertTrue(is_wanted())
        with self.assertLogs("cravik.restore", "ERROR"):
            restore_wanted(NOW)
        self.assertFalse(is_wanted())
        outcome = last_outcome()
        self.assertFalse(outcome.is_done)
        self.assertIn("There is no back-up nothing.tar.gz any more. Nothing was changed.", outcome.words)
        put_outcome_aside()
        self.assertIsNone(last_outcome())
