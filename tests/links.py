"""Links from documents, for tests of what no screen makes yet."""

from __future__ import annotations

from typing import Any

from cravik.links.making.documents import import_link
from cravik.links.models import Link
from cravik.people.models import Business
from tests.factories import BY, NOW, make_business


def line(key: str = "kite", name: str = "Kite", amount: str = "24.00", **more: Any) -> dict[str, Any]:
    return {"key": key, "name": name, "price": {"kind": "fixed", "amount": amount}} | more


def document(*lines: dict[str, Any], offer: dict[str, Any] | None = None, **more: Any) -> dict[str, Any]:
    """A link document; what is given goes beside the offer, ``offer`` into it."""
    sold = list(lines) or [line()]
    inside = {"format": "cravik.offer/1", "title": "Kites", "currency": "EUR", "lines": sold} | (offer or {})
    return {"format": "cravik.link/1", "name": "Kites", "offer": inside} | more


def make_link(*lines: dict[str, Any], business: Business | None = None, published: bool = True, **more: Any) -> Link:
    """A link of such a document, live unless it is said otherwise."""
    return import_link(business or make_business(), document(*lines, **more), NOW, published=published, by=BY)
