"""Answers made smaller on their way, and tags that say which way they went."""

from __future__ import annotations

import re
from collections.abc import Callable
from http import HTTPStatus

from django.http import HttpRequest, HttpResponse
from django.http.response import HttpResponseBase
from django.middleware.gzip import GZipMiddleware

_SHRINKS = re.compile(r"text/|application/(json|javascript|manifest\+json|ld\+json)|image/svg\+xml", re.IGNORECASE)
_TAG_BY_ENCODING = re.compile(r'"([^"]*)-(br|gzip)"')


class SmallerPagesMiddleware(GZipMiddleware):
    """Django's compression of answers, for those that shrink: not for pictures, archives, and what is sent as it
    comes."""

    def process_response(self, request: HttpRequest, response: HttpResponseBase) -> HttpResponseBase:
        if response.streaming or not _SHRINKS.match(response.get("Content-Type", "")):
            return response
        return super().process_response(request, response)


class TagByEncodingMiddleware:
    """Gives each encoding of a file a strong tag of its own (RFC 9110, 8.8.3.3): a proxy that keeps the one must not
    take it for the other. What asks with such a tag is compared by the file's."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        asked = request.META.get("HTTP_IF_NONE_MATCH", "")
        if "-" in asked:
            request.META["HTTP_IF_NONE_MATCH"] = _TAG_BY_ENCODING.sub(r'"\1"', asked)
        response = self.get_response(request)
        tag, encoding = response.get("ETag", ""), response.get("Content-Encoding")
        if tag.startswith('"') and encoding:
            response["ETag"] = f'{tag[:-1]}-{encoding}"'
        elif tag and response.status_code == HTTPStatus.NOT_MODIFIED and f"{tag[:-1]}-" in asked:
            response["ETag"] = next(each.strip() for each in asked.split(",") if f"{tag[:-1]}-" in each)
        return response
