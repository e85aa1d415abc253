"""Pictures of items: adding, describing, ordering and removing them, and their files."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import datetime
from typing import BinaryIO

from django.db import transaction
from django.db.models import Max

from cravik.catalogue.happened import ItemChanged, record
from cravik.catalogue.models import Item, Picture
from cravik.people.actors import Actor
from cravik.ui.photo import prepare
from cravik.ui.picture_files import keep_files, remove_files

MAX_PICTURES = 12


class TooManyPictures(Exception):
    """The item has as many pictures as it can."""


def add_picture(item: Item, file: BinaryIO, size: int, now: datetime, *, by: Actor) -> Picture:
    """Put a photo behind the others. Raises ``PhotoRefused`` and ``TooManyPictures``.

    The files are written first, under a name that nobody knows yet: a crash in between leaves files that nothing names.
    """
    pictures = Picture.objects.filter(item=item)
    if pictures.count() >= MAX_PICTURES:
        raise TooManyPictures
    prepared = prepare(file, size)
    name = keep_files(prepared)
    try:
        with transaction.atomic():
            if pictures.count() >= MAX_PICTURES:  # somebody else was quicker
                raise TooManyPictures
            record(ItemChanged("pictures"), item, now, by)
            last = pictures.aggregate(last=Max("position"))["last"]
            return Picture.objects.create(
                item=item,
                name=name,
                widths=sorted(prepared.files),
                width=prepared.width,
                height=prepared.height,
                position=0 if last is None else last + 1,
                made_at=now,
            )
    except BaseException:
        remove_files(name, prepared.files)
        raise


@transaction.atomic
def describe_picture(picture: Picture, words: str, focus_x: int, focus_y: int, now: datetime, *, by: Actor) -> None:
    """Set the words for who cannot see it, and the point that stays in sight when it is cropped (tenths of 100)."""
    Picture.objects.filter(id=picture.pk).update(words=words, focus_x=focus_x, focus_y=focus_y)
    record(ItemChanged("pictures"), picture.item, now, by)


@transaction.atomic
def order_pictures(item: Item, order: Sequence[int], now: datetime, *, by: Actor) -> None:
    """Put the pictures in the order of their ids; those that are not named come after, as they stood."""
    pictures = {picture.pk: picture for picture in item.pictures.all()}
    named = [pictures[each] for each in dict.fromkeys(order) if each in pictures]
    rest = [picture for picture in pictures.values() if picture not in named]
    for position, picture in enumerate([*named, *rest]):
        picture.position = position
    Picture.objects.bulk_update(pictures.values(), ["position"])
    record(ItemChanged("pictures"), item, now, by)


def remove_picture(picture: Picture, now: datetime, *, by: Actor) -> None:
    """Take it away with its files; options that showed it show none."""
    with transaction.atomic():
        picture.delete()
        record(ItemChanged("pictures"), picture.item, now, by)
    remove_files(picture.name, picture.widths)
