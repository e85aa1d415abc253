"""Every spot of a link, and those that led to it and have figures there."""

from __future__ import annotations

from collections.abc import Collection, Sequence

from django.db.models import Q
from django.urls import reverse

from cravik.journal.models import Facet
from cravik.journal.queries import AtSpot
from cravik.links.models import Spot
from cravik.results.comparing.base import FacetKind, Named, Scope, ids


class Spots(FacetKind):
    key, one, label, facet = "spot", "spot", "Spots", Facet.SPOT

    def named(self, scope: Scope, values: Collection[str]) -> dict[str, Named]:
        assert scope.link is not None
        pk = scope.link.pk
        spots = spots_with_figures([pk], "", {(pk, spot) for spot in ids(values)}).get(pk, [])
        return {str(spot.pk): Named(spot.name, reverse("share:spot", args=[spot.link_id, spot.pk])) for spot in spots}


def spots_with_figures(link_ids: Sequence[int], code: str, with_figures: Collection[AtSpot]) -> dict[int, list[Spot]]:
    """The spots by link: those that lead to it, and those that have figures there and were moved since."""
    left: dict[int, set[int]] = {}
    for link_id, spot_id in with_figures:
        left.setdefault(spot_id, set()).add(link_id)
    there = Q(link_id__in=link_ids) | Q(moves__left__in=link_ids)
    wanted = Spot.objects.filter(there).distinct()
    spots: dict[int, list[Spot]] = {}
    for spot in wanted.filter(code=code.upper()) if code else wanted:
        for link_id in {spot.link_id} | left.get(spot.pk, set()):
            spots.setdefault(link_id, []).append(spot)
    return spots


SPOTS = Spots()
