"""Every shape, corner and ground that is offered, held to three readers of different origin. `make proofs` holds them
to more codes and photographs."""

from __future__ import annotations

from collections import Counter
from itertools import product
from unittest import SkipTest

from django.test import SimpleTestCase

from cravik.core.graphics.contrast import WHITE, Colour
from cravik.core.graphics.qr.design import EYES, SHAPES, CodeDesign
from cravik.core.graphics.qr.legibility import faults_in, symbol_contrast
from cravik.share.codes.symbol import Piece
from tests.sampling import count_of

try:
    from tests.photographs import READERS, photographs, plainly, readers_of
except ImportError as missing:  # zbar's library, which `make test` installs where it may
    raise SkipTest(str(missing)) from None

ADDRESS = "https://pay.windlestraw.example/k/3479CF/"
#: The palest that are let through, and grounds of the looks that are offered.
PLAIN_GREY, STYLED_GREY = Colour(0x88, 0x88, 0x88), Colour(0x78, 0x78, 0x78)
GROUNDS = {"white": WHITE, "paper": Colour(0xFB, 0xF7, 0xF0), "straw": Colour(0xF2, 0xE3, 0xC0)}
STYLES = [CodeDesign(shape=shape, eye_shape=eye) for shape, eye in product(SHAPES, EYES)]
STYLES += [CodeDesign(light=ground, shape=shape) for ground in GROUNDS.values() for shape in ("square", "dots")]
STYLES += [CodeDesign(middle="word", word="Kite"), CodeDesign(shape="dots", caption="Scan to pay")]


def named(design: CodeDesign) -> str:
    return f"{design.shape}, corners {design.eye_shape}, {design.dark.hex} on {design.light.hex} {design.word}"


class ThreeReadersTest(SimpleTestCase):
    def test_every_style_is_read_by_each_plainly_small_and_turned(self) -> None:
        for design in STYLES:
            with self.subTest(named(design)):
                missed: dict[str, list[str]] = {reader: [] for reader in READERS}
                for what, image in plainly(Piece(ADDRESS, design)):
                    for reader, is_read in readers_of(image, ADDRESS).items():
                        missed[reader] += [] if is_read else [what]
                self.assertLessEqual(max(map(len, missed.values())), 1 if design.has_middle else 0, missed)

    def test_every_style_is_read_by_each_in_nearly_every_photograph(self) -> None:
        for design in STYLES:
            with self.subTest(named(design)):
                read, taken = Counter[str](), count_of(6, 3)
                for image in photographs(Piece(ADDRESS, design), taken, pixels=6):
                    read.update(reader for reader, is_read in readers_of(image, ADDRESS).items() if is_read)
                self.assertGreaterEqual(min(read[reader] for reader in READERS), taken - 1, dict(read))

    def test_the_palest_that_are_let_through_are_read_by_each(self) -> None:
        for design in (
            CodeDesign(dark=PLAIN_GREY, eyes=PLAIN_GREY),
            CodeDesign(dark=STYLED_GREY, eyes=STYLED_GREY, shape="dots", eye_shape="soft"),
        ):
            with self.subTest(named(design)):
                self.assertEqual(faults_in(design), [])
                self.assertLess(symbol_contrast(design.dark, WHITE), 82)
                read: Counter[str] = Counter()
                for image in photographs(Piece(ADDRESS, design), 12, pixels=5):
                    read.update(reader for reader, is_read in readers_of(image, ADDRESS).items() if is_read)
                self.assertGreaterEqual(min(read[reader] for reader in READERS), 9, dict(read))

    def test_paler_ones_are_refused_as_they_fail(self) -> None:
        pale = CodeDesign(dark=Colour(0xB0, 0xB0, 0xB0), eyes=Colour(0xB0, 0xB0, 0xB0))
        self.assertEqual([fault.code for fault in faults_in(pale)], ["contrast", "contrast"])
        read: Counter[str] = Counter()
        for image in photographs(Piece(ADDRESS, pale), 12):
            read.update(reader for reader, is_read in readers_of(image, ADDRESS).items() if is_read)
        self.assertLess(min(read[reader] for reader in READERS), 9, "a reason for the bound")
