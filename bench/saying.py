"""Times how a said line is understood while it is typed: the answer to each keystroke, at the server.

python -m bench.saying        on a data folder with the sample, named by CRAVIK_DATA_DIR
"""

from __future__ import annotations

import os
import random
import time
from datetime import date
from zoneinfo import ZoneInfo

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "cravik.config.settings")
from django.test import Client

import cravik.config.wsgi  # noqa: F401  # which sets the process up, its garbage collector too, as the server does
from bench.queries import BROWSER
from cravik.core.text.said.pieces import When
from cravik.core.text.said.reading import MAX_LENGTH, read_said
from cravik.demo.catalogue import SELLER_EMAIL
from cravik.links.making.examples import FIRST_EXAMPLES, OTHER_EXAMPLES
from cravik.people.models import User

EXAMPLES = (*FIRST_EXAMPLES, *OTHER_EXAMPLES)
LONG = "Workshop: 35 for adult, 20 for child; and if wanted 8 each for lunch in cheese, ham or none, up to 4; paid once"


def main() -> None:
    seller = Client(headers={"host": "localhost", "user-agent": BROWSER})
    seller.force_login(User.objects.get(email=SELLER_EMAIL), backend="django.contrib.auth.backends.ModelBackend")
    taken = []
    for text in (EXAMPLES[0], *EXAMPLES, LONG):
        for end in range(1, len(text) + 1):
            begun = time.perf_counter()
            answer = seller.post("/links/say/understood/", {"said": text[:end]})
            taken.append((time.perf_counter() - begun) * 1000)
            assert answer.status_code == 200
    taken = sorted(taken[len(EXAMPLES[0]) :])  # the first warms up
    p95, p50 = taken[len(taken) * 95 // 100], taken[len(taken) // 2]
    chance = random.Random(36)
    noise = [" ".join(chance.choices(LONG.split(" "), k=900))[:MAX_LENGTH] for _ in range(40)]
    longest = []
    for text in noise:
        begun = time.process_time()
        read_said(text, "EUR", When(date(2026, 11, 29), ZoneInfo("UTC")))
        longest.append((time.process_time() - begun) * 1000)
    print(f"{MAX_LENGTH:,} letters of noise: p95 {sorted(longest)[37]:.0f} ms (goal 50); ", end="")
    print(f"p95 {p95:.0f} ms (goal 100), p50 {p50:.0f} ms, {len(taken)} keys")


if __name__ == "__main__":
    main()
