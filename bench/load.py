"""A small load generator: eight plain connections, kept open where the server allows, bounded in count."""

from __future__ import annotations

import http.client
import os
import re
import selectors
import socket
import time
import urllib.parse
import zlib
from collections import deque
from dataclasses import dataclass
from ipaddress import IPv4Address

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


def forms(port: int, path: str, count: int, buyers: str) -> list[str]:
    """``count`` forms of a buyer's page, each of a buyer of its own (named after ``buyers``), ready to be posted."""
    connection = http.client.HTTPConnection("127.0.0.1", port, timeout=30)
    filled = []
    for number in range(count):
        browser = f"{BROWSER} {buyers} {number}"
        connection.request("GET", path, headers={"User-Agent": browser, "X-Forwarded-For": address_of(browser)})
        page = connection.getresponse().read().decode()
        token = re.search(r'name="page" value="([^"]+)"', page)
        assert token
        form = {"page": token[1], "name": "Maren", "email": f"{buyers}-{number}@bench.example"}
        form |= dict(re.findall(r'name="(seen_\w+)" value="([^"]*)"', page))
        form |= {"card_number": "9000000000000019", "expiry": "09/31", "security_code": "123", "agree": "yes"}
        filled.append(urllib.parse.urlencode(form))
    connection.close()
    return filled


def post_all(port: int, path: str, bodies: list[str]) -> Timings:
    """POST each body once with eight clients."""
    return _run(port, [("POST", path, body, BROWSER) for body in bodies])


def _run(port: int, work: list[tuple[str, str, str, str]]) -> Timings:
    """One thread that watches all connections: cheap, so that the server has the machine to itself."""
    waiting = deque(_request(*asked) for asked in work)
    statuses: list[int] = []
    milliseconds: list[float] = []
    begun = time.perf_counter()
    with selectors.DefaultSelector() as watched:
        for _ in range(min(CLIENTS, len(waiting))):
            _send_next(watched, socket.create_connection(("127.0.0.1", port), timeout=30), waiting)
        while watched.get_map():
            for key, _ in watched.select(timeout=30):
                under_way: _UnderWay = key.data
                status = under_way.read_from(key.fileobj)
                if status is None:
                    continue
                statuses.append(status)
                milliseconds.append((time.perf_counter() - under_way.begun) * 1000)
                watched.unregister(key.fileobj)
                open_connection = key.fileobj
                if under_way.closes:
                    open_connection.close()
                    open_connection = socket.create_connection(("127.0.0.1", port), timeout=30) if waiting else None
                if open_connection:
                    _send_next(watched, open_connection, waiting)
    return Timings(statuses, milliseconds, time.perf_counter() - begun)


@dataclass
class _UnderWay:
    """An answer as it comes in."""

    begun: float
    received: bytes = b""
    closes: bool = False

    def read_from(self, connection: socket.socket) -> int | None:
        """The status once the whole answer is here, else None."""
        piece = connection.recv(65536)
        self.received += piece
        head, found, body = self.received.partition(b"\r\n\r\n")
        if not found:
            return None
        lengths = re.search(rb"\r\ncontent-length: (\d+)", head, re.IGNORECASE)
        if lengths and len(body) < int(lengths[1]) and piece:
            return None
        self.closes = not piece or b"connection: close" in head.lower()
        return int(head[9:12])


def _send_next(watched: selectors.BaseSelector, connection: socket.socket, waiting: deque[bytes]) -> None:
    if not waiting:
        connection.close()
        return
    connection.sendall(waiting.popleft())
    watched.register(connection, selectors.EVENT_READ, _UnderWay(time.perf_counter()))


def address_of(browser: str) -> str:
    """Each visitor comes from a network address of its own, as the proxy says that stands before the application."""
    return str(IPv4Address(0x0A000000 + zlib.crc32(browser.encode()) % 0x1000000))


def _request(method: str, path: str, body: str, browser: str) -> bytes:
    head = f"{method} {path} HTTP/1.1\r\nHost: localhost\r\nUser-Agent: {browser}\r\n"
    head += f"X-Forwarded-For: {address_of(browser)}\r\n"
    if body:
        head += f"Content-Type: application/x-www-form-urlencoded\r\nContent-Length: {len(body)}\r\n"
    return f"{head}\r\n{body}".encode()


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
