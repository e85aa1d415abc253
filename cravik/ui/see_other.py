"""Leading a browser on after a form was sent."""

from __future__ import annotations

from django.http import HttpRequest, HttpResponseRedirect

from cravik.ui.framing import is_on_page, on_page


def lead_to(request: HttpRequest, path: str, outcome: int | None = None) -> HttpResponseRedirect:
    """303: the browser gets the next page by itself, so going back sends nothing twice (RFC 9110, 15.4.4).

    What stands on a page of others stays there. ``outcome`` is the status that the next page tells in words, for
    programs: 402 where a card was declined, 503 where nothing is known yet.
    """
    response = HttpResponseRedirect(on_page(path) if is_on_page(request) else path)
    response.status_code = 303
    if outcome is not None:
        response["X-Outcome"] = str(outcome)
    return response
