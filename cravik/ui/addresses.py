"""Addresses as buyers reach them."""

from __future__ import annotations

from django.conf import settings

_WITHOUT_A_SETTING = "http://localhost:8000"


def absolute(path: str) -> str:
    """``path`` with the scheme and host under which this installation is reached."""
    return f"{settings.CRAVIK_PUBLIC_ADDRESS or _WITHOUT_A_SETTING}{path}"
