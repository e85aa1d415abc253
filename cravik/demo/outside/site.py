"""The sample site as a WSGI application: it knows a spot's code and shows what its seller would have pasted."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping
from pathlib import Path
from typing import Any
from urllib.parse import parse_qs

from django.db import close_old_connections
from django.template.loader import render_to_string
from django.utils.safestring import SafeString, mark_safe

from cravik.demo.outside.pages import PAGES, OutsidePage
from cravik.links.models import Link, Spot
from cravik.share.on_pages.blocks import bare_block, policy_of, script_address, script_block
from cravik.share.on_pages.pasting import pasting_of
from cravik.share.on_pages.plain import plain_button
from cravik.ui.addresses import absolute

Start = Callable[[str, list[tuple[str, str]]], object]
_STYLE = Path(__file__).parent / "strict.css"


def application(environ: Mapping[str, Any], start_response: Start) -> Iterable[bytes]:
    """Answer one request."""
    close_old_connections()
    path = environ.get("PATH_INFO", "/").strip("/")
    code = parse_qs(environ.get("QUERY_STRING", "")).get("spot", [""])[0].upper()[:10]
    try:
        status, kind, body, policy = _answer(path, code)
    finally:
        close_old_connections()
    headers = [("Content-Type", f"{kind}; charset=utf-8"), ("Content-Length", str(len(body)))]
    if policy:
        headers.append(("Content-Security-Policy", policy))
    start_response(status, headers)
    return [body]


def _answer(path: str, code: str) -> tuple[str, str, bytes, str]:
    """Status, kind, body and policy of what is there."""
    if path == "strict.css":
        return "200 OK", "text/css", _STYLE.read_bytes(), ""
    page = PAGES.get(path)
    if path and page is None:
        return "404 Not Found", "text/plain", b"There is no such page here.", ""
    spots = _spots(code, page.spots if page else 1)
    context: dict[str, Any] = {
        "pages": PAGES.values(),
        "page": page,
        "code": code,
        "pasted": [_pasted(spot) for spot in spots],
    }
    context |= {"script": script_address(absolute("")), "home": "/"}
    body = render_to_string(f"outside/{page.name if page else 'index'}.html", context).encode()
    return "200 OK", "text/html", body, _policy(page)


def _policy(page: OutsidePage | None) -> str:
    return page.policy.format(cravik=policy_of(absolute(""))["script-src"]) if page else ""


def _spots(code: str, wanted: int) -> list[Spot]:
    """The spot of that code, as often as wanted; without one, the first spots of what is on sale."""
    chosen = Spot.objects.filter(code=code, link__removed_at=None).select_related("link").first()
    if chosen:
        return [chosen] * wanted
    on_sale = Spot.objects.filter(is_first=True, link__state=Link.State.LIVE, link__removed_at=None)
    return list(on_sale.select_related("link").order_by("id")[:wanted])


def _pasted(spot: Spot) -> dict[str, SafeString | str]:
    """What was pasted: by script, as plain text and as a picture."""
    pasting = pasting_of(spot, spot.link)
    if pasting is None:
        return {}
    return {
        "script": _element(script_block(pasting)),
        "bare": _element(bare_block(pasting)),
        "title": pasting.shown.offer.title,
        **{kind: _html(plain_button(pasting, kind).html) for kind in ("text", "drawn")},
    }


def _element(block: str) -> SafeString:
    """The block without its script, which the page has on its own."""
    return _html(block.partition("\n")[0])


def _html(text: str) -> SafeString:
    return mark_safe(text)  # noqa: S308  # made and escaped by the application
