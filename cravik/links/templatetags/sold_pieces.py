"""For the pages of a link: how many of what is limited are sold."""

from __future__ import annotations

from django import template

from cravik.core.text.pieces_words import sold_words
from cravik.links.life.counting import pieces_of
from cravik.links.life.shown_version import shown_to_buyers
from cravik.links.models import Link

register = template.Library()


@register.simple_tag
def sold_pieces(link: Link) -> tuple[str, ...]:
    """A phrase for each thing of which there are only so many."""
    shown = shown_to_buyers(link) if link.version_id else None
    if shown is None or not shown.content.limits.pieces:
        return ()
    return sold_words(shown.content, pieces_of(link.pk).paid)
