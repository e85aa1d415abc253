"""Handing over what was bought: downloads that are counted and end, and the access code of the sale."""

from __future__ import annotations

import secrets
from collections.abc import Collection
from datetime import datetime, timedelta

from django.db import transaction
from django.db.models import F, Q

from cravik.catalogue.models import ItemFile
from cravik.events.writing import write
from cravik.orders.happened import DownloadsAgain, about
from cravik.orders.models import Download, Order
from cravik.payments.models import Agreement
from cravik.people.actors import Actor

#: How often and how long a buyer may take a file.
MAX_DOWNLOADS = 10
OPEN_FOR = timedelta(days=30)
#: So long the same buyer may go on with a file that broke off, or take it once more, and it counts once.
GO_ON_FOR = timedelta(hours=6)


class DownloadOver(Exception):
    """The download was taken as often as it may be, or its last day is past."""


def open_downloads(order: Order, item_ids: Collection[int], now: datetime) -> None:
    """Let the order's buyer take the files of what they bought. In the transaction that makes the order."""
    if not item_ids:
        return
    files = ItemFile.objects.filter(item_id__in=item_ids, archived=False)
    Download.objects.bulk_create(new_download(order, file, now) for file in files)


def new_download(order: Order, file: ItemFile, now: datetime) -> Download:
    """The order's right to the file, not saved yet."""
    return Download(order=order, file=file, key=secrets.token_urlsafe(18), most=MAX_DOWNLOADS, until=now + OPEN_FOR)


@transaction.atomic
def open_again(order: Order, now: datetime, *, by: Actor) -> int:
    """Let the buyer download every file of the order again; returns how many files there are."""
    opened = Download.objects.filter(order=order).update(
        taken=0, most=MAX_DOWNLOADS, until=now + OPEN_FOR, last_by="", last_at=None
    )
    if opened:
        write(DownloadsAgain(), about(order), now, by)
    return opened


def download_of(key: str) -> Download | None:
    """The download at the address that ends in ``key``, or None."""
    return Download.objects.select_related("file", "order__checkout").filter(key=key).first()


def is_access_off(order: Order) -> bool:
    """Whether what it gives access to is closed: it is paid over time, and paused, or ended before all was paid."""
    paused = Q(state=Agreement.State.PAUSED)
    over = Q(state=Agreement.State.ENDED) & ~Q(why=Agreement.Why.COMPLETED)
    return Agreement.objects.filter(paused | over, checkout=order.checkout_id).exists()


def count_download(download: Download, visitor: str, now: datetime) -> None:
    """Count one taking of the file. Raises ``DownloadOver``.

    Whoever takes it once more within ``GO_ON_FOR`` goes on with the same, however often it broke off. The count and
    its bound are one statement, so that two at once cannot pass the last.
    """
    if is_access_off(download.order):
        raise DownloadOver
    there = Download.objects.filter(id=download.pk, until__gt=now)
    if visitor and there.filter(last_by=visitor, last_at__gt=now - GO_ON_FOR).exists():
        return
    counted = there.filter(taken__lt=F("most"))
    if not counted.update(taken=F("taken") + 1, last_by=visitor, last_at=now):
        raise DownloadOver
