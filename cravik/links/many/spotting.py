"""Making a spot of one name for each link: everything on one table gets a sign."""

from __future__ import annotations

from cravik.links.many.base import ManyAct, NotDone
from cravik.links.models import Link
from cravik.links.places.spots import MAX_SPOT_NAME, TooManySpots, make_spot
from cravik.people.actors import Actor
from cravik.setup.saving import NameTaken
from cravik.ui.fields import LineField


class SpotAct(ManyAct):
    name = "spot"
    title = "Make a spot"
    verb = "Make the spots"
    done = "given a spot"

    spot = LineField(
        label="Where will they be?", longest=MAX_SPOT_NAME, missing="Say where they will be, such as “Stall sign”."
    )

    def words_of(self, link: Link) -> str:
        if link.archived_at:
            raise NotDone.of("is_archived")
        if link.spots.filter(name=self.cleaned_data["spot"]).exists():
            raise NotDone.of("has_that_spot", spot=self.cleaned_data["spot"])
        return f"gets a spot “{self.cleaned_data['spot']}” with an address and a QR code of its own"

    def do(self, link: Link, by: Actor) -> None:
        try:
            make_spot(link, self.cleaned_data["spot"], self.now, by=by)
        except (NameTaken, TooManySpots) as refused:
            raise NotDone(*refused.faults) from refused
