"""Times the results of a business with a million visits, 200,000 orders and 2,000 spots; on an empty data folder.

The rows are written by SQLite itself; they say what a year of a busy business would have left.
"""

from __future__ import annotations

import os
import time
import tracemalloc
from collections.abc import Callable
from datetime import date, timedelta
from unittest import mock

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "cravik.config.settings")
from django.db import connection, transaction
from django.test import Client
from django.utils import timezone

import cravik.config.wsgi  # noqa: F401  # which sets the process up, its garbage collector too, as the server does
from cravik.core.pricing.money import Money
from cravik.journal.services import OpenedVisit
from cravik.links.life.lifecycle import publish
from cravik.links.making.drafts import make_link
from cravik.links.models import Link
from cravik.links.places.spots import make_spots
from cravik.orders.summing import sum_days
from cravik.people.actors import command
from cravik.people.models import Business, User
from cravik.people.services import make_business
from cravik.results.comparing import OF_ALL_LINKS, OF_LINK

VISITS, ORDERS, LINKS, SPOTS = 1_000_000, 200_000, 100, 2_000
_ROUNDS = 60
_BROWSER = "Mozilla/5.0 (X11; Linux x86_64; rv:140.0) Gecko/20100101 Firefox/140.0"

#: A visit a number: spread over a year, over spots by a skewed share, every fifth paid.
_VISITS = """
INSERT INTO journal_visit (business_id, link_id, spot_id, version_id, visitor, referrer, device, rung, opened_at,
    started_at, tried_at, paid_at, last_at)
WITH RECURSIVE n(i) AS (SELECT 0 UNION ALL SELECT i + 1 FROM n WHERE i + 1 < %(visits)s),
come AS MATERIALIZED (SELECT i, abs(random()) %% 31535000 AS ago,
    CAST(%(spots)s * ((abs(random()) %% 100000) / 1e5) * ((abs(random()) %% 100000) / 1e5) AS INT) AS place FROM n),
at AS MATERIALIZED (SELECT i, strftime('%%Y-%%m-%%d %%H:%%M:%%S', %(now)s - ago, 'unixepoch') AS day, place FROM come)
SELECT %(business)s, spot.link_id, spot.id, link.version_id, printf('%%032x', i),
    CASE i %% 7 WHEN 0 THEN 'kiteclub.example' WHEN 1 THEN 'films.example' ELSE '' END,
    CASE i %% 3 WHEN 0 THEN 'desk' ELSE 'phone' END,
    CASE WHEN i %% 5 = 0 THEN 4 WHEN i %% 5 = 1 THEN 2 ELSE 1 END, day,
    CASE WHEN i %% 5 < 2 THEN day END, CASE WHEN i %% 5 = 0 THEN day END, CASE WHEN i %% 5 = 0 THEN day END, day
FROM at JOIN spots_in_order spot ON spot.place = at.place JOIN links_link link ON link.id = spot.link_id
"""
_PATHS = """
INSERT INTO journal_fieldpath (visit_id, business_id, link_id, opened_at, reached, blank, refused, last)
SELECT id, business_id, link_id, opened_at, '["name", "email", "card_number"]', '[]', '[]', 'card_number'
FROM journal_visit WHERE rung > 1
"""
_CHECKOUTS = """
INSERT INTO checkout_checkout (business_id, reference, rehearsal, total_minor, currency, buyer_name, buyer_email,
    buyer_key, "where", answers, typed, own_contact, may_be_written_to, number_locale, visit_id, visitor, network,
    left_out, made_at)
SELECT business_id, printf('B%%011d', id), 0, 2400 + id %% 90, 'EUR', 'Maren ' || id, 'm@bench.example',
    'm@bench.example', json_object('street', '2 Strand Lane', 'town', 'Marramport', 'country', CASE id %% 3 WHEN 0 THEN
    'DE' ELSE 'IE' END), '[]', '{}', '{}', 1, 'en', id, visitor, '', '', paid_at FROM journal_visit WHERE rung = 4
"""
_LINES = """
INSERT INTO checkout_checkoutline (checkout_id, position, link_id, version_id, spot_id, title, options, basket_document,
    quote_document)
SELECT c.id, 0, v.link_id, v.version_id, v.spot_id, 'Kite', CASE c.id %% 4 WHEN 0 THEN '2.4 m' ELSE '1.2 m' END, '{}',
    '{"lines": [{"key": "kite", "name": "Kite",
    "quantity": 1, "options": []}], "schedule": [], "discount": "0.00", "delivery": "0.00", "tax": "0.00",
    "fee": "0.00", "net": "24.00"}'
FROM checkout_checkout c JOIN journal_visit v ON v.id = c.visit_id
"""
_DUES = """
INSERT INTO payments_due (checkout_id, position, "on", amount_minor, paid_minor, currency, state, paid_at, reason)
SELECT id, 0, date(made_at), 2400, 2400, 'EUR', 'paid', made_at, '' FROM checkout_checkout
"""
_ATTEMPTS = """
INSERT INTO payments_attempt (checkout_id, way, "key", state, reason, gateway_reference, amount_minor, currency,
    details, "by", by_name, refunded_minor, begun_at, answered_at)
SELECT checkout_id, 'card', printf('%%064x', id), 'approved', '', '', 2400, 'EUR', '{"ending": "0019"}', 'buyer', '', 0,
    paid_at, paid_at
FROM payments_due
"""
_MOVEMENTS = """
INSERT INTO payments_movement (checkout_id, attempt_id, kind, amount_minor, currency, gateway_reference, rehearsal,
    business_id, link_id, spot_id, at)
SELECT c.id, a.id, 'charge', 2400, 'EUR', '', 0, v.business_id, v.link_id, v.spot_id, a.answered_at
FROM payments_attempt a JOIN checkout_checkout c ON c.id = a.checkout_id JOIN journal_visit v ON v.id = c.visit_id
"""
_BUYERS = """
INSERT INTO buyers_buyer (business_id, "key", email, name, made_at)
SELECT business_id, buyer_key, buyer_email, buyer_name, min(made_at) FROM checkout_checkout GROUP BY 1, 2
"""
_ORDERS = """
INSERT INTO orders_order (business_id, checkout_id, link_id, version_id, spot_id, number, rehearsal, buyer_name,
    buyer_email, buyer_id, title, options, way, currency, made_at, paid_at, country,
    taken_minor, stage, is_refunded, letters_due, letters_tries)
SELECT c.business_id, c.id, line.link_id, line.version_id, line.spot_id, 1000 + c.id, 0, c.buyer_name, c.buyer_email,
    b.id, 'Kite', line.options, 'card', 'EUR', c.made_at, c.made_at, c."where" ->> 'country', 2400,
    CASE c.id %% 200 WHEN 0 THEN 'to_do' ELSE 'sent' END, c.id %% 70 = 1, 0, 0
FROM checkout_checkout c JOIN checkout_checkoutline line ON line.checkout_id = c.id
JOIN buyers_buyer b ON b.business_id = c.business_id AND b."key" = c.buyer_key
"""


