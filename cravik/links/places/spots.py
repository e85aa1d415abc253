"""Spots: the places where a link is put up, each with a short code of its own."""

from __future__ import annotations

import secrets
from collections.abc import Iterable
from datetime import datetime
from typing import Any

from django.db import transaction

from cravik.core.errors import Fault
from cravik.core.text.refusal import Refusal
from cravik.events.writing import write_all
from cravik.links.happened import (
    SpotEnded,
    SpotLooksChanged,
    SpotMade,
    SpotMovedAway,
    SpotMovedHere,
    SpotRenamed,
    SpotReopened,
    about,
    record,
)
from cravik.links.life.lifecycle import locked
from cravik.links.models import Link, Spot, SpotMove
from cravik.links.places.naming import first_free
from cravik.links.refusals import SPOTS
from cravik.people.actors import Actor
from cravik.setup.saving import NameTaken
from cravik.ui.picture_files import remove_files

#: Neither digits nor letters that are taken for one another (0 O D, 1 I L, 2 Z, 5 S, 6 G, 8 B, U V), and no vowels,
#: so that no word comes of it by chance.
ALPHABET = "3479CFHJKMNPQRTVWXY"
LENGTH = 6
#: Spots that one link may have, and characters of a name.
MAX_SPOTS, MAX_SPOT_NAME = 2000, 80
_FIRST = "Main link"


class TooManySpots(Refusal):
    """The link would have more spots than it can."""

    words = SPOTS

    def __init__(self) -> None:
        super().__init__(Fault("too_many_spots", most=MAX_SPOTS))


def new_codes(many: int) -> list[str]:
    """Codes that nobody has, out of 47 million, drawn so that none can be guessed from another.

    Codes stay taken for ever: the table keeps every spot there was.
    """
    codes: set[str] = set()
    while len(codes) < many:
        drawn = {"".join(secrets.choice(ALPHABET) for _ in range(LENGTH)) for _ in range(many - len(codes))}
        codes |= drawn - set(Spot.objects.filter(code__in=drawn).values_list("code", flat=True))
    return list(codes)


@transaction.atomic
def make_spot(link: Link, name: str, now: datetime, *, by: Actor, channel: str = "") -> Spot:
    """A new spot of the link. Raises ``NameTaken`` and ``TooManySpots``."""
    locked(link)
    names = _names(link)
    if name in names:
        raise NameTaken(_free(name, names))
    if len(names) >= MAX_SPOTS:
        raise TooManySpots
    spot = _made(link, name, now, channel=channel)
    record(SpotMade(name), link, now, by, spot)
    return spot


@transaction.atomic
def make_spots(link: Link, names: Iterable[str], now: datetime, *, by: Actor) -> tuple[list[Spot], list[str]]:
    """Spots of all those names, and the names that the link has already. Raises ``TooManySpots`` and makes none."""
    locked(link)
    there = _names(link)
    wanted = list(dict.fromkeys(names))
    new = [name for name in wanted if name not in there]
    if len(there) + len(new) > MAX_SPOTS:
        raise TooManySpots
    rows = [
        Spot(link=link, code=code, name=name, made_at=now) for name, code in zip(new, new_codes(len(new)), strict=True)
    ]
    made = Spot.objects.bulk_create(rows)
    write_all((SpotMade(spot.name), about(link, spot), now, by) for spot in made)
    return made, [name for name in wanted if name in there]


def make_first_spot(link: Link, now: datetime) -> Spot:
    """The spot that stands for the link itself."""
    return _made(link, _FIRST, now, is_first=True)


def first_spot(link: Link) -> Spot:
    return link.spots.get(is_first=True)


@transaction.atomic
def channel_spot(link: Link, channel: str, name: str, now: datetime, *, by: Actor) -> Spot:
    """The spot of that way to send a message, made on its first use, and open. Raises ``TooManySpots``."""
    locked(link)
    if found := Spot.objects.filter(link=link, channel=channel).first():
        if found.ended_at:
            reopen_spot(found, now, by=by)
        return found
    return make_spot(link, _free(name, _names(link)), now, by=by, channel=channel)


