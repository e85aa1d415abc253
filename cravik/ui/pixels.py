"""A page of a PDF as pixels, drawn by PDFium, which one thread may use at a time."""

from __future__ import annotations

import threading

from PIL import Image
from pypdfium2 import PdfDocument

_one_at_a_time = threading.Lock()


def drawn(pdf: bytes, scale: float) -> Image.Image:
    """The first page, ``scale`` pixels a point."""
    with _one_at_a_time:
        document = PdfDocument(pdf)
        try:
            page: Image.Image = document[0].render(scale=scale, rev_byteorder=True).to_pil()
        finally:
            document.close()
    return page.convert("RGB")
