"""Discount codes, by those who tried to pay with them: what others had typed nobody knows."""

from __future__ import annotations

from collections.abc import Collection

from cravik.core.text.results_words import Noun
from cravik.journal.models import Facet
from cravik.links.models import LinkCode
from cravik.results.comparing.base import Counted, FacetKind, Named, Scope, ids, merged


class Codes(FacetKind):
    key, one, label, facet = "code", "discount code", "Codes", Facet.CODE
    noun = Noun("try", "tries")
    remark = "A code is known once somebody tries to pay. The rate is the share of those visits that paid."

    def counted(self, scope: Scope) -> list[Counted]:
        # The same code may stand on several links.
        return merged(super().counted(scope))

    def named(self, scope: Scope, values: Collection[str]) -> dict[str, Named]:
        codes = LinkCode.objects.filter(link__business=scope.business, id__in=ids(values)).values_list("id", "normal")
        named = {str(pk): Named(normal.upper()) for pk, normal in codes}
        return named | ({"": Named("No code", is_rest=True)} if named and "" in values else {})


CODES = Codes()
