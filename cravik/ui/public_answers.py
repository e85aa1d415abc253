"""Answers that any page may read: cached, with a tag of what they say, and without cookies."""

from __future__ import annotations

import hashlib
import json
from collections.abc import Mapping
from typing import Any

from django.http import HttpRequest, HttpResponse
from django.http.response import HttpResponseBase
from django.utils.cache import get_conditional_response


def public_json(request: HttpRequest, answer: Mapping[str, Any], *, seconds: int, tag: str = "") -> HttpResponseBase:
    """What is said, for ``seconds`` of keeping; 304 for whoever has it (RFC 9110, 13). The entity tag begins with
    ``tag``."""
    text = json.dumps(answer, ensure_ascii=False)
    response = HttpResponse(text, content_type="application/json; charset=utf-8")
    return for_any_page(request, response, seconds=seconds, tag=tag)


def for_any_page(request: HttpRequest, response: HttpResponse, *, seconds: int, tag: str = "") -> HttpResponseBase:
    """The response, which pages of any origin may read and everybody may keep for so long."""
    etag = f'"{tag}{hashlib.sha256(response.content).hexdigest()[:24]}"'
    response["Cache-Control"] = f"public, max-age={seconds}"
    response["Access-Control-Allow-Origin"] = "*"
    response["Cross-Origin-Resource-Policy"] = "cross-origin"
    response["ETag"] = etag
    return get_conditional_response(request, etag, response=response) or response
