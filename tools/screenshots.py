"""Takes the pictures of the main views for docs/screenshots, from freshly loaded sample data.

    python -m tools.screenshots [--out FOLDER] [NAME …]

Starts an application of its own on a free port with a data folder that is thrown away.
"""

from __future__ import annotations

import argparse
import os
import tempfile
from collections.abc import Callable
from pathlib import Path

from playwright.sync_api import Page, sync_playwright

from tests.running import RunningApplication

PROJECT = Path(__file__).resolve().parent.parent
DESK = {"width": 1280, "height": 800}
PHONE = {"width": 375, "height": 812}
CARD = {"Card number": "9000000000000019", "Expiry": "09/31", "Security code": "123"}


def sign_in(page: Page) -> None:
    page.goto("/sign-in/")
    page.get_by_label("E-mail address").fill("orla@windlestraw.example")
    page.get_by_label("Password").fill("kites on the beach")
    page.get_by_role("button", name="Sign in").click()


def goto(path: str) -> Callable[[Page], None]:
    return lambda page: page.goto(path) and None


def pay(page: Page) -> None:
    page.goto("/for/kite-repair/")
    page.get_by_label("Your name").fill("Maren Saltmarsh")
    page.get_by_label("E-mail").fill("maren@dunes.example")
    for label, value in CARD.items():
        page.get_by_label(label).fill(value)
    page.get_by_label("I agree").check()
    page.get_by_role("button", name="Pay").click()
    page.get_by_role("heading", name="Thank you").wait_for()


def bench(page: Page) -> None:
    page.goto("/")
    page.get_by_role("link", name="Class sets of sled kites").first.click()
    page.frame_locator("iframe").get_by_role("heading", level=1).wait_for()


def new_link(page: Page) -> None:
    page.goto("/links/new/")
    page.get_by_label("Say what you sell").fill("48 for a Delta kite in 1.2 m or 1.8 m (6 more), up to 3")
    page.frame_locator("iframe").get_by_role("heading", name="Delta kite").wait_for()


def hand_out(page: Page) -> None:
    page.goto("/links/1/hand-out/")
    page.wait_for_load_state("networkidle")


def link_results(page: Page) -> None:
    page.goto("/")
    page.get_by_role("link", name="Workshop on the beach").first.click()
    page.get_by_role("link", name="Results").last.click()
    page.get_by_role("link", name="90 days").click()


def code(page: Page) -> None:
    page.goto("/links/1/hand-out/")
    page.locator(".spot-row").get_by_role("link", name="Stall sign").click()
    page.get_by_role("link", name="Change how it looks").first.click()


def on_page(page: Page) -> None:
    page.goto("/healthy/")
    page.goto(f"http://localhost:{page.evaluate('Number(location.port) + 1')}/builder/")
    page.locator("cravik-spot[shown] a.button").click()
    page.frame_locator("dialog iframe").get_by_label("Your name").wait_for()


def paid_order(page: Page) -> None:
    """The newest that was sent, a part of which is refunded."""
    page.goto("/orders/?state=sent")
    page.locator("tbody tr").filter(has_not_text="€0.00").locator("a").first.click()
    page.get_by_role("link", name="Refund", exact=True).click()
    page.get_by_label("Amount", exact=True).fill("5")
    page.get_by_label("Message to the buyer").fill("For the missing winder. It is in the post.")
    page.get_by_role("button", name="Refund").click()
    page.get_by_text("gets a letter").wait_for()
    page.goto(page.url)


def document(page: Page) -> None:
    """The invoice that a buyer asked for."""
    page.goto("/orders/?country=IE")  # the newest of them asked for it
    orders = [each.get_attribute("href") or "" for each in page.locator("tbody tr a").all()]
    invoice = page.get_by_role("link", name="Invoice I-")
    for order in dict.fromkeys(orders):
        page.goto(order)
        if invoice.count():
            break
    invoice.first.click()


# name: (as the seller?, width, what to do)
VIEWS: dict[str, tuple[bool, dict[str, int], Callable[[Page], None]]] = {
    "links": (True, DESK, goto("/")),
    "bench": (True, DESK, bench),
    "hand-out": (True, DESK, hand_out),
    "code": (True, DESK, code),
    "catalogue": (True, DESK, goto("/catalogue/")),
    "results": (True, DESK, goto("/results/")),
    "link-results": (True, DESK, link_results),
    "orders": (True, DESK, goto("/orders/")),
    "running": (True, DESK, goto("/running/")),
    "order": (True, DESK, paid_order),
    "document": (True, DESK, document),
    "mailroom": (True, DESK, goto("/mailroom/")),
    "setup": (True, DESK, goto("/setup/")),
    "look": (True, DESK, goto("/setup/looks/1/")),
    "new-link": (True, DESK, new_link),
    "buyer-desk": (False, DESK, goto("/for/delta-kite/")),
    "buyer-phone": (False, PHONE, goto("/for/festival-patron/")),
    "paid-phone": (False, PHONE, pay),
    "on-page": (False, DESK, on_page),
}


def main() -> None:
    parser = argparse.ArgumentParser()
    parser.add_argument("--out", type=Path, default=PROJECT / "docs" / "screenshots")
    parser.add_argument("--full", action="store_true", help="the whole page, not the first view")
    parser.add_argument("names", nargs="*", choices=[*VIEWS, []])
    options = parser.parse_args()
    options.out.mkdir(parents=True, exist_ok=True)
    with (
        tempfile.TemporaryDirectory() as data,
        RunningApplication(data, "--demo") as application,
        sync_playwright() as playwright,
    ):
        chromium = playwright.chromium.launch(
            executable_path=os.environ.get("CHROMIUM", "/usr/bin/chromium"), args=["--disable-gpu", "--disable-quic"]
        )
        for name in options.names or VIEWS:
            as_seller, size, act = VIEWS[name]
            context = chromium.new_context(base_url=application.address, viewport=size, reduced_motion="reduce")
            page = context.new_page()
            if as_seller:
                sign_in(page)
            act(page)
            page.wait_for_load_state("networkidle")
            page.screenshot(path=options.out / f"{name}.png", full_page=options.full)
            context.close()
            print(options.out / f"{name}.png")


if __name__ == "__main__":
    main()
