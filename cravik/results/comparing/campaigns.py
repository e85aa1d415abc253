"""Campaigns: what the ``utm_`` parameters of the address said."""

from __future__ import annotations

from collections.abc import Collection

from cravik.journal.models import Facet
from cravik.journal.queries import campaigns
from cravik.results.comparing.base import FacetKind, Named, Scope, ids

_FIRST = ("utm_campaign", "utm_source", "utm_medium")


class Campaigns(FacetKind):
    key, one, label, facet = "campaign", "campaign", "Campaigns", Facet.CAMPAIGN
    remark = "A campaign is what the utm_ parameters of an address say. Add them where you send or post a link."

    def named(self, scope: Scope, values: Collection[str]) -> dict[str, Named]:
        found = campaigns(scope.business.pk, ids(values))
        named = {str(pk): Named(campaign_words(parameters)) for pk, parameters in found.items()}
        return named | ({"": Named("No campaign", is_rest=True)} if "" in values else {})


def campaign_words(parameters: dict[str, str]) -> str:
    """The campaign, its source and medium, and then the rest with their names.

    >>> campaign_words({"utm_medium": "e-mail", "utm_source": "Newsletter", "utm_term": "kite"})
    'Newsletter · e-mail · term kite'
    """
    first = [parameters[name] for name in _FIRST if name in parameters]
    rest = [f"{name.removeprefix('utm_')} {value}" for name, value in parameters.items() if name not in _FIRST]
    return " · ".join([*first, *rest])


CAMPAIGNS = Campaigns()
