"""Who counts as a visitor, how one is recognised for a day without a cookie, and what is kept of how they came.

A visitor is a keyed hash of the network address and the browser's name for itself, under a random
salt that is renewed every UTC day and thrown away after the next, so that nobody can be followed
from day to day. Two people behind one address with the same browser look alike; a visit that has
been paid is therefore closed, and what comes after it is a new one. Whoever asks not to be told apart, by Global
Privacy Control or "do not track", is counted without any hash: each page that they open is a visit of its own.
"""

from __future__ import annotations

import hmac
import json
import re
import secrets
from datetime import date, timedelta
from functools import lru_cache
from pathlib import Path
from typing import NamedTuple
from urllib.parse import urlsplit

import crawleruseragents
from crawlerdetect import CrawlerDetect
from django.http import HttpRequest

from cravik.journal.models import DaySalt, LeftOut, Visit
from cravik.ui.addresses import absolute
from cravik.upkeep.networks import network_asking

_MIN_BROWSER_NAME_LENGTH = 15
_FETCHED_AHEAD = ("HTTP_SEC_PURPOSE", "HTTP_PURPOSE", "HTTP_X_MOZ", "HTTP_X_PURPOSE")
#: What programs that show a card for an address call themselves, beside those that the list knows by name.
_PREVIEW = re.compile(r"preview|unfurl|externalhit|embed", re.IGNORECASE)
_TABLET = re.compile(r"ipad|tablet|android(?!.*mobile)", re.IGNORECASE)
_PHONE = re.compile(r"mobi|phone", re.IGNORECASE)
_MAX_HOST = 100


def why_left_out(request: HttpRequest) -> LeftOut.Reason | None:
    """Why whoever asks is no visitor: a browser fetching ahead of a person, a preview, a robot; None for a person."""
    purpose = " ".join(request.META.get(name, "") for name in _FETCHED_AHEAD).lower()
    name = request.headers.get("User-Agent", "")
    if "preview" in purpose:
        return LeftOut.Reason.PREVIEW
    if "prefetch" in purpose or "prerender" in purpose:
        return LeftOut.Reason.AHEAD
    if request.method == "HEAD" or _is_robot_name(name):
        return LeftOut.Reason.PREVIEW if _shows_a_card(name) else LeftOut.Reason.ROBOT
    return None


class Visitor(NamedTuple):
    """Who comes and how: the 32 characters that stand for a visitor today (none: not told apart), the 16 that stand for
    their network address, the host that referred them, and the kind of device."""

    mark: str
    network: str = ""
    referrer: str = ""
    device: str = Visit.Device.DESK


def visitor_of(request: HttpRequest, today: date) -> Visitor:
    """Who asks, as they are told apart today."""
    network = network_mark(request, today)
    return Visitor(visitor_mark(request, today), network, referrer_of(request), device_of(request))


def network_mark(request: HttpRequest, today: date) -> str:
    """The 16 characters that stand for the network address today."""
    return _keyed(network_asking(request), today)[:16]


def visitor_mark(request: HttpRequest, today: date) -> str:
    """The visitor's mark alone; nothing where they ask not to be told apart."""
    if asks_not_to_be_told_apart(request):
        return ""
    return _keyed(f"{request.META.get('REMOTE_ADDR', '')}\0{request.headers.get('User-Agent', '')}", today)[:32]


def asks_not_to_be_told_apart(request: HttpRequest) -> bool:
    """Whether the browser sends Global Privacy Control or "do not track"."""
    return "1" in (request.headers.get("Sec-GPC"), request.headers.get("DNT"))


def referrer_of(request: HttpRequest) -> str:
    """The host of the page that led here, without ``www``; nothing for none, and for pages of our own."""
    try:
        host = (urlsplit(request.headers.get("Referer", "")[:2000]).hostname or "").removeprefix("www.")
    except ValueError:
        return ""
    ours = (request.get_host().partition(":")[0], urlsplit(absolute("")).hostname)
    is_name = bool(re.fullmatch(r"[a-z0-9.:_-]+", host, re.ASCII))
    return host if is_name and host not in ours and len(host) <= _MAX_HOST else ""


def device_of(request: HttpRequest) -> Visit.Device:
    """The kind of device, as far as the browser says it.

    What it says of itself is the ``Sec-CH-UA-Mobile`` of User-Agent Client Hints, else its name.
    """
    name = request.headers.get("User-Agent", "")
    if _TABLET.search(name):
        return Visit.Device.TABLET
    is_phone = request.headers.get("Sec-CH-UA-Mobile") == "?1" or _PHONE.search(name)
    return Visit.Device.PHONE if is_phone else Visit.Device.DESK


def _keyed(seen: str, today: date) -> str:
    return hmac.digest(_salt_of(today), seen.encode(), "sha256").hex()


@lru_cache(maxsize=2048)
def _is_robot_name(browser: str) -> bool:
    if len(browser) < _MIN_BROWSER_NAME_LENGTH:
        return True
    return bool(_detector().isCrawler(browser[:400]))


@lru_cache(maxsize=2048)
def _shows_a_card(robot: str) -> bool:
    """Whether the robot fetches an address because a person sent it: to show a card for it."""
    return bool(_PREVIEW.search(robot) or _messengers().search(robot[:400]))


@lru_cache(maxsize=1)
def _messengers() -> re.Pattern[str]:
    """What messengers and social apps call themselves while they make a card (the list of crawler-user-agents)."""
    listed = Path(crawleruseragents.__file__).with_name("crawler-user-agents.json").read_text(encoding="utf-8")
    return re.compile("|".join(each["pattern"] for each in json.loads(listed) if "social-preview" in each["tags"]))


@lru_cache(maxsize=1)
def _detector() -> CrawlerDetect:
    return CrawlerDetect()


@lru_cache(maxsize=2)
def _salt_of(day: date) -> bytes:
    found = DaySalt.objects.filter(day=day).first()
    if found is None:
        DaySalt.objects.filter(day__lt=day - timedelta(days=1)).delete()
        found, _ = DaySalt.objects.get_or_create(day=day, defaults={"salt": secrets.token_bytes(32)})
    return bytes(found.salt)