def main() -> None:
    begun = time.perf_counter()
    business, user = _business()
    _fill(business)
    filled = time.perf_counter()
    days = sum_days(business, timezone.now())
    print(f"made in {filled - begun:.0f} s; {days} days summed in {time.perf_counter() - filled:.0f} s")
    measure(user)


def measure(user: User) -> None:
    """Each page of the results, for a year and for a month, as its server answers it."""
    seller = Client(headers={"host": "localhost"})
    seller.force_login(user, backend="django.contrib.auth.backends.ModelBackend")
    link, today = Link.objects.get(id=_busiest_link()), timezone.now().date()
    of_link = f"/links/{link.pk}/results/"
    for what, days in (("a year", 365), ("30 days", 30)):
        query = f"?from={today - timedelta(days=days - 1)}&to={today}"
        for path, kinds, whose in (("/results/", OF_ALL_LINKS, "all links"), (of_link, OF_LINK, "one link")):
            told = ((kind, _timed(lambda: seller.get(f"{path}{query}&by={kind}"))) for kind in kinds)  # noqa: B023
            figures = ", ".join(f"by {kind} {_p95(taken):.0f} ({_median(taken):.0f})" for kind, taken in told)
            print(f"{whose}, {what}, p95 (median), goal 150 ms: {figures}")
        if days == 365:
            memory = _csv_memory(seller, f"{of_link}{query}&as=csv")
    for what, address in (("home", "/"), ("a link's spots", f"/links/{link.pk}/hand-out/")):
        taken = _timed(lambda: seller.get(address))  # noqa: B023
        print(f"{what}: p95 {_p95(taken):.0f} ms (median {_median(taken):.0f}), goal 150")
    print(f"its spots of a year as CSV: {memory:.1f} MB")
    _measure_orders(seller, link, today)
    _measure_recording(link)


