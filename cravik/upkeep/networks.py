"""Whom one household or firm is taken for."""

from __future__ import annotations

from ipaddress import ip_address, ip_network

from django.http import HttpRequest


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


def network_asking(request: HttpRequest) -> str:
    """The network that a request comes from."""
    return network_of(request.META.get("REMOTE_ADDR", ""))
