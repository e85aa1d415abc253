"""For the catalogue's page of an item, which knows links by the name of this tag alone."""

from __future__ import annotations

from django import template

from cravik.catalogue.models import Item
from cravik.links.items.following import links_of_item

register = template.Library()


@register.inclusion_tag("links/_links_of_item.html")
def item_links(item: Item) -> dict[str, object]:
    """The links that sell the item, and what follows in them when it changes."""
    return {"item": item, "links": links_of_item(item)}
