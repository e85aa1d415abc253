"""Files that come after they were paid for: handed to everybody who bought the item and got none, with a letter."""

from __future__ import annotations

from datetime import datetime
from typing import Any

from django.db import transaction
from django.db.models import Exists, F, OuterRef
from django.utils import timezone
from django_tasks import task

from cravik.catalogue.models import ItemFile
from cravik.links.life.shown_version import shown_version
from cravik.mailroom.services import OutgoingLetter, queue_letters
from cravik.mailroom.tasks import deliver_waiting_letters
from cravik.orders.downloads import new_download
from cravik.orders.letters import goods_of
from cravik.orders.models import PARTS, Download, Order
from cravik.orders.to_buyer import letter_to_buyer
from cravik.setup.messages.after_paying import FILES_ARRIVED
from cravik.upkeep.queue import enqueue_once

_BATCH = 50


def hand_over_later(item_id: int) -> None:
    """Have the item's files handed to those who paid before they were there, in the background."""
    hand_over_late_files.enqueue(item_id)


@task()
def hand_over_late_files(item_id: int) -> int:
    """Give the item's files to everybody who bought it and got none, write to them, and return to how many.

    Safe to run at any time and twice: a file is given to an order once, and a letter written once for the same files.
    """
    now, given, seen = timezone.now(), 0, 0
    files = list(ItemFile.objects.filter(item_id=item_id, archived=False).order_by("id"))
    while orders := list(_sold(item_id).filter(id__gt=seen)[:_BATCH]):
        given += sum(_give(order, item_id, files, now) for order in orders)
        seen = orders[-1].pk
    if given:
        enqueue_once(deliver_waiting_letters)
    return given


def _sold(item_id: int) -> Any:
    """Orders of the item whose buyers got no file of it when they paid."""
    got = Download.objects.filter(order=OuterRef("pk"), file__item=item_id, file__made_at__lte=F("order__paid_at"))
    paid = Order.objects.filter(paid_at__isnull=False)
    sold = paid.filter(version__sold_items__item=item_id).filter(~Exists(got)).distinct()
    related = sold.select_related("business", "checkout", "link").prefetch_related("downloads", *PARTS)
    return related.order_by("id")


def _give(order: Order, item_id: int, files: list[ItemFile], now: datetime) -> bool:
    """Give the order what it lacks of the files, if it holds the item; whether that was anything."""
    bought = {line["key"] for line in order.checkout.line.quote_document["lines"]}
    items = shown_version(order.version_id).items
    there = {download.file_id for download in order.downloads.all()}
    lacking = [file for file in files if file.pk not in there and order.paid_at and file.made_at > order.paid_at]
    if not lacking or not any(item == item_id and key in bought for key, item in items.items()):
        return False
    with transaction.atomic():
        Download.objects.bulk_create([new_download(order, file, now) for file in lacking], ignore_conflicts=True)
        queue_letters(order.business, [letter_about(Order.objects.get(id=order.pk), lacking)], now)
    return True


def letter_about(order: Order, files: list[ItemFile]) -> OutgoingLetter:
    """The letter that says that the files are there."""
    occasion = f"order-{order.pk}-file-{max(file.pk for file in files)}"
    return letter_to_buyer(order, FILES_ARRIVED, occasion, {"goods": goods_of(order)})
