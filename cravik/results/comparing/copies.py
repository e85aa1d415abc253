"""Copies of the same offer: a link, what it was copied from, and what was copied from them."""

from __future__ import annotations

from cravik.journal.models import Facet
from cravik.links.models import Link
from cravik.results.comparing.base import ComparedKind, Counted, Scope, counted_rows
from cravik.results.comparing.links import LINKS


class Copies(ComparedKind):
    key, one, label = "copy", "copy", "Copies"

    def counted(self, scope: Scope) -> list[Counted]:
        assert scope.link is not None
        family = {str(pk) for pk in family_of(scope.link)}
        if len(family) < 2:
            return []
        of_all = Scope(scope.business, scope.period)
        return counted_rows(LINKS.named(of_all, family), of_all.visits(Facet.LINK), of_all.money(Facet.LINK))


def family_of(link: Link) -> set[int]:
    """The ids of the link and of all that it shares an origin with."""
    origin = dict(Link.objects.of(link.business).values_list("id", "copied_from_id"))

    def root(pk: int) -> int:
        seen = {pk}
        while (before := origin.get(pk)) is not None and before in origin and before not in seen:
            pk = before
            seen.add(pk)
        return pk

    mine = root(link.pk)
    return {pk for pk in origin if root(pk) == mine}


COPIES = Copies()
