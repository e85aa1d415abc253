"""Which design the button of a spot has, and keeping one."""

from __future__ import annotations

from collections.abc import Collection
from dataclasses import dataclass
from datetime import datetime
from typing import Any

from django.db import transaction

from cravik.core.graphics.button import ButtonDesign, ButtonFace, face_of
from cravik.links.happened import SpotLooksChanged, record
from cravik.links.models import Spot
from cravik.people.actors import Actor
from cravik.setup.looks import CORNERS, ShownLook
from cravik.share.keeping import keep_over
from cravik.share.models import KeptButton
from cravik.upkeep.prepared import Param, PreparedSelect

_USUAL = ButtonDesign()


@dataclass(frozen=True)
class HeldButton:
    """The design that holds, and the seller's own picture for where no script runs. ``revision`` is 0 where nothing is
    kept."""

    design: ButtonDesign = _USUAL
    picture: dict[str, Any] | None = None
    revision: int = 0


def button_held(spot_id: int) -> HeldButton:
    """How the button of the spot looks; as usual where nobody designed it."""
    row = _HELD.first(spot_id=spot_id)
    return HeldButton(ButtonDesign.of(row[0]), row[1], row[2]) if row else HeldButton()


def buttons_held(spot_ids: Collection[int]) -> dict[int, HeldButton]:
    """The same for each of the spots, in one query."""
    rows = KeptButton.objects.filter(spot_id__in=spot_ids)
    kept = {row.spot_id: HeldButton(ButtonDesign.of(row.document), row.picture, row.revision) for row in rows}
    return {pk: kept.get(pk, HeldButton()) for pk in spot_ids}


def face_in(design: ButtonDesign, look: ShownLook) -> ButtonFace:
    """The design as it is in the look that the link wears."""
    return face_of(design, look.palette, CORNERS[design.corners or look.corners][1])


@transaction.atomic
def keep_button(
    spot: Spot, design: ButtonDesign, picture: dict[str, Any] | None, seen_revision: int, now: datetime, *, by: Actor
) -> None:
    """Let the button look so from now on, wherever a script draws it. Raises ``ChangedElsewhere``."""
    values = {"document": design.document, "picture": picture, "changed_at": now}
    keep_over(KeptButton, {"spot": spot}, seen_revision, **values)
    record(SpotLooksChanged(spot.name, "button"), spot.link, now, by, spot)


_HELD = PreparedSelect(
    lambda: KeptButton.objects.filter(spot_id=Param("spot_id")).values_list("document", "picture", "revision")
)
