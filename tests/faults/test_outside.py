"""The sample of other people's pages beside the shipped application."""

from __future__ import annotations

import http.client
import socket
import unittest
from contextlib import closing

from tests.running import RunningApplication


class OutsideTest(unittest.TestCase):
    def started(self, *arguments: str) -> RunningApplication:
        """The demo on a copy of the sample."""
        return RunningApplication.on_sample(self.addCleanup, "--demo", *arguments)

    def test_it_starts_with_the_demo_one_port_above_and_shows_what_is_pasted(self) -> None:
        application = self.started()
        with closing(http.client.HTTPConnection("127.0.0.1", application.port + 1, timeout=30)) as connection:
            for path, status in (("/", 200), ("/builder/", 200), ("/busy/?spot=%00", 200), ("/nothing/", 404)):
                connection.request("GET", path)
                answer = connection.getresponse()
                body = answer.read().decode()
                self.assertEqual(answer.status, status, path)
        self.assertEqual(body, "There is no such page here.")

    def test_the_application_starts_all_the_same_where_its_port_is_taken(self) -> None:
        with socket.create_server(("127.0.0.1", 0)) as taken:
            application = self.started("--outside-port", str(taken.getsockname()[1]))
            self.assertEqual(application.get("/healthy/")[0], 200)
