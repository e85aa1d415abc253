"""Who counts as a visitor, and how one is recognised for a day without a cookie.

A visitor is a keyed hash of the network address and the browser's name for itself, under a random
salt that is renewed every UTC day and thrown away after the next, so that nobody can be followed
from day to day. Two people behind one address with the same browser look alike; a visit that has
been paid is therefore closed, and what comes after it is a new one.
"""

from __future__ import annotations

import hmac
import secrets
from datetime import date, timedelta
from functools import lru_cache
from ipaddress import ip_address, ip_network
from typing import NamedTuple

from crawlerdetect import CrawlerDetect
from django.http import HttpRequest

from cravik.journal.models import DaySalt

_MIN_BROWSER_NAME_LENGTH = 15
_FETCHED_AHEAD = ("HTTP_SEC_PURPOSE", "HTTP_PURPOSE", "HTTP_X_MOZ", "HTTP_X_PURPOSE")


def is_robot(request: HttpRequest) -> bool:
    """Crawlers, link previews, scripts, and browsers that fetch ahead of a person."""
    if request.method == "HEAD" or any(
        word in request.META.get(name, "") for name in _FETCHED_AHEAD for word in ("prefetch", "preview", "prerender")
    ):
        return True
    return _is_robot_name(request.headers.get("User-Agent", ""))


class Visitor(NamedTuple):
    """The 32 characters that stand for a visitor today, and the 16 that stand for their network address."""

    mark: str
    network: str = ""


def visitor_of(request: HttpRequest, today: date) -> Visitor:
    """Who asks, as they are told apart today."""
    return Visitor(visitor_mark(request, today), _keyed(network_of(request.META.get("REMOTE_ADDR", "")), today)[:16])


def visitor_mark(request: HttpRequest, today: date) -> str:
    """The visitor's mark alone."""
    return _keyed(f"{request.META.get('REMOTE_ADDR', '')}\0{request.headers.get('User-Agent', '')}", today)[:32]


def network_of(address: str) -> str:
    """What one household or firm has of the network: an IPv4 address, or the first half of an IPv6 one.

    >>> network_of("203.0.113.9"), network_of("2001:db8:1:2:3:4:5:6")
    ('203.0.113.9', '2001:db8:1:2::')
    """
    try:
        parsed = ip_address(address)
    except ValueError:
        return address
    return str(ip_network(f"{address}/64", strict=False).network_address) if parsed.version == 6 else address


def _keyed(seen: str, today: date) -> str:
    return hmac.digest(_salt_of(today), seen.encode(), "sha256").hex()


@lru_cache(maxsize=2048)
def _is_robot_name(browser: str) -> bool:
    if len(browser) < _MIN_BROWSER_NAME_LENGTH:
        return True
    return bool(_detector().isCrawler(browser[:400]))


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
