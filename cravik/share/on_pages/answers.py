"""What a page of others is told of a spot, so that its script draws the button: version 1.

Only what buyers may see: words, price, picture and face of what is published, where it leads, and, where the page's
site is allowed, the address that opens in it. What can't be bought just now says so.

=============  ====================================================================================================
``version``    1
``shows``      ``button``, ``card`` or ``form``
``words``      what stands on the button
``address``    where a plain link leads
``opens``      ``over`` the page, in the ``same`` window or a ``new`` one
``frame``      what opens over the page or stands in it; only where the site is allowed
``face``       ``ground``, ``ink``, ``deep`` as hex; ``size`` of type in rem, padding ``above`` and ``beside`` in em;
               ``radius``, ``width``, ``align``, ``hover``, ``letters``
``card``       only for a card: ``title``, ``price``, ``seller``, colours, and a ``picture`` with its size and words
=============  ====================================================================================================
"""

from __future__ import annotations

from collections.abc import Mapping
from datetime import datetime, timedelta
from typing import Any, NamedTuple

from django.urls import reverse

from cravik.catalogue.queries import ShownPicture
from cravik.checkout.card.content import first_picture
from cravik.checkout.opening import Closed, Opened
from cravik.checkout.pages.page import is_gone, offered_at
from cravik.checkout.parts.base import Offered
from cravik.core.graphics.button import ButtonDesign, ButtonFace, words_of
from cravik.core.text.money_text import DEFAULT_LOCALE
from cravik.core.text.price_words import price_in_words
from cravik.links.queries import SpotRow
from cravik.share.on_pages.designs import HeldButton, face_in
from cravik.ui.framing import on_page

VERSION = 1
LATELY = timedelta(seconds=5)
#: What a button says after the title of what can't be bought now.
CLOSED_WORDS: Mapping[Closed, str] = {
    "paused": "back soon",
    "sold_out": "sold out",
    "count": "all taken",
    "all_held": "just taken",
    "not_open_yet": "not open yet",
    "day": "ended",
    "by_hand": "ended",
    "archived": "no longer offered",
}


#: Answers of the last moments, by all that they hang on but the instant and what is left in stock.
_LATELY: dict[tuple[SpotRow, int, str, bool], tuple[datetime, dict[str, Any]]] = {}
_MAX_KEPT = 2000


class Asked(NamedTuple):
    """The spot's short code, and the base of the address at which it was asked: every address in the answer is there
    too, since the script believes no other."""

    base: str
    code: str


def answer_lately(opened: Opened, held: HeldButton, at: Asked, now: datetime, *, is_allowed: bool) -> dict[str, Any]:
    """What ``answer_of`` says, made anew at the latest after ``LATELY``: a page that a thousand people open at once is
    worked out once. Whatever changes in the link or the design is said at once; stock and the hour, by then."""
    key = (opened.row, held.revision, at.base, is_allowed)
    kept = _LATELY.get(key)
    if kept and timedelta(0) <= now - kept[0] < LATELY:
        return kept[1]
    answer = answer_of(opened, held.design, at, now, is_allowed=is_allowed)
    if len(_LATELY) >= _MAX_KEPT:
        _LATELY.clear()
    _LATELY[key] = (now, answer)
    return answer


def answer_of(opened: Opened, design: ButtonDesign, at: Asked, now: datetime, *, is_allowed: bool) -> dict[str, Any]:
    """What a page is told of the spot at the instant. ``is_allowed`` is whether it may open there."""
    assert opened.version is not None
    offered, why = _offered(opened, now)
    base, path = at.base, reverse("spot:page", args=[at.code])
    may_open = is_allowed and not opened.row.is_spot_ended  # which leads on to who knows where
    shows = design.shows if may_open or design.shows != "form" else "button"
    answer = {
        "version": VERSION,
        "shows": shows,
        "words": _words(offered, design, why),
        "address": f"{base}{path}",
        "opens": design.opens if may_open or design.opens != "over" else "same",
        "face": _face(face_in(design, opened.version.look)),
    }
    if may_open and (shows == "form" or design.opens == "over"):
        answer["frame"] = f"{base}{on_page(path)}"
    if shows == "card":
        answer["card"] = _card(offered, opened.row.seller_name, base)
    return answer


def words_at(opened: Opened, design: ButtonDesign, now: datetime) -> str:
    """What stands on the button at the instant."""
    offered, why = _offered(opened, now)
    return _words(offered, design, why)


def _offered(opened: Opened, now: datetime) -> tuple[Offered, Closed | None]:
    """What is offered, and why it can't be bought just now."""
    assert opened.version is not None
    offered = offered_at(opened, opened.version, now, DEFAULT_LOCALE)
    return offered, opened.why_closed(now) or ("sold_out" if is_gone(offered) else None)


def _words(offered: Offered, design: ButtonDesign, why: Closed | None) -> str:
    title = offered.offer.title
    return f"{title}: {CLOSED_WORDS[why]}" if why else words_of(design, title, price_in_words(offered.offer))


def _face(face: ButtonFace) -> dict[str, str | float]:
    size, above, beside = face.measures
    return {
        "ground": face.ground.hex,
        "ink": face.ink.hex,
        "deep": face.deep.hex,
        **{"size": size, "above": above, "beside": beside},
        **{name: getattr(face, name) for name in ("radius", "width", "align", "hover", "letters")},
    }


def _card(offered: Offered, seller: str, base: str) -> dict[str, Any]:
    palette, shades = offered.version.look.palette, offered.version.look.palette.shades()
    colours = {"sheet": palette.sheet, "text": palette.text, "soft": shades["soft"], "rule": shades["rule"]}
    answer: dict[str, Any] = {
        "title": offered.offer.title,
        "price": price_in_words(offered.offer),
        "seller": seller,
        **{name: colour.hex for name, colour in colours.items()},
    }
    if picture := first_picture(offered):
        answer["picture"] = _picture(picture, base)
    return answer


def _picture(picture: ShownPicture, base: str) -> dict[str, Any]:
    size = {"wide": picture.width, "high": picture.height}
    return {"address": f"{base}{picture.address}", "words": picture.words, **size}
