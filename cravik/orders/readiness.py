"""What orders can tell about being ready to ask for money."""

from __future__ import annotations

from django.urls import reverse

from cravik.links.models import Link
from cravik.orders.models import Order
from cravik.people.models import Business
from cravik.setup.readiness import ReadinessStep


def steps_of_orders(business: Business) -> list[ReadinessStep]:
    """A rehearsal, once there is a link to rehearse."""
    link = Link.objects.of(business).order_by("-changed_at").first()
    if link is None:
        return []
    done = Order.objects.of(business).filter(rehearsal=True).exists()
    words = (
        "You paid in one."
        if done
        else "Pay once as a buyer would, on the bench. It behaves like the real one; nothing is recorded."
    )
    return [ReadinessStep("A rehearsal", done, words, reverse("links:bench", args=[link.pk]))]
