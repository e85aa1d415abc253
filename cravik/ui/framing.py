"""Pages that stand in a frame: of the application's own, or on a page of somebody else's.

A page says by its address that it stands on a page of others (``?in=page``), and stays there from one step to the next.
That alone lets nobody frame it: whoever may is said by ``let_frame``.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import Any, TypeVar, cast

from csp.decorators import csp_replace
from django.http import HttpRequest
from django.http.response import HttpResponseBase
from django.views.decorators.clickjacking import xframe_options_sameorigin

from cravik.ui.policy import allow

_View = TypeVar("_View", bound=Callable[..., HttpResponseBase])
_NAME, _VALUE = "in", "page"


def framed_by_ourselves(view: _View) -> _View:
    """Let the application's own pages frame this one, and nobody else's."""
    allowed: Any = csp_replace({"frame-ancestors": ["'self'"]})
    return cast(_View, xframe_options_sameorigin(allowed(view)))


def is_on_page(request: HttpRequest) -> bool:
    """Whether the address that is asked for stands on a page of others."""
    return request.GET.get(_NAME) == _VALUE


def on_page(path: str) -> str:
    """The path as it stands on a page of others."""
    return f"{path}{'&' if '?' in path else '?'}{_NAME}={_VALUE}"


def where_it_stands(request: HttpRequest) -> dict[str, bool]:
    """For every template: whether the page stands on a page of others."""
    return {"on_page": is_on_page(request)}


def let_frame(response: HttpResponseBase, sources: Sequence[str]) -> None:
    """Let pages of these sources frame the response, beside the application's own (CSP Level 3, 6.4.2.1)."""
    allow(response, {"frame-ancestors": ["'self'", *sources]})
    allowed: Any = response
    del allowed["X-Frame-Options"]
    # That header knows no list of sites, and gives way to the policy where both are read.
    allowed.xframe_options_exempt = True


def keep_opener(response: HttpResponseBase) -> None:
    """Let who opened the window of this page close it again, also across sites, where by default neither knows of the
    other (HTML, cross-origin opener policies)."""
    response.headers["Cross-Origin-Opener-Policy"] = "unsafe-none"
