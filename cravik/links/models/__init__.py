"""Links, what was published of them, and the places where they answer: one subject a file."""

from cravik.links.models.counts import LinePieces, LinkCode, LinkTally
from cravik.links.models.label import LinkLabel
from cravik.links.models.link import Link, items_of_draft
from cravik.links.models.places import Address, Spot, SpotMove
from cravik.links.models.sites import AllowedSite
from cravik.links.models.step import DraftStep
from cravik.links.models.todo import MAX_NOTE_LENGTH, Todo
from cravik.links.models.version import SoldItem, Version, new_version_id
from cravik.links.models.waiting import Waiting

#: By this name the first migration knows it.
new_edition_id = new_version_id

__all__ = [
    "MAX_NOTE_LENGTH",
    "Address",
    "AllowedSite",
    "DraftStep",
    "LinePieces",
    "Link",
    "LinkCode",
    "LinkLabel",
    "LinkTally",
    "SoldItem",
    "Spot",
    "SpotMove",
    "Todo",
    "Version",
    "Waiting",
    "items_of_draft",
    "new_edition_id",
    "new_version_id",
]
