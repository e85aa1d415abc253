"""Every link that was visited or earned."""

from __future__ import annotations

from collections.abc import Collection

from django.urls import reverse

from cravik.journal.models import Facet
from cravik.links.models import Link
from cravik.results.comparing.base import FacetKind, Named, Scope, ids


class Links(FacetKind):
    key, one, label, facet = "link", "link", "Links", Facet.LINK

    def named(self, scope: Scope, values: Collection[str]) -> dict[str, Named]:
        links = Link.objects.of(scope.business).filter(id__in=ids(values)).values_list("id", "name")
        return {str(pk): Named(name, reverse("results:link", args=[pk])) for pk, name in links}


LINKS = Links()
