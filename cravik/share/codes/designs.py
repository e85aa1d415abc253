"""Which design holds for a code, and keeping one."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import datetime
from typing import Any

from django.db import transaction

from cravik.core.graphics.qr.design import CodeDesign
from cravik.core.graphics.qr.legibility import design_in
from cravik.links.happened import SpotLooksChanged, record
from cravik.links.models import Link, Spot
from cravik.people.actors import Actor
from cravik.people.models import Business
from cravik.setup.happened import record as record_setting
from cravik.setup.looks import kept_picture, palette_of
from cravik.setup.models import Look
from cravik.share.codes.files import USUAL_MM
from cravik.share.codes.symbol import Piece
from cravik.share.keeping import keep_over
from cravik.share.models import KeptDesign
from cravik.ui.picture_files import name_in_address

#: A code as long as every spot's, and of letters that none has, for a design that is of no spot yet.
SAMPLE_CODE = "SAMPLE"


@dataclass(frozen=True)
class DesignInUse:
    """The design that holds, with the file names of the pictures that it may show, by kind of middle.

    ``whose`` is ``"spot"``, ``"look"`` or ``"usual"``; ``revision`` is 0 where nothing is kept.
    """

    design: CodeDesign
    pictures: Mapping[str, str]
    width_mm: int = USUAL_MM
    whose: str = "usual"
    revision: int = 0

    def piece(self, address: str) -> Piece:
        """What the files of that address are written from."""
        return piece_of(address, self.design, self.pictures)


def piece_of(address: str, design: CodeDesign, pictures: Mapping[str, str]) -> Piece:
    return Piece(address, design, pictures.get(design.middle, ""))


def design_of_look(look: Look | None) -> DesignInUse:
    """How the codes of links with that look are drawn."""
    kept = KeptDesign.objects.filter(look=look).first() if look else None
    return _holding(kept, look, "look")


def design_of_spot(spot: Spot) -> DesignInUse:
    """How the code of the spot is drawn: as it has it for itself, or as the look of its link."""
    look = look_in(spot.link)
    own = KeptDesign.objects.filter(spot=spot).first()
    return _holding(own, look, "spot") if own else design_of_look(look)


def look_in(link: Link) -> Look | None:
    """The look that the link wears now: the one it chose, or the default."""
    if "look" in link.follows:
        return usual_look(link.business)
    return Look.objects.filter(business_id=link.business_id, name=link.draft.get("page", {}).get("look")).first()


@transaction.atomic
def keep_design(
    owner: Look | Spot,
    design: CodeDesign,
    picture: dict[str, Any] | None,
    width_mm: int,
    seen_revision: int,
    now: datetime,
    *,
    by: Actor,
) -> None:
    """Draw codes so from now on; those that are printed stay as they are. Raises ``ChangedElsewhere``."""
    values = {"document": design.document, "picture": picture, "width_mm": width_mm, "changed_at": now}
    keep_over(KeptDesign, _of(owner), seen_revision, **values)
    _tell(owner, now, by)


@transaction.atomic
def drop_design(owner: Look | Spot, now: datetime, *, by: Actor) -> None:
    """Let a spot's code look as its link's look has it, or a look's in its colours."""
    if KeptDesign.objects.filter(**_of(owner)).delete()[0]:
        _tell(owner, now, by)


def _tell(owner: Look | Spot, now: datetime, by: Actor) -> None:
    if isinstance(owner, Look):
        record_setting(owner.business_id, "code_of_look", f"QR code of “{owner.name}”", now, by)
    else:
        record(SpotLooksChanged(owner.name, "code"), owner.link, now, by, owner)


def kept_picture_of(owner: Look | Spot) -> dict[str, Any] | None:
    """The picture of its own."""
    kept = KeptDesign.objects.filter(**_of(owner)).first()
    return kept.picture if kept else None


def pictures_of(look: Look | None, own: Mapping[str, Any] | None) -> dict[str, str]:
    """The file names of what can be in the middle, by kind."""
    document = (look.document if look else {}) | ({"picture": own} if own else {})
    found = {name: kept_picture(document, name) for name in ("icon", "logo", "picture")}
    return {name: name_in_address(picture.address) for name, picture in found.items() if picture}


def usual_look(business: Business) -> Look | None:
    """The default look."""
    return Look.objects.filter(business=business, is_default=True).first()


def _of(owner: Look | Spot) -> dict[str, Any]:
    return {"look": owner} if isinstance(owner, Look) else {"spot": owner}


def _usual_design(look: Look | None) -> CodeDesign:
    """A plain code, in the colours of the look where there is one."""
    if look is None:
        return CodeDesign()
    palette = palette_of(look.document)
    return design_in(palette.text, palette.button)


def _holding(kept: KeptDesign | None, look: Look | None, whose: str) -> DesignInUse:
    if kept is None:
        return DesignInUse(_usual_design(look), pictures_of(look, None))
    pictures = pictures_of(look, kept.picture)
    return DesignInUse(CodeDesign.of(kept.document), pictures, kept.width_mm, whose, kept.revision)
