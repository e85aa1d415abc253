"""Who opens the first business, and how a stranger opens one of their own."""

from __future__ import annotations

import io
import re
import tempfile
from datetime import timedelta
from pathlib import Path
from unittest import mock
from urllib.parse import urlsplit

import time_machine
from django.conf import settings
from django.contrib.auth import get_user_model
from django.core import mail
from django.test import TestCase, override_settings
from django.utils import timezone

from cravik.people.first_start import line_at_start
from cravik.people.models import Business
from tests.factories import PASSWORD, UserFactory


class Terminal(io.StringIO):
    """Where somebody sits and reads."""

    def isatty(self) -> bool:
        return True


def start_form(**changes: str) -> dict[str, str]:
    return {
        "business-name": "Windlestraw Kites",
        "business-support_email": "hello@windlestraw.example",
        "business-country": "IE",
        "business-currency": "EUR",
        "business-time_zone": "Europe/Dublin",
        "business-statement_text": "windlestraw  kites",
        "user-email": "Orla@Windlestraw.example",
        "user-password": PASSWORD,
    } | changes


class FirstStartTest(TestCase):
    """Through a proxy, only whoever has the printed address opens the first business."""

    def setUp(self) -> None:
        folder = self.enterContext(tempfile.TemporaryDirectory())
        self.enterContext(override_settings(DATA_DIR=Path(folder)))

    def ask(self, query: str = "", data: dict[str, str] | None = None, **more: str) -> int:
        send = self.client.post if data else self.client.get
        meta = {"HTTP_HOST": "pay.kites.example", "HTTP_X_FORWARDED_FOR": "203.0.113.9"} | more
        with override_settings(CRAVIK_ALLOWED_HOSTS=["*"]):
            return send(f"/start/{query}", data, **meta).status_code

    def test_the_printed_address_works_once(self) -> None:
        with mock.patch("sys.stdout", Terminal()):
            line = line_at_start("https://pay.kites.example")
            self.assertEqual(line_at_start("https://pay.kites.example"), line, "a second start prints the same")
        with mock.patch("sys.stdout", io.StringIO()):
            self.assertNotIn(line.rpartition("=")[2], line_at_start("x"), "a log is not told")
        query = f"?{urlsplit(line.split()[-1]).query}"
        self.assertEqual((self.ask(), self.ask("?token=guess"), self.ask("?token=")), (403, 403, 403))
        self.assertEqual(self.ask(data=start_form()), 403)
        self.assertEqual(self.ask(query), 200)
        self.assertEqual(self.ask(data=start_form() | {"token": query.partition("=")[2]}), 302)
        self.assertEqual((self.ask(query), line_at_start("x")), (302, ""))
        self.assertEqual(Business.objects.count(), 1)

    def test_who_sits_at_the_machine_needs_none(self) -> None:
        for meta, status in (
            ({"HTTP_HOST": "localhost:8000"}, 200),
            ({"HTTP_HOST": "127.0.0.1:8000"}, 200),
            ({"HTTP_HOST": "[::1]:8000", "REMOTE_ADDR": "::1"}, 200),
            ({"HTTP_HOST": "localhost", "REMOTE_ADDR": "203.0.113.9"}, 403),
            ({"HTTP_HOST": "pay.kites.example"}, 403),
            ({"HTTP_HOST": "localhost", "HTTP_X_FORWARDED_FOR": "127.0.0.1"}, 403),
            ({"HTTP_HOST": "localhost", "HTTP_FORWARDED": "for=127.0.0.1"}, 403),
        ):
            with self.subTest(meta), override_settings(CRAVIK_ALLOWED_HOSTS=["*"]):
                self.assertEqual(self.client.get("/start/", **meta).status_code, status)

    @override_settings(CRAVIK_PUBLIC_ADDRESS="https://pay.kites.example")
    def test_a_proxy_that_says_nothing_of_itself_is_no_way_in(self) -> None:
        self.assertEqual(self.client.get("/start/", HTTP_HOST="localhost").status_code, 403)

    def test_a_token_that_was_cut_off_opens_nothing(self) -> None:
        (Path(settings.DATA_DIR) / "start-token").touch()
        self.assertEqual((self.ask("?token="), self.ask()), (403, 403))


