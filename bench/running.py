"""Times what is paid over time of a business with 50,000 running orders; on an empty data folder.

One order is bought as a buyer does; the others are written by SQLite as copies of it, each with dues of its own, over a
month: about 1,600 are due on one day.
"""

from __future__ import annotations

import os
import time
from collections.abc import Callable
from datetime import datetime, timedelta

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "cravik.config.settings")
from django.db import connection, transaction
from django.db.models import F
from django.test import Client
from django.utils import timezone

import cravik.config.wsgi  # noqa: F401  # which sets the process up as the server does
from cravik.orders.models import OrderBook
from cravik.orders.running.due_now import orders_due, take_what_is_due
from cravik.payments.models import Agreement, Due
from cravik.payments.ways import present_ways
from cravik.people.models import Business, User
from cravik.people.services import make_business
from tests.links import line, make_link
from tests.paying import open_page, pay_live, send

RUNNING = 50_000
_PLAN = {"kind": "repeat", "every": {"count": 1, "unit": "month"}}
_EARLIER = "date(\"{}\", '-' || (n % 31) || ' days')"
#: The tables of an order in the order in which they refer to each other, with what differs from copy to copy: ``n`` is
#: the copy's number, and ids are so far apart as ``apart`` says.
_COPIES: tuple[tuple[str, dict[str, str]], ...] = (
    ("buyers_buyer", {"key": "printf('%064x', n)", "email": "'buyer' || n || '@dunes.example'"}),
    ("checkout_checkout", {"reference": "printf('R%011d', n)", "buyer_email": "'buyer' || n || '@dunes.example'"}),
    ("checkout_checkoutline", {"checkout_id": "checkout_id + apart"}),
    (
        "orders_order",
        {
            **{name: f"{name} + apart" for name in ("checkout_id", "buyer_id")},
            **{"number": "number + n", "letters_due": "0"},
        },
    ),
    (
        "payments_due",
        {
            "checkout_id": "checkout_id + apart",
            **{name: _EARLIER.format(name) for name in ("on", "collect_on")},
        },
    ),
    ("payments_attempt", {"checkout_id": "checkout_id + apart", "key": "printf('%064x', n)"}),
    ("payments_allocation", {"attempt_id": "attempt_id + apart", "due_id": "due_id + apart"}),
    ("counter_countercharge", {"key": "printf('%064x', n)", "reference": "'C' || n"}),
    ("counter_counterkept", {"charge_id": "charge_id + apart", "token": "'token-' || n"}),
    ("payments_keptcard", {"kept_by_id": "kept_by_id + apart", "token": "'token-' || n"}),
    (
        "payments_agreement",
        {name: f"{name} + apart" for name in ("checkout_id", "kept_card_id")},
    ),
)
_APART = 20


def main() -> None:
    user = User(email="bench@windlestraw.example", name="Bench")
    business = Business(
        name="Bench", support_email="bench@windlestraw.example", country="IE", currency="EUR", statement_text="BENCH"
    )
    make_business(user, "kites on the beach", business, timezone.now())
    link = make_link(line(amount="12.00"), offer={"plan": _PLAN}, business=business)
    buyer = Client(headers={"host": "localhost"})
    assert pay_live(buyer, link).status_code == 303
    begun = time.perf_counter()
    with transaction.atomic(), connection.cursor() as cursor:
        for table, changes in _COPIES:
            cursor.execute(_copies(table, changes))
        OrderBook.objects.update(last_number=F("last_number") + RUNNING)
        cursor.execute("ANALYZE")
    made = time.perf_counter() - begun
    print(f"{Agreement.objects.count():,} running orders with {Due.objects.count():,} dues made in {made:.0f} s")
    day = timezone.now() + timedelta(days=1)
    many = sum(1 for _ in orders_due(day))
    found = sorted(_milliseconds(lambda: next(orders_due(day))) for _ in range(20))
    print(f"due on one day: {many:,} orders, found in {found[10]:.0f} ms (median; goal 100)")
    started = time.monotonic()

    def clock() -> datetime:
        return day + timedelta(seconds=time.monotonic() - started)

    charged = take_what_is_due(present_ways(), clock, day + timedelta(seconds=8)).charged
    rate = charged / (time.monotonic() - started)
    forms = [open_page(buyer, link) | {"email": f"paying{number}@dunes.example"} for number in range(100)]
    spent = sum(_milliseconds(lambda: send(buyer, link, form)) for form in forms) / 1000  # noqa: B023
    print(
        f"charged: {rate:.0f} a second, one after the other; {rate * spent / len(forms):.1f} times as fast as buyers' "
        f"presses in this process, {len(forms) / spent:.0f} a second"
    )
    seller = Client(headers={"host": "localhost"})
    seller.force_login(user, backend="django.contrib.auth.backends.ModelBackend")
    pages = (("running", "/running/"), ("in arrears", "/running/?state=arrears"), ("home", "/"))
    for what, address in pages:
        spans = sorted(_milliseconds(lambda: seller.get(address)) for _ in range(8))  # noqa: B023
        print(f"{what}: median {spans[4]:.0f} ms")


def _copies(table: str, changes: dict[str, str]) -> str:
    """The statement that copies the table's rows so many times."""
    with connection.cursor() as cursor:
        cursor.execute(f"PRAGMA table_info({table})")
        columns = [row[1] for row in cursor.fetchall()]
    values = ", ".join(changes.get(name, "id + apart" if name == "id" else f'"{name}"') for name in columns)
    names = ", ".join(f'"{name}"' for name in columns)
    return (
        f"INSERT INTO {table} ({names}) WITH RECURSIVE copy(n) AS (SELECT 1 UNION ALL SELECT n + 1 FROM copy WHERE n < "
        f"{RUNNING - 1}), at AS (SELECT n, n * {_APART} AS apart FROM copy) SELECT {values} FROM {table}, at"
    )


def _milliseconds(work: Callable[[], object]) -> float:
    begun = time.perf_counter()
    work()
    return (time.perf_counter() - begun) * 1000


if __name__ == "__main__":
    main()
