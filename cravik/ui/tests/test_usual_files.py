"""What programs and proxies ask, and what a proxy leaves out."""

from __future__ import annotations

import tempfile
from datetime import datetime
from pathlib import Path

import time_machine
from django.core.cache import caches
from django.db import OperationalError
from django.http import HttpRequest, HttpResponse, HttpResponsePermanentRedirect
from django.test import RequestFactory, SimpleTestCase, TestCase, override_settings

from cravik.ui.middleware import SchemeMiddleware
from cravik.ui.views import broken
from tests.factories import MembershipFactory

NAMES = override_settings(CRAVIK_ALLOWED_HOSTS=["pay.kites.example"])


class UsualFilesTest(TestCase):
    def test_they_are_where_programs_look(self) -> None:
        robots = self.client.get("/robots.txt")
        self.assertEqual((robots.status_code, robots["Content-Type"]), (200, "text/plain; charset=utf-8"))
        self.assertNotIn("Disallow: /\n", robots.text, "a page has to be read to see that it is not to be listed")
        icon = self.client.get("/favicon.ico")
        self.assertIn("ui/icon", icon["Location"])
        self.client.force_login(MembershipFactory().user)
        page = self.client.get("/.well-known/change-password", follow=True)
        self.assertEqual((page.redirect_chain, page.status_code), ([("/setup/password/", 302)], 200))

    def test_security_txt_names_whom_the_owner_says_and_expires(self) -> None:
        self.assertEqual(self.client.get("/.well-known/security.txt").status_code, 404)
        with (
            override_settings(CRAVIK_SECURITY_CONTACT="mailto:holes@kites.example"),
            time_machine.travel(datetime.fromisoformat("2026-11-30T12:00:00Z"), tick=False),
        ):
            said = self.client.get("/.well-known/security.txt").text.splitlines()
        self.assertEqual(said[:2], ["Contact: mailto:holes@kites.example", "Expires: 2027-05-29T00:00:00Z"])

    @NAMES
    def test_its_health_is_asked_on_the_machine_by_any_name(self) -> None:
        for meta, status in (
            ({"HTTP_HOST": "127.0.0.1:8000"}, 200),
            ({"HTTP_HOST": "whatever"}, 200),
            ({"HTTP_HOST": "pay.kites.example", "REMOTE_ADDR": "203.0.113.9"}, 200),
            ({"HTTP_HOST": "whatever", "REMOTE_ADDR": "203.0.113.9"}, 400),
            ({"HTTP_HOST": "whatever", "HTTP_X_FORWARDED_FOR": "203.0.113.9"}, 400),
        ):
            with self.subTest(meta):
                self.assertEqual(self.client.get("/healthy/", **meta).status_code, status)


def to_https(_: HttpRequest) -> HttpResponse:
    return HttpResponsePermanentRedirect("https://pay.kites.example/")


class ProxyTest(SimpleTestCase):
    def test_one_that_does_not_say_its_scheme_is_named_once(self) -> None:
        folder = self.enterContext(tempfile.TemporaryDirectory())
        backend = "django.core.cache.backends.filebased.FileBasedCache"
        kept = {"default": {"BACKEND": backend, "LOCATION": Path(folder)}}
        ask = SchemeMiddleware(to_https)
        with override_settings(CACHES=kept | {"shared": kept["default"]}, SECURE_SSL_REDIRECT=True):
            with self.assertNoLogs("cravik.proxy"):
                ask(RequestFactory().get("/"))
                ask(RequestFactory().get("/", HTTP_X_FORWARDED_FOR="203.0.113.9", HTTP_X_FORWARDED_PROTO="http"))
            with self.assertLogs("cravik.proxy", "ERROR") as said:
                ask(RequestFactory().get("/", HTTP_X_FORWARDED_FOR="203.0.113.9"))
                ask(RequestFactory().get("/", HTTP_X_FORWARDED_FOR="203.0.113.9"))
            self.assertEqual(len(said.output), 1)
            caches["shared"].clear()

    def test_only_a_held_database_is_told_as_busy_where_nothing_else_caught_it(self) -> None:
        for trouble, status in (
            (OperationalError("database is locked"), 503),
            (OperationalError("no such table"), 500),
        ):
            try:
                raise trouble
            except OperationalError:
                self.assertEqual(broken(RequestFactory().get("/")).status_code, status)
