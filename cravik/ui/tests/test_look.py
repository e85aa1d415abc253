from __future__ import annotations

import re
from pathlib import Path
from unittest import mock

from django.db import OperationalError
from django.test import RequestFactory, SimpleTestCase, TestCase, override_settings

from cravik.ui.views import samples
from tests.factories import make_live

TOKENS = Path(__file__).parent.parent / "scss" / "_tokens.scss"
# text on ground: every pair that the style sheets use
PAIRS = [
    *(("ink", ground) for ground in ("paper", "sheet", "kraft", "madder-wash", "ochre-wash", "lichen-wash")),
    *(("ink-soft", ground) for ground in ("paper", "sheet")),
    *(("madder", ground) for ground in ("paper", "sheet", "madder-wash")),
    *(("lichen", ground) for ground in ("paper", "sheet")),
    *(("ochre", ground) for ground in ("paper", "sheet")),
    *(("teal", ground) for ground in ("paper", "sheet", "madder-wash", "ochre-wash")),
]


def luminance(colour: str) -> float:
    """Relative luminance by WCAG 2.2."""
    parts = [int(colour[place : place + 2], 16) / 255 for place in (1, 3, 5)]
    red, green, blue = (part / 12.92 if part <= 0.04045 else ((part + 0.055) / 1.055) ** 2.4 for part in parts)
    return 0.2126 * red + 0.7152 * green + 0.0722 * blue


def contrast(one: str, other: str) -> float:
    light, dark = sorted((luminance(one), luminance(other)), reverse=True)
    return (light + 0.05) / (dark + 0.05)


class ContrastTest(SimpleTestCase):
    def test_every_pair_of_text_and_ground_is_legible(self) -> None:
        tokens = dict(re.findall(r"^\$([a-z-]+): (#[0-9a-f]{6});", TOKENS.read_text(), re.MULTILINE)) | {
            "white": "#ffffff"
        }
        for text, ground in [*PAIRS, ("white", "madder"), ("white", "madder-deep"), ("white", "ink"), ("kraft", "ink")]:
            with self.subTest(f"{text} on {ground}"):
                self.assertGreaterEqual(contrast(tokens[text], tokens[ground]), 4.5)
        for ground in ("paper", "sheet"):
            self.assertGreaterEqual(contrast(tokens["rule-strong"], tokens[ground]), 3)


class SamplesTest(SimpleTestCase):
    def test_every_component_stands_on_one_page(self) -> None:
        page = samples(RequestFactory().get("/ui/samples/")).content.decode()
        for part in (
            "tag-large",
            "slip-total",
            "ladder-paid",
            "state-paused",
            "act-main",
            "note-warning",
            "field-error",
        ):
            self.assertIn(part, page)


class ErrorPagesTest(TestCase):
    def test_an_unknown_address_is_told_kindly(self) -> None:
        self.assertContains(self.client.get("/nowhere/"), "There is nothing here", status_code=404)

    def test_a_busy_database_says_that_nothing_was_changed(self) -> None:
        link = make_live()
        trouble = mock.patch("cravik.checkout.views.open_address", side_effect=OperationalError("database is locked"))
        with trouble, self.assertLogs("cravik.database", "ERROR"):
            answer = self.client.get(link.path)
        self.assertContains(answer, "The database is busy", status_code=503)
        self.assertEqual(answer["Retry-After"], "5")

    def test_trouble_outside_a_view_says_the_same(self) -> None:
        self.client.raise_request_exception = False
        self.client.cookies["cravik_seller"] = "x" * 32
        trouble = mock.patch(
            "django.contrib.sessions.backends.db.SessionStore.load", side_effect=OperationalError("disk I/O error")
        )
        with trouble, self.assertLogs("cravik.database", "ERROR"):
            self.assertContains(self.client.get("/"), "The database is busy", status_code=503)

    def test_a_fault_of_ours_says_what_it_means_for_a_payment(self) -> None:
        self.client.raise_request_exception = False
        with (
            mock.patch("cravik.checkout.views.open_address", side_effect=RuntimeError),
            self.assertLogs("django.request", "ERROR"),
        ):
            answer = self.client.get("/for/x/")
        self.assertContains(answer, "a payment that went through is never lost", status_code=500)

    @override_settings(ALLOWED_HOSTS=["kites.example"])
    def test_an_unknown_host_is_refused(self) -> None:
        self.assertEqual(self.client.get("/").status_code, 400)
