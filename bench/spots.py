"""Times a link with a thousand spots, the drawing of codes and their proof; run on a data folder with the sample."""

from __future__ import annotations

import os
import random
import time
from collections.abc import Callable
from datetime import timedelta

import django

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "cravik.config.settings")
django.setup()

from django.test import Client  # noqa: E402
from django.utils import timezone  # noqa: E402

from cravik.core.graphics.qr.design import CodeDesign  # noqa: E402
from cravik.demo.catalogue import SELLER_EMAIL  # noqa: E402
from cravik.journal.models import Visit  # noqa: E402
from cravik.links.models import Link  # noqa: E402
from cravik.links.places.spots import make_spots  # noqa: E402
from cravik.people.actors import command  # noqa: E402
from cravik.people.models import User  # noqa: E402
from cravik.share.codes import symbol, trials  # noqa: E402
from cravik.share.codes.faces import lettering  # noqa: E402
from cravik.share.codes.files import KINDS  # noqa: E402
from cravik.share.codes.symbol import Piece  # noqa: E402

SPOTS, VISITS = 1_000, 40_000
_ROUNDS = 5
_DESIGNS = {
    "plain": CodeDesign(),
    "rounded, a word, a caption": CodeDesign(shape="soft", middle="word", word="Kite", caption="Scan to pay"),
}


def main() -> None:
    lettering("Scan to pay")  # which reads the face
    for what, design in _DESIGNS.items():
        for ending, kind in KINDS.items():
            print(f"a code as {ending.upper()}, {what}: {_best(lambda: kind.write(_fresh(design))):.0f} ms (goal 20)")  # noqa: B023
        print(f"the proof of it, {what}: {_best(lambda: trials.proof_of(_fresh(design))):.0f} ms (goal 1,000)")  # noqa: B023
    seller = Client(headers={"host": "localhost"})
    seller.force_login(User.objects.get(email=SELLER_EMAIL), backend="django.contrib.auth.backends.ModelBackend")
    link = Link.objects.order_by("id")[0]
    fill(link)
    for what, query in {
        "newest": "",
        "by visits": "?sort=visits",
        "by money": "?sort=money",
        "searched": "?q=door+77",
    }.items():
        taken = _best(lambda: seller.get(f"/links/{link.pk}/hand-out/{query}"))  # noqa: B023
        print(f"{SPOTS:,} spots of one link with {VISITS:,} visits, {what}: {taken:.0f} ms (goal 200)")


def fill(link: Link) -> None:
    """As many spots as are wanted, with visits of the last two months."""
    now, chance = timezone.now(), random.Random(7)
    make_spots(
        link,
        [f"Door {number}" for number in range(SPOTS - link.spots.count())],
        now - timedelta(days=60),
        by=command("bench"),
    )
    spots = list(link.spots.values_list("id", flat=True))
    visits = []
    for _ in range(VISITS):
        opened = now - timedelta(minutes=chance.randrange(60 * 24 * 60))
        spot, mark = chance.choice(spots), f"{chance.getrandbits(128):032x}"
        visits.append(
            Visit(
                business_id=link.business_id,
                link_id=link.pk,
                spot_id=spot,
                visitor=mark,
                rung=1,
                opened_at=opened,
                last_at=opened,
            )
        )
    Visit.objects.bulk_create(visits, batch_size=2000)


def _fresh(design: CodeDesign) -> Piece:
    """A piece of which nothing is kept from before."""
    for kept in (symbol.matrix_of, symbol._drawing, trials.proof_of):
        kept.cache_clear()
    return Piece("https://pay.windlestraw.example/k/3479CF/", design)


def _best(work: Callable[[], object]) -> float:
    """The best of some rounds, in milliseconds."""
    taken = []
    for _ in range(_ROUNDS):
        begun = time.perf_counter()
        work()
        taken.append((time.perf_counter() - begun) * 1000)
    return min(taken)


if __name__ == "__main__":
    main()
