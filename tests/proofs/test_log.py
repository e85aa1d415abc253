"""An hour's worth of everything, and a log in which nobody can be found: every line JSON, and none with what is
private."""

from __future__ import annotations

import json
import re
import unittest
from http.cookiejar import CookieJar
from urllib.parse import urlencode
from urllib.request import HTTPCookieProcessor, build_opener

from tests.faults.links import import_published
from tests.running import RunningApplication

APPROVES, NO_FUNDS, NO_CARD = "9000000000000019", "9000000000001017", "9000000000000001"
BUYERS = 150


class LogTest(unittest.TestCase):
    def test_nobody_is_found_in_it(self) -> None:
        application = RunningApplication.on_sample(self.addCleanup, CRAVIK_LOG_JSON="1", CRAVIK_ACCESS_LOG="1")
        question = {"key": "wish", "label": "Your wish", "kind": "short_text"}
        asks = {"note": {"ask": "optional"}, "phone": "optional"}
        path = import_published(application, "Kites", asks=asks, questions=[question])
        private = {"Marenka Saltmarshova", "+353851234567", "a wish of mine", "for my sister", "kites on the beach"}
        private |= {APPROVES, NO_FUNDS, NO_CARD, "orla@windlestraw.example", "a wrong password", "127.0.0.1"}
        for number in range(BUYERS):
            email = f"marenka{number}@saltmarsh.example"
            card = (APPROVES, NO_FUNDS, APPROVES, NO_CARD)[number % 4]
            form = application.filled_in_form(path, card, email) | {
                "name": "Marenka Saltmarshova",
                "phone": "+353851234567",
                "note": "for my sister",
                "answer.wish": "a wish of mine",
            }
            private |= {email, form["page"]}
            _, leads_to = application.post(f"{path}pay/", form)
            reference = re.search(r"/paid/([^/?]+)", leads_to)
            if reference:
                private.add(reference[1])
                application.get(leads_to)
                application.get(leads_to.replace(reference[1], f"{reference[1]}x"))
        self.seller_errs(application)
        # What nobody foresaw is logged with where it happened, and not with what was in hand.
        forms = [application.filled_in_form(path, APPROVES, f"late{number}@saltmarsh.example") for number in range(5)]
        application.write("ALTER TABLE orders_order RENAME TO orders_elsewhere")
        self.assertEqual({application.post(f"{path}pay/", form)[0] for form in forms}, {500})
        application.write("ALTER TABLE orders_elsewhere RENAME TO orders_order")
        application.stop()
        log = application.complaints() + application.said()
        lines = [json.loads(line) for line in log.splitlines() if line]
        events = {line["event"] for line in lines}
        print(f"{len(lines)} lines, of {len(events)} kinds, {len(private)} private words")
        self.assertLessEqual({"starting", "open", "paid", "not paid", "answered", "stopped"}, events)
        self.assertTrue(any("exception" in line for line in lines), "something failed, and is there")
        self.assertGreater(len(lines), 3 * BUYERS)
        self.assertEqual(sorted(word for word in private if word in log), [])
        self.assertNotRegex(log, r"[\w.]+@[\w.]+\.example")

    def seller_errs(self, application: RunningApplication) -> None:
        """A wrong password, a right one, and a forgotten one."""
        for path, typed in (
            ("/sign-in/", {"username": "orla@windlestraw.example", "password": "a wrong password"}),
            ("/sign-in/", {"username": "orla@windlestraw.example", "password": "kites on the beach"}),
            ("/forgotten/", {"email": "orla@windlestraw.example"}),
        ):
            browser = build_opener(HTTPCookieProcessor(CookieJar()))
            page = browser.open(f"{application.address}{path}").read().decode()
            token = re.search(r'name="csrfmiddlewaretoken" value="([^"]+)"', page)
            assert token
            sent = urlencode(typed | {"csrfmiddlewaretoken": token[1]}).encode()
            self.assertEqual(browser.open(f"{application.address}{path}", sent).status, 200)
