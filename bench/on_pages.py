"""Buttons on pages of others: the script's size, a button's first paint on a throttled phone, fifty on a page, and what
their asking costs the buyer's page."""

from __future__ import annotations

import gzip
import http.client
import multiprocessing
import statistics
import time

from playwright.sync_api import Page, sync_playwright

from bench import load
from tests.running import PROJECT, RunningApplication

#: Requests a second by which the buyer's page is measured, and by which a thousand pages ask when each is opened once
#: within ten seconds.
_PAGES_A_SECOND, _ASKED_A_SECOND, _SECONDS = 40, 100, 6
#: A slow phone: round trips in milliseconds, bytes a second each way, and how many times slower its processor is.
_TRIP, _DOWN, _UP, _SLOWER = 150, 1.6e6 / 8, 750e3 / 8, 4


def script_bytes() -> int:
    """As it goes over the wire."""
    return len(gzip.compress((PROJECT / "cravik/share/on_pages/built/onPage-1.js").read_bytes()))


def asked_a_second(application: RunningApplication, code: str) -> float:
    """How often the endpoint answers, asked by eight clients."""
    return load.requests_a_second(application.port, [f"/k/{code}/on-page/1.json"] * 1500)


def page_p95(application: RunningApplication, page: str, code: str) -> tuple[float, float]:
    """The buyer's page's 95th percentile in milliseconds: on its own, and while a thousand pages with a button are
    opened within ten seconds. Best of five rounds each, in turn."""
    alone, beside = [], []
    for _ in range(5):
        alone.append(_percentile_at_pace(application.port, page))
        # In a process of its own, so that it takes nothing of the time of the one that measures.
        asked = (application.port, f"/k/{code}/on-page/1.json", _ASKED_A_SECOND)
        asking = multiprocessing.get_context("spawn").Process(target=_at_pace, args=asked)
        asking.start()
        time.sleep(1)  # until it has begun
        beside.append(_percentile_at_pace(application.port, page))
        asking.join()
    return min(alone), min(beside)


def _percentile_at_pace(port: int, path: str) -> float:
    return statistics.quantiles(_at_pace(port, path, _PAGES_A_SECOND), n=20)[-1]


def _at_pace(port: int, path: str, a_second: int) -> list[float]:
    """Milliseconds of each request, sent at that pace whatever the answers take."""
    connection = http.client.HTTPConnection("127.0.0.1", port, timeout=30)
    took, begun = [], time.perf_counter()
    for number in range(a_second * _SECONDS):
        time.sleep(max(0.0, begun + number / a_second - time.perf_counter()))
        asked = time.perf_counter()
        connection.request("GET", path, headers={"User-Agent": load.BROWSER, "Origin": "http://localhost:1"})
        connection.getresponse().read()
        took.append((time.perf_counter() - asked) * 1000)
    connection.close()
    return took


def on_a_phone(outside: str, code: str) -> tuple[float, float]:
    """Milliseconds until a button is drawn on a slow phone, after the page's own first paint; and until fifty are that
    are put on a page at once, on this machine."""
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path="/usr/bin/chromium", args=["--disable-gpu"])
        page = browser.new_context(**playwright.devices["iPhone 13"]).new_page()
        throttle = page.context.new_cdp_session(page)
        throttle.send("Network.enable")
        throttle.send(
            "Network.emulateNetworkConditions",
            {"offline": False, "latency": _TRIP, "downloadThroughput": _DOWN, "uploadThroughput": _UP},
        )
        throttle.send("Emulation.setCPUThrottlingRate", {"rate": _SLOWER})
        page.goto(f"{outside}/builder/?spot={code}", wait_until="commit")
        page.locator("cravik-spot[shown]").wait_for()
        drawn = page.evaluate("performance.now() - performance.getEntriesByName('first-contentful-paint')[0].startTime")
        fifty = _fifty(browser.new_page(), f"{outside}/builder/?spot={code}")
        browser.close()
    return drawn, fifty


def _fifty(page: Page, address: str) -> float:
    page.goto(address)
    page.locator("cravik-spot[shown]").wait_for()
    took: float = page.evaluate(
        """async () => {
          const first = document.querySelector("cravik-spot"), begun = performance.now();
          for (let at = 0; at < 50; at += 1) first.after(first.cloneNode(true));
          while (document.querySelectorAll("cravik-spot[shown]").length < 51) await new Promise(requestAnimationFrame);
          return performance.now() - begun;
        }"""
    )
    return took
