"""Error pages, which ask no database, and the page of samples."""

from __future__ import annotations

import sys

from django.conf import settings
from django.http import FileResponse, Http404, HttpRequest, HttpResponse, HttpResponseBase
from django.shortcuts import render
from django.template.loader import render_to_string
from django.utils import timezone
from django.views.decorators.http import require_safe

from cravik.core.pricing.basket import Basket
from cravik.core.pricing.money import Money
from cravik.core.pricing.offer import simple_offer
from cravik.core.pricing.quote import quote
from cravik.core.statistics.ladder import Ladder
from cravik.core.statistics.rates import conversion
from cravik.ui.middleware import busy_response, is_busy
from cravik.ui.picture_files import picture_file


def bad_request(request: HttpRequest, exception: Exception | None = None) -> HttpResponse:
    return _plain("400.html", 400)


def not_allowed(request: HttpRequest, exception: Exception | None = None) -> HttpResponse:
    return _plain("403.html", 403)


def not_found(request: HttpRequest, exception: Exception | None = None) -> HttpResponse:
    """No database is asked: whether it may be a seller is told by the cookie alone. A buyer is not led to sign in."""
    return _plain("404.html", 404, {"is_seller": settings.SESSION_COOKIE_NAME in request.COOKIES})


def broken(request: HttpRequest) -> HttpResponse:
    """The last resort. Trouble with the database outside a view comes here too."""
    if is_busy(sys.exc_info()[1]):
        return busy_response(request)
    return _plain("500.html", 500)


def stale_form(request: HttpRequest, reason: str = "") -> HttpResponse:
    """A form whose protection against forgery has run out, or was never there."""
    return _plain("stale_form.html", 403)


@require_safe
def healthy(request: HttpRequest) -> HttpResponse:
    """A constant, for whoever watches the installation; also the measure that `make bench` compares with."""
    return HttpResponse("well\n", content_type="text/plain")


@require_safe
def samples(request: HttpRequest) -> HttpResponse:
    """Every component on one page."""
    offer = simple_offer("Delta kite, 1.8 m", Money(4800, "EUR"))
    context = {
        "slip": quote(offer, Basket(timezone.localdate())),
        "offer": offer,
        "ladder": Ladder(412, 120, 61, 40),
        "rate": conversion(40, 412),
        "few": conversion(1, 7),
    }
    return render(request, "ui/samples.html", context)


def _plain(template: str, status: int, context: dict[str, object] | None = None) -> HttpResponse:
    return HttpResponse(render_to_string(template, context), status=status)


@require_safe
def show_picture(request: HttpRequest, name: str, width: str) -> HttpResponseBase:
    """The file of a picture. Its name is not to be guessed, and what is under it never changes."""
    path = picture_file(name, int(width))
    if not path.is_file():
        raise Http404
    response = FileResponse(path.open("rb"), content_type="image/webp")
    response["Cache-Control"] = "public, max-age=31536000, immutable"
    return response
