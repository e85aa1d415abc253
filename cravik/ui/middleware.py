"""What is said when the database cannot answer, what search engines are asked, and what a proxy leaves out."""

from __future__ import annotations

from collections.abc import Callable
from http import HTTPStatus

import structlog
from django.conf import settings
from django.core.cache import caches
from django.db import InterfaceError, OperationalError
from django.http import HttpRequest, HttpResponse
from django.template.loader import render_to_string

from cravik.ui.loopback import was_passed_on

proxy_logger = structlog.stdlib.get_logger("cravik.proxy")
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


class SchemeMiddleware:
    """Says in the log, once an hour, that a proxy does not tell by which scheme it was asked: with ``CRAVIK_HTTPS``,
    whoever comes through it is led to the same address for ever."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        response = self.get_response(request)
        leads_on = settings.SECURE_SSL_REDIRECT and response.status_code == HTTPStatus.MOVED_PERMANENTLY
        says = "HTTP_X_FORWARDED_PROTO" in request.META
        if leads_on and not says and was_passed_on(request) and caches["shared"].add("no-scheme", True, 3600):
            proxy_logger.error(
                "the proxy does not send X-Forwarded-Proto, so nobody gets past the redirect to HTTPS;"
                " let it send the scheme by which it was asked"
            )
        return response


class DatabaseTroubleMiddleware:
    """Turns a database that is held or out of room into a page that says so, with status 503.

    It stands outside the session, which may be what failed; the page itself asks no database.
    """

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        return self.get_response(request)

    def process_exception(self, request: HttpRequest, exception: Exception) -> HttpResponse | None:
        if is_busy(exception):
            logger.error("database trouble: %s", exception)
            return busy_response(request)
        return None


def is_busy(trouble: BaseException | None) -> bool:
    """Whether the database is held by others for now, or its disk is full for now. Anything else is no moment's matter,
    such as a table that is not there: it is an error like any other."""
    message = str(trouble).lower()
    passing = ("locked", "busy", "did not move", "disk is full", "disk i/o error", "unable to open")
    return isinstance(trouble, OperationalError | InterfaceError) and any(words in message for words in passing)


def busy_response(request: HttpRequest) -> HttpResponse:
    """The page for “the database is busy”. Rendered without a request, so nothing asks for a user."""
    page = render_to_string("503.html", {"was_sent": request.method == "POST"})
    return HttpResponse(page, status=503, headers={"Retry-After": "5"})
