"""QR codes by ISO/IEC 18004, drawn by segno, as SVG for print and PNG for the screen.

Error correction is level M at least (15 % of the code may be lost), raised by segno where the
same size has room for more. The quiet zone is the 4 modules of the standard, clause 9.1. A PNG is
never below 8 pixels a module, so that a print at 300 dpi has modules of 0.68 mm, which phones
read from an arm's length.
"""

from __future__ import annotations

import io

import segno

QUIET_ZONE_MODULES = 4
_INK = "#22302e"
_MIN_PIXELS_PER_MODULE = 8


def qr_svg(address: str) -> str:
    """A scalable picture of the code, with a title and a ``viewBox``, dark ink on white."""
    file = io.BytesIO()
    _code(address).save(
        file,
        kind="svg",
        border=QUIET_ZONE_MODULES,
        scale=_MIN_PIXELS_PER_MODULE,
        dark=_INK,
        light="#ffffff",
        title=f"QR code for {address}",
        omitsize=True,
        xmldecl=True,
        svgns=True,
    )
    return file.getvalue().decode()


def qr_png(address: str, least_width: int = 1024) -> bytes:
    """A picture at least ``least_width`` pixels wide, each module a whole number of pixels."""
    code = _code(address)
    modules = code.symbol_size(border=QUIET_ZONE_MODULES)[0]
    scale = max(_MIN_PIXELS_PER_MODULE, -(-least_width // modules))
    file = io.BytesIO()
    code.save(file, kind="png", border=QUIET_ZONE_MODULES, scale=scale, dark=_INK, light="#ffffff")
    return file.getvalue()


def _code(address: str) -> segno.QRCode:
    return segno.make(address, error="m", micro=False, encoding="utf-8")
