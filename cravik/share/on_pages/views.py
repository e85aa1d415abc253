"""What pages of others ask for: what a spot's button says, and the script that draws it."""

from __future__ import annotations

import gzip
from functools import lru_cache
from pathlib import Path
from urllib.parse import urlsplit

from django.http import Http404, HttpRequest, HttpResponse
from django.http.response import HttpResponseBase
from django.utils import timezone
from django.views.decorators.http import require_safe

from cravik.checkout.opening import open_spot
from cravik.core.link.sites import site_in
from cravik.links.places.sites import may_open
from cravik.share.on_pages.answers import Asked, answer_lately, words_at
from cravik.share.on_pages.designs import button_held, face_in
from cravik.share.on_pages.plain import drawn
from cravik.share.on_pages.sightings import note_seen
from cravik.ui.addresses import absolute
from cravik.ui.public_answers import for_any_page, public_json

#: For how many seconds an answer is kept: so long it takes until a change is seen everywhere.
SECONDS_CACHED = 60
_SCRIPT_CACHED = 3600
#: Built from the modules in ``script`` by ``make vendor``.
SCRIPT = Path(__file__).parent / "built" / "onPage-1.js"


@require_safe
def answer(request: HttpRequest, code: str) -> HttpResponseBase:
    """What a page is told of the spot. Where its site may not open it, the button is a plain link."""
    opened, now = open_spot(code), timezone.now()
    if opened is None or opened.version is None:
        raise Http404
    row, origin = opened.row, request.headers.get("Origin", "")
    scheme = "https" if request.is_secure() else "http"
    is_ours = origin in ("", f"{scheme}://{request.get_host()}")
    allowed = is_ours or may_open(origin, row.business_id, row.link_id, scheme)
    if not is_ours and ((host := site_in(origin)) or origin == "null"):
        note_seen(row.spot_id, host, now, is_allowed=allowed)
    says = answer_lately(opened, button_held(row.spot_id), asked_at(request, code), now, is_allowed=allowed)
    response = public_json(request, says, seconds=SECONDS_CACHED, tag=f"{row.version_id}-")
    response["Vary"] = "Origin"
    return response


def asked_at(request: HttpRequest, code: str) -> Asked:
    """Where the spot was asked. The scheme is that of the installation, which a proxy may stand before."""
    return Asked(f"{urlsplit(absolute('')).scheme}://{request.get_host()}", code.upper())


@require_safe
def picture(request: HttpRequest, code: str) -> HttpResponseBase:
    """The spot's button as a picture, with the words of now; ``?on=dark`` for dark grounds."""
    opened, now = open_spot(code), timezone.now()
    if opened is None or opened.version is None:
        raise Http404
    design = button_held(opened.row.spot_id).design
    face = face_in(design, opened.version.look)
    words = words_at(opened, design, now)
    pixels = drawn(face.on_dark if request.GET.get("on") == "dark" else face, words)
    return for_any_page(request, HttpResponse(pixels, content_type="image/png"), seconds=SECONDS_CACHED)


@require_safe
def script(request: HttpRequest) -> HttpResponseBase:
    """The script that draws buttons on pages of others: its first version, which stays at this address."""
    packing = "gzip" if "gzip" in request.headers.get("Accept-Encoding", "") else ""
    response = HttpResponse(_packed(packing), content_type="text/javascript; charset=utf-8")
    response["Vary"] = "Accept-Encoding"
    if packing:
        response["Content-Encoding"] = packing
    return for_any_page(request, response, seconds=_SCRIPT_CACHED)


@lru_cache(maxsize=2)
def _packed(packing: str) -> bytes:
    """The script as it is sent; read once in a process."""
    text = SCRIPT.read_bytes()
    return gzip.compress(text, mtime=0) if packing else text
