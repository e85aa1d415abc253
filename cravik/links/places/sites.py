"""The sites of others on which a link may open, for all links of a business or for one."""

from __future__ import annotations

from datetime import datetime

from django.conf import settings
from django.db import transaction
from django.db.models import Q

from cravik.core.link.sites import LOCAL, Site, frame_ancestors, is_allowed
from cravik.core.text.refusal import Refusal
from cravik.links import happened
from cravik.links.models import AllowedSite, Link
from cravik.links.refusals import SITES
from cravik.people.actors import Actor
from cravik.people.models import Business
from cravik.setup.happened import record as record_setting
from cravik.upkeep.prepared import Param, PreparedSelect

#: So many for all links, and so many more for each: a policy that names them has to pass through proxies' bounds.
MAX_SITES = 20


class TooManySites(Refusal):
    """So many are named already."""

    words = SITES


def sites_of(business_id: int, link_id: int) -> tuple[Site, ...]:
    """Those on which the link may open: its own, and those for all."""
    return tuple(Site(host, below) for host, below in _OF_LINK.rows(business_id=business_id, link_id=link_id))


def may_open(origin: str, business_id: int, link_id: int, scheme: str) -> bool:
    """Whether a page of that origin may open the link, whose own pages are served by ``scheme``. The sample of other
    people's pages always may, while it runs."""
    sample = settings.CRAVIK_OUTSIDE_ADDRESS
    return (bool(sample) and origin == sample) or is_allowed(origin, sites_of(business_id, link_id), scheme)


def framing_sources(business_id: int, link_id: int) -> list[str]:
    """The same as the sources of a policy."""
    sample = settings.CRAVIK_OUTSIDE_ADDRESS
    return [*([sample] if sample else []), *frame_ancestors(sites_of(business_id, link_id))]


def named_sites(business: Business, link: Link | None = None) -> list[AllowedSite]:
    """Those named for the link alone, or without one those for all links."""
    return list(AllowedSite.objects.filter(business=business, link=link))


@transaction.atomic
def allow_site(business: Business, link: Link | None, host: str, now: datetime, *, subdomains: bool, by: Actor) -> bool:
    """Let links open there, or the one link. Naming a site again changes what is said of its subdomains.

    Returns whether that was the first, so that pages of the seller's own machine may open them no more. Raises
    ``TooManySites``.
    """
    named = AllowedSite.objects.filter(business=business, link=link)
    if named.filter(host=host).update(subdomains=subdomains):
        return False
    if named.count() >= MAX_SITES:
        raise TooManySites.of("too_many_sites", most=MAX_SITES)
    was_trying = host != LOCAL and not sites_of(business.pk, link.pk if link else 0)
    AllowedSite.objects.create(business=business, link=link, host=host, subdomains=subdomains, named_at=now)
    _tell(business, link, host, now, by, is_allowed=True)
    return was_trying


@transaction.atomic
def forbid_site(business: Business, link: Link | None, host: str, now: datetime, *, by: Actor) -> None:
    """Let links open there no more."""
    gone, _ = AllowedSite.objects.filter(business=business, link=link, host=host).delete()
    if gone:
        _tell(business, link, host, now, by, is_allowed=False)


def _tell(business: Business, link: Link | None, host: str, now: datetime, by: Actor, *, is_allowed: bool) -> None:
    if link:
        happened.record(happened.LinkSite(host, is_allowed), link, now, by)
    else:
        act = "may open links" if is_allowed else "may open links no more"
        record_setting(business.pk, "sites", host, now, by, act)


_OF_LINK = PreparedSelect(
    lambda: (
        AllowedSite.objects.filter(business_id=Param("business_id"))
        .filter(Q(link=None) | Q(link_id=Param("link_id")))
        .order_by("host")
        .values_list("host", "subdomains")
    )
)