def _measure_orders(seller: Client, link: Link, today: date) -> None:
    """The list of 200,000 orders, whole, narrowed and sorted; its CSV."""
    since = today - timedelta(days=30)
    for what, query in (
        ("whole", ""),
        ("page 3,000", "?page=3000"),
        ("to do", "?state=to-do"),
        ("refunded", "?state=refunded"),
        ("30 days", f"?since={since}"),
        ("a link", f"?link={link.pk}"),
        ("a country", "?place=DE"),
        ("a name", "?q=maren+77"),
        ("by card", "?way=card"),
        ("nothing to pay", "?way=nothing"),
        ("an option", "?option=2.4"),
        ("an amount", "?least=24&most=24"),
        ("money asked back", "?wish=open"),
        ("by amount", "?sort=amount"),
        ("by buyer", "?sort=buyer"),
    ):
        taken = _timed(lambda: seller.get(f"/orders/{query}"), 20)  # noqa: B023
        print(f"orders, {what}: p95 {_p95(taken):.0f} ms (median {_median(taken):.0f}), goal 200")
    memory = _csv_memory(seller, "/orders/orders.csv?place=DE")
    print(f"orders of a country as CSV: {memory:.1f} MB")


def _busiest_link() -> int:
    with connection.cursor() as cursor:
        cursor.execute("SELECT link_id FROM journal_visit GROUP BY link_id ORDER BY count(*) DESC LIMIT 1")
        return int(cursor.fetchone()[0])


def _business() -> tuple[Business, User]:
    user = User(email="bench@windlestraw.example", name="Bench")
    business = Business(
        name="Bench",
        support_email="bench@windlestraw.example",
        country="IE",
        currency="EUR",
        time_zone="Europe/Dublin",
        statement_text="BENCH",
    )
    begun = timezone.now() - timedelta(days=366)
    make_business(user, "kites on the beach", business, begun)
    for number in range(LINKS):
        link = publish(
            make_link(business, f"Kite {number}", Money(2400, "EUR"), begun, by=command("bench")),
            begun,
            by=command("bench"),
        )
        make_spots(link, [f"Door {place}" for place in range(SPOTS // LINKS - 1)], begun, by=command("bench"))
    return business, user


def _fill(business: Business) -> None:
    now = int(timezone.now().timestamp())
    values = {"visits": VISITS, "spots": SPOTS, "business": business.pk, "now": now}
    with transaction.atomic(), connection.cursor() as cursor:
        cursor.execute(
            "CREATE TEMP TABLE spots_in_order AS SELECT id, link_id, row_number() OVER (ORDER BY id) - 1 AS place"
            " FROM links_spot"
        )
        cursor.execute("CREATE INDEX temp.by_place ON spots_in_order (place)")
        cursor.execute(_VISITS % {name: repr(value) for name, value in values.items()})
        for statement in (_PATHS, _CHECKOUTS, _LINES, _DUES, _ATTEMPTS, _MOVEMENTS, _BUYERS, _ORDERS):
            cursor.execute(statement % ())
        cursor.execute("ANALYZE")


def _timed(work: Callable[[], object], rounds: int = _ROUNDS) -> list[float]:
    """Milliseconds of some rounds after a first, in order."""
    work()
    taken = []
    for _ in range(rounds):
        begun = time.perf_counter()
        work()
        taken.append((time.perf_counter() - begun) * 1000)
    return sorted(taken)


def _csv_memory(seller: Client, address: str) -> float:
    """The greatest memory that the table takes while it is read, in megabytes."""
    seller.get(address)
    tracemalloc.start()
    for _ in seller.get(address).streaming_content:
        pass
    peak = tracemalloc.get_traced_memory()[1]
    tracemalloc.stop()
    return peak / 1e6


def _median(taken: list[float]) -> float:
    return taken[len(taken) // 2]


def _p95(taken: list[float]) -> float:
    return taken[int(len(taken) * 0.95) - 1]


def _measure_recording(link: Link) -> None:
    """The page for visitors who are all new, each from an address of their own, with its visit written and without, in
    turn."""
    buyer, number = Client(headers={"host": "localhost", "user-agent": _BROWSER}), 0

    def come() -> None:
        nonlocal number
        number += 1
        buyer.get(link.path, REMOTE_ADDR=f"127.{number % 250}.{number // 250}.1")

    with_visits, without = [], []
    for _ in range(15):
        with_visits += _timed(come, 20)
        with mock.patch("cravik.checkout.views.note_coming", return_value=OpenedVisit(None)):
            without += _timed(come, 20)
    written, bare = (_median(sorted(taken)) for taken in (with_visits, without))
    more = f"{written / bare - 1:+.0%} (goal at most +25 %)"
    print(f"a new visitor's page with its visit {written:.2f} ms, without {bare:.2f} ms: {more}")


if __name__ == "__main__":
    main()
