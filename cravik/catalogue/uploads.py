"""Photos and files as a seller sends them, several at once; each that was not taken is told in a sentence."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import datetime

from django.core.files.uploadedfile import UploadedFile

from cravik.catalogue.digital_goods import FileRefused, add_file, files_added
from cravik.catalogue.models import Item
from cravik.catalogue.pictures import MAX_PICTURES, TooManyPictures, add_picture
from cravik.people.actors import Actor
from cravik.ui.fields import clean_line
from cravik.ui.photo import PhotoRefused


def take_photos(item: Item, sent: Sequence[UploadedFile[bytes]], now: datetime, *, by: Actor) -> list[str]:
    """Keep the photos as pictures of the item; returns what was not taken, and why."""
    refusals = []
    for photo in sent[: MAX_PICTURES + 1]:
        name = clean_line(photo.name or "")[:60] or "The file"
        try:
            add_picture(item, photo, photo.size or 0, now, by=by)  # type: ignore[arg-type]  # an upload reads like the file it holds
        except PhotoRefused as refused:
            refusals.append(f"“{name}” was not taken. {refused}")
        except TooManyPictures:
            refusals.append(f"“{name}” was not taken. An item has {MAX_PICTURES} pictures at most.")
    return refusals if sent else ["Choose a picture first."]


def take_files(item: Item, sent: Sequence[UploadedFile[bytes]], now: datetime, *, by: Actor) -> list[str]:
    """Keep the files for the item's buyers, those who paid already too; returns what was not taken, and why."""
    refusals = []
    for file in sent:
        try:
            add_file(item, file, now, by=by)
        except FileRefused as refused:
            refusals.append(str(refused))
    if len(refusals) < len(sent):
        files_added.run(item.pk)
    return refusals if sent else ["Choose a file first."]
