"""What is logged, and that nothing private is."""

from __future__ import annotations

import io
import json
import logging
from collections.abc import Iterator
from contextlib import contextmanager
from unittest import mock

from django.test import TestCase

from cravik.orders.models import Order
from cravik.orders.own_page import own_path
from cravik.payments.counter.gateway import CounterGateway
from cravik.payments.models import Attempt
from cravik.upkeep.logs import configure
from tests.factories import make_live
from tests.paying import APPROVES, NO_FUNDS, open_page, send


@contextmanager
def logged(*, as_json: bool) -> Iterator[io.StringIO]:
    """Everything that is logged meanwhile, as the application writes it."""
    out = io.StringIO()
    handler = logging.StreamHandler(out)
    handler.setFormatter(logging.Formatter())
    made = configure(as_json=as_json)["formatters"]["line"]
    handler.setFormatter(made.pop("()")(**made))
    root = logging.getLogger()
    loggers = [root, logging.getLogger("cravik")]
    levels = [logger.level for logger in loggers]
    root.addHandler(handler)
    for logger in loggers:
        logger.setLevel(logging.INFO)
    try:
        yield out
    finally:
        root.removeHandler(handler)
        for logger, level in zip(loggers, levels, strict=True):
            logger.setLevel(level)


class LogsTest(TestCase):
    def setUp(self) -> None:
        self.link = make_live()

    def pay(self, **changes: str) -> None:
        with self.captureOnCommitCallbacks(execute=True):
            send(self.client, self.link, open_page(self.client, self.link) | changes)

    def test_a_payment_is_one_json_line_with_request_view_attempt_and_order(self) -> None:
        with logged(as_json=True) as out:
            self.pay(card_number=NO_FUNDS)
            self.pay()
        declined, paid = (json.loads(line) for line in out.getvalue().splitlines() if '"cravik.payments"' in line)
        self.assertEqual((declined["event"], declined["reason"]), ("not paid", "insufficient_funds"))
        order, attempt = Order.objects.get(), Attempt.objects.get(state="approved")
        self.assertEqual((paid["event"], paid["order"], paid["attempt"]), ("paid", order.number, attempt.pk))
        self.assertEqual((paid["view"], paid["level"]), ("pay:live", "info"))
        self.assertNotEqual(paid["request"], declined["request"])

    def test_without_being_asked_for_json_it_is_key_and_value(self) -> None:
        with logged(as_json=False) as out:
            self.pay()
        (line,) = [line for line in out.getvalue().splitlines() if "logger=cravik.payments" in line]
        self.assertRegex(line, r"^timestamp=\S+ level=info logger=cravik\.payments event=paid .*order=1001")

    def test_nothing_private_stands_in_it_even_where_a_view_breaks(self) -> None:
        self.client.raise_request_exception = False
        with logged(as_json=False) as out:
            answer = open_page(self.client, self.link)
            with mock.patch.object(CounterGateway, "charge", side_effect=RuntimeError("broken")):
                broken = send(self.client, self.link, answer)
            self.pay(email="another@dunes.example")
            reference = Order.objects.get().checkout.reference
            with mock.patch("cravik.orders.confirmation_views.shown_version", side_effect=RuntimeError("broken")):
                self.client.get(own_path(reference))
        self.assertEqual(broken.status_code, 500)
        text = out.getvalue()
        self.assertIn("Internal Server Error", text)
        self.assertIn("view=confirmation:page", text)
        for private in ("Maren", "dunes.example", APPROVES, reference):
            self.assertNotIn(private, text)
        self.assertTrue(all(line.startswith("timestamp=") for line in text.splitlines()), text)
