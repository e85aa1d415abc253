"""Uploads are bounded before they are read: nobody fills the disk with what is then refused."""

from __future__ import annotations

from typing import Any

from django.core.exceptions import RequestDataTooBig
from django.core.files.uploadhandler import FileUploadHandler

#: Bytes of one request with files; eight photos of 20 MB, and the form around them.
MAX_BYTES = 170_000_000


class BoundedUploadHandler(FileUploadHandler):
    """Stands before the others and looks at the announced length alone; the files pass through."""

    def handle_raw_input(self, input_data: Any, META: dict[str, Any], content_length: int, *rest: Any) -> None:  # noqa: N803
        if content_length > MAX_BYTES:
            raise RequestDataTooBig(f"The most that can be sent at once is {MAX_BYTES:,} bytes.")

    def receive_data_chunk(self, raw_data: bytes, start: int) -> bytes:
        return raw_data

    def file_complete(self, file_size: int) -> None:
        return None
