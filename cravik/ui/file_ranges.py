"""Files that can be gone on with where they broke off: one range of bytes (RFC 9110, section 14)."""

from __future__ import annotations

import io
import re
from pathlib import Path
from typing import TYPE_CHECKING

from django.http import FileResponse, HttpRequest, HttpResponse
from django.http.response import HttpResponseBase
from django.utils.http import content_disposition_header

if TYPE_CHECKING:
    from _typeshed import WriteableBuffer

_RANGE = re.compile(r"bytes=(\d{0,18})-(\d{0,18})", re.ASCII)


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
    else:
        start, end = bounds
        response = FileResponse(io.BufferedReader(FileSlice(path, start, end)), status=206)
        response["Content-Range"] = f"bytes {start}-{end - 1}/{size}"
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


class FileSlice(io.RawIOBase):
    """The bytes of a file from ``start`` to before ``end``, as a file: the web server sends it as any other."""

    def __init__(self, path: Path, start: int, end: int) -> None:
        self._file = path.open("rb", buffering=0)
        self._start = start
        self._length = end - start
        self.seek(0)

    def readable(self) -> bool:
        return True

    def seekable(self) -> bool:
        return True

    def seek(self, offset: int, whence: int = io.SEEK_SET, /) -> int:
        """Go to a place within the slice; returns it."""
        base = {io.SEEK_SET: 0, io.SEEK_CUR: self.tell(), io.SEEK_END: self._length}[whence]
        return self._file.seek(self._start + max(0, base + offset)) - self._start

    def tell(self) -> int:
        return self._file.tell() - self._start

    def readinto(self, buffer: WriteableBuffer, /) -> int:
        """Fill the buffer; returns the number of bytes, 0 at the end of the slice."""
        room = memoryview(buffer).cast("B")
        return self._file.readinto(room[: max(0, min(len(room), self._length - self.tell()))])

    def close(self) -> None:
        self._file.close()
        super().close()
