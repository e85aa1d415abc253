"""Reading links."""

from __future__ import annotations

from dataclasses import dataclass

from django.db.models import Case, Prefetch, Q, QuerySet, TextField, Value, When
from django.db.models.functions import Cast

from cravik.links.models import Address, Link
from cravik.setup.models import Business

# What sells stands above what does not yet, and that above what no longer does.
_BY_STATE = Case(
    *(When(state=state, then=Value(place)) for place, state in enumerate(("live", "paused", "draft"))), default=Value(3)
)
_CURRENT_ADDRESS = Prefetch("addresses", queryset=Address.objects.filter(current=True))


def links_of(business: Business, state: str = "", search: str = "") -> QuerySet[Link]:
    """The business's links with their addresses, in a state and matching words.

    Live ones first, then paused, drafts and ended ones; the newest first among each.
    """
    links = Link.objects.of(business).prefetch_related(_CURRENT_ADDRESS).order_by(_BY_STATE, "-made_at", "-id")
    if state in Link.State.values:
        links = links.filter(state=state)
    for word in search.split()[:8]:
        links = links.filter(
            Q(name__icontains=word) | Q(draft__title__icontains=word) | Q(addresses__slug__icontains=word)
        ).distinct()
    return links


def link_of(business: Business, link_id: int) -> Link | None:
    """One link of the business with all that its pages show, or None."""
    return (
        Link.objects.of(business)
        .select_related("edition", "business", "item")
        .prefetch_related(_CURRENT_ADDRESS)
        .filter(id=link_id)
        .first()
    )


def address_at(slug: str) -> Address | None:
    """The address that ``slug`` is, of any business, with its link and live edition."""
    return Address.objects.select_related("link__edition", "link__business").filter(slug=slug).first()


@dataclass(frozen=True)
class LivePage:
    """What the page of a live link shows, in one row. Documents are as they are stored, in JSON."""

    slug: str
    link_id: int
    business_id: int
    edition_id: int
    offer_document: str
    words: str
    setting: str
    seller_name: str
    support_email: str
    statement_text: str
    country: str
    time_zone: str
    item_id: int | None


def live_page_at(slug: str) -> LivePage | None:
    """The page of the live link whose present address ``slug`` is, or None for anything else."""
    rows = (
        Address.objects.filter(slug=slug, current=True, link__state=Link.State.LIVE)
        .values_list(
            "slug",
            "link_id",
            "link__business_id",
            "link__edition_id",
            Cast("link__edition__offer_document", TextField()),
            "link__edition__words",
            Cast("link__edition__setting", TextField()),
            "link__business__name",
            "link__business__support_email",
            "link__business__statement_text",
            "link__business__country",
            "link__business__time_zone",
            "link__item_id",
        )
        .order_by()[:1]
    )
    return next((LivePage(*row) for row in rows), None)
