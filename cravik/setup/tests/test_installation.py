"""The page of those who look after the installation, and what machines ask of its health."""

from __future__ import annotations

import os
from datetime import timedelta

from django.test import Client, override_settings
from django.utils import timezone

from cravik import VERSION
from cravik.people.models import Business, Membership, User
from cravik.people.services import make_first_business
from cravik.upkeep.archive.daily import take_daily_if_due
from cravik.upkeep.archive.shelf import check, shelf
from cravik.upkeep.archive.taking import take_by_hand
from cravik.upkeep.archive.tests.base import ArchiveTestCase
from cravik.upkeep.health import look_into
from cravik.upkeep.make import write_version
from cravik.upkeep.pulse import beat_now
from tests.factories import NOW, PASSWORD, UserFactory

PAGE = "/setup/installation/"
STRANGER = {"REMOTE_ADDR": "203.0.113.9"}
TOKEN = "a token of some length"


class InstallationTestCase(ArchiveTestCase):
    def setUp(self) -> None:
        super().setUp()
        write_version(self.data)
        beat_now()
        self.user = UserFactory(is_superuser=True)
        self.user.set_password(PASSWORD)
        self.user.save()
        Membership.objects.create(user=self.user, business=self.link.business)
        self.client.force_login(self.user)


class PageTest(InstallationTestCase):
    def test_only_those_who_look_after_it_see_it(self) -> None:
        other = UserFactory()
        Membership.objects.create(user=other, business=self.link.business)
        name = take_by_hand(NOW).name
        client = Client()
        client.force_login(other)
        for path in (PAGE, f"{PAGE}{name}/", f"{PAGE}{name}/restore/", f"{PAGE}{name}/remove/", f"{PAGE}back-up/"):
            for method in (client.get, client.post):
                self.assertIn(method(path).status_code, (404, 405), path)
        self.assertNotContains(client.get("/setup/?q=backup"), "This installation")
        self.assertContains(self.client.get("/setup/?q=backup"), "This installation")

    def test_who_opens_the_first_business_looks_after_it(self) -> None:
        User.objects.all().delete()
        business = Business(
            name="Dunes", country="IE", currency="EUR", statement_text="DUNES", support_email="a@b.example"
        )
        user = make_first_business(User(email="first@dunes.example"), PASSWORD, business, NOW)
        self.assertTrue(user.is_superuser)

    def test_one_is_taken_shown_fetched_and_removed(self) -> None:
        self.client.post(f"{PAGE}back-up/")
        (archive,) = shelf()
        page = self.client.get(PAGE)
        for words in ("by hand", "No order yet", f"version {VERSION}", "2 files missing when it was taken"):
            self.assertContains(page, words)
        fetched = self.client.get(f"{PAGE}{archive.name}/")
        self.assertEqual(b"".join(fetched.streaming_content), archive.path.read_bytes())
        archive.path.write_bytes(b"spoiled since")
        self.client.post(f"{PAGE}{archive.name}/verify/")
        self.assertContains(self.client.get(PAGE), "Do not rely on it.")
        self.client.post(f"{PAGE}{archive.name}/remove/")
        self.assertEqual(shelf(), [])
        self.assertEqual(self.client.get(f"{PAGE}{archive.name}/").status_code, 404)

    def test_a_spoiled_one_says_so(self) -> None:
        path = take_by_hand(NOW)
        path.write_bytes(path.read_bytes()[:-300])
        check(path, NOW)
        self.assertContains(self.client.get(PAGE), "Do not rely on it.")

    def test_going_back_asks_for_the_password(self) -> None:
        name = take_by_hand(timezone.now() - timedelta(hours=27)).name
        wanted = self.data / "restore-wanted"
        self.assertContains(self.client.get(f"{PAGE}{name}/restore/"), "Go back 1 day and 3 hours?")
        refused = self.client.post(f"{PAGE}{name}/restore/", {"password": "not it"})
        self.assertContains(refused, "That is not your password.", status_code=400)
        self.assertFalse(wanted.exists())
        self.assertEqual(self.client.post(f"{PAGE}{name}/restore/", {"password": PASSWORD}).status_code, 202)
        self.assertEqual(wanted.read_text(), name)


class HealthTest(InstallationTestCase):
    def test_strangers_find_nothing_without_the_token(self) -> None:
        for path in ("/healthy/deep/", "/metrics"):
            self.assertEqual(self.client.get(path, **STRANGER).status_code, 404)
            with override_settings(CRAVIK_HEALTH_TOKEN=TOKEN):
                for said, status in (("Bearer wrong", 404), (TOKEN, 404), (f"Bearer {TOKEN}", 200)):
                    take_daily_if_due(timezone.now())
                    answer = self.client.get(path, HTTP_AUTHORIZATION=said, **STRANGER)
                    self.assertEqual(answer.status_code, status, (path, said))

    def test_a_folder_that_nobody_served_yet_is_looked_at_too(self) -> None:
        (self.data / "version").unlink()
        self.assertContains(self.client.get("/setup/"), "There is none yet. Take one now.")
        self.assertContains(self.client.get(PAGE), "There is none yet.")

    def test_all_is_well_until_something_is_not(self) -> None:
        take_daily_if_due(timezone.now())
        said = self.client.get("/healthy/deep/").json()
        self.assertEqual((said["well"], said["version"]), (True, VERSION), said)
        self.assertEqual(
            sorted(said["checks"]), ["backups", "database", "letters", "payments", "room", "tables", "worker"]
        )
        late = timezone.now() + timedelta(hours=26)
        self.assertEqual([each.name for each in look_into(late) if not each.is_well], ["worker", "backups"])
        os.utime(self.data / "pulse", (0, 0))
        sick = self.client.get("/healthy/deep/")
        self.assertEqual((sick.status_code, sick.json()["checks"]["worker"]["well"]), (503, False))

    def test_metrics_are_prometheus_text(self) -> None:
        take_daily_if_due(timezone.now())
        lines = self.client.get("/metrics").text.splitlines()
        self.assertIn(f'cravik_info{{version="{VERSION}"}} 1.0', lines)
        self.assertIn('cravik_well{check="backups"} 1.0', lines)
        figures = {line.split()[0] for line in lines if not line.startswith("#")}
        for name in ("backup_age_seconds", "disk_free_bytes", "tasks_waiting", "letters_waiting", "payments_undecided"):
            self.assertIn(f"cravik_{name}", figures)
