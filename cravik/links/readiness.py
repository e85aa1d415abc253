"""What links can tell about being ready to ask for money."""

from __future__ import annotations

from django.urls import reverse

from cravik.catalogue.models import Item
from cravik.links.models import Link
from cravik.people.models import Business
from cravik.setup.defaults import Subject, decisions_of
from cravik.setup.readiness import ReadinessStep


def steps_of_links(business: Business) -> list[ReadinessStep]:
    """Delivery, where anything is sent; a first link; and one that is published."""
    links = list(Link.objects.of(business).values_list("state", "draft"))
    sent = Item.objects.of(business).filter(kind=Item.Kind.GOODS).exists() or any(
        line.get("ships") for _, draft in links for line in draft["offer"]["lines"]
    )
    steps = []
    if sent:
        decided = decisions_of(business)[Subject.DELIVERY].is_made
        steps.append(
            ReadinessStep(
                "Delivery",
                decided,
                "Set."
                if decided
                else "You sell things that are sent. Until you say otherwise, nothing is charged for it.",
                reverse("setup:decision", args=[Subject.DELIVERY]),
            )
        )
    published = any(state != Link.State.DRAFT for state, _ in links)
    words = "A purpose and an amount are enough."
    if links:
        words = "A link is published." if published else "A draft is there; publish it."
    steps.append(ReadinessStep("A first link", published, words, reverse("results:links" if links else "links:new")))
    return steps
