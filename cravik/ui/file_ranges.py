"""Files that can be gone on with where they broke off: one range of bytes (RFC 9110, section 14)."""

from __future__ import annotations

import re
from collections.abc import Iterator
from pathlib import Path

from django.http import FileResponse, HttpRequest, HttpResponse, StreamingHttpResponse
from django.http.response import HttpResponseBase
from django.utils.http import content_disposition_header

_RANGE = re.compile(r"bytes=(\d{0,18})-(\d{0,18})", re.ASCII)
_PIECE = 64 * 1024


def file_response(request: HttpRequest, path: Path, title: str) -> HttpResponseBase:
    """The file to keep under ``title``: all of it (200), the range that is asked for (206), or 416 where there is none.

    Several ranges at once, or what is no range of bytes, gets the whole.
    """
    size = path.stat().st_size
    asked = _RANGE.fullmatch(request.headers.get("Range", ""))
    bounds = _bounds(asked[1], asked[2], size) if asked and (asked[1] or asked[2]) else (0, size)
    response: HttpResponseBase
    if bounds is None:
        response = HttpResponse(status=416, headers={"Content-Range": f"bytes */{size}"})
    elif bounds == (0, size):
        response = FileResponse(path.open("rb"))
        response["Content-Length"] = size
    else:
        start, end = bounds
        response = StreamingHttpResponse(_pieces(path, start, end), status=206)
        response["Content-Range"] = f"bytes {start}-{end - 1}/{size}"
        response["Content-Length"] = end - start
    response["Accept-Ranges"] = "bytes"
    response["Content-Disposition"] = content_disposition_header(as_attachment=True, filename=title) or "attachment"
    return response


def _bounds(first: str, last: str, size: int) -> tuple[int, int] | None:
    """From which byte, and before which, or None where the file has no such range."""
    if not first:  # the last so many
        start, end = max(0, size - int(last)), size
    else:
        start, end = int(first), min(int(last) + 1, size) if last else size
    return (start, end) if start < end else None


def _pieces(path: Path, start: int, end: int) -> Iterator[bytes]:
    with path.open("rb") as file:
        file.seek(start)
        while start < end and (piece := file.read(min(_PIECE, end - start))):
            start += len(piece)
            yield piece
