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

from bench import load, on_pages, quotes
from tests.running import PROJECT, RunningApplication

PAGE = "/for/kite-repair/"
ROUNDS = 4
_SPOT_OF_PAGE = (
    "SELECT code FROM links_spot JOIN links_address USING (link_id) WHERE slug = 'kite-repair' AND NOT is_first"
)


def main() -> None:
    with (
        tempfile.TemporaryDirectory() as data,
        RunningApplication(data, "--demo", CRAVIK_TRUSTED_PROXIES="1") as application,
    ):
        try:
            bare = measure_pages(application)
            measure_paying(application, bare)
            measure_first_view(application)
            measure_on_pages(application, bare)
            measure_queries(data)
            measure_bench(data)
            measure_spots(data)
            measure_documents(data)
        finally:
            show_complaints(application)
    measure_quotes()
    measure_catalogue()
    measure_second_start()
    measure_home_at_scale()
    measure_running()
    measure_years()
    measure_results()


def show_complaints(application: RunningApplication) -> None:
    """What went wrong in the server, in its own words: a figure of answers that failed would be none."""
    said = application.complaints()
    say("errors that the server wrote down", str(said.count("Traceback (most recent call last)")))
    if "Traceback" in said:
        print(said[-4000:])


def measure_pages(application: RunningApplication) -> float:
    """Rounds in turn, the best of each: what else the machine does only ever slows a round down. Returns the bare
    view's rate."""
    load.requests_a_second(application.port, ["/healthy/"] * 300)  # warm
    bare, again, new, spot = [], [], [], []
    code = application.query(_SPOT_OF_PAGE)[0][0]
    for _ in range(ROUNDS):
        bare.append(load.requests_a_second(application.port, ["/healthy/"] * 3000))
        again.append(load.requests_a_second(application.port, [PAGE] * 1500))
        new.append(load.requests_a_second(application.port, [PAGE] * 1500, every_visitor_is_new=True))
        spot.append(load.requests_a_second(application.port, [f"/k/{code}/"] * 1500))
    say("bare view (the constant at /healthy/, all middleware)", f"{max(bare):,.0f} requests/s, best of {rounds(bare)}")
    shown = (("a visitor who reloads", again), ("every visitor new (a row each)", new), ("by a spot's code", spot))
    for what, measured in shown:
        ratio = f"1 : {max(bare) / max(measured):.1f} (goal at least 1 : 3)"
        say(f"buyer's page, {what}", f"{max(measured):,.0f} requests/s = {ratio}, best of {rounds(measured)}")
    return max(bare)


def measure_paying(application: RunningApplication, bare: float) -> None:
    done = []
    for number in range(ROUNDS):
        forms = load.forms(application.port, PAGE, 400, f"round{number}")
        done.append(load.post_all(application.port, f"{PAGE}pay/", forms))
    best = max(done, key=lambda paid: paid.a_second)
    say(
        "pay, the whole post, 8 clients",
        f"{best.a_second:,.0f}/s = 1 : {bare / best.a_second:.1f} of the bare view (goal at least 1 : 15),"
        f" p50 {best.percentile(50):.0f} ms,"
        f" p95 {best.percentile(95):.0f} ms (goal 150), best of {rounds([paid.a_second for paid in done])}",
    )
    statuses = sorted(status for paid in done for status in paid.statuses)
    say("  answers by status (303 is paid)", str({status: statuses.count(status) for status in set(statuses)}))
    orders = application.query("SELECT count(*) FROM orders_order WHERE buyer_email LIKE '%@bench.example'")[0][0]
    say("  orders made of it", f"{orders} of {len(statuses)}")


def rounds(figures: list[float]) -> str:
    return ", ".join(f"{figure:,.0f}" for figure in figures)


def measure_first_view(application: RunningApplication) -> None:
    total, parts = load.bytes_of_first_view(f"{application.address}{PAGE}")
    say("buyer's first view over the wire", f"{total / 1000:.1f} kB (goal at most 75)")
    for name, size in parts:
        print(f"      {size / 1000:6.1f} kB  {name}")


def measure_on_pages(application: RunningApplication, bare: float) -> None:
    code = application.query(_SPOT_OF_PAGE)[0][0]
    say("script for pages of others over the wire", f"{on_pages.script_bytes() / 1000:.1f} kB (goal under 12)")
    asked = max(on_pages.asked_a_second(application, code) for _ in range(ROUNDS))
    say("what a button asks for", f"{asked:,.0f} requests/s = 1 : {bare / asked:.1f} of the bare view")
    alone, beside = on_pages.page_p95(application, PAGE, code)
    say(
        "buyer's page p95 while a thousand pages with a button open",
        f"{beside:.1f} ms against {alone:.1f} ms alone, {beside / alone - 1:+.0%} (goal at most +20%)",
    )
    drawn, fifty = on_pages.on_a_phone(f"http://localhost:{application.port + 1}", code)
    say("a button on a slow phone, after the page's first paint", f"{drawn:.0f} ms")
    say("fifty buttons more on a page", f"{fifty:.0f} ms, one request")


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


