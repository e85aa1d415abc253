"""Measures the pricing core: quotes a second, a long batch's memory, a What-if table."""

from __future__ import annotations

import json
import os
import sys
import tempfile
import time
from collections.abc import Callable
from contextlib import suppress
from dataclasses import dataclass, replace
from datetime import date
from pathlib import Path

from bench import naive
from cravik.core.documents.basket import read_basket
from cravik.core.documents.cases import answer_line
from cravik.core.documents.offer import read_offer
from cravik.core.errors import BasketRefused
from cravik.core.pricing.basket import Basket, BasketLine
from cravik.core.pricing.money import Money
from cravik.core.pricing.offer import Line, Offer
from cravik.core.pricing.price import FixedPrice
from cravik.core.pricing.quote import quote
from cravik.core.pricing.tax import Place
from tests.running import PROJECT

CASES = PROJECT / "cravik" / "core" / "tests" / "data" / "worked-quotes.ndjson"
ROUNDS = 7
POINTS = 100


def quotes_a_second() -> float:
    """The random worked examples, read beforehand, quoted one after the other; the best of some rounds."""
    cases = [json.loads(line) for line in CASES.read_text().splitlines()]
    drawn = [
        (read_offer(case["offer"]), read_basket(case["basket"])) for case in cases if case["id"].startswith("random")
    ]

    def quote_all() -> None:
        for offer, basket in drawn:
            with suppress(BasketRefused):  # an answer like any other
                quote(offer, basket)

    return len(drawn) / best_seconds(quote_all)


def what_if_milliseconds() -> float:
    """A hundred prices of an offer with delivery, tax and a fee, each quoted once."""
    document = next(
        case["offer"]
        for case in map(json.loads, CASES.read_text().splitlines())
        if case["id"].startswith("random") and all(case["offer"].get(part) for part in ("delivery", "tax", "fee"))
    )
    offer = read_offer(document)
    sold = Line("kite", "Kite", FixedPrice(Money(0, offer.currency)), ships=True, weight_g=400)
    basket = Basket(date(2026, 11, 23), (BasketLine("kite"),), destination=Place("IE"))
    points: list[Offer] = [
        replace(
            offer, lines=(replace(sold, price=FixedPrice(Money(100 * point, offer.currency))),), window=None, codes=()
        )
        for point in range(1, POINTS + 1)
    ]

    def table() -> None:
        for point in points:
            quote(point, basket)

    return best_seconds(table) * 1000


@dataclass(frozen=True)
class Batch:
    """A long batch as a process of its own: lines, seconds, and the most memory it held."""

    lines: int
    seconds: float
    megabytes: float


def long_batch(lines: int) -> Batch:
    """The worked examples again and again through ``manage.py quote --batch``."""
    with tempfile.TemporaryDirectory() as folder:
        batch, answers = Path(folder) / "cases.ndjson", Path(folder) / "answers.ndjson"
        some = CASES.read_text().splitlines(keepends=True)
        with batch.open("w") as file:
            file.writelines(some[number % len(some)].rstrip("\n") + "\n" for number in range(lines))
        begun = time.monotonic()
        with answers.open("wb") as out:
            process = os.posix_spawn(
                sys.executable,
                [
                    sys.executable,
                    "manage.py",
                    "quote",
                    "--batch",
                    str(batch),
                    "--settings",
                    "cravik.config.test_settings",
                ],
                os.environ,
                file_actions=[(os.POSIX_SPAWN_DUP2, out.fileno(), 1)],
            )
            _, _, used = os.wait4(process, 0)
        with answers.open() as file:
            answered = sum(1 for _ in file)
        return Batch(answered, time.monotonic() - begun, used.ru_maxrss / 1024)


@dataclass(frozen=True)
class AgainstNaive:
    """Milliseconds a case, of the batch and of a loop that checks nothing."""

    batch: float
    naive: float
    cases: int

    @property
    def ratio(self) -> float:
        return self.batch / self.naive


def batch_against_naive() -> AgainstNaive:
    """The worked examples that are quoted and paid once, each a line in and a line out, one core.

    Both loops are held against each other first: they say the same.
    """
    lines = [line for line in CASES.read_bytes().splitlines() if _is_plain(line)]
    for line in lines:
        if json.loads(naive.answer(line)) != {"id": json.loads(line)["id"], **answer_line(line).row}:
            raise AssertionError(f"the two loops differ: {line[:80]!r}")

    def strict() -> None:
        for line in lines:
            json.dumps(answer_line(line).row).encode()

    def plain() -> None:
        for line in lines:
            naive.answer(line)

    in_ms = 1000 / len(lines)
    return AgainstNaive(best_seconds(strict) * in_ms, best_seconds(plain) * in_ms, len(lines))


def _is_plain(line: bytes) -> bool:
    plan = json.loads(line)["offer"].get("plan", {"kind": "once"})
    return plan["kind"] == "once" and answer_line(line).is_quoted


def reading_milliseconds() -> float:
    """A typical offer read strictly: the mean over the random worked examples."""
    offers = [
        case["offer"] for case in map(json.loads, CASES.read_text().splitlines()) if case["id"].startswith("random")
    ]

    def read_all() -> None:
        for offer in offers:
            read_offer(offer)

    return best_seconds(read_all) * 1000 / len(offers)


def best_seconds(act: Callable[[], None]) -> float:
    """What else the machine does only ever slows a round down, so the best of some is taken."""
    times = []
    for _ in range(ROUNDS):
        begun = time.perf_counter()
        act()
        times.append(time.perf_counter() - begun)
    return min(times)
