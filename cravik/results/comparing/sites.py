"""Sites whose pages led to a link."""

from __future__ import annotations

from collections.abc import Collection

from cravik.journal.models import Facet
from cravik.results.comparing.base import FacetKind, Named, Scope


class Sites(FacetKind):
    key, one, label, facet = "site", "site", "Sites", Facet.REFERRER
    remark = "A site is where the browser says that it came from. Apps, mail programs and scanned codes say nothing."

    def named(self, scope: Scope, values: Collection[str]) -> dict[str, Named]:
        return {value: Named(value) if value else Named("No site named", is_rest=True) for value in values}


SITES = Sites()
