"""Logs: one line each, as ``key=value`` or, when asked for, as JSON, with request, attempt and order bound to them.

Nothing private goes in: neither names nor addresses of people, nor cards, nor the references by which a page is found.
A request is told by a number of its own and the name of its view, not by its path, which may hold such a reference.
"""

from __future__ import annotations

from collections.abc import Callable
from time import perf_counter
from typing import Any

import structlog
from django.conf import settings
from django.http import HttpRequest, HttpResponse
from structlog.typing import EventDict, Processor, WrappedLogger

from cravik.upkeep.references import new_reference

access_logger = structlog.stdlib.get_logger("cravik.access")

_FIRST = ("timestamp", "level", "logger", "event")


def configure(*, as_json: bool) -> dict[str, Any]:
    """Set structlog up, and return Django's ``LOGGING`` to match."""
    shared: list[Processor] = [
        structlog.contextvars.merge_contextvars,
        structlog.stdlib.add_log_level,
        structlog.stdlib.add_logger_name,
        structlog.stdlib.PositionalArgumentsFormatter(),
        structlog.processors.TimeStamper(fmt="iso", utc=True),
        structlog.processors.format_exc_info,
    ]
    structlog.configure(
        processors=[*shared, structlog.stdlib.ProcessorFormatter.wrap_for_formatter],
        logger_factory=structlog.stdlib.LoggerFactory(),
        wrapper_class=structlog.stdlib.BoundLogger,
        cache_logger_on_first_use=True,
    )
    renderer: Processor = (
        structlog.processors.JSONRenderer(sort_keys=False)
        if as_json
        else structlog.processors.LogfmtRenderer(key_order=_FIRST, drop_missing=True)
    )
    return {
        "version": 1,
        "disable_existing_loggers": False,
        "formatters": {
            "line": {
                "()": structlog.stdlib.ProcessorFormatter,
                "foreign_pre_chain": [*shared, without_path],
                "processors": [structlog.stdlib.ProcessorFormatter.remove_processors_meta, renderer],
            }
        },
        "handlers": {"console": {"class": "logging.StreamHandler", "formatter": "line"}},
        "root": {"handlers": ["console"], "level": "WARNING"},
        "loggers": {
            "cravik": {"level": "INFO"},
            "django.request": {"level": "ERROR"},
            "django_tasks": {"level": "WARNING"},
            "django_tasks_db": {"level": "ERROR"},
            "waitress.queue": {"level": "ERROR"},
        },
    }


def without_path(logger: WrappedLogger, name: str, event: EventDict) -> EventDict:
    """Django's own line about a request that failed, without its path: the view is bound to it."""
    if event.get("logger") == "django.request":
        event["event"] = str(event["event"]).partition(":")[0]
    return event


class RequestLogMiddleware:
    """Binds a number of the request, and its view, to every line that is logged while it is answered."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        structlog.contextvars.clear_contextvars()
        structlog.contextvars.bind_contextvars(request=new_reference(8))
        if not settings.CRAVIK_ACCESS_LOG:
            return self.get_response(request)
        began = perf_counter()
        response = self.get_response(request)
        size = None if response.streaming else len(response.content)
        milliseconds = round((perf_counter() - began) * 1000, 1)
        access_logger.info("answered", method=request.method, status=response.status_code, ms=milliseconds, bytes=size)
        return response

    def process_view(self, request: HttpRequest, *_: object) -> None:
        if request.resolver_match:
            structlog.contextvars.bind_contextvars(view=request.resolver_match.view_name)
