"""By which way it is paid, where the seller allows several."""

from __future__ import annotations

from cravik.checkout.parts.base import OrderPart, one_of
from cravik.setup.ways import NOTHING, OFFERED_WAYS


class WayPart(OrderPart):
    name = "way"
    template = "checkout/parts/way.html"
    step = "Way to pay"
    fixed = ("*",)

    def add_fields(self) -> None:
        if len(self.offered.ways) > 1:
            self.fields["way"] = one_of("Way to pay", [(name, OFFERED_WAYS[name].label) for name in self.offered.ways])

    def is_needed(self, way: str) -> bool:
        return way != NOTHING

    def initial_values(self) -> dict[str, str]:
        return {"way": self.offered.ways[0]} if self.is_asked else {}

    def fillable(self) -> set[str]:
        return set()
