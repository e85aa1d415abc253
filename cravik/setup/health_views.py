"""How the installation is, for machines: deep health as JSON, and metrics as Prometheus reads them.

Whoever asks on the machine itself gets an answer, and whoever has ``CRAVIK_HEALTH_TOKEN``, as a bearer token (RFC
6750). For anybody else the address is not there.
"""

from __future__ import annotations

import hmac
from http import HTTPStatus

from django.conf import settings
from django.http import Http404, HttpRequest, HttpResponse, JsonResponse
from django.utils import timezone
from django.views.decorators.http import require_safe
from prometheus_client import CollectorRegistry, Gauge, Info, generate_latest
from prometheus_client.exposition import CONTENT_TYPE_LATEST

from cravik import VERSION
from cravik.ui.loopback import was_asked_here
from cravik.upkeep.health import look_into

_BEARER = "Bearer "


@require_safe
def deep(request: HttpRequest) -> HttpResponse:
    """200 where all is well, else 503, with every check."""
    _refuse_strangers(request)
    checks = look_into(timezone.now())
    is_well = all(check.is_well for check in checks)
    answer = {
        "well": is_well,
        "version": VERSION,
        "checks": {check.name: {"well": check.is_well, "words": check.words} for check in checks},
    }
    status = HTTPStatus.OK if is_well else HTTPStatus.SERVICE_UNAVAILABLE
    return JsonResponse(answer, status=status, headers={"Cache-Control": "no-store"})


@require_safe
def metrics(request: HttpRequest) -> HttpResponse:
    """All figures, in the Prometheus text format."""
    _refuse_strangers(request)
    registry = CollectorRegistry()
    Info("cravik", "What runs here", registry=registry).info({"version": VERSION})
    well = Gauge("cravik_well", "Whether that is well", ["check"], registry=registry)
    for check in look_into(timezone.now()):
        well.labels(check.name).set(check.is_well)
        for measure in check.measures:
            Gauge(f"cravik_{measure.name}", measure.help, registry=registry).set(measure.value)
    return HttpResponse(
        generate_latest(registry), content_type=CONTENT_TYPE_LATEST, headers={"Cache-Control": "no-store"}
    )


def _refuse_strangers(request: HttpRequest) -> None:
    header = request.headers.get("Authorization", "")
    token = header.removeprefix(_BEARER) if header.startswith(_BEARER) else ""
    known = settings.CRAVIK_HEALTH_TOKEN
    if not was_asked_here(request) and not (known and hmac.compare_digest(token.encode(), known.encode())):
        raise Http404
