"""Links on the command line: brought in from a document, and written out as one."""

from __future__ import annotations

import json
import sys
from pathlib import Path
from typing import Any

from django.core.management.base import CommandError, CommandParser
from django.utils import timezone

from cravik.core.documents.json_text import MAX_DOCUMENT_BYTES, read_json
from cravik.core.errors import InvalidDocument
from cravik.links.life.lifecycle import NotReady
from cravik.links.making.documents import exported, import_link, in_words
from cravik.links.models import Address, Link, Spot
from cravik.links.places.locks import NotLockable, locked_query
from cravik.people.actors import command
from cravik.people.commands import business_called
from cravik.setup.hosts import address_of
from cravik.ui.addresses import path_in
from cravik.upkeep.commands import DataCommand

REFUSED, INVALID = 1, 2


class Command(DataCommand):
    help = (
        "Make a link of a link document, write a link out as one, or sign an address of it. Exit status 0; 1 when"
        " publishing was refused, and nothing is kept; 2 for an invalid document, field, or address that is no link's."
    )

    def add_arguments(self, parser: CommandParser) -> None:
        acts = parser.add_subparsers(dest="act", required=True, metavar="import|export|sign")
        bring = acts.add_parser("import", help="make a new link of the document in FILE; - reads it in")
        bring.add_argument("file", metavar="FILE")
        bring.add_argument("--business", metavar="NAME", help="whose link it is, where there are several businesses")
        bring.add_argument("--publish", action="store_true", help="let buyers see it at once")
        write = acts.add_parser("export", help="print the document of the link at ADDRESS")
        write.add_argument("address", metavar="ADDRESS")
        write.add_argument("--edition", type=int, metavar="N", help="what was published as the N-th, not the draft")
        sign = acts.add_parser("sign", help="print the address of the link with fields filled in and locked")
        sign.add_argument("address", metavar="ADDRESS")
        sign.add_argument("fields", metavar="FIELD=VALUE", nargs="+", help="such as amount.fund=25.00 or code=WIND15")

    def handle(self, *args: Any, **options: Any) -> None:
        if options["act"] == "import":
            self._import(options["file"], options["business"], publish=options["publish"])
        elif options["act"] == "sign":
            self._sign(options["address"], options["fields"])
        else:
            self._export(options["address"], options["edition"])

    def _import(self, file: str, name: str | None, *, publish: bool) -> None:
        business = business_called(name)
        try:
            document = read_json(_content(file))
            link = import_link(business, document, timezone.now(), published=publish, by=command("link import"))
        except InvalidDocument as refused:
            sentences = " ".join(fault.line for fault in in_words(refused.faults))
            raise _failed(f"{file}: {sentences}", INVALID) from refused
        except NotReady as refused:
            raise _failed(str(refused), REFUSED) from refused
        self.stdout.write(address_of(link.business_id, link.path))

    def _sign(self, address: str, pairs: list[str]) -> None:
        link = _link_at(address)
        if link is None:
            raise _failed(f"{address}: no link answers there.", INVALID)
        offer = link.version.offer if link.version else link.offer if link.effective else None
        if offer is None:
            raise _failed(f"{address}: the link is not finished.", INVALID)
        fields = {name: value for name, _, value in (pair.partition("=") for pair in pairs)}
        try:
            query = locked_query(link.pk, offer, fields)
        except NotLockable as refused:
            raise _failed(str(refused), INVALID) from refused
        self.stdout.write(f"{address_of(link.business_id, link.path)}?{query}")

    def _export(self, address: str, number: int | None) -> None:
        link = _link_at(address)
        if link is None:
            raise _failed(f"{address}: no link answers there.", INVALID)
        document = exported(link, number)
        if document is None:
            raise _failed(f"{address}: there is no version {number}.", INVALID)
        self.stdout.write(json.dumps(document, ensure_ascii=False, indent=2))


def _content(file: str) -> bytes:
    try:
        if file == "-":
            return sys.stdin.buffer.read(MAX_DOCUMENT_BYTES + 1)
        with Path(file).open("rb") as stream:
            return stream.read(MAX_DOCUMENT_BYTES + 1)
    except OSError as trouble:
        raise _failed(f"{file}: {trouble.strerror}", INVALID) from trouble


def _link_at(address: str) -> Link | None:
    """The link at a readable or short address, absolute or not, or by its slug or code alone."""
    slug = path_in(address).strip("/").rpartition("/")[2]
    found = Address.objects.select_related("link__business").filter(slug=slug).first()
    if found:
        return found.link
    spot = Spot.objects.select_related("link__business").filter(code=slug.upper()).first()
    return spot.link if spot else None


def _failed(words: str, status: int) -> CommandError:
    one_line = " ".join(words.split())
    return CommandError(one_line.encode("utf-8", "replace").decode(), returncode=status)
