"""Quotes on the command line: the same computation as the application's, without its database."""

from __future__ import annotations

import json
import os
import sys
from collections.abc import Callable
from pathlib import Path
from typing import Any, BinaryIO, TypeVar

from django.core.management.base import BaseCommand, CommandError, CommandParser

from cravik.core.documents.basket import read_basket
from cravik.core.documents.cases import answers
from cravik.core.documents.json_text import MAX_DOCUMENT_BYTES, read_json
from cravik.core.documents.offer import read_offer
from cravik.core.documents.quote import write_fault, write_quote, write_refusals
from cravik.core.documents.rows import write_rows
from cravik.core.errors import BasketRefused, InvalidDocument
from cravik.core.pricing.advice import advise
from cravik.core.pricing.basket import Basket
from cravik.core.pricing.offer import Offer
from cravik.core.pricing.quote import quote, work_out
from cravik.core.pricing.rows import rows_of
from cravik.core.text.explanation import explain
from cravik.core.text.faults import fault_words

_Document = TypeVar("_Document")

REFUSED, UNREADABLE = 1, 2


class Command(BaseCommand):
    help = (
        "Quote a basket of an offer, as JSON. Exit status 0 when every case was quoted, 1 when one was refused"
        " (the refusals are in the output), 2 when a file could not be read or is no valid document."
    )
    requires_system_checks: list[str] = []

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("offer", nargs="?", metavar="OFFER.json")
        parser.add_argument("basket", nargs="?", metavar="BASKET.json")
        what = parser.add_mutually_exclusive_group()
        what.add_argument(
            "--batch", metavar="CASES.ndjson", help='a line {"id", "offer", "basket"} each; - reads them in'
        )
        what.add_argument("--check", metavar="OFFER.json", help="warnings about an offer, as a JSON list")
        what.add_argument("--rows", action="store_true", help="what each payment consists of, as JSON")
        what.add_argument("--explain", action="store_true", help="tell the quote line by line in words")

    def handle(self, *args: Any, **options: Any) -> None:
        try:
            status = self._answer(options)
            sys.stdout.flush()
        except BrokenPipeError:  # whoever read along has read enough
            os.dup2(os.open(os.devnull, os.O_WRONLY), sys.stdout.fileno())
            status = 0
        if status:
            raise SystemExit(status)

    def _answer(self, options: dict[str, Any]) -> int:
        single = (options["offer"], options["basket"])
        if options["batch"] or options["check"]:
            if any(single):
                raise CommandError("--batch and --check take one file, and nothing besides.", returncode=UNREADABLE)
            return self._batch(options["batch"]) if options["batch"] else self._check(options["check"])
        if not all(single):
            raise CommandError("Name an offer and a basket, or one of --batch and --check.", returncode=UNREADABLE)
        offer, basket = _read(single[0], read_offer), _read(single[1], read_basket)
        if options["explain"]:
            return self._explain(offer, basket)
        return self._quote(offer, basket, _rows if options["rows"] else _quoted)

    def _quote(self, offer: Offer, basket: Basket, document: Callable[[Offer, Basket], dict[str, Any]]) -> int:
        try:
            self._say(document(offer, basket))
        except BasketRefused as refused:
            self._say(write_refusals(refused.faults))
            return REFUSED
        return 0

    def _explain(self, offer: Offer, basket: Basket) -> int:
        try:
            sentences = explain(offer, basket)
        except BasketRefused as refused:
            self.stdout.write("\n".join(f"Refused at {fault.at}: {fault_words(fault)}" for fault in refused.faults))
            return REFUSED
        self.stdout.write("\n".join(sentences))
        return 0

    def _check(self, path: str) -> int:
        self._say([write_fault(warning) for warning in advise(_read(path, read_offer))])
        return 0

    def _batch(self, path: str) -> int:
        status = 0
        with _opened(path) as lines:
            try:
                for answer in answers(lines):
                    self.stdout.write(json.dumps(answer.row, ensure_ascii=False))
                    status = status if answer.is_quoted else REFUSED
            except OSError as trouble:
                if isinstance(trouble, BrokenPipeError):
                    raise
                raise _unreadable(path, trouble.strerror) from trouble
        return status

    def _say(self, document: Any) -> None:
        self.stdout.write(json.dumps(document, ensure_ascii=False, indent=2))


def _quoted(offer: Offer, basket: Basket) -> dict[str, Any]:
    return write_quote(quote(offer, basket))


def _rows(offer: Offer, basket: Basket) -> dict[str, Any]:
    work = work_out(offer, basket)
    return write_rows(rows_of(work), work.quote.currency)


def _read(path: str, read: Callable[[object], _Document]) -> _Document:
    """The document in the file, or one clear line about why not."""
    try:
        with _opened(path) as file:
            return read(read_json(file.read(MAX_DOCUMENT_BYTES + 1)))
    except OSError as trouble:
        raise _unreadable(path, trouble.strerror) from trouble
    except InvalidDocument as error:
        sentences = [f"{fault.at}: {fault_words(fault)}" if fault.at else fault_words(fault) for fault in error.faults]
        raise _unreadable(path, " ".join(sentences)) from error


def _opened(path: str) -> BinaryIO:
    if path == "-":
        return sys.stdin.buffer
    try:
        return Path(path).open("rb")
    except OSError as trouble:
        raise _unreadable(path, trouble.strerror) from trouble


def _unreadable(path: str, why: str | None) -> CommandError:
    one_line = " ".join(f"{path}: {why}".split())
    return CommandError(one_line.encode("utf-8", "replace").decode(), returncode=UNREADABLE)
