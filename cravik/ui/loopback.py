"""Whether a request was made on this machine, not passed on by a proxy that runs there."""

from __future__ import annotations

from contextlib import suppress
from ipaddress import ip_address

from django.http import HttpRequest

#: What proxies add to a request.
_PASSED_ON = ("HTTP_X_FORWARDED_FOR", "HTTP_FORWARDED", "HTTP_X_REAL_IP", "HTTP_VIA")


def was_passed_on(request: HttpRequest) -> bool:
    """Whether a proxy says of itself that it stands before us. One that says nothing is not seen."""
    return any(name in request.META for name in _PASSED_ON)


def was_asked_here(request: HttpRequest) -> bool:
    """Whether the request came from this machine itself, as far as it can be told."""
    if was_passed_on(request):
        return False
    with suppress(ValueError):
        return ip_address(request.META.get("REMOTE_ADDR", "")).is_loopback
    return False
