"""What a buyer of an item is handed over after paying: files to download, and an access code a sale."""

from __future__ import annotations

import secrets
from collections.abc import Collection, Iterable
from dataclasses import dataclass
from datetime import datetime
from pathlib import Path
from typing import Protocol

from django.conf import settings
from django.db import transaction

from cravik.catalogue.happened import ItemChanged, record
from cravik.catalogue.models import AccessCode, Item, ItemFile
from cravik.catalogue.refusals import ACCESS_CODES, FILES
from cravik.catalogue.stock import SoldOut
from cravik.core.text.refusal import Refusal
from cravik.people.actors import Actor
from cravik.ui.fields import clean_line
from cravik.upkeep.hooks import Hook

MAX_FILES = 10
MAX_BYTES = 100_000_000
MAX_CODES_AT_ONCE = 5_000
MAX_CODE_LENGTH = 200


class FileRefused(Refusal):
    """The file cannot be taken."""

    words = FILES


class Upload(Protocol):
    """A file as it was sent."""

    @property
    def name(self) -> str | None: ...

    @property
    def size(self) -> int | None: ...

    def chunks(self) -> Iterable[bytes]: ...


@dataclass(frozen=True)
class CodesTaken:
    """What became of a pasted list of codes: how many are new, how many were there already or stood there twice."""

    new: int
    repeated: int


class CodesRefused(Refusal):
    """The list of access codes cannot be taken."""

    words = ACCESS_CODES


def file_path(key: str) -> Path:
    """Where a file lies: outside of everything that the web server shows by itself."""
    return Path(settings.CRAVIK_FILES) / key


def add_file(item: Item, upload: Upload, now: datetime, *, by: Actor) -> ItemFile:
    """Keep a file for the item's buyers. Raises ``FileRefused``.

    It is written first, under a name that nobody knows: a crash in between leaves a file that nothing names.
    """
    title = clean_line(Path((upload.name or "").replace("\\", "/")).name)[:120] or "file"
    size = upload.size or 0
    if not size:
        raise FileRefused.of("file_empty", title=title)
    if size > MAX_BYTES:
        raise FileRefused.of("file_too_large", title=title, megabytes=size / 1e6, most=MAX_BYTES // 1_000_000)
    if item.files.filter(archived=False).count() >= MAX_FILES:
        raise FileRefused.of("too_many_files", title=title, most=MAX_FILES)
    key = secrets.token_hex(16)
    path = file_path(key)
    path.parent.mkdir(parents=True, exist_ok=True)
    try:
        with path.open("wb") as out:
            for chunk in upload.chunks():
                out.write(chunk)
        if path.stat().st_size != size:
            raise FileRefused.of("file_cut_off", title=title)
        with transaction.atomic():
            record(ItemChanged("files"), item, now, by)
            return ItemFile.objects.create(item=item, key=key, title=title, size=size, made_at=now)
    except BaseException:
        path.unlink(missing_ok=True)
        raise


#: Asked once files were added to an item.
files_added: Hook[[int], None] = Hook("cravik.catalogue.digital_goods.files_added")


def downloads_without_goods(item_ids: Collection[int]) -> list[Item]:
    """Those of the items that are sold as downloads, and have neither a file nor an access code to give."""
    lacking = Item.objects.filter(id__in=item_ids, kind=Item.Kind.DOWNLOAD, access_codes=None)
    return list(lacking.exclude(files__in=ItemFile.objects.filter(archived=False)).order_by("name"))


@transaction.atomic
def archive_file(file: ItemFile, now: datetime, *, by: Actor) -> None:
    """Give the file to no new buyer."""
    ItemFile.objects.filter(id=file.pk).update(archived=True)
    record(ItemChanged("files"), file.item, now, by)


def remove_kept_files(keys: Iterable[str]) -> None:
    """Take files from the disk whose rows are gone."""
    for key in keys:
        file_path(key).unlink(missing_ok=True)


@transaction.atomic
def add_codes(item: Item, pasted: str, now: datetime, *, by: Actor) -> CodesTaken:
    """Keep the codes, one a line. Blank lines are passed over. Raises ``CodesRefused``, and then keeps none."""
    lines = pasted.replace("\r\n", "\n").replace("\r", "\n").split("\n")
    codes = []
    for number, line in enumerate(lines, start=1):
        code = clean_line(line)
        if len(code) > MAX_CODE_LENGTH:
            raise CodesRefused.of("access_code_too_long", line=number, length=len(code), most=MAX_CODE_LENGTH)
        if code:
            codes.append(code)
    if not codes:
        raise CodesRefused.of("no_access_codes")
    if len(codes) > MAX_CODES_AT_ONCE:
        raise CodesRefused.of("too_many_access_codes", count=len(codes), most=MAX_CODES_AT_ONCE)
    there = set(item.access_codes.values_list("code", flat=True))
    new = [code for code in dict.fromkeys(codes) if code not in there]
    AccessCode.objects.bulk_create((AccessCode(item=item, code=code) for code in new), batch_size=500)
    if new:
        record(ItemChanged("codes"), item, now, by)
    return CodesTaken(len(new), len(codes) - len(new))


@transaction.atomic
def remove_free_codes(item: Item, now: datetime, *, by: Actor) -> int:
    """Take away the codes that nobody has and nobody is paying for; returns how many."""
    count: int = item.access_codes.filter(state=AccessCode.State.FREE).delete()[0]
    if count:
        record(ItemChanged("codes"), item, now, by)
    return count


def gives_codes(item_ids: Collection[int]) -> bool:
    """Whether each sale of one of the items gets a code."""
    return bool(item_ids) and AccessCode.objects.filter(item_id__in=item_ids).exists()


def reserve_code(item_id: int) -> AccessCode | None:
    """Hold the next code for a buyer who is about to pay, in the transaction that is under way.

    None where the item has no codes. Raises ``SoldOut`` where none of them is left.
    """
    codes = AccessCode.objects.filter(item_id=item_id)
    while code := codes.filter(state=AccessCode.State.FREE).order_by("id").first():
        # Conditional, so that of two buyers only one gets it whatever the database.
        if codes.filter(id=code.pk, state=AccessCode.State.FREE).update(state=AccessCode.State.HELD):
            return code
    if codes.exists():
        raise SoldOut
    return None


def release_code(code_id: int) -> None:
    """Let a code that was held for nothing be given to another."""
    AccessCode.objects.filter(id=code_id, state=AccessCode.State.HELD).update(state=AccessCode.State.FREE)


def assign_code(code_id: int, now: datetime) -> None:
    """The sale is made; the code is its buyer's."""
    AccessCode.objects.filter(id=code_id).update(state=AccessCode.State.GIVEN, given_at=now)