def measure_bench(data: str) -> None:
    say("a change on the bench, 20 lines, with the page anew", _printed_by("bench.workbench", data))
    say("a key of a said line, understood", _printed_by("bench.saying", data))


def _printed_by(module: str, data: str) -> str:
    run = [sys.executable, "-m", module]
    environment = os.environ | {"CRAVIK_DATA_DIR": data}
    # What it complains of is seen.
    done = subprocess.run(run, cwd=PROJECT, env=environment, check=True, stdout=subprocess.PIPE, text=True)
    return done.stdout.strip()


def measure_quotes() -> None:
    say("quotes of the random examples, one core", f"{quotes.quotes_a_second():,.0f}/s (goal 4,000)")
    milliseconds = quotes.what_if_milliseconds()
    say("a What-if table of 100 price points", f"{milliseconds:.1f} ms (goal under 50)")
    say("reading an offer strictly", f"{quotes.reading_milliseconds():.2f} ms (goal under 0.5)")
    against = quotes.batch_against_naive()
    say(
        "a line of a batch, against a loop that checks nothing",
        f"{against.ratio:.1f} : 1 (goal at most 3), {against.batch:.2f} and {against.naive:.2f} ms",
    )
    batch = quotes.long_batch(100_000)
    say(
        "a batch of 100,000 lines",
        f"{batch.megabytes:.0f} MB (goal under 150), {batch.lines:,} answers in {batch.seconds:.0f} s",
    )


def measure_catalogue() -> None:
    with tempfile.TemporaryDirectory() as data:
        environment = os.environ | {"CRAVIK_DATA_DIR": data}
        subprocess.run([sys.executable, "-m", "bench.catalogue"], cwd=PROJECT, env=environment, check=True)


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
        filled = [sys.executable, "-m", "bench.home"]
        many = subprocess.run(filled, cwd=PROJECT, env=environment, check=True, capture_output=True, text=True)
        say("home with 5,000 links and that sample, at the server", "(goal 200 ms each)")
        for line in many.stdout.splitlines():
            print(f"      {line}", flush=True)


def measure_spots(data: str) -> None:
    say("handing out", "")
    for line in _printed_by("bench.spots", data).splitlines():
        print(f"      {line}", flush=True)


def measure_documents(data: str) -> None:
    say("documents", "")
    for line in _printed_by("bench.documents", data).splitlines():
        print(f"      {line}", flush=True)


def measure_running() -> None:
    measure_on_empty_folder("what is paid over time, 50,000 running orders", "bench.running")


def measure_years() -> None:
    """The proof of paying over time, whole."""
    run = [sys.executable, "manage.py", "test", "--settings", "cravik.config.test_settings", "--noinput"]
    begun = time.monotonic()
    proven = subprocess.run(
        [*run, "tests.proofs.test_over_time"],
        cwd=PROJECT,
        env=os.environ | {"CRAVIK_PROOFS": "1", "CRAVIK_DATA_DIR": "var/for-bench"},
        check=False,
        capture_output=True,
        text=True,
    )
    became = "hold" if proven.returncode == 0 else f"DO NOT HOLD:\n{proven.stderr[-3000:]}"
    say("three simulated years of 300 orders paid over time", f"{time.monotonic() - begun:.0f} s; they {became}")


def measure_results() -> None:
    measure_on_empty_folder("results of a million visits, 200,000 orders, 2,000 spots", "bench.results")


def measure_on_empty_folder(what: str, module: str) -> None:
    with tempfile.TemporaryDirectory() as data:
        environment = os.environ | {"CRAVIK_DATA_DIR": data}
        for command in (["migrate", "-v0"], ["collectstatic", "--no-input"]):
            run = [sys.executable, "manage.py", *command]
            subprocess.run(run, cwd=PROJECT, env=environment, check=True, capture_output=True)
        say(what, "")
        for line in _printed_by(module, data).splitlines():
            print(f"      {line}", flush=True)


def say(what: str, figure: str) -> None:
    print(f"  {what:<58} {figure}", flush=True)


if __name__ == "__main__":
    main()
