"""The number format of whoever asked: the first language of theirs that is known."""

from __future__ import annotations

from django.http import HttpRequest
from django.utils.translation.trans_real import parse_accept_lang_header

from cravik.core.text.money_text import DEFAULT_LOCALE, known_locale


def number_locale(request: HttpRequest) -> str:
    """A locale identifier for ``core.text.money_text``, from the request's Accept-Language."""
    for tag, _weight in parse_accept_lang_header(request.headers.get("Accept-Language", "")[:200].lower()):
        if tag != "*" and (locale := known_locale(tag)):
            return locale
    return DEFAULT_LOCALE
