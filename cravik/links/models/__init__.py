"""Links, what was published of them, and the places where they answer: one subject a file."""

from cravik.links.models.counts import LinePieces, LinkCode, LinkTally
from cravik.links.models.edition import Edition, SoldItem, new_edition_id
from cravik.links.models.label import LinkLabel
from cravik.links.models.link import Link, items_of_draft
from cravik.links.models.places import Address, Spot, SpotMove
from cravik.links.models.sites import AllowedSite
from cravik.links.models.step import DraftStep
from cravik.links.models.waiting import Waiting

__all__ = [
    "Address",
    "AllowedSite",
    "DraftStep",
    "Edition",
    "LinePieces",
    "Link",
    "LinkCode",
    "LinkLabel",
    "LinkTally",
    "SoldItem",
    "Spot",
    "SpotMove",
    "Waiting",
    "items_of_draft",
    "new_edition_id",
]
