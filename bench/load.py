"""A small load generator: plain sockets kept open, eight clients in two processes, bounded in count."""

from __future__ import annotations

import http.client
import os
import re
import time
import urllib.parse
from concurrent.futures import ProcessPoolExecutor, ThreadPoolExecutor
from dataclasses import dataclass

from playwright.sync_api import sync_playwright

BROWSER = "Mozilla/5.0 (X11; Linux x86_64; rv:140.0) Gecko/20100101 Firefox/140.0"
CLIENTS = 8


@dataclass(frozen=True)
class Timings:
    """The answers to a series of requests: their statuses, milliseconds each, and the whole in seconds."""

    statuses: list[int]
    milliseconds: list[float]
    seconds: float

    @property
    def a_second(self) -> float:
        return len(self.statuses) / self.seconds

    def percentile(self, part: int) -> float:
        return sorted(self.milliseconds)[min(len(self.milliseconds) - 1, len(self.milliseconds) * part // 100)]


def requests_a_second(port: int, paths: list[str], *, every_visitor_is_new: bool = False) -> float:
    """GET all ``paths`` with eight clients; raises ``RuntimeError`` for any answer but 200."""
    work = [
        ("GET", path, "", f"{BROWSER} {number}" if every_visitor_is_new else BROWSER)
        for number, path in enumerate(paths)
    ]
    timings = _run(port, work)
    if set(timings.statuses) != {200}:
        raise RuntimeError(f"unexpected answers: {set(timings.statuses)}")
    return timings.a_second


def forms(port: int, path: str, count: int) -> list[str]:
    """``count`` forms of a buyer's page, each of a buyer of its own, ready to be posted."""
    connection = http.client.HTTPConnection("127.0.0.1", port, timeout=30)
    filled = []
    for number in range(count):
        connection.request("GET", path, headers={"User-Agent": f"{BROWSER} buyer {number}"})
        token = re.search(r'name="page" value="([^"]+)"', connection.getresponse().read().decode())
        assert token
        form = {"page": token[1], "name": "Maren", "email": f"b{number}@bench.example"}
        form |= {"card_number": "9000000000000019", "expiry": "09/31", "security_code": "123"}
        filled.append(urllib.parse.urlencode(form))
    connection.close()
    return filled


def post_all(port: int, path: str, bodies: list[str]) -> Timings:
    """POST each body once with eight clients."""
    return _run(port, [("POST", path, body, BROWSER) for body in bodies])


def _run(port: int, work: list[tuple[str, str, str, str]]) -> Timings:
    processes = 2
    begun = time.monotonic()
    with ProcessPoolExecutor(processes) as pool:
        shares = list(
            pool.map(_client_process, [port] * processes, [work[place::processes] for place in range(processes)])
        )
    seconds = time.monotonic() - begun
    # What it takes to start the processes is not the server's time.
    seconds = max(share[2] for share in shares) if shares else seconds
    return Timings(sum((share[0] for share in shares), []), sum((share[1] for share in shares), []), seconds)


def _client_process(port: int, work: list[tuple[str, str, str, str]]) -> tuple[list[int], list[float], float]:
    clients = CLIENTS // 2
    begun = time.monotonic()
    with ThreadPoolExecutor(clients) as threads:
        done = list(threads.map(_client, [port] * clients, [work[place::clients] for place in range(clients)]))
    seconds = time.monotonic() - begun
    return [status for share in done for status, _ in share], [taken for share in done for _, taken in share], seconds


def _client(port: int, work: list[tuple[str, str, str, str]]) -> list[tuple[int, float]]:
    connection = http.client.HTTPConnection("127.0.0.1", port, timeout=30)
    done = []
    for method, path, body, browser in work:
        headers = {"User-Agent": browser}
        if body:
            headers["Content-Type"] = "application/x-www-form-urlencoded"
        begun = time.perf_counter()
        connection.request(method, path, body or None, headers)
        answer = connection.getresponse()
        answer.read()
        done.append((answer.status, (time.perf_counter() - begun) * 1000))
    connection.close()
    return done


def bytes_of_first_view(address: str) -> tuple[int, list[tuple[str, int]]]:
    """What a browser with an empty cache transfers for a page: the sum, and by file."""
    with sync_playwright() as playwright:
        chromium = playwright.chromium.launch(executable_path=os.environ.get("CHROMIUM", "/usr/bin/chromium"))
        page = chromium.new_page()
        network = page.context.new_cdp_session(page)
        network.send("Network.enable")
        names: dict[str, str] = {}
        sizes: dict[str, int] = {}
        network.on(
            "Network.responseReceived", lambda event: names.update({event["requestId"]: event["response"]["url"]})
        )
        network.on(
            "Network.loadingFinished", lambda event: sizes.update({event["requestId"]: int(event["encodedDataLength"])})
        )
        page.goto(address, wait_until="networkidle")
        page.wait_for_timeout(500)
        chromium.close()
    parts = sorted(
        ((names.get(key, key).split("/", 3)[-1], size) for key, size in sizes.items()), key=lambda part: -part[1]
    )
    return sum(size for _, size in parts), parts
