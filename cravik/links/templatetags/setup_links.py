"""For the pages of Setup, which know links by the names of these tags alone."""

from __future__ import annotations

from typing import Any

from django import template

from cravik.links.life.from_setup import links_on_former_terms, published_links, published_links_with

register = template.Library()


@register.inclusion_tag("links/_links_with.html", takes_context=True)
def links_with(context: dict[str, Any], subject: str) -> dict[str, object]:
    """The published links that follow a default, and those that still show what it was."""
    business = context["request"].business
    follow, own = published_links_with(business, subject)
    return {
        "subject": subject,
        "former": links_on_former_terms(business, subject),
        "follow": follow,
        "own": own,
        "csrf_token": context.get("csrf_token"),
    }


@register.inclusion_tag("links/_links_showing.html", takes_context=True)
def links_showing(context: dict[str, Any]) -> dict[str, object]:
    """The published links on which the business's name and contact stand."""
    return {"links": published_links(context["request"].business)}
