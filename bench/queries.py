"""Counts the database queries of each main page, or times home; run on a data folder with the sample."""

from __future__ import annotations

import os
import sys
import time

import django

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "cravik.config.settings")
django.setup()

from django.db import connection  # noqa: E402
from django.test import Client  # noqa: E402
from django.test.utils import CaptureQueriesContext  # noqa: E402

from cravik.demo.catalogue import SELLER_EMAIL  # noqa: E402
from cravik.people.models import User  # noqa: E402

BROWSER = "Mozilla/5.0 (X11; Linux x86_64; rv:140.0) Gecko/20100101 Firefox/140.0"
SELLERS = ("/", "/links/new/", "/links/1/", "/links/1/hand-out/", "/orders/", "/mailroom/", "/setup/")


def main() -> None:
    seller = Client(headers={"host": "localhost", "user-agent": BROWSER})
    seller.force_login(User.objects.get(email=SELLER_EMAIL), backend="django.contrib.auth.backends.ModelBackend")
    if "--time-home" in sys.argv:
        taken = []
        for _ in range(6):
            begun = time.perf_counter()
            seller.get("/")
            taken.append((time.perf_counter() - begun) * 1000)
        print(f"{min(taken[1:]):.0f} ms at the server")
        return
    buyer = Client(headers={"host": "localhost", "user-agent": BROWSER})
    for client, path in [(buyer, "/for/kite-repair/"), *((seller, path) for path in SELLERS)]:
        client.get(path)
        with CaptureQueriesContext(connection) as captured:
            assert client.get(path).status_code == 200
        print(f"      {len(captured):3}  {path}")


if __name__ == "__main__":
    main()
