"""For the pages of orders: what a buyer answered, and what the seller says after paying."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from django import template
from django.utils.html import format_html
from django.utils.safestring import SafeString, mark_safe

from cravik.core.english import listed
from cravik.ui.markdown import rendered

register = template.Library()
# Stands for the name while the message is read as Markdown, so that nothing in a name becomes markup.
_NAME = "\ue000"


@register.simple_tag
def answer(given: Mapping[str, Any]) -> str:
    """An answer as one would say it."""
    value = given["answer"]
    if isinstance(value, bool):
        return "yes" if value else "no"
    return listed(value, "and") if isinstance(value, list | tuple) else str(value)


@register.simple_tag
def after_message(message: str, buyer: str) -> SafeString:
    """The seller's message (Markdown) with the buyer's name in it."""
    html = rendered(message.replace("{buyer}", _NAME))
    return mark_safe(html.replace(_NAME, format_html("{}", buyer)))  # noqa: S308  # both were cleaned
