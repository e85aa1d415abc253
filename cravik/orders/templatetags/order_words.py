"""For the pages of orders: what a buyer answered, and where they go on to."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from django import template

from cravik.core.link.onward import host_of
from cravik.orders.exports import said

register = template.Library()


@register.simple_tag
def answer(given: Mapping[str, Any]) -> str:
    """An answer as one would say it."""
    return said(given["answer"])


@register.filter
def host(address: str) -> str:
    """The name of the host of an address."""
    return host_of(address)
