"""The web server process: whose address it believes, and how long it waits for a request."""

from __future__ import annotations

import http.client
import socket
import threading
from collections.abc import Callable, Iterable
from contextlib import closing, suppress
from types import SimpleNamespace
from typing import Any

from django.test import SimpleTestCase

from cravik.upkeep.web import ALL_WITHIN, HEAD_WITHIN, is_late, make_server


def _tell_client(environ: dict[str, Any], start: Callable[..., Any]) -> Iterable[bytes]:
    start("200 OK", [])
    return [f"{environ['REMOTE_ADDR']} {environ['wsgi.url_scheme']}".encode()]


class ClientAddressTest(SimpleTestCase):
    def told_behind(self, proxies: int, **headers: str) -> str:
        listening = socket.create_server(("127.0.0.1", 0))
        server = make_server(_tell_client, listening, proxies)

        def answer() -> None:
            with suppress(OSError):
                server.run()

        thread = threading.Thread(target=answer, daemon=True)
        thread.start()
        try:
            with closing(http.client.HTTPConnection(*listening.getsockname(), timeout=10)) as asking:
                asking.request("GET", "/", headers={name.replace("_", "-"): text for name, text in headers.items()})
                return asking.getresponse().read().decode()
        finally:
            server.task_dispatcher.shutdown()
            server.trigger.pull_trigger(server.close)

    def test_nobody_is_believed_by_default(self) -> None:
        self.assertEqual(self.told_behind(0, X_Forwarded_For="203.0.113.9"), "127.0.0.1 http")

    def test_behind_proxies_the_address_is_read_from_the_right_end(self) -> None:
        chain = "192.0.2.66, 203.0.113.9, 198.51.100.7"
        self.assertEqual(self.told_behind(1, X_Forwarded_For=chain), "198.51.100.7 http")
        told = self.told_behind(2, X_Forwarded_For=chain, X_Forwarded_Proto="https")
        self.assertEqual(told, "203.0.113.9 https")

    def test_what_else_a_proxy_may_say_is_not_believed(self) -> None:
        self.assertEqual(self.told_behind(1, Forwarded="for=203.0.113.9;proto=https"), "127.0.0.1 http")


class DeadlineTest(SimpleTestCase):
    def test_a_request_has_a_deadline_for_its_head_and_one_for_all_of_it(self) -> None:
        for headers_finished, within in ((False, HEAD_WITHIN), (True, ALL_WITHIN)):
            channel = SimpleNamespace(request=SimpleNamespace(headers_finished=headers_finished))
            self.assertFalse(is_late(channel, 100.0))
            self.assertFalse(is_late(channel, 100.0 + within))
            self.assertTrue(is_late(channel, 101.0 + within))

    def test_a_socket_without_a_request_under_way_has_none(self) -> None:
        self.assertFalse(is_late(SimpleNamespace(request=None), 100.0))
