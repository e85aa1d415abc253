"""Clients that send or take a few bytes a second, many of them: everybody else is served as ever."""

from __future__ import annotations

import os
import socket
import statistics
import threading
import time
import unittest
from contextlib import ExitStack

from tests.running import RunningApplication

PAGE = "/for/tail-ribbon-five-metres/"
SLOW_SOCKETS, SLOW_DOWNLOADS = 30, 20
FILE_BYTES = 24 * 1024 * 1024
#: A download of some order, whose file is put in its place by the test.
OPEN_DOWNLOAD = """
from django.utils import timezone
from cravik.catalogue.models import Item, ItemFile
from cravik.orders.downloads import open_downloads
from cravik.orders.models import Download, Order
order = Order.objects.select_related("checkout").filter(rehearsal=False).first()
item = Item.objects.filter(business_id=order.business_id).first()
now = timezone.now()
ItemFile.objects.create(item=item, key="large", title="Pattern.zip", size=1, made_at=now)
open_downloads(order, [item.pk], now)
print(Download.objects.get().key)
"""


class SlowClientsTest(unittest.TestCase):
    @classmethod
    def setUpClass(cls) -> None:
        cls.application = RunningApplication.on_sample(cls.addClassCleanup)
        cls.content = os.urandom(FILE_BYTES)
        key = cls.application.run("shell", "-v0", "-c", OPEN_DOWNLOAD).strip()
        (cls.application.data / "files").mkdir(exist_ok=True)
        (cls.application.data / "files" / "large").write_bytes(cls.content)
        cls.download = f"/paid/file/{key}/"

    def connected(self, stack: ExitStack) -> socket.socket:
        client = socket.socket()
        client.setsockopt(socket.SOL_SOCKET, socket.SO_RCVBUF, 4096)  # takes little ahead
        client.settimeout(30)
        client.connect(("127.0.0.1", self.application.port))
        return stack.enter_context(client)

    def asked_for(self, path: str, client: socket.socket, headers: str = "") -> None:
        client.sendall(f"GET {path} HTTP/1.1\r\nHost: localhost\r\nUser-Agent: Slow\r\n{headers}\r\n".encode())

    def test_the_page_is_quick_beside_slow_sockets_and_slow_downloads(self) -> None:
        with ExitStack() as stack:
            dripping = [self.connected(stack) for _ in range(SLOW_SOCKETS)]
            for client in dripping[: SLOW_SOCKETS // 2]:
                client.sendall(b"GET /healthy/ HTTP/1.1\r\nX-Long: ")
            for client in dripping[SLOW_SOCKETS // 2 :]:
                client.sendall(b"POST /for/x/pay/ HTTP/1.1\r\nHost: localhost\r\nContent-Length: 5000\r\n\r\n")
            taking = [self.connected(stack) for _ in range(SLOW_DOWNLOADS)]
            for number, client in enumerate(taking):
                self.asked_for(self.download, client, "Range: bytes=1-\r\n" if number % 2 else "")
            for client in taking:  # each is under way
                self.assertIn(client.recv(1), b"H")
            done = threading.Event()
            slow = threading.Thread(target=self.go_on_slowly, args=(dripping, taking, done))
            slow.start()
            try:
                took = [self.seconds_of_page() for _ in range(120)]
            finally:
                done.set()
                slow.join()
            self.assertLess(statistics.quantiles(took, n=20)[-1], 1.0)
            for client in taking:  # none was cut off meanwhile
                self.assertTrue(client.recv(1))

    def go_on_slowly(self, dripping: list[socket.socket], taking: list[socket.socket], done: threading.Event) -> None:
        while not done.wait(0.5):
            for client in dripping:
                client.sendall(b"x")
            for client in taking:
                client.recv(256)

    def seconds_of_page(self) -> float:
        began = time.monotonic()
        status, _ = self.application.get(PAGE)
        self.assertEqual(status, 200)
        return time.monotonic() - began

    def test_what_is_taken_slowly_is_whole_and_counts_once(self) -> None:
        self.application.write("UPDATE orders_download SET taken = 0, last_by = '', last_at = NULL")
        for asked, expected in (("", self.content), ("Range: bytes=7-\r\n", self.content[7:])):
            with ExitStack() as stack:
                client = self.connected(stack)
                self.asked_for(self.download, client, f"Connection: close\r\n{asked}")
                time.sleep(1)
                received = bytearray()
                while piece := client.recv(1 << 20):
                    received += piece
                self.assertEqual(bytes(received).partition(b"\r\n\r\n")[2], expected)
        [(taken,)] = self.application.query("SELECT max(taken) FROM orders_download")
        self.assertEqual(taken, 1)

    def test_a_request_that_is_not_there_in_time_is_cut_off(self) -> None:
        began = time.monotonic()
        with ExitStack() as stack:
            client = self.connected(stack)
            client.settimeout(1)
            client.sendall(b"GET /healthy/ HTTP/1.1\r\nX-Long: ")
            while time.monotonic() - began < 60:
                try:
                    client.sendall(b"x")
                    if client.recv(1) == b"":
                        break
                except TimeoutError:
                    continue
                except OSError:
                    break
        self.assertLess(time.monotonic() - began, 45)
