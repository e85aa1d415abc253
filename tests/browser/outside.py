"""The sample of other people's pages beside the live server, at another site."""

from __future__ import annotations

import threading
from socketserver import ThreadingMixIn
from typing import Any
from wsgiref.simple_server import WSGIRequestHandler, WSGIServer, make_server

from django.test import override_settings
from playwright.sync_api import FrameLocator, Page

from cravik.core.graphics.button import ButtonDesign
from cravik.demo.outside.site import application
from cravik.links.models import Link, Spot
from cravik.links.places.spots import make_spot
from cravik.share.on_pages.designs import button_held, keep_button
from tests.browser.base import DESK, BrowserTestCase
from tests.factories import BY, NOW, make_live


class _Server(ThreadingMixIn, WSGIServer):
    daemon_threads = True


class _Quiet(WSGIRequestHandler):
    def log_message(self, *_: Any) -> None: ...


#: Keeps what the page heard of its elements.
_LISTEN = """window.heard = [];
for (const what of ["opened", "paid", "closed"])
  document.addEventListener(`cravik:${what}`, (event) => heard.push([what, event.detail.order ?? ""]));"""


class OutsideTestCase(BrowserTestCase):
    @classmethod
    def setUpClass(cls) -> None:
        super().setUpClass()
        server = make_server("127.0.0.1", 0, application, server_class=_Server, handler_class=_Quiet)
        threading.Thread(target=server.serve_forever, daemon=True).start()
        cls.addClassCleanup(server.server_close)
        cls.addClassCleanup(server.shutdown)
        cls.outside = f"http://127.0.0.1:{server.server_port}"
        addresses = override_settings(CRAVIK_PUBLIC_ADDRESS=cls.live_server_url, CRAVIK_OUTSIDE_ADDRESS=cls.outside)
        addresses.enable()
        cls.addClassCleanup(addresses.disable)

    def setUp(self) -> None:
        super().setUp()
        self.link: Link = make_live(self.business)
        self.spot: Spot = make_spot(self.link, "Club page", NOW, by=BY)

    def design(self, **chosen: Any) -> None:
        keep_button(self.spot, ButtonDesign(**chosen), None, button_held(self.spot.pk).revision, NOW, by=BY)

    def open_outside(self, name: str, size: dict[str, int] = DESK, **options: Any) -> Page:
        page = self.new_page(size, **options)
        page.add_init_script(_LISTEN)
        page.goto(self.address(name))
        return page

    def address(self, name: str) -> str:
        """Of a page of the sample with the spot on it."""
        more = "#shop" if name == "application" else ""
        return f"{self.outside}/{name}/?spot={self.spot.code}{more}"

    @staticmethod
    def press(page: Page) -> FrameLocator:
        """Press the first button, and return the page that opens over the page."""
        page.locator("cravik-spot[shown] a.button").first.click()
        return page.frame_locator("dialog iframe")

    def wait_until_paid(self, page: Page) -> None:
        """Asked from outside, since a strict page lets nothing in it be evaluated again and again."""
        for _ in range(300):
            if any(what == "paid" for what, _ in self.heard(page)):
                return
            page.wait_for_timeout(100)
        self.fail("the page did not hear that something was paid")

    def heard(self, page: Page) -> list[list[str]]:
        return page.evaluate("heard")  # type: ignore[no-any-return]
