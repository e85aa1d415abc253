"""Reading links."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace
from typing import Any

from django.db.models import Case, OuterRef, Prefetch, QuerySet, Subquery, Value, When
from django.db.models.functions import Coalesce

from cravik.links.models import Address, Link, LinkTally, Spot
from cravik.people.models import Business
from cravik.setup.models import HostName
from cravik.upkeep.prepared import Param, PreparedSelect

#: The longest that a short code could be.
MAX_CODE_LENGTH = 7
_CURRENT_ADDRESS = Prefetch("addresses", queryset=Address.objects.filter(current=True))


def listed_links(links: QuerySet[Link]) -> QuerySet[Link]:
    """The links with all that a list shows of them."""
    return links.select_related("version").prefetch_related(_CURRENT_ADDRESS, "label_rows")


def link_of(business: Business, link_id: int) -> Link | None:
    """One link of the business with all that its pages show, or None."""
    return (
        Link.objects.of(business)
        .select_related("version", "business", "copied_from", "tally")
        .prefetch_related(_CURRENT_ADDRESS, "sold_items__item")
        .filter(id=link_id)
        .first()
    )


@dataclass(frozen=True)
class SpotRow:
    """A place where a link answers, with what of link and business its page needs, in one row.

    ``paid`` and ``held`` count the link's orders; ``is_current`` is False for a readable address that was left.
    """

    spot_id: int
    link_id: int
    business_id: int
    version_id: int | None
    state: str
    ended_why: str
    is_archived: bool
    slug: str
    is_current: bool
    paid: int
    held: int
    seller_name: str
    support_email: str
    statement_text: str
    country: str
    time_zone: str
    #: Whether the spot was ended, and where it leads then, if not to the link.
    is_spot_ended: bool = False
    leads_to: str = ""
    #: The main host name of the business's own, if it has one.
    host: str = ""
    #: Whether search engines may find its pages.
    is_findable: bool = False
    #: By which ways its seller is paid; see ``Business.ways``.
    ways: Mapping[str, Sequence[str]] = field(default_factory=dict, hash=False)


_ROW = (
    "id",
    "link_id",
    "link__business_id",
    "link__version_id",
    "link__state",
    "link__ended_why",
    "is_archived",
    "link__addresses__slug",
    "link__addresses__current",
    "link__tally__paid",
    "link__tally__held",
    "link__business__name",
    "link__business__support_email",
    "link__business__statement_text",
    "link__business__country",
    "link__business__time_zone",
    "is_spot_ended",
    "leads_to",
    "host",
    "link__is_findable",
    "link__business__ways",
)


_MAIN = HostName.objects.filter(business_id=OuterRef("link__business_id"), is_main=True).order_by()


def _is_set(instant: str) -> Case:
    return Case(When(**{f"{instant}__isnull": True}, then=Value(0)), default=Value(1))


def _rows(**found_by: Any) -> PreparedSelect:
    """Asked for each page and each payment."""
    marks = {
        "is_archived": _is_set("link__archived_at"),
        "is_spot_ended": _is_set("ended_at"),
        "host": Coalesce(Subquery(_MAIN.values("name")[:1]), Value("")),
    }
    there = Spot.objects.filter(link__removed_at__isnull=True, **found_by).annotate(**marks)
    return PreparedSelect(lambda: there.values_list(*_ROW).order_by()[:1])


_AT_ADDRESS = _rows(is_first=True, link__addresses__slug=Param("slug"))
_BY_CODE = _rows(code=Param("code"), link__addresses__current=True)
_FIRST = _rows(link_id=Param("link_id"), is_first=True, link__addresses__current=True)


def spot_at_address(slug: str) -> SpotRow | None:
    """The link whose readable address ``slug`` is or was, by its first spot."""
    row = _AT_ADDRESS.first(slug=slug)
    return SpotRow(*row) if row else None


def spot_by_code(code: str) -> SpotRow | None:
    """The spot of that short code, in either case."""
    row = _BY_CODE.first(code=code.upper()) if len(code) <= MAX_CODE_LENGTH else None
    return SpotRow(*row) if row else None


def first_spot_of(link_id: int) -> SpotRow | None:
    """The link itself."""
    row = _FIRST.first(link_id=link_id)
    return SpotRow(*row) if row else None


def counted_anew(row: SpotRow) -> SpotRow:
    """The row with the link's orders as they are counted now."""
    paid, held = LinkTally.objects.values_list("paid", "held").get(link_id=row.link_id)
    return replace(row, paid=paid, held=held)


def present_address(link_id: int) -> str:
    """The readable part of the link's present address."""
    return Address.objects.values_list("slug", flat=True).get(link_id=link_id, current=True)
