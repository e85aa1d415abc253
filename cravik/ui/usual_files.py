"""What programs ask any site for, at places that everybody knows."""

from __future__ import annotations

from datetime import timedelta

from django.conf import settings
from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import redirect
from django.templatetags.static import static
from django.utils import timezone
from django.views.decorators.http import require_safe

#: That a page is not to be listed is said by the page (``X-Robots-Tag``), which has to be read for that. What is bought
#: is nobody's to read.
_ROBOTS = "User-agent: *\nDisallow: /paid/\n"
_SECURITY_HOLDS = timedelta(days=180)


@require_safe
def robots(request: HttpRequest) -> HttpResponse:
    """What search engines may read (RFC 9309)."""
    return HttpResponse(_ROBOTS, content_type="text/plain; charset=utf-8")


@require_safe
def favicon(request: HttpRequest) -> HttpResponse:
    """The icon, for whoever asks without having read a page."""
    return redirect(static("ui/icon.svg"))


@require_safe
def security_txt(request: HttpRequest) -> HttpResponse:
    """Whom to tell of a hole (RFC 9116). Raises ``Http404`` where the owner names nobody."""
    if not settings.CRAVIK_SECURITY_CONTACT:
        raise Http404
    expires = (timezone.now() + _SECURITY_HOLDS).strftime("%Y-%m-%dT00:00:00Z")
    words = f"Contact: {settings.CRAVIK_SECURITY_CONTACT}\nExpires: {expires}\nPreferred-Languages: en\n"
    return HttpResponse(words, content_type="text/plain; charset=utf-8")


@require_safe
def change_password(request: HttpRequest) -> HttpResponse:
    """Where password managers lead (a well-known address of the W3C)."""
    return redirect("people:change_password")
