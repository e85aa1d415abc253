"""What is said when the database cannot answer, and what search engines are asked."""

from __future__ import annotations

from collections.abc import Callable

import structlog
from django.db import DatabaseError, InterfaceError, OperationalError
from django.http import HttpRequest, HttpResponse
from django.template.loader import render_to_string

logger = structlog.stdlib.get_logger("cravik.database")


class SearchEnginesMiddleware:
    """Asks search engines to stay away from every page, unless its view says that it may be found."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        response = self.get_response(request)
        is_page = response.headers.get("Content-Type", "").startswith("text/html")
        if is_page and not getattr(response, "may_be_found", False):
            response.headers.setdefault("X-Robots-Tag", "noindex")
        return response


class DatabaseTroubleMiddleware:
    """Turns a busy or unreachable database into a page that says so, with status 503.

    It stands outside the session, which may be what failed; the page itself asks no database.
    """

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        return self.get_response(request)

    def process_exception(self, request: HttpRequest, exception: Exception) -> HttpResponse | None:
        if isinstance(exception, OperationalError | InterfaceError) or type(exception) is DatabaseError:
            logger.error("database trouble: %s", exception)
            return busy_response(request)
        return None


def busy_response(request: HttpRequest) -> HttpResponse:
    """The page for “the database is busy”. Rendered without a request, so nothing asks for a user."""
    page = render_to_string("503.html", {"was_sent": request.method == "POST"})
    return HttpResponse(page, status=503, headers={"Retry-After": "5"})
