"""Whether a code will be read: what is measured before any decoder tries, and from how far it scans.

A decoder alone is no proof: it works on clean pixels and reads pale codes that phones do not. So a design is held to
figures of the standards first:

* **Symbol contrast** (ISO/IEC 15415:2011, 7.8.3): the difference of the reflectance of light and dark, in percent, is
  graded 4 from 70, 3 from 55, 2 from 40, 1 from 20, else 0. Relative luminance stands for reflectance here, since
  phones see by the screen's three colours. A design is refused below 75 %, and below 80 % where its modules are not
  plain squares or it is printed small: in drawn photographs in the shade, of three readers of different origin two miss
  one in four below that, though the standard's best grade begins at 70.
* **Quiet zone** (ISO/IEC 18004:2015, 6.3.8): four modules on each side.
* **Dark on light**: ISO/IEC 18004:2015 allows reflectance reversal, but decoders made for the earlier editions
  know nothing of it, and print turns white ink rarely out right.
* **Damage** (ISO/IEC 18004:2015, 6.5.1): level H repairs about 30 % of the codewords. What is put in the middle
  spends at most 12.5 % of the area, well under half of it, so that dirt and creases find the rest.
* **Module size**: below 0.33 mm office printers smear modules (the size is 4 dots of a printer of 300 dots an inch; the
  GS1 General Specifications ask for 0.396 mm at a till).

**How far it scans** is geometry. A phone's finder sees about 1,920 pixels across 65°, so its focal length is
1,920 / (2 tan 32.5°) = 1,507 pixels, and a module of m millimetres at a distance d is 1,507 m / d pixels wide. The
smallest width at which the design was read in the trials, half as much again for an unsteady hand, gives d. The trade's
rule of thumb, ten times the width of the symbol without its margin, is never exceeded.

>>> from cravik.core.graphics.contrast import WHITE
>>> grade(symbol_contrast(Colour(0x22, 0x30, 0x2E), WHITE))
4
>>> scan_distance_mm(33, 33, 25, 1.5)
250
"""

from __future__ import annotations

from dataclasses import dataclass, replace
from math import radians, tan

from cravik.core.errors import Fault
from cravik.core.graphics.contrast import Colour, luminance
from cravik.core.graphics.qr.design import CodeDesign

QUIET_ZONE = 4
#: The least symbol contrast in percent, of plain squares and of all others, and below how many millimetres a print is
#: small.
LEAST_CONTRAST, LEAST_STYLED_CONTRAST, SMALL_MM = 75, 80, 25
MOST_COVERED = 0.125
LEAST_MODULE_MM = 0.33
#: The share of the trials that a design has to pass.
LEAST_READ = 0.9
_GRADES = ((70, 4), (55, 3), (40, 2), (20, 1))
_FINDER_PIXELS, _FINDER_DEGREES = 1920, 65
_UNSTEADY = 1.5
_THUMB = 10
USUAL_MM = 40


def symbol_contrast(dark: Colour, light: Colour) -> float:
    """The difference of reflectance in percent; below zero where the "dark" is the lighter."""
    return 100 * (luminance(light) - luminance(dark))


def grade(contrast: float) -> int:
    """The grade of a symbol contrast in percent, from 4, the best, to 0."""
    return next((grade for least, grade in _GRADES if contrast >= least), 0)


def least_contrast(design: CodeDesign, width_mm: float = USUAL_MM) -> int:
    """The least symbol contrast in percent of a code of the design that is printed so wide."""
    is_plain = design.shape == design.eye_shape == "square" and not design.has_middle
    return LEAST_CONTRAST if is_plain and width_mm >= SMALL_MM else LEAST_STYLED_CONTRAST


def design_in(dark: Colour, eyes: Colour) -> CodeDesign:
    """A plain code on white in these colours; where phones would not read one, in the usual ink instead."""
    usual = CodeDesign()

    def read(colour: Colour) -> Colour:
        return colour if symbol_contrast(colour, usual.light) >= LEAST_CONTRAST else usual.dark

    return replace(usual, dark=read(dark), eyes=read(eyes))


