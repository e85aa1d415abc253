"""Pages that the application shows in a frame of its own, such as the bench beside the page that it makes."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any, TypeVar, cast

from csp.decorators import csp_replace
from django.http.response import HttpResponseBase
from django.views.decorators.clickjacking import xframe_options_sameorigin

_View = TypeVar("_View", bound=Callable[..., HttpResponseBase])


def framed_by_ourselves(view: _View) -> _View:
    """Let the application's own pages frame this one, and nobody else's."""
    allowed: Any = csp_replace({"frame-ancestors": ["'self'"]})
    return cast(_View, xframe_options_sameorigin(allowed(view)))
