"""Pictures of items: adding, describing, ordering and removing them, and their files."""

from __future__ import annotations

import secrets
from collections.abc import Sequence
from datetime import datetime
from pathlib import Path
from typing import BinaryIO

from django.conf import settings
from django.db import transaction
from django.db.models import Max

from cravik.catalogue.models import Item, Picture
from cravik.catalogue.photo import prepare

MOST_PICTURES = 8


class TooManyPictures(Exception):
    """The item has as many pictures as it can."""


def picture_file(name: str, width: int) -> Path:
    """Where the picture's file of that width lies; outside of everything the web server shows by itself."""
    return Path(settings.CRAVIK_PICTURES) / f"{name}-{width}.webp"


def add_picture(item: Item, file: BinaryIO, size: int, now: datetime) -> Picture:
    """Put a photo behind the others. Raises ``PhotoRefused`` and ``TooManyPictures``.

    The files are written first, under a name that nobody knows yet: a crash in between leaves files that nothing names.
    """
    pictures = Picture.objects.filter(item=item)
    if pictures.count() >= MOST_PICTURES:
        raise TooManyPictures
    prepared = prepare(file, size)
    name = secrets.token_hex(16)
    Path(settings.CRAVIK_PICTURES).mkdir(parents=True, exist_ok=True)
    for width, content in prepared.files.items():
        picture_file(name, width).write_bytes(content)
    try:
        with transaction.atomic():
            if pictures.count() >= MOST_PICTURES:  # somebody else was quicker
                raise TooManyPictures
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
        remove_files(name, list(prepared.files))
        raise


def describe_picture(picture: Picture, words: str, focus_x: int, focus_y: int) -> None:
    """Set the words for who cannot see it, and the point that stays in sight when it is cropped (tenths of 100)."""
    Picture.objects.filter(id=picture.pk).update(words=words, focus_x=focus_x, focus_y=focus_y)


@transaction.atomic
def order_pictures(item: Item, order: Sequence[int]) -> None:
    """Put the pictures in the order of their ids; those that are not named come after, as they stood."""
    pictures = {picture.pk: picture for picture in item.pictures.all()}
    named = [pictures[each] for each in dict.fromkeys(order) if each in pictures]
    rest = [picture for picture in pictures.values() if picture not in named]
    for position, picture in enumerate([*named, *rest]):
        picture.position = position
    Picture.objects.bulk_update(pictures.values(), ["position"])


def remove_picture(picture: Picture) -> None:
    """Take it away with its files; options that showed it show none."""
    picture.delete()
    remove_files(picture.name, picture.widths)


def remove_files(name: str, widths: Sequence[int]) -> None:
    """Take a picture's files away; those that are gone already are not missed."""
    for width in widths:
        picture_file(name, width).unlink(missing_ok=True)
