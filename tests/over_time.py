"""Living through what is paid over time, day after day, as the worker does."""

from __future__ import annotations

import re
from collections.abc import Iterable
from datetime import UTC, date, datetime, timedelta
from typing import Any
from unittest import mock
from zoneinfo import ZoneInfo

import time_machine
from django.test import Client
from django.utils import timezone

from cravik.mailroom.models import Letter
from cravik.orders.invoicing.issuing import issue_what_is_due
from cravik.orders.models import Order
from cravik.orders.own_page import payments_path
from cravik.orders.running import due_now
from cravik.orders.running.tasks import collect_what_is_due
from cravik.orders.tasks import reconcile_cut_off_payments
from cravik.payments.models import Due
from cravik.people.models import Business
from tests.links import line, make_link
from tests.paying import APPROVES, pay_live

MONTHLY = {"count": 1, "unit": "month"}
INSTALMENTS = {"kind": "instalments", "every": MONTHLY, "payments": 3}
ENDLESS = {"kind": "repeat", "every": MONTHLY}
DEPOSIT = {"kind": "deposit", "percent": "20", "rest_after_days": 30}


def buy(business: Business, plan: dict[str, Any], on: date, amount: str = "100.00", /, **changes: Any) -> Order:
    """Publish an offer with that plan and pay for it at noon of that day, in the seller's zone."""
    with time_machine.travel(noon(on, business), tick=False):
        offer = {"plan": plan, **changes.pop("offer", {})}
        currency = changes.pop("currency", "EUR")
        link = make_link(line(amount=amount, **changes), offer={**offer, "currency": currency}, business=business)
        assert pay_live(Client(), link).status_code == 303
        issue_what_is_due(timezone.now())
    return Order.objects.latest("id")


def noon(day: date, business: Business) -> datetime:
    return datetime(day.year, day.month, day.day, 12, tzinfo=ZoneInfo(business.time_zone)).astimezone(UTC)


def work(at: datetime) -> None:
    """What the worker does at that instant."""
    no_trouble = mock.patch.object(due_now.logger, "exception", side_effect=AssertionError)
    with time_machine.travel(at, tick=False), no_trouble:
        reconcile_cut_off_payments.call()
        collect_what_is_due.call()
        issue_what_is_due(timezone.now())


def live(business: Business, first: date, last: date) -> None:
    """The worker's days, from the first to the last."""
    for number in range((last - first).days + 1):
        work(noon(first + timedelta(days=number), business))


def states(order: Order) -> list[tuple[str, str, str]]:
    """Of each due its day, its state, and what of it is paid."""
    dues = Due.objects.filter(checkout=order.checkout_id).order_by("position")
    return [(due.on.isoformat(), due.state, (due.amount - due.left).major) for due in dues]


def subjects(kinds: Iterable[str] | None = None) -> list[str]:
    letters = Letter.objects.order_by("written_at", "id")
    return [each.subject for each in (letters.filter(kind__in=list(kinds)) if kinds else letters)]


class PaymentsPage:
    """A buyer's page of payments, pressed as a browser does."""

    def __init__(self, order: Order) -> None:
        self.client, self.address = Client(), payments_path(order.checkout.reference)
        self.order = order

    def open(self) -> Any:
        self.address = payments_path(self.order.checkout.reference)
        return self.client.get(self.address)

    def text(self) -> str:
        return str(self.open().content.decode())

    def press(self, act: str, /, **fields: str) -> str:
        """Press a button; the page that it leads to."""
        return str(self.client.get(self.send(act, **fields)["Location"]).content.decode())

    def send(self, act: str, /, **fields: str) -> Any:
        page = self.text()
        hidden = {name: re.search(rf'name="{name}" value="([^"]+)"', page) for name in ("press", "seen")}
        sent = {"act": act, **{name: found[1] for name, found in hidden.items() if found}, **fields}
        return self.client.post(self.address, sent)

    def pay(self, card: str = APPROVES, **fields: str) -> str:
        typed = {"card_number": card, "expiry": "09/49", "security_code": "123", "with": "another"}
        return self.press("pay", **typed | fields)
