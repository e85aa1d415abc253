"""The mailroom's pages."""

from __future__ import annotations

import base64
import hashlib
import re

from django.core.paginator import Paginator
from django.http import HttpResponse
from django.shortcuts import get_object_or_404, render
from django.views.decorators.clickjacking import xframe_options_sameorigin
from django.views.decorators.http import require_safe

from cravik.mailroom.models import Letter
from cravik.mailroom.queries import letters_of
from cravik.mailroom.services import message_of
from cravik.setup.access import SellerRequest, seller_page

_STYLE_SHEET = re.compile(r"<style>(.*?)</style>", re.DOTALL)


@require_safe
@seller_page
def letters(request: SellerRequest) -> HttpResponse:
    search = request.GET.get("q", "").strip()[:100]
    page = Paginator(letters_of(request.business, search), 50).get_page(request.GET.get("page"))
    return render(request, "mailroom/letters.html", {"page": page, "search": search})


@require_safe
@seller_page
def letter(request: SellerRequest, letter_id: int) -> HttpResponse:
    found = get_object_or_404(Letter, id=letter_id, business=request.business)
    return render(request, "mailroom/letter.html", {"letter": found})


@require_safe
@xframe_options_sameorigin
@seller_page
def letter_body(request: SellerRequest, letter_id: int) -> HttpResponse:
    """The letter as the reader's mail program shows it, alone in a frame.

    Its one style sheet is allowed by its hash, and nothing else is.
    """
    found = get_object_or_404(Letter, id=letter_id, business=request.business)
    response = HttpResponse(found.html)
    sheets = [hashlib.sha256(sheet.encode()).digest() for sheet in _STYLE_SHEET.findall(found.html)]
    response._csp_replace = {  # type: ignore[attr-defined]  # django-csp's own hook
        "default-src": ["'none'"],
        "style-src": [f"'sha256-{base64.b64encode(digest).decode()}'" for digest in sheets] or ["'none'"],
        "frame-ancestors": ["'self'"],
        "sandbox": ["allow-popups"],
    }
    return response


@require_safe
@seller_page
def letter_file(request: SellerRequest, letter_id: int) -> HttpResponse:
    """The sent message as an .eml file (RFC 5322)."""
    found = get_object_or_404(Letter, id=letter_id, business=request.business, sent_at__isnull=False)
    return HttpResponse(
        message_of(found, found.sent_at).message().as_bytes(),
        content_type="message/rfc822",
        headers={"Content-Disposition": f'attachment; filename="letter-{found.id}.eml"'},
    )
