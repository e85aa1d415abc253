"""Finding a place in Setup by the words that people have for it."""

from __future__ import annotations

from dataclasses import dataclass

from django.urls import reverse

from cravik.setup.defaults import Subject
from cravik.setup.messages.kinds import KINDS


@dataclass(frozen=True)
class SetupPage:
    """Something that can be set: its title, other words for it, and where it is (an address and an id on it)."""

    title: str
    also: str
    address: str


def _on(page: str, anchor: str = "") -> str:
    """The address of one of Setup's own pages: of a subject, or by its name."""
    address = reverse("setup:decision", args=[page]) if page in Subject.values else reverse(f"setup:{page}")
    return f"{address}#{anchor}" if anchor else address


def _message(kind: str) -> str:
    return reverse("setup:message", args=[kind])


def places() -> list[SetupPage]:
    """Everything that can be set, in the order of Setup."""
    messages = [
        SetupPage(
            f"Message: {kind.title}", f"wording letter mail email text {kind.to} placeholder", _message(kind.kind)
        )
        for kind in KINDS.values()
    ]
    return [
        SetupPage("Business name", "firm company shop seller title", _on("business", "id_name")),
        SetupPage("Where buyers reach you", "support contact e-mail help", _on("business", "id_support_email")),
        SetupPage("Country", "place home address", _on("business", "id_country")),
        SetupPage("Currency", "money euro pound dollar", _on("business", "id_currency")),
        SetupPage("Time zone", "clock hours day", _on("business", "id_time_zone")),
        SetupPage("On the buyer's statement", "bank card descriptor text", _on("business", "id_statement_text")),
        SetupPage("What strangers see", "private public name address", _on("home", "strangers")),
        SetupPage("Tax: whether and how", "vat gst sales included on top added", _on(Subject.TAX)),
        SetupPage("Tax rates by place", "vat country region percent reverse charge", _on(Subject.TAX, "rates-title")),
        SetupPage("Delivery", "shipping postage free", _on(Subject.DELIVERY)),
        SetupPage("Delivery zones", "shipping countries weight charge band", _on(Subject.DELIVERY, "zones-title")),
        SetupPage(
            "Looks", "brand kit theme design logo icon colours font type corners header footer social", _on("looks")
        ),
        SetupPage("Your own domain", "host name address web site dns cname", _on("hosts")),
        SetupPage("Your handle", "short personal address pay me currency sum amount", reverse("share_setup:handle")),
        SetupPage(
            "Sites that may open your links", "page embed button frame form web allowed", reverse("share_setup:sites")
        ),
        SetupPage(
            "Documents and refunds",
            "receipt invoice credit note number prefix series pdf en 16931 structured fee refund",
            reverse("orders:documents"),
        ),
        SetupPage("Terms and conditions", "agree legal returns versions", _on("all_terms")),
        SetupPage("The processor's fee", "cost commission percent keep", _on(Subject.FEE)),
        *messages,
    ]


def places_of_keepers() -> list[SetupPage]:
    """What only those can see to who look after the installation."""
    return [
        SetupPage("This installation", "back-up backup restore version health upgrade disk", _on("installation")),
    ]


def found_in_setup(search: str, *, keeps: bool = False) -> list[SetupPage]:
    """The places that match every word of ``search``, by their title or by what else they are called. ``keeps``: for
    somebody who looks after the installation."""
    words = search.casefold().split()[:8]
    there = places() + (places_of_keepers() if keeps else [])
    return [
        place for place in there if words and all(word in f"{place.title} {place.also}".casefold() for word in words)
    ]
