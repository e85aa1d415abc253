"""Versions of a link: each visit by what it was shown first."""

from __future__ import annotations

from collections.abc import Collection

from django.urls import reverse

from cravik.journal.models import Facet
from cravik.links.models import Version
from cravik.results.comparing.base import FacetKind, Named, Scope, ids


class Versions(FacetKind):
    key, one, label, facet = "version", "version", "Versions", Facet.VERSION
    remark = "Versions were shown at different times, so something else may have changed as well."

    def named(self, scope: Scope, values: Collection[str]) -> dict[str, Named]:
        assert scope.link is not None
        address = reverse("results:versions", args=[scope.link.pk])
        found = Version.objects.filter(link=scope.link, id__in=ids(values)).exclude(number=None)
        named = {str(pk): Named(f"Version {number}", address) for pk, number in found.values_list("id", "number")}
        return named | ({"": Named("Not known", is_rest=True)} if "" in values else {})


VERSIONS = Versions()
