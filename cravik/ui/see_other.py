"""Leading a browser on after a form was sent."""

from __future__ import annotations

from django.http import HttpResponseRedirect


def lead_to(path: str) -> HttpResponseRedirect:
    """303: the browser gets the next page by itself, so going back sends nothing twice (RFC 9110, 15.4.4)."""
    response = HttpResponseRedirect(path)
    response.status_code = 303
    return response
