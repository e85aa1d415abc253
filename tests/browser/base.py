"""A real browser against a live server."""

from __future__ import annotations

import os
from collections.abc import Callable, Sequence
from functools import wraps
from importlib import import_module
from pathlib import Path
from typing import Any
from unittest import mock

from django.apps import apps
from django.conf import settings
from django.contrib.staticfiles.testing import StaticLiveServerTestCase
from django.test import Client, tag
from playwright.sync_api import BrowserContext, ConsoleMessage, Locator, Page, sync_playwright

from cravik.payments.counter.models import CounterCard
from cravik.people.models import Business, User
from tests.factories import BROWSER, MembershipFactory
from tests.sampling import dealt, sample_of

_AXE = (Path(__file__).parent / "vendor" / "axe.js").read_text()
#: Its shell without windows is a third quicker.
_CHROMIUM = (os.environ.get("CHROMIUM", "/usr/bin/chromium-headless-shell"), "/usr/bin/chromium")
_NO_LOOK_UPS = "--host-resolver-rules=MAP * ~NOTFOUND , EXCLUDE 127.0.0.1 , EXCLUDE localhost"
DESK = {"width": 1280, "height": 800}
PHONE = {"width": 375, "height": 812}
NARROW = {"width": 320, "height": 640}


#: What hands do on a page.
_ACTS = ("check", "click", "dblclick", "fill", "focus", "press", "select_option", "set_input_files", "uncheck")


def _once_it_listens(act: Callable[..., Any]) -> Callable[..., Any]:
    """The act, not done before the page's scripts are there: no hand is that quick, and a busy machine is slow."""

    @wraps(act)
    def acted(self: Locator, *arguments: Any, **options: Any) -> Any:
        self.wait_for(state="attached")
        self.page.wait_for_load_state("domcontentloaded")
        return act(self, *arguments, **options)

    return acted


def fill_the_counter() -> None:
    """Give the counter its cards again, where the test before emptied every table."""
    if not CounterCard.objects.exists():
        for step in ("0001_initial", "0002_further_checks", "0005_cards_over_time"):
            import_module(f"cravik.payments.counter.migrations.{step}").add_cards(apps, None)


@tag("browser")
class BrowserTestCase(StaticLiveServerTestCase):
    """One browser a class, one context a test; whatever the page complains of fails the test."""

    @classmethod
    def setUpClass(cls) -> None:
        os.environ["DJANGO_ALLOW_ASYNC_UNSAFE"] = "true"
        cls.addClassCleanup(os.environ.pop, "DJANGO_ALLOW_ASYNC_UNSAFE")
        super().setUpClass()
        patient = {name: _once_it_listens(getattr(Locator, name)) for name in _ACTS}
        cls.enterClassContext(mock.patch.multiple(Locator, **patient))
        playwright = sync_playwright().start()
        cls.addClassCleanup(playwright.stop)
        cls.chromium = playwright.chromium.launch(
            executable_path=next(path for path in _CHROMIUM if Path(path).exists()),
            args=["--disable-gpu", "--disable-quic", _NO_LOOK_UPS],
        )
        cls.addClassCleanup(cls.chromium.close)

    def setUp(self) -> None:
        fill_the_counter()
        member = MembershipFactory()
        self.user: User = member.user
        self.business: Business = member.business
        self.complaints: list[str] = []

    def tearDown(self) -> None:
        self.assertEqual(self.complaints, [])

    def new_page(self, size: dict[str, int] = DESK, **options: Any) -> Page:
        context: BrowserContext = self.chromium.new_context(
            base_url=self.live_server_url, viewport=size, user_agent=BROWSER, reduced_motion="reduce", **options
        )
        self.addCleanup(context.close)
        context.set_default_timeout(60_000)
        page = context.new_page()
        page.on("console", self._listen)
        page.on("pageerror", lambda error: self.complaints.append(str(error)))
        return page

    def _listen(self, message: ConsoleMessage) -> None:
        # A status of 4xx is told in the console too; the tests look at what the page says of it.
        if message.type in ("error", "warning") and "Failed to load resource" not in message.text:
            self.complaints.append(message.text)

    def seller_page(self, size: dict[str, int] = DESK, **options: Any) -> Page:
        """A page of somebody who has signed in, with nothing on it yet."""
        page, client = self.new_page(size, **options), Client()
        client.force_login(self.user)
        session = client.cookies[settings.SESSION_COOKIE_NAME]
        page.context.add_cookies([{"name": session.key, "value": session.value, "url": self.live_server_url}])
        return page

    @staticmethod
    def press_keys(page: Page, keys: str) -> None:
        """Presses the keys one after the other, once the page's scripts listen for them."""
        page.wait_for_load_state()
        for key in keys:
            page.keyboard.press(key)

    def assert_accessible(self, page: Page) -> None:
        """axe finds nothing against WCAG 2.2 AA and its own best practices."""
        page.evaluate(_AXE)
        found = page.evaluate("axe.run(document, {iframes: false, resultTypes: ['violations']})")
        told = [f"{fault['id']}: {fault['nodes'][0]['html'][:160]}" for fault in found["violations"]]
        self.assertEqual(told, [], f"{page.url} at {page.viewport_size}")

    def look_at_each(
        self,
        cases: Sequence[str],
        opened: Callable[[dict[str, int]], Page],
        show: Callable[[Page, str], Any] = Page.goto,
    ) -> None:
        """Each address fits and is accessible, at every size in the proofs; else at one, half of them by axe."""
        for size, dealt_to_it in zip((DESK, PHONE, NARROW), dealt(cases, 3), strict=True):
            page, by_axe = opened(size), sample_of(dealt_to_it, 2)
            for case in dealt_to_it:
                with self.subTest(f"{case} at {size['width']}"):
                    show(page, case)
                    self.assert_fits(page)
                    if case in by_axe:
                        self.assert_accessible(page)

    def assert_fits(self, page: Page) -> None:
        """Nothing is cut off or scrolls sideways."""
        widths = page.evaluate("[document.documentElement.scrollWidth, innerWidth]")
        self.assertLessEqual(widths[0], widths[1], page.url)


def open_business(page: Page) -> None:
    """Fill in the first start, and open the business."""
    page.get_by_label("Business name").fill("Windlestraw Kites")
    page.get_by_label("Where buyers reach you").fill("hello@windlestraw.example")
    page.get_by_label("On the buyer's statement").fill("WINDLESTRAW")
    page.get_by_label("Your e-mail address").fill("orla@windlestraw.example")
    page.get_by_label("Password").fill("kites on the beach")
    page.get_by_role("button", name="Open the business").click()


def open_editor(page: Page, editor: str) -> None:
    """Open an editor of the bench: by the row of what is set, or else by the list of what can be added."""
    decided = page.locator(f".decided-row [data-phrase={editor}]")
    if decided.count():
        decided.click()
        return
    page.locator(".add-subject > summary").click()
    page.locator(f".add-menu [data-phrase={editor}]").click()


def fill_in(page: Page, card: str = "9000000000000019", email: str = "maren@dunes.example") -> None:
    """Fill in a buyer's page."""
    page.get_by_label("Your name").fill("Maren Saltmarsh")
    page.get_by_label("E-mail").fill(email)
    page.get_by_label("Card number").fill(card)
    page.get_by_label("Expiry").fill("09/31")
    page.get_by_label("Security code").fill("123")
