"""Times home with five thousand links, as they are found, sorted and filtered; run on a data folder with the sample."""

from __future__ import annotations

import os
import time

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "cravik.config.settings")
from django.test import Client

import cravik.config.wsgi  # noqa: F401  # which sets the process up, its garbage collector too, as the server does
from cravik.demo.catalogue import SELLER_EMAIL
from cravik.links.models import Address, Link, LinkLabel, LinkTally, Spot, Version, new_version_id
from cravik.people.models import User

LINKS = 5_000
#: What is looked at, by its address; each is the best of a few.
VIEWS = {
    "as it opens": "/",
    "sorted by money": "/?sort=money",
    "sorted by last payment": "/?sort=paid",
    "searched": "/?q=kite+number",
    "with a label": "/?label=label+7",
    "with a look": "/?look=Night+flight",
    "live ones, the last page": "/?state=live&page=99",
}
_ROUNDS = 4


def main() -> None:
    fill()
    seller = Client(headers={"host": "localhost"})
    seller.force_login(User.objects.get(email=SELLER_EMAIL), backend="django.contrib.auth.backends.ModelBackend")
    for what, address in VIEWS.items():
        taken = []
        for _ in range(_ROUNDS):
            begun = time.perf_counter()
            assert seller.get(address).status_code == 200
            taken.append((time.perf_counter() - begun) * 1000)
        print(f"{what}: {min(taken):.0f} ms")


def fill() -> None:
    """As many links as are wanted, like those of the sample, each with all that hangs on one."""
    models = list(Link.objects.filter(state=Link.State.LIVE).select_related("version"))
    made = []
    for number in range(LINKS - Link.objects.count()):
        like = models[number % len(models)]
        made.append(
            Link(
                business_id=like.business_id,
                name=f"Kite number {number}",
                draft=like.draft,
                effective=like.effective,
                made_at=like.made_at,
                changed_at=like.changed_at,
                state_since=like.state_since,
            )
        )
    links = Link.objects.bulk_create(made)
    versions = []
    for number, link in enumerate(links):
        like = models[number % len(models)].version
        assert like is not None
        version = Version(id=new_version_id(), link=link, number=1, document=like.document, effective=like.effective)
        version.published_at = like.published_at
        versions.append(version)
    Version.objects.bulk_create(versions)
    for link, version in zip(links, versions, strict=True):
        link.version, link.state = version, Link.State.LIVE
    Link.objects.bulk_update(links, ["version", "state"], batch_size=500)
    LinkTally.objects.bulk_create(LinkTally(link=link) for link in links)
    Address.objects.bulk_create(Address(link=link, slug=f"number-{link.pk}") for link in links)
    Spot.objects.bulk_create(
        Spot(link=link, code=f"Q{link.pk:06}"[-7:], name="Main link", is_first=True, made_at=link.made_at)
        for link in links
    )
    LinkLabel.objects.bulk_create(LinkLabel(link=link, label=f"label {link.pk % 20}") for link in links)


if __name__ == "__main__":
    main()