def faults_in(design: CodeDesign, covered: float = 0.0, width_mm: float = USUAL_MM) -> list[Fault]:
    """Why codes of the design must not be printed so wide: none if they may be. ``covered`` is the share of
    the modules that the middle takes, from 0 to 1."""
    faults, least = [], least_contrast(design, width_mm)
    for name, dark in (("dark", design.dark), ("eyes", design.eyes)):
        contrast = symbol_contrast(dark, design.light)
        if contrast < 0:
            faults.append(Fault("inverted", name, part=name))
        elif contrast < least:
            needs_more = least > LEAST_CONTRAST
            faults.append(Fault("contrast", name, part=name, percent=int(contrast), needs_more=needs_more, limit=least))
    if design.quiet < QUIET_ZONE:
        faults.append(Fault("quiet_zone", "quiet", modules=design.quiet, limit=QUIET_ZONE))
    if covered > MOST_COVERED:
        faults.append(Fault("covered", "middle_width", covered=covered, most=MOST_COVERED, limit=str(MOST_COVERED)))
    return faults


def size_fault(width_mm: float, modules: int) -> Fault | None:
    """Why a code must not be printed as small as that; ``modules`` are those across, with the margin."""
    if width_mm / modules >= LEAST_MODULE_MM:
        return None
    return Fault("too_small", "width_mm", width_mm=width_mm, limit=least_width_mm(modules))


def least_width_mm(modules: int) -> int:
    """The least width in whole millimetres of a print with so many modules across."""
    return int(-(-LEAST_MODULE_MM * modules // 1))


def scan_distance_mm(width_mm: float, across: int, modules: int, pixels_needed: float) -> int:
    """From how far a print of that width, margin and all, is read by a phone.

    ``across`` are the modules with the margin, ``modules`` those of the symbol alone; ``pixels_needed`` is the width of
    a module, in pixels, down to which the design is read.
    """
    focal = _FINDER_PIXELS / (2 * tan(radians(_FINDER_DEGREES / 2)))
    module_mm = width_mm / across
    return int(min(module_mm * focal / (pixels_needed * _UNSTEADY), module_mm * modules * _THUMB))


@dataclass(frozen=True)
class Trial:
    """One try at reading a design: what was done to it, in words, and whether it was read. ``pixels`` is the width of a
    module in pixels where it was made smaller on purpose."""

    kind: str
    words: str
    is_read: bool
    pixels: float = 0.0


@dataclass(frozen=True)
class Proof:
    """What became of all trials of a design."""

    trials: tuple[Trial, ...]

    @property
    def read(self) -> int:
        return sum(trial.is_read for trial in self.trials)

    @property
    def share(self) -> float:
        return self.read / len(self.trials)

    @property
    def is_enough(self) -> bool:
        """Whether nearly all were read, and some of every kind."""
        return self.share >= LEAST_READ and not any(failed == of for _, failed, of in self.failed_kinds)

    @property
    def failed_kinds(self) -> tuple[tuple[str, int, int], ...]:
        """The kinds of trials of which some were not read: their name, how many failed, and of how many."""
        kinds = dict.fromkeys(trial.kind for trial in self.trials)
        counts = ((kind, [trial.is_read for trial in self.trials if trial.kind == kind]) for kind in kinds)
        return tuple((kind, each.count(False), len(each)) for kind, each in counts if not all(each))

    @property
    def pixels_needed(self) -> float:
        """The smallest width of a module at which it was read, as at every larger one; the largest, if at none."""
        needed, sizes = 0.0, sorted((t for t in self.trials if t.pixels), key=lambda t: -t.pixels)
        for trial in sizes:
            if not trial.is_read:
                break
            needed = trial.pixels
        return needed or max(trial.pixels for trial in sizes)


#: What helps where trials of a kind fail.
ADVICE = {
    "shrunk": "Print it larger. Squares survive small prints best.",
    "blurred": "Squares survive an unsteady hand best.",
    "turned": "Square corners are found best.",
    "bent": "Squares and square corners are read best from the side.",
    "printed pale": "Darker modules survive a tired printer.",
    "lit unevenly": "More contrast helps in the shade.",
    "partly covered": "A narrower middle leaves more that can be repaired.",
    "on a dark wall": "A wider margin sets it off from the wall.",
    "all at once": "Squares, more contrast and a narrower middle each help.",
}
