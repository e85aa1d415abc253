"""Times the bench with an offer of twenty lines: a change saved and answered with sentence and sums, and the page anew.

python -m bench.workbench        on a data folder with the sample, named by CRAVIK_DATA_DIR
"""

from __future__ import annotations

import os
import time
from urllib.parse import urlencode

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "cravik.config.settings")
from django.test import Client
from django.utils import timezone

import cravik.config.wsgi  # noqa: F401  # which sets the process up, its garbage collector too, as the server does
from bench.queries import BROWSER
from cravik.demo.catalogue import SELLER_EMAIL
from cravik.links.bench.sheet import BenchSheet
from cravik.links.making.documents import import_link
from cravik.links.models import Link
from cravik.people.actors import command
from cravik.people.models import Business, User
from tests.bench_form import sheet_as_sent
from tests.links import document, line

LINES, CHANGES, ROUNDS = 20, 40, 3


def main() -> None:
    seller = Client(headers={"host": "localhost", "user-agent": BROWSER, "accept": "application/json"})
    seller.force_login(User.objects.get(email=SELLER_EMAIL), backend="django.contrib.auth.backends.ModelBackend")
    link = import_link(
        Business.objects.get(), document(*map(_line, range(LINES)), **_more()), timezone.now(), by=command("bench")
    )
    _changes(seller, link, 3)  # warm
    rounds = [_changes(seller, link, CHANGES) for _ in range(ROUNDS)]
    best = min(rounds, key=lambda times: _percentile([sum(each) for each in times]))
    both, saved, shown = ([sum(each) for each in best], *(list(each) for each in zip(*best, strict=True)))
    p95 = ", ".join(f"{_percentile([sum(each) for each in times]):.0f}" for times in rounds)
    words = f"save {_percentile(saved):.0f} ms, page {_percentile(shown):.0f} ms"
    print(f"p95 {_percentile(both):.0f} ms (goal 150), best of {p95}: {words}")


def _changes(seller: Client, link: Link, count: int) -> list[tuple[float, float]]:
    """Milliseconds of ``count`` changes, each of the saving and of the page that follows."""
    taken = []
    for number in range(count):
        link.refresh_from_db()
        # What the page's script sends: the panel in which something was typed, and the revision.
        sent = sheet_as_sent(BenchSheet(link))
        sent = {name: value for name, value in sent.items() if name.endswith(".line-0") or name == "revision"}
        typed = urlencode(sent | {"amount.line-0": f"{20 + number}.00", "currency": "EUR"})
        begun = time.perf_counter()
        answer = seller.post(f"/links/{link.pk}/", typed, content_type="application/x-www-form-urlencoded")
        saved = time.perf_counter()
        assert seller.get(f"/for/rehearsal/{link.pk}/").status_code == 200
        shown = time.perf_counter()
        assert answer.status_code == 200 and f"{20 + number}.00" in answer.json()["pieces"]["sentence"], answer.content
        taken.append(((saved - begun) * 1000, (shown - saved) * 1000))
    return taken


def _line(number: int) -> dict[str, object]:
    span = [{"name": "Span", "options": [{"name": "1.2 m", "add": "-1.00"}, {"name": "1.8 m"}]}]
    price = {"kind": "quantity", "method": "all_units", "breaks": [{"from": 1, "unit": "9"}, {"from": 10, "unit": "8"}]}
    more = {"price": price, "quantity": {"max": None}} if number % 4 == 3 else {"choices": span}
    return line(f"line-{number}", f"Kite {number}", "24.00", ships=True, weight_g=300, **more)


def _more() -> dict[str, object]:
    return {
        "offer": {"codes": [{"code": "GUST", "kind": "percent", "percent": "5"}]},
        "follows": ["tax", "delivery", "fee"],
    }


def _percentile(milliseconds: list[float]) -> float:
    return sorted(milliseconds)[len(milliseconds) * 95 // 100]


if __name__ == "__main__":
    main()
