"""Host names as they are typed: an address or a name, in any script (RFC 1123, 2.1; IDNA 2003 as Python has it)."""

from __future__ import annotations

import re
from ipaddress import ip_address
from urllib.parse import urlsplit

_LABEL = r"[a-z0-9](?:[a-z0-9-]{0,61}[a-z0-9])?"
_NAME = re.compile(rf"{_LABEL}(?:\.{_LABEL})+", re.ASCII)


def host_name_in(typed: str) -> str:
    """The host name in what was typed: an address or a name, with or without ``www``; in ASCII. Nothing where it is
    none.

    >>> host_name_in("https://www.Drachen.example/shop?x=1")
    'www.drachen.example'
    """
    text = typed.strip().lower()
    try:
        name = (urlsplit(text if "//" in text else f"//{text}").hostname or "").rstrip(".")
        name = name.encode("idna").decode() if name else ""
    except (ValueError, UnicodeError):
        return ""
    return name if len(name) <= 253 and _NAME.fullmatch(name) and not _is_number(name) else ""


def _is_number(name: str) -> bool:
    try:
        ip_address(name)
    except ValueError:
        return name.rpartition(".")[2].isdigit()
    return True
