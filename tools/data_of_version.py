"""Keeps a small data folder of this version, which the upgrades to all later ones are tested from.

    python -m tools.data_of_version

Run it when a version has its number; what is kept of a version is never made again. Something is sold plainly, with a
discount code and from a limited number, paid and refused.
"""

from __future__ import annotations

import http.cookiejar
import re
import sqlite3
import sys
import tarfile
import tempfile
import urllib.parse
import urllib.request
from contextlib import closing
from pathlib import Path

from tests.faults.links import import_published
from tests.running import RunningApplication

PROJECT = Path(__file__).resolve().parent.parent
KEPT = PROJECT / "tests" / "data" / "versions"
APPROVES, NO_FUNDS = "9000000000000019", "9000000000001017"


def main(version: str) -> None:
    """Make the folder, sell, and keep it as ``tests/data/versions/VERSION.tar.gz``."""
    with tempfile.TemporaryDirectory() as folder:
        data = Path(folder)
        with RunningApplication(data) as application:
            open_business(application)
            sell(application)
        with closing(sqlite3.connect(data / "cravik.sqlite3")) as database:
            database.execute("PRAGMA journal_mode=DELETE")
            database.execute("VACUUM")
        KEPT.mkdir(parents=True, exist_ok=True)
        with tarfile.open(KEPT / f"{version}.tar.gz", "w:gz") as tar:
            for name in ("cravik.sqlite3", "secret_key", "version", "pictures", "files"):
                if (data / name).exists():
                    tar.add(data / name, name)


def open_business(application: RunningApplication) -> None:
    """The first business, as its owner opens it at the machine."""
    browser = urllib.request.build_opener(urllib.request.HTTPCookieProcessor(http.cookiejar.CookieJar()))
    page = browser.open(f"{application.address}/start/").read().decode()
    token = re.search(r'name="csrfmiddlewaretoken" value="([^"]+)"', page)
    assert token
    sent = {
        "csrfmiddlewaretoken": token[1],
        "business-name": "Windlestraw Kites",
        "business-support_email": "hello@windlestraw.example",
        "business-country": "IE",
        "business-currency": "EUR",
        "business-time_zone": "Europe/Dublin",
        "business-statement_text": "WINDLESTRAW",
        "user-name": "Orla Windle",
        "user-email": "orla@windlestraw.example",
        "user-password": "kites on the beach",
    }
    browser.open(f"{application.address}/start/", urllib.parse.urlencode(sent).encode())


def sell(application: RunningApplication) -> None:
    """Links of several kinds, and what was bought and tried of each."""
    codes = {"codes": [{"code": "WIND", "kind": "percent", "percent": "50"}]}
    plain = import_published(application, "Kite mending")
    halved = import_published(application, "Half the price", offer=codes, code_rules={"WIND": {"uses": 30}})
    counted = import_published(application, "Places on the beach", limits={"orders": 5})
    for number in range(4):
        pay(application, plain, APPROVES, number)
        pay(application, counted, APPROVES if number else NO_FUNDS, number)
        form = application.filled_in_form(halved, APPROVES, f"h{number}@dunes.example")
        application.post(f"{halved}pay/", form | {"code": "WIND", "seen_total": "12.00", "seen_now": "12.00"})


def pay(application: RunningApplication, path: str, card: str, number: int) -> None:
    application.post(f"{path}pay/", application.filled_in_form(path, card, f"b{number}@dunes.example"))


if __name__ == "__main__":
    main(sys.argv[1])
