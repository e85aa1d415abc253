"""What buyers of a line download once they have paid. Adding a file keeps the line in the catalogue."""

from __future__ import annotations

from cravik.catalogue.digital_goods import MAX_FILES
from cravik.catalogue.models import ItemFile
from cravik.links.bench.parts.of_item import OfItemPart


class FilesPart(OfItemPart):
    name = "files"
    heading = "Files to download"
    called = "Files"
    adds = "Files to download"
    found_by = "pdf pattern recording booklet access codes digital"
    template = "links/bench/parts/files.html"
    act = "files"
    most = MAX_FILES

    @property
    def given(self) -> list[ItemFile]:
        return [each for each in self.item.files.all() if not each.archived] if self.item else []

    @property
    def value(self) -> str:
        return ", ".join(each.title for each in self.given)
