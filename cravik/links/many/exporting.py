"""Taking the documents of many links out, as one list that can be brought in again."""

from __future__ import annotations

from cravik.links.many.base import ManyAct
from cravik.links.models import Link


class ExportAct(ManyAct):
    name = "export"
    title = "Export as a document"
    verb = "Export them"
    done = "exported"
    is_harmless = True

    def words_of(self, link: Link) -> str:
        return "its draft"
