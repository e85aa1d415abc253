"""Answers that are made smaller, and their tags."""

from __future__ import annotations

import gzip
from io import BytesIO

from django.http import FileResponse, HttpRequest, HttpResponse, HttpResponseNotModified
from django.test import RequestFactory, SimpleTestCase

from cravik.ui.encoding import SmallerPagesMiddleware, TagByEncodingMiddleware


class SmallerTest(SimpleTestCase):
    def asked(self, answer: HttpResponse, accepts: str = "gzip, br") -> HttpResponse:
        return SmallerPagesMiddleware(lambda _: answer)(RequestFactory().get("/", HTTP_ACCEPT_ENCODING=accepts))

    def test_pages_shrink_where_that_is_understood(self) -> None:
        body = "kites on the beach " * 100
        small = self.asked(HttpResponse(body))
        self.assertEqual((small["Content-Encoding"], gzip.decompress(small.content).decode()), ("gzip", body))
        self.assertIn("Accept-Encoding", small["Vary"])
        self.assertNotIn("Content-Encoding", self.asked(HttpResponse(body), accepts="br"))
        self.assertNotIn("Content-Encoding", self.asked(HttpResponse("short")))

    def test_what_does_not_shrink_goes_as_it_is(self) -> None:
        for answer in (HttpResponse(b"x" * 900, content_type="image/webp"), FileResponse(BytesIO(b"x" * 900))):
            self.assertNotIn("Content-Encoding", self.asked(answer))


class TagTest(SimpleTestCase):
    def asked(self, encoding: str, tag: str = "") -> HttpResponse:
        """What a file with the tag ``"1f-2c"`` answers, kept in that encoding too."""

        def file(request: HttpRequest) -> HttpResponse:
            same = request.META.get("HTTP_IF_NONE_MATCH") == '"1f-2c"'
            answer = HttpResponseNotModified() if same else HttpResponse("x")
            answer["ETag"] = '"1f-2c"'
            if encoding and not same:
                answer["Content-Encoding"] = encoding
            return answer

        asking = {"HTTP_IF_NONE_MATCH": tag} if tag else {}
        return TagByEncodingMiddleware(file)(RequestFactory().get("/", **asking))

    def test_each_encoding_has_a_tag_of_its_own(self) -> None:
        tags = [self.asked(encoding)["ETag"] for encoding in ("", "gzip", "br")]
        self.assertEqual(tags, ['"1f-2c"', '"1f-2c-gzip"', '"1f-2c-br"'])
        for encoding, tag in zip(("", "gzip", "br"), tags, strict=True):
            again = self.asked(encoding, tag)
            self.assertEqual((again.status_code, again["ETag"]), (304, tag))
        self.assertEqual(self.asked("br", '"other-br"').status_code, 200)
