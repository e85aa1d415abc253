"""The page to which a buyer goes on after paying: an address of the seller's, with the order's reference signed.

The signature is the HMAC-SHA256 (RFC 2104) of what stands before the dot, in hexadecimal.

>>> onward = onward_address("https://kites.example/thanks?from=cravik#top", "7K2M9QX4T1ZB", b"key")
>>> onward.partition(".example")[2][:44], onward[-4:]
('/thanks?from=cravik&order=7K2M9QX4T1ZB.a63cf', '#top')
>>> is_web_address("https://kites.example/thanks"), is_web_address("http://kites.example/")
(True, False)
>>> host_of("https://kites.example/thanks")
'kites.example'
"""

from __future__ import annotations

import hashlib
import hmac
from urllib.parse import urlsplit, urlunsplit

PARAMETER = "order"
MAX_ADDRESS_LENGTH = 500


def is_web_address(text: str) -> bool:
    """Whether it is an https address, and nothing that a browser would take for anything else."""
    if not text.isprintable() or len(text) > MAX_ADDRESS_LENGTH or any(sign in text for sign in ' "<>\\'):
        return False
    try:
        parts = urlsplit(text)
        return parts.scheme == "https" and bool(parts.hostname) and not parts.username and parts.port != 0
    except ValueError:
        return False


def onward_address(go_to: str, value: str, key: bytes) -> str:
    """``go_to`` with ``value`` and its signature as its parameter ``order``, whatever that was before."""
    parts = urlsplit(go_to)
    kept = [each for each in parts.query.split("&") if each and each.partition("=")[0] != PARAMETER]
    signature = hmac.new(key, value.encode(), hashlib.sha256).hexdigest()
    return urlunsplit(parts._replace(query="&".join([*kept, f"{PARAMETER}={value}.{signature}"])))


def host_of(address: str) -> str:
    """The name of the host, as a buyer is told it."""
    return urlsplit(address).hostname or ""
