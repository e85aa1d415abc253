"""Host names of a business's own: naming them, seeing that they are pointed here, and the addresses they make.

A name is answered only once this installation, asked at that name over the network, gave back the key that stands with
it: then whoever owns the name has pointed it here. Names are first come, first served; one that was not pointed here
within two weeks lapses.
"""

from __future__ import annotations

import secrets
import socket
import ssl
from datetime import datetime, timedelta
from http.client import HTTPConnection, HTTPException
from ipaddress import ip_address
from typing import Literal, NamedTuple
from urllib.parse import urlsplit

from django.conf import settings
from django.db import transaction

from cravik.core.errors import Fault
from cravik.people.actors import Actor
from cravik.people.models import Business
from cravik.setup.happened import record
from cravik.setup.models import HostName
from cravik.ui.addresses import absolute

MAX_HOSTS = 5
LAPSES_AFTER = timedelta(days=14)
#: Where this installation proves that it is the one that is asked.
CHECK_PATH = "/.well-known/cravik-host"
_SECONDS = 5
#: Names that no registry gives away (RFC 6761, RFC 6762, RFC 9476 and usual ones of inner networks).
_INNER = (".local", ".internal", ".intranet", ".lan", ".home", ".corp", ".alt", ".onion", ".invalid", ".test", ".arpa")


class HostTaken(Exception):
    """Another business here has the name."""


class TooManyHosts(Exception):
    """The business has as many names as it can."""


#: Why a name is not answered yet: nobody answers there, or somebody else does.
NotPointed = Literal["", "unreachable", "another"]


def host_fault(name: str) -> Fault | None:
    """Why the name cannot be one of a business's own; None where it can."""
    if not name:
        return Fault("host_name_malformed")
    if any(name.endswith(ending) for ending in _INNER):
        return Fault("host_name_private")
    ours = urlsplit(absolute("")).hostname
    if name == ours or name in settings.CRAVIK_ALLOWED_HOSTS:
        return Fault("host_name_ours")
    return None


@transaction.atomic
def name_host(business: Business, name: str, now: datetime, *, by: Actor) -> HostName:
    """Note that the business wants to be reached at the name. Raises ``HostTaken`` and ``TooManyHosts``."""
    HostName.objects.filter(pointed_at=None, made_at__lt=now - LAPSES_AFTER).delete()
    holder = HostName.objects.select_for_update().filter(name=name).first()
    if holder:
        if holder.business_id != business.pk:
            raise HostTaken
        return holder
    if HostName.objects.filter(business=business).count() >= MAX_HOSTS:
        raise TooManyHosts
    record(business.pk, "domain", f"Domain {name}", now, by, "named")
    return HostName.objects.create(business=business, name=name, key=secrets.token_urlsafe(32), made_at=now)


def see_whether_pointed(host: HostName, now: datetime) -> NotPointed:
    """Ask at the name whether it leads here, and answer it from now on if it does. The first becomes the main one."""
    answer = _asked(host.name)
    if answer != host.key:
        return "another" if answer is not None else "unreachable"
    with transaction.atomic():
        has_main = HostName.objects.filter(business_id=host.business_id, is_main=True).exists()
        HostName.objects.filter(id=host.pk).update(pointed_at=now, is_main=not has_main or host.is_main)
    return ""


@transaction.atomic
def make_main(host: HostName, now: datetime, *, by: Actor) -> None:
    """Let links, codes, buttons and letters carry the name; one that is not pointed here cannot be it."""
    HostName.objects.filter(business_id=host.business_id, is_main=True).update(is_main=False)
    HostName.objects.filter(id=host.pk, pointed_at__isnull=False).update(is_main=True)
    record(host.business_id, "domain", f"Domain {host.name}", now, by, "made the main one")


@transaction.atomic
def forget_host(host: HostName, now: datetime, *, by: Actor) -> None:
    """Answer at the name no more. Links go back to another name of the business, or to Cravik's own."""
    record(host.business_id, "domain", f"Domain {host.name}", now, by, "removed")
    host.delete()


def is_at_home(business_id: int, name: str) -> bool:
    """Whether the business's links answer at that host name: at Cravik's own, and at its own."""
    others = HostName.objects.filter(name=name.rstrip(".")).exclude(business_id=business_id)
    return not others.exists()


def address_base(business_id: int) -> str:
    """The beginning of addresses that buyers get of the business: scheme and host, without a slash at the end."""
    main = HostName.objects.filter(business_id=business_id, is_main=True).values_list("name", flat=True).first()
    return base_at(main or "")


def base_at(name: str) -> str:
    """The same at that name; at Cravik's own for none."""
    if not name:
        return absolute("")
    ours = urlsplit(absolute(""))
    return f"{ours.scheme}://{name}{f':{ours.port}' if ours.port else ''}"


def address_of(business_id: int, path: str) -> str:
    """``path`` as buyers of the business reach it."""
    return f"{address_base(business_id)}{path}"


def _asked(name: str) -> str | None:
    """What is answered at the name's check; None where nobody answers as a web server does.

    The name is looked up once, and what was found is both judged and connected to: a second look-up could be answered
    with an address of an inner network.
    """
    ours = urlsplit(absolute(""))
    try:
        found = _looked_up(name)
        if not _may_be_asked(found, ours.hostname or ""):
            return None
        connection = _At(found[0], name, ours.port, is_secure=ours.scheme == "https").connection()
    except (OSError, UnicodeError):
        return None
    try:
        connection.request("GET", CHECK_PATH, headers={"Host": f"{name}:{ours.port}" if ours.port else name})
        answer = connection.getresponse()
        return answer.read(200).decode("ascii", "replace") if answer.status == 200 else ""
    except (OSError, HTTPException, UnicodeError):
        return None
    finally:
        connection.close()


class _At(NamedTuple):
    """Where a name's server is: asked at its address, and held to its name by the certificate where it speaks HTTPS."""

    address: str
    name: str
    port: int | None
    is_secure: bool

    def connection(self) -> HTTPConnection:
        port = self.port or (443 if self.is_secure else 80)
        connection = HTTPConnection(self.name, port, timeout=_SECONDS)
        connection.sock = socket.create_connection((self.address, port), _SECONDS)
        if self.is_secure:
            connection.sock = ssl.create_default_context().wrap_socket(connection.sock, server_hostname=self.name)
        return connection


def _looked_up(name: str) -> list[str]:
    """The addresses of the name. Raises ``OSError`` where it has none."""
    if name.endswith(".localhost"):  # this machine by definition (RFC 6761, 6.3), whatever its resolver knows
        return ["127.0.0.1"]
    return [str(each[4][0]).partition("%")[0] for each in socket.getaddrinfo(name, None, type=socket.SOCK_STREAM)]


def _may_be_asked(addresses: list[str], our_name: str) -> bool:
    """Whether none of the addresses is one of this machine or of an inner network, which strangers have no business to
    ask; an installation that is there itself may."""
    if all(ip_address(each).is_global for each in addresses):
        return True
    try:
        ours = _looked_up(our_name)
    except (OSError, UnicodeError):
        return False
    return any(not ip_address(each).is_global for each in ours)