class StartTest(TestCase):
    """At the machine itself."""

    def setUp(self) -> None:
        self.client.defaults["HTTP_HOST"] = "localhost"

    def test_the_first_start_makes_a_business_and_leads_to_a_new_link(self) -> None:
        self.assertRedirects(self.client.get("/"), "/start/")
        self.assertRedirects(self.client.post("/start/", start_form()), "/links/new/")
        business = Business.objects.get()
        self.assertEqual(business.statement_text, "WINDLESTRAW KITES")
        self.assertEqual(business.members.get().email, "orla@windlestraw.example")

    def test_lists_hold_what_people_use_and_a_country_proposes_its_own(self) -> None:
        page = self.client.get("/start/")
        for unused in ("XAD", "Factory", "localtime", "US/Eastern"):
            self.assertNotContains(page, unused)
        self.assertContains(page, '"JP": ["JPY", ["Asia/Tokyo"]]')

    def test_the_time_zone_follows_the_country_where_it_was_left_alone(self) -> None:
        self.client.post("/start/", start_form(**{"business-country": "GB", "business-time_zone": ""}))
        self.assertEqual(Business.objects.get().time_zone, "Europe/London")

    def test_a_time_zone_that_was_chosen_stays(self) -> None:
        self.client.post("/start/", start_form(**{"business-country": "GB", "business-time_zone": "UTC"}))
        self.assertEqual(Business.objects.get().time_zone, "UTC")

    def test_a_name_of_one_letter_is_told_in_words(self) -> None:
        answer = self.client.post("/start/", start_form(**{"business-statement_text": "k"}))
        self.assertContains(answer, "“K” has only 1. Use 5 to 22 plain letters", status_code=400)

    def test_nobody_starts_a_second_time(self) -> None:
        UserFactory()
        self.assertRedirects(self.client.post("/start/", start_form()), "/sign-in/")
        self.assertFalse(Business.objects.exists())

    def test_mistakes_stand_at_their_fields_and_what_was_typed_stays(self) -> None:
        wrong = {
            "business-statement_text": "<b>",
            "user-password": "short",
            "user-email": "nobody",
            "business-time_zone": "Mars/Base",
        }
        answer = self.client.post("/start/", start_form(**wrong))
        self.assertContains(answer, "Use 5 to 22 plain letters", status_code=400)
        self.assertContains(answer, "too short", status_code=400)
        self.assertContains(answer, 'value="Windlestraw Kites"', status_code=400)
        self.assertFalse(get_user_model().objects.exists())

    def test_sign_up_is_shut_unless_a_setting_opens_it(self) -> None:
        UserFactory()
        self.assertEqual(self.client.get("/sign-up/").status_code, 404)
        self.assertNotContains(self.client.get("/sign-in/"), "/sign-up/")
        with override_settings(CRAVIK_OPEN_SIGN_UP=True), mock.patch("sys.stderr", Terminal()):
            self.assertContains(self.client.get("/sign-in/"), "/sign-up/")
            self.assertContains(self.client.post("/sign-up/", start_form()), "Check your mail")


@override_settings(CRAVIK_OPEN_SIGN_UP=True)
class SignUpTest(TestCase):
    def ask(self, **changes: str) -> str:
        """The path in the letter."""
        UserFactory(email="owner@dunes.example") if not get_user_model().objects.exists() else None
        with mock.patch("sys.stderr", Terminal()):
            answer = self.client.post("/sign-up/", start_form(**changes))
        self.assertContains(answer, "Check your mail")
        return re.search(r"http://localhost:8000(/\S+/)", str(mail.outbox[-1].body))[1]  # type: ignore[index]

    def test_who_has_the_letter_chooses_a_password_and_opens_a_business(self) -> None:
        path = self.ask()
        self.assertEqual((Business.objects.count(), mail.outbox[0].to), (0, ["orla@windlestraw.example"]))
        self.assertContains(self.client.get(path), "Open Windlestraw Kites")
        self.assertContains(self.client.post(path, {"password": "short"}), "too short", status_code=400)
        self.assertRedirects(self.client.post(path, {"password": PASSWORD}), "/links/new/")
        self.assertEqual(Business.objects.get().members.get().email, "orla@windlestraw.example")
        self.client.logout()
        self.assertRedirects(self.client.post(path, {"password": PASSWORD}), "/sign-in/")
        self.assertEqual(Business.objects.count(), 1)
        self.assertEqual(self.client.get("/sign-up/nothing/").status_code, 410)
        with time_machine.travel(timezone.now() + timedelta(minutes=61)):
            self.assertContains(self.client.get(path), "no longer works", status_code=410)

    def test_an_address_with_an_account_is_told_by_letter_alone(self) -> None:
        self.ask()
        pages = []
        for email in ("nobody@dunes.example", "owner@dunes.example"):
            self.ask(**{"user-email": email})
            with mock.patch("sys.stderr", Terminal()):
                pages.append(self.client.post("/sign-up/", start_form(**{"user-email": email})).content)
        self.assertEqual(pages[0].replace(b"nobody", b"owner"), pages[1])
        self.assertEqual(mail.outbox[-1].subject, "You have an account here")
        self.assertNotIn("/sign-up/", str(mail.outbox[-1].body))
