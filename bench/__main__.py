"""Measures the application as it is shipped, and prints what it found.

    make bench

Everything talks to 127.0.0.1 and is bounded in count. Absolute numbers drift with the machine;
the ratios were taken in one run.
"""

from __future__ import annotations

import os
import subprocess
import sys
import tempfile
import time
from pathlib import Path

from bench import load
from tests.running import PROJECT, RunningApplication

PAGE = "/for/kite-repair/"


def main() -> None:
    with tempfile.TemporaryDirectory() as data, RunningApplication(data, "--demo") as application:
        measure_pages(application)
        measure_paying(application)
        measure_first_view(application)
        measure_queries(data)
    measure_second_start()
    measure_home_at_scale()


def measure_pages(application: RunningApplication) -> None:
    load.requests_a_second(application.port, ["/healthy/"] * 200)  # warm
    bare = load.requests_a_second(application.port, ["/healthy/"] * 6000)
    again = load.requests_a_second(application.port, [PAGE] * 3000)
    new = load.requests_a_second(application.port, [PAGE] * 3000, every_visitor_is_new=True)
    say("bare view (the constant at /healthy/, all middleware)", f"{bare:,.0f} requests/s")
    say(
        "buyer's page, a visitor who reloads", f"{again:,.0f} requests/s = 1 : {bare / again:.1f} (goal at least 1 : 5)"
    )
    say("buyer's page, every visitor new (a row each)", f"{new:,.0f} requests/s = 1 : {bare / new:.1f}")


def measure_paying(application: RunningApplication) -> None:
    forms = load.forms(application.port, PAGE, 1200)
    paid = load.post_all(application.port, f"{PAGE}pay/", forms)
    statuses = {status: paid.statuses.count(status) for status in sorted(set(paid.statuses))}
    say(
        "pay, the whole post, 8 clients",
        f"{paid.a_second:,.0f}/s (goal 100),"
        f" p50 {paid.percentile(50):.0f} ms, p95 {paid.percentile(95):.0f} ms (goal 150)",
    )
    say("  answers by status (302 is paid)", str(statuses))
    orders = application.query("SELECT count(*) FROM orders_order WHERE buyer_email LIKE '%@bench.example'")[0][0]
    say("  orders made of it", f"{orders} of {len(forms)}")


def measure_first_view(application: RunningApplication) -> None:
    total, parts = load.bytes_of_first_view(f"{application.address}{PAGE}")
    say("buyer's first view over the wire", f"{total / 1000:.1f} kB (goal under 100)")
    for name, size in parts:
        print(f"      {size / 1000:6.1f} kB  {name}")


def measure_queries(data: str) -> None:
    counted = subprocess.run(
        [sys.executable, "-m", "bench.queries"],
        cwd=PROJECT,
        env=os.environ | {"CRAVIK_DATA_DIR": data},
        check=True,
        capture_output=True,
        text=True,
    )
    say("database queries by page (goal at most 8 for the buyer's)", "")
    print(counted.stdout, end="")


def measure_second_start() -> None:
    with tempfile.TemporaryDirectory() as data:
        times = []
        for _ in range(2):
            begun = time.monotonic()
            with RunningApplication(data, "--demo"):
                times.append(time.monotonic() - begun)
    say("start of the demo, first time", f"{times[0]:.1f} s")
    say("start of the demo, second time", f"{times[1]:.1f} s (goal under 5)")


def measure_home_at_scale() -> None:
    with tempfile.TemporaryDirectory() as data:
        environment = os.environ | {"CRAVIK_DATA_DIR": data}
        for command in (["migrate", "-v0"], ["collectstatic", "--no-input"], ["load_demo", "--scale", "20"]):
            subprocess.run(
                [sys.executable, "manage.py", *command], cwd=PROJECT, env=environment, check=True, capture_output=True
            )
        size = (Path(data) / "cravik.sqlite3").stat().st_size
        timed = subprocess.run(
            [sys.executable, "-m", "bench.queries", "--time-home"],
            cwd=PROJECT,
            env=environment,
            check=True,
            capture_output=True,
            text=True,
        )
        say("home with twenty times the sample", f"{timed.stdout.strip()} ({size / 1e6:.0f} MB of data)")


def say(what: str, figure: str) -> None:
    print(f"  {what:<58} {figure}", flush=True)


if __name__ == "__main__":
    main()
