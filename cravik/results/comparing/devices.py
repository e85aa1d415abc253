"""Kinds of devices."""

from __future__ import annotations

from collections.abc import Collection

from cravik.journal.models import Facet, Visit
from cravik.results.comparing.base import FacetKind, Named, Scope

_WORDS = {Visit.Device.PHONE: "Phones", Visit.Device.TABLET: "Tablets", Visit.Device.DESK: "Computers"}


class Devices(FacetKind):
    key, one, label, facet = "device", "kind of device", "Devices", Facet.DEVICE

    def named(self, scope: Scope, values: Collection[str]) -> dict[str, Named]:
        return {device: Named(words) for device, words in _WORDS.items() if device in values}


DEVICES = Devices()
