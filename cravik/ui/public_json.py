"""JSON that any page may read: cached, with a tag of what it says, and without cookies."""

from __future__ import annotations

import hashlib
import json
from collections.abc import Mapping
from typing import Any

from django.http import HttpRequest, HttpResponse
from django.http.response import HttpResponseBase
from django.utils.cache import get_conditional_response


def public_json(request: HttpRequest, said: Mapping[str, Any], *, seconds: int, tag: str = "") -> HttpResponseBase:
    """What is said, for ``seconds`` of keeping; 304 for whoever has it (RFC 9110, 13). The entity tag begins with
    ``tag``."""
    text = json.dumps(said, ensure_ascii=False)
    etag = f'"{tag}{hashlib.sha256(text.encode()).hexdigest()[:24]}"'
    response = HttpResponse(text, content_type="application/json; charset=utf-8")
    let_any_page_read(response, seconds)
    response["ETag"] = etag
    return get_conditional_response(request, etag, response=response) or response


def let_any_page_read(response: HttpResponseBase, seconds: int) -> None:
    """Let pages of any origin read the response, and everybody keep it for so long."""
    response["Cache-Control"] = f"public, max-age={seconds}"
    response["Access-Control-Allow-Origin"] = "*"
    response["Cross-Origin-Resource-Policy"] = "cross-origin"
