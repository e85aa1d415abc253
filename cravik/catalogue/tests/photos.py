"""Photos, good and hostile, made on the spot."""

from __future__ import annotations

import io
import struct
import zlib
from typing import Any

from django.core.files.uploadedfile import SimpleUploadedFile
from PIL import Image

BUSY_CAMERA = "Shed behind the dunes"


def photo(size: tuple[int, int] = (1200, 900), kind: str = "JPEG", **options: Any) -> bytes:
    """A photo with a red left half."""
    picture = Image.new("RGB", size, "#1c6b66")
    picture.paste("#a63a28", (0, 0, size[0] // 2, size[1]))
    out = io.BytesIO()
    picture.save(out, kind, **options)
    return out.getvalue()


def turned_photo() -> bytes:
    """As a phone held upright writes it: lying on its side, with a note to turn it, a place and a maker."""
    exif = Image.Exif()
    exif[0x0112] = 6
    exif[0x010F] = BUSY_CAMERA
    return photo(exif=exif)


def animated(kind: str) -> bytes:
    frames = [Image.new("RGB", (80, 80), colour) for colour in ("red", "green", "blue")]
    out = io.BytesIO()
    frames[0].save(out, kind, save_all=True, append_images=frames[1:], duration=100)
    return out.getvalue()


def bomb(side: int = 60_000) -> bytes:
    """A PNG of a few bytes that says it has billions of pixels."""

    def chunk(name: bytes, content: bytes) -> bytes:
        return struct.pack(">I", len(content)) + name + content + struct.pack(">I", zlib.crc32(name + content))

    head = struct.pack(">IIBBBBB", side, side, 8, 2, 0, 0, 0)
    return b"\x89PNG\r\n\x1a\n" + chunk(b"IHDR", head) + chunk(b"IDAT", zlib.compress(bytes(100))) + chunk(b"IEND", b"")


def upload(content: bytes, name: str = "kite.jpg") -> SimpleUploadedFile:
    return SimpleUploadedFile(name, content, "image/jpeg")