@transaction.atomic
def describe_spot(spot: Spot, name: str, note: str, now: datetime, *, by: Actor) -> None:
    """Call it so, and note where it hangs. Raises ``NameTaken``."""
    fresh = _locked(spot)
    if name != fresh.name:
        names = _names(fresh.link)
        if name in names:
            raise NameTaken(_free(name, names))
    Spot.objects.filter(id=spot.pk).update(name=name, note=note)
    if name != fresh.name:
        record(SpotRenamed(name, fresh.name), fresh.link, now, by, fresh)


def keep_photo(spot: Spot, photo: dict[str, Any] | None, now: datetime, *, by: Actor) -> None:
    """Keep that picture of where it hangs, or none, and none of the former one."""
    with transaction.atomic():
        Spot.objects.filter(id=spot.pk).update(photo=photo)
        record(SpotLooksChanged(spot.name, "photo"), spot.link, now, by, spot)
    if former := spot.photo:
        remove_files(former["name"], former["widths"])


@transaction.atomic
def end_spot(spot: Spot, leads_to: str, now: datetime, *, by: Actor) -> None:
    """Take no more visits there: whoever comes is led on to that address, or to the link. The first one goes on."""
    fresh = _locked(spot)
    if fresh.is_first:
        return
    was_open = fresh.ended_at is None
    fresh.ended_at, fresh.leads_to = fresh.ended_at or now, leads_to
    fresh.save(update_fields=["ended_at", "leads_to"])
    if was_open:
        record(SpotEnded(fresh.name), fresh.link, now, by, fresh)


@transaction.atomic
def reopen_spot(spot: Spot, now: datetime, *, by: Actor) -> None:
    """Let it be visited again."""
    fresh = _locked(spot)
    if fresh.ended_at is not None:
        record(SpotReopened(fresh.name), fresh.link, now, by, fresh)
    fresh.ended_at, fresh.leads_to = None, ""
    fresh.save(update_fields=["ended_at", "leads_to"])


@transaction.atomic
def move_spot(spot: Spot, to: Link, now: datetime, *, by: Actor) -> Spot:
    """Let the spot's code lead to another link of the business from now on. What it brought so far stays where it was.

    The first spot leaves a new one behind, since its link is never without, and takes the link's name along. Raises
    ``TooManySpots``.
    """
    fresh = _locked(spot)
    left = fresh.link
    assert left.business_id == to.business_id
    if left.pk == to.pk:
        return fresh
    locked(to)
    names = _names(to)
    if len(names) >= MAX_SPOTS:
        raise TooManySpots
    wanted = left.name if fresh.is_first else fresh.name
    channel = fresh.channel if not to.spots.filter(channel=fresh.channel).exists() else ""
    was_first, former = fresh.is_first, fresh.name
    fresh.link, fresh.name, fresh.is_first, fresh.channel = to, _free(wanted, names), False, channel
    fresh.save(update_fields=["link", "name", "is_first", "channel"])
    if was_first:
        make_first_spot(left, now)
    SpotMove.objects.create(spot=fresh, left=left, joined=to, by_id=by.user_id, at=now)
    record(SpotMovedAway(former, to.name), left, now, by, fresh)
    record(SpotMovedHere(fresh.name, left.name), to, now, by, fresh)
    return fresh


def _locked(spot: Spot) -> Spot:
    return Spot.objects.select_for_update().select_related("link").get(id=spot.pk)


def _made(link: Link, name: str, now: datetime, *, is_first: bool = False, channel: str = "") -> Spot:
    return Spot.objects.create(
        link=link, code=new_codes(1)[0], name=name, is_first=is_first, channel=channel, made_at=now
    )


def _names(link: Link) -> set[str]:
    return set(Spot.objects.filter(link=link).values_list("name", flat=True))


def _free(wanted: str, names: set[str]) -> str:
    return first_free(wanted, names.__contains__, " ", MAX_SPOT_NAME)
