"""What is answered while data is carried over to a new version, or a back-up is put in its place.

It knows no database, no template and no style sheet, each of which may be what is being changed. Nothing is taken by
it: a payment that is sent here has not been made, and its page, which the buyer still has, makes it once when pressed
again.
"""

from __future__ import annotations

import base64
import hashlib
from collections.abc import Callable, Iterable
from http import HTTPStatus
from typing import Any

_STYLE = (
    ":root{color-scheme:light}body{margin:0;background:#fbf7f0;color:#22302e;font:1.125rem/1.5 Georgia,serif}"
    "main{max-width:34rem;margin:0 auto;padding:18vh 1.25rem 2rem}h1{font-size:2rem;line-height:1.2;margin:0 0 .75rem}"
    "p{margin:0 0 1rem}.soft{color:#55615c;font-size:1rem}"
)
_SECONDS = 5
_POLICY = (
    "default-src 'none'; base-uri 'none'; form-action 'none'; frame-ancestors *; style-src 'sha256-"
    + base64.b64encode(hashlib.sha256(_STYLE.encode()).digest()).decode()
    + "'"
)
_LOADED = (
    "<p>This shop is being looked after, which takes a minute at most. This page goes on by itself.</p>"
    '<p class="soft">Nothing is lost: whoever has paid has paid.</p>'
)
_SENT = (
    "<p>This shop is being looked after, which takes a minute at most. What you just sent was not taken, and nothing"
    " was charged by it.</p><p>Go back: what you typed is still there. Press the same button again in a minute; one"
    " page never charges twice.</p>"
)


def application(environ: dict[str, Any], start_response: Callable[..., Any]) -> Iterable[bytes]:
    """A WSGI application that asks everybody to try again in a moment, with status 503."""
    method = environ["REQUEST_METHOD"]
    body = page_for(method, environ.get("PATH_INFO", "")).encode()
    status = HTTPStatus.SERVICE_UNAVAILABLE
    headers = [
        ("Content-Type", "text/html; charset=utf-8"),
        ("Content-Length", str(len(body))),
        ("Cache-Control", "no-store"),
        ("Retry-After", str(_SECONDS)),
        ("Content-Security-Policy", _POLICY),
        ("X-Robots-Tag", "noindex"),
    ]
    start_response(f"{status.value} {status.phrase}", headers)
    return [] if method == "HEAD" else [body]


def page_for(method: str, path: str) -> str:
    """The page, which loads again by itself where nothing was sent."""
    if path == "/healthy/":
        return "not yet\n"
    is_loaded = method in ("GET", "HEAD")
    again = f'<meta http-equiv="refresh" content="{_SECONDS}">' if is_loaded else ""
    return (
        '<!doctype html><html lang="en"><head><meta charset="utf-8"><title>One moment</title>'
        f'<meta name="viewport" content="width=device-width, initial-scale=1">{again}<style>{_STYLE}</style></head>'
        f"<body><main><h1>One moment, please</h1>{_LOADED if is_loaded else _SENT}</main></body></html>"
    )
