"""Offers said in one line, on the command line: what is understood of them, as the new link's page understands it."""

from __future__ import annotations

import json
import sys
from collections.abc import Iterator
from datetime import date
from pathlib import Path
from typing import Any
from zoneinfo import ZoneInfo, ZoneInfoNotFoundError

from django.core.management.base import BaseCommand, CommandError, CommandParser
from django.utils import timezone

from cravik.core.documents.json_text import read_json
from cravik.core.errors import InvalidDocument
from cravik.core.pricing.currency import payable_currencies
from cravik.core.text.said.pieces import When
from cravik.core.text.said.reading import MAX_LENGTH, read_said, ways_of
from cravik.links.making.from_text import document_of, when_at
from cravik.people.models import Business


class Command(BaseCommand):
    help = (
        "Print what is understood of an offer that is said in one line, as JSON: the link's document as far as it goes,"
        " the pieces that were missed, what would be asked, and what is decided in Setup. Exit status 2 when a file"
        " could not be read or a row is none."
    )
    requires_system_checks: list[str] = []

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("text", nargs="?", metavar="TEXT", help="in the first business's currency")
        parser.add_argument(
            "--batch", metavar="FILE.ndjson", help='a row {"id", "text", "currency", "today", "time_zone"} each'
        )

        parser.add_argument("--why", action="store_true", help="print the ways to read TEXT instead, the best first")

    def handle(self, *args: Any, **options: Any) -> None:
        if (options["text"] is None) == (options["batch"] is None):
            raise CommandError("Name one text, or a file with --batch.", returncode=2)
        if options["why"] and options["text"]:
            row = _row_of_first(options["text"])
            for way in ways_of(row["text"], row["currency"], row["when"]):
                sys.stdout.write(json.dumps(way._asdict(), ensure_ascii=False) + "\n")
            return
        rows = _rows_of(options["batch"]) if options["batch"] else iter([_row_of_first(options["text"])])
        for row in rows:
            answer = ({"id": row["id"]} if "id" in row else {}) | said(row["text"], row["currency"], row["when"])
            sys.stdout.write(json.dumps(answer, ensure_ascii=False) + "\n")


def said(text: str, currency: str, when: When) -> dict[str, Any]:
    """What is understood of the text; a draft is made of it without further ado where nothing is missed or asked."""
    parsed = read_said(text, currency, when)
    return {
        "document": document_of(parsed, {}).draft,
        "missed": list(parsed.missed),
        "ask": [
            {"about": doubt.about, "choices": [choice.words for choice in doubt.choices]} for doubt in parsed.doubts
        ],
        "elsewhere": list(parsed.elsewhere),
    }


def _row_of_first(text: str) -> dict[str, Any]:
    business = Business.objects.order_by("id").first()
    if business is None:
        raise CommandError("There is no business yet, whose currency it would be in.", returncode=1)
    return {"text": text, "currency": business.currency, "when": when_at(business, timezone.now())}


def _rows_of(file: str) -> Iterator[dict[str, Any]]:
    try:
        content = Path(file).read_bytes()
    except OSError as error:
        raise CommandError(f"{file} can't be read: {error.strerror}.", returncode=2) from error
    for number, line in enumerate(content.splitlines(), 1):
        if line.strip():
            yield _row(line, f"{file}, row {number}")


def _row(line: bytes, where: str) -> dict[str, Any]:
    try:
        row = read_json(line)
    except InvalidDocument as error:
        raise CommandError(f"{where} is no JSON.", returncode=2) from error
    if not isinstance(row, dict) or not all(isinstance(row.get(name), str) for name in ("text", "currency")):
        raise CommandError(f'{where} is not {{"id", "text", "currency"}}.', returncode=2)
    if row["currency"] not in payable_currencies():
        raise CommandError(f"{where}: “{row['currency']}” is no currency.", returncode=2)
    row["when"] = _when(row, where)
    if len(row["text"]) > 10 * MAX_LENGTH:
        raise CommandError(f"{where} is too long.", returncode=2)
    return row


def _when(row: dict[str, Any], where: str) -> When:
    """The row's day and zone; today in UTC where it names none."""
    try:
        zone = ZoneInfo(row.get("time_zone", "UTC"))
        today = date.fromisoformat(row["today"]) if "today" in row else timezone.now().astimezone(zone).date()
    except (TypeError, ValueError, ZoneInfoNotFoundError) as error:
        raise CommandError(
            f'{where}: “today” is a day, “time_zone” a zone, such as "Europe/Dublin".', returncode=2
        ) from error
    return When(today, zone)
