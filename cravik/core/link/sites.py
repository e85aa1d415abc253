"""The sites of others on which a link may open: who is allowed there, by the origin of a page (RFC 6454), and the same
as the sources of a policy's ``frame-ancestors`` (CSP Level 3, 2.3.1).

As long as a seller has named no site, they are trying: pages of their own machine are allowed, and nobody else's. Once
one is named, those are allowed no more unless ``localhost`` is named too.

A site is meant on every port, by https; by http too where the link's own pages are served by it.

>>> kites = Site("kites.example")
>>> [is_allowed(origin, [kites]) for origin in ("https://www.kites.example", "https://shop.kites.example", "null")]
[True, False, False]
>>> is_allowed("http://localhost:5500", [])
True
"""

from __future__ import annotations

from collections.abc import Collection, Iterable
from dataclasses import dataclass
from urllib.parse import urlsplit

from cravik.core.link.host_names import host_name_in

#: Stands for pages of the seller's own machine: any port, and files.
LOCAL = "localhost"
_WWW = "www."
#: The origin of a page without one, such as a file.
_NONE = "null"
_MACHINE = ("localhost", "127.0.0.1", "::1")


@dataclass(frozen=True, slots=True)
class Site:
    """A host name without ``www``, which is allowed with it too; with ``subdomains``, all names below it as well."""

    host: str
    subdomains: bool = False

    def has(self, origin: str, scheme: str) -> bool:
        """Whether a page of that origin is of this site, where the link's own pages are served by ``scheme``."""
        if self.host == LOCAL:
            return _is_local(origin)
        if scheme == "https" and not origin.startswith("https:"):
            return False
        host = host_of(origin)
        return host in (self.host, _WWW + self.host) or (self.subdomains and host.endswith(f".{self.host}"))

    @property
    def sources(self) -> tuple[str, ...]:
        """The same for a policy. Without a scheme, a source is of that of the page, or a better one (6.7.2.8)."""
        if self.host == LOCAL:
            return _LOCAL_SOURCES
        return (f"{self.host}:*", f"{f'*.{self.host}' if self.subdomains else _WWW + self.host}:*")


_LOCAL_SOURCES = (*(f"{scheme}://{name}:*" for name in _MACHINE[:2] for scheme in ("http", "https")), "file:")


def site_in(typed: str) -> str:
    """The host of the site in what was typed, an address or a name, without ``www``; nothing where it is none."""
    text = typed.strip().lower()
    if _host_in(text if "//" in text else f"//{text}") in _MACHINE:
        return LOCAL
    return host_name_in(text).removeprefix(_WWW)


def host_of(origin: str) -> str:
    """The host of an origin; nothing where it has none."""
    return _host_in(origin).rstrip(".")


def is_allowed(origin: str, sites: Collection[Site], scheme: str = "https") -> bool:
    """Whether a page of that origin may open the link; with no site named, whether it is of the seller's machine.

    ``scheme`` is the one by which the link's own pages are served.
    """
    return any(site.has(origin, scheme) for site in sites) if sites else _is_local(origin)


def frame_ancestors(sites: Collection[Site]) -> list[str]:
    """The sources that may show the link's pages in a frame."""
    named: Iterable[str] = (source for site in sites for source in site.sources) if sites else _LOCAL_SOURCES
    return list(dict.fromkeys(named))


def _is_local(origin: str) -> bool:
    host = host_of(origin)
    return origin == _NONE or host in _MACHINE or host.endswith(f".{LOCAL}")


def _host_in(address: str) -> str:
    try:
        return urlsplit(address).hostname or ""
    except ValueError:
        return ""
