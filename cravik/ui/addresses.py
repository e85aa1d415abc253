"""Addresses as buyers reach them."""

from __future__ import annotations

from urllib.parse import urlsplit

from django.conf import settings

_WITHOUT_A_SETTING = "http://localhost:8000"


def absolute(path: str) -> str:
    """``path`` with the scheme and host under which this installation is reached."""
    return f"{settings.CRAVIK_PUBLIC_ADDRESS or _WITHOUT_A_SETTING}{path}"


def path_in(address: str) -> str:
    """The path of an address, whether it is absolute or not."""
    try:
        return urlsplit(address.strip()).path
    except ValueError:  # brackets that close nowhere
        return ""
