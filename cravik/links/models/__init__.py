"""Links, what was published of them, and the places where they answer: one subject a file."""

from cravik.links.models.counts import LinkCode, LinkTally
from cravik.links.models.edition import Edition, SoldItem, new_edition_id
from cravik.links.models.link import Link, items_of_draft
from cravik.links.models.places import Address, Spot
from cravik.links.models.step import DraftStep

__all__ = [
    "Address",
    "DraftStep",
    "Edition",
    "Link",
    "LinkCode",
    "LinkTally",
    "SoldItem",
    "Spot",
    "items_of_draft",
    "new_edition_id",
]
