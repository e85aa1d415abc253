"""Showing a letter alone in a frame, as its reader's mail program does."""

from __future__ import annotations

import base64
import hashlib
import re
from html import unescape

from django.http import HttpResponse

from cravik.ui.policy import allow

#: The picture at a letter's head; its address is the second group.
LOGO = re.compile(r'(<img class="logo" src=")([^"]+)(")')
_STYLE_SHEET = re.compile(r"<style>(.*?)</style>", re.DOTALL)


def letter_response(html: str) -> HttpResponse:
    """The letter as a page. Its style sheet is allowed by its hash, its logo by its address, and nothing else."""
    response = HttpResponse(html)
    sheets = [hashlib.sha256(sheet.encode()).digest() for sheet in _STYLE_SHEET.findall(html)]
    allow(
        response,
        {
            "default-src": ["'none'"],
            "style-src": [f"'sha256-{base64.b64encode(digest).decode()}'" for digest in sheets] or ["'none'"],
            "img-src": [unescape(found[2]) for found in LOGO.finditer(html)] or ["'none'"],
            "frame-ancestors": ["'self'"],
            "sandbox": ["allow-popups"],
        },
    )
    return response
