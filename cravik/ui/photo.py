"""From a photo as it was taken to three small pictures for a page.

A photo is decoded once, turned upright, brought to the screen's colours (sRGB), made smaller, and written anew as
WebP, so that nothing of the file itself, no place, camera or hidden content, is passed on.
"""

from __future__ import annotations

import io
import threading
from dataclasses import dataclass
from typing import TYPE_CHECKING, BinaryIO

from PIL import UnidentifiedImageError

from cravik.core.text.refusal import Refusal
from cravik.later import later
from cravik.ui.refusals import PHOTOS

if TYPE_CHECKING:
    from PIL import Image, ImageCms, ImageOps
else:
    Image, ImageCms, ImageOps = later("PIL.Image"), later("PIL.ImageCms"), later("PIL.ImageOps")

MAX_BYTES = 20_000_000
MAX_PIXELS = 50_000_000
WIDTHS = (320, 800, 1600)
_MIN_SIDE = 40
_QUALITY = 82
# Values of the Exif orientation of a camera that was held upright.
_LYING = (5, 6, 7, 8)
# One photo at a time and process: the largest takes some hundred megabytes while it is open.
_one_at_a_time = threading.Lock()


class PhotoRefused(Refusal):
    """The file cannot be taken."""

    words = PHOTOS


@dataclass(frozen=True)
class Prepared:
    """The upright size in pixels, and the WebP file by its width; none is wider than the photo."""

    width: int
    height: int
    files: dict[int, bytes]


def prepare(file: BinaryIO, size: int) -> Prepared:
    """The three pictures of a photo of ``size`` bytes. Raises ``PhotoRefused``."""
    if size > MAX_BYTES:
        raise PhotoRefused.of("photo_too_many_bytes", megabytes=size / 1e6, most=MAX_BYTES // 1_000_000)
    with _one_at_a_time:
        try:
            return _prepared(file)
        except PhotoRefused:
            raise
        except UnidentifiedImageError:
            raise PhotoRefused.of("photo_of_another_kind") from None
        except Image.DecompressionBombError:
            raise PhotoRefused.of("photo_far_too_large", most=MAX_PIXELS // 1_000_000) from None
        except (OSError, SyntaxError, ValueError, MemoryError) as trouble:
            raise PhotoRefused.of("photo_damaged") from trouble


def _prepared(file: BinaryIO) -> Prepared:
    photo: Image.Image = Image.open(file, formats=("JPEG", "PNG", "WEBP"))
    width, height = photo.size
    if width * height > MAX_PIXELS:
        millions, most = width * height / 1e6, MAX_PIXELS // 1_000_000
        raise PhotoRefused.of("photo_too_large", megapixels=millions, width=width, height=height, most=most)
    if min(width, height) < _MIN_SIDE:
        raise PhotoRefused.of("photo_too_small", width=width, height=height, least=_MIN_SIDE)
    if getattr(photo, "is_animated", False) and photo.format != "MPO":  # phones put two stills into one file
        raise PhotoRefused.of("photo_animated")
    upright_width = height if photo.getexif().get(0x0112, 1) in _LYING else width
    needed = min(1.0, WIDTHS[-1] * 1.15 / upright_width)
    photo.draft("RGB", (int(width * needed), int(height * needed)))  # a JPEG is decoded no larger than is needed
    upright = ImageOps.exif_transpose(_in_screen_colours(photo))
    if upright_width != width:
        width, height = height, width
    files = {}
    for wanted in sorted({min(each, width) for each in WIDTHS}, reverse=True):
        upright.thumbnail((wanted, wanted * 4), reducing_gap=2.0)
        out = io.BytesIO()
        upright.save(out, "WEBP", quality=_QUALITY, method=2)
        files[upright.width] = out.getvalue()
    return Prepared(width, height, files)


def _in_screen_colours(photo: Image.Image) -> Image.Image:
    has_alpha = photo.mode in ("RGBA", "LA", "PA") or "transparency" in photo.info
    profile = photo.info.get("icc_profile")
    if profile and photo.mode in ("RGB", "RGBA", "CMYK", "L"):
        try:
            given = ImageCms.ImageCmsProfile(io.BytesIO(profile))
            output = "RGBA" if photo.mode == "RGBA" else "RGB"
            turned = ImageCms.profileToProfile(photo, given, ImageCms.createProfile("sRGB"), outputMode=output)
            if turned is not None:
                return turned
        except ImageCms.PyCMSError:  # a profile that cannot be used is left aside
            pass
    return photo.convert("RGBA" if has_alpha else "RGB")
