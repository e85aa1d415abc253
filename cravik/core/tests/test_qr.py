"""The drawing of a code, and what a design is held to before any decoder tries."""

from __future__ import annotations

from dataclasses import replace
from unittest import TestCase

from cravik.core.graphics.contrast import BLACK, WHITE, Colour
from cravik.core.graphics.qr.design import CodeDesign
from cravik.core.graphics.qr.geometry import Lettering, Trimmings, drawn
from cravik.core.graphics.qr.legibility import (
    Proof,
    Trial,
    faults_in,
    grade,
    least_width_mm,
    scan_distance_mm,
    size_fault,
    symbol_contrast,
)
from cravik.core.graphics.qr.paths import Segment, outline, rounded

MATRIX = [[(x * y + x) % 3 == 0 for x in range(25)] for y in range(25)]
WORD = Lettering((Segment("M", ((0.0, 0.0),)), Segment("L", ((2.0, -0.7),)), Segment("Z")), 2.0)


def area(corners: list[tuple[float, float]]) -> float:
    return sum(a[0] * b[1] - b[0] * a[1] for a, b in zip(corners, corners[1:] + corners[:1], strict=True)) / 2


class OutlineTest(TestCase):
    def test_the_lines_round_an_area_enclose_just_it(self) -> None:
        for filled in (MATRIX, [[True] * 3, [True, False, True], [True] * 3], [[True, False], [False, True]]):
            self.assertEqual(sum(area(line) for line in outline(filled)), sum(map(sum, filled)))

    def test_squares_that_touch_at_a_corner_are_two(self) -> None:
        self.assertEqual(sorted(map(len, outline([[True, False], [False, True]]))), [4, 4])

    def test_rounding_keeps_the_ends_of_each_side(self) -> None:
        square = [(0.0, 0.0), (2.0, 0.0), (2.0, 2.0), (0.0, 2.0)]
        self.assertEqual([segment.kind for segment in rounded(square, 0.5)], ["M", "C", *"LC" * 3, "Z"])
        self.assertEqual(rounded(square, 0.5)[0].points, ((0.0, 0.5),))


class DrawingTest(TestCase):
    def test_a_plain_code_is_its_modules_and_its_margin(self) -> None:
        drawing = drawn(MATRIX, CodeDesign(quiet=5))
        self.assertEqual((drawing.width, drawing.height, drawing.covered, drawing.modules), (35, 35, 0.0, 25))
        corners = [point for fill in drawing.fills for segment in fill.path for point in segment.points]
        self.assertEqual((min(corners), max(corners)), ((5, 5), (30, 30)))

    def test_what_is_in_the_middle_clears_the_modules_under_it_and_a_little_more(self) -> None:
        drawing = drawn(MATRIX, CodeDesign(middle="word", word="Pay", middle_width=20), Trimmings(WORD))
        self.assertEqual(drawing.covered, 7 * 5 / 625)
        picture = drawn(MATRIX, CodeDesign(middle="icon", middle_width=20), Trimmings(picture_proportion=0.5))
        assert picture.picture is not None
        self.assertEqual((picture.picture.width, picture.picture.height), (2.5, 5.0))
        self.assertIsNone(drawn(MATRIX, CodeDesign(middle="icon")).picture)

    def test_a_caption_makes_it_higher_and_leaves_the_margin(self) -> None:
        drawing = drawn(MATRIX, CodeDesign(), Trimmings(caption=(WORD, WORD)))
        self.assertAlmostEqual(drawing.height, 33 * 1.24)
        top = min(y for fill in drawing.fills[2:] for segment in fill.path for _, y in segment.points)
        self.assertGreater(top, 33)


class LegibilityTest(TestCase):
    def test_contrast_is_graded_as_the_standard_does(self) -> None:
        self.assertEqual(
            [grade(contrast) for contrast in (70, 69.9, 55, 40, 39.9, 20, 19, -80)], [4, 3, 3, 2, 1, 1, 0, 0]
        )
        self.assertEqual(symbol_contrast(BLACK, WHITE), 100)

    def test_known_bad_designs_are_refused_each_with_its_reason(self) -> None:
        yellow, grey, rose = Colour(255, 213, 0), Colour(0xCC, 0xCC, 0xCC), Colour(0xF8, 0xC9, 0xD0)
        dark_red, navy = Colour(0x5A, 0x10, 0x10), Colour(0x12, 0x1C, 0x4E)
        bad = {
            "inverted": (CodeDesign(dark=WHITE, eyes=WHITE, light=BLACK), 0.0),
            "eyes inverted": (CodeDesign(dark=BLACK, eyes=WHITE, light=Colour(0x99, 0x99, 0x99)), 0.0),
            "yellow on white": (CodeDesign(dark=yellow, eyes=yellow), 0.0),
            "grey on white": (CodeDesign(dark=grey, eyes=grey), 0.0),
            "rose on white": (CodeDesign(dark=rose, eyes=rose), 0.0),
            "dark on dark": (CodeDesign(dark=BLACK, eyes=BLACK, light=dark_red), 0.0),
            "navy on blue": (CodeDesign(dark=navy, eyes=navy, light=Colour(0x4F, 0x8B, 0xC9)), 0.0),
            "pale eyes": (CodeDesign(eyes=grey), 0.0),
            "no margin": (CodeDesign(quiet=0), 0.0),
            "narrow margin": (CodeDesign(quiet=3), 0.0),
            "too much covered": (CodeDesign(middle="icon", middle_width=45), 0.19),
        }
        codes = {name: [fault.code for fault in faults_in(design, covered)] for name, (design, covered) in bad.items()}
        self.assertEqual(
            codes,
            {
                "inverted": ["inverted", "inverted"],
                "eyes inverted": ["contrast", "inverted"],
                "yellow on white": ["contrast", "contrast"],
                "grey on white": ["contrast", "contrast"],
                "rose on white": ["contrast", "contrast"],
                "dark on dark": ["contrast", "contrast"],
                "navy on blue": ["contrast", "contrast"],
                "pale eyes": ["contrast"],
                "no margin": ["quiet_zone"],
                "narrow margin": ["quiet_zone"],
                "too much covered": ["covered"],
            },
        )
        self.assertEqual(faults_in(CodeDesign()), [])

    def test_contrast_is_held_stricter_for_small_and_styled_codes(self) -> None:
        grey = Colour(0x88, 0x88, 0x88)  # 75.4 %
        plain = CodeDesign(dark=grey, eyes=grey)
        for design, width, refused in (
            (plain, 40, False),
            (plain, 24, True),
            (replace(plain, shape="dots"), 40, True),
            (replace(plain, eye_shape="soft"), 40, True),
            (replace(plain, middle="word", word="Kite"), 40, True),
            (CodeDesign(shape="dots", eye_shape="soft"), 14, False),
        ):
            self.assertIs(any(fault.code == "contrast" for fault in faults_in(design, width_mm=width)), refused)

    def test_a_design_of_which_no_trial_of_a_kind_is_read_is_not_enough(self) -> None:
        read = [Trial("turned", "", True)] * 57
        self.assertTrue(Proof((*read, Trial("bent", "", True), Trial("bent", "", False))).is_enough)
        self.assertFalse(Proof((*read, Trial("bent", "", False))).is_enough)

    def test_a_print_whose_modules_would_smear_is_refused(self) -> None:
        fault = size_fault(12, 41)
        assert fault is not None
        self.assertEqual((fault.code, fault.limit), ("too_small", 14))
        self.assertIsNone(size_fault(least_width_mm(41), 41))

    def test_the_distance_is_geometry_and_never_more_than_ten_widths(self) -> None:
        # ten times the symbol alone: 33 of 41 modules
        self.assertEqual(scan_distance_mm(25, 41, 33, 1.4), 201)
        self.assertEqual(scan_distance_mm(41, 41, 33, 1.4), 330)
        # 25 / 41 mm a module, 1,507 pixels of focal length, 4 pixels and half as much again
        self.assertEqual(scan_distance_mm(25, 41, 33, 4.0), 153)

    def test_a_proof_counts_what_was_read(self) -> None:
        shrunk = [
            Trial("shrunk", "", read, pixels) for pixels, read in ((4, True), (2, True), (1.5, False), (1.4, True))
        ]
        proof = Proof((*shrunk, Trial("turned", "", True)))
        self.assertEqual((proof.read, proof.share, proof.is_enough, proof.pixels_needed), (4, 0.8, False, 2))
        self.assertEqual(proof.failed_kinds, (("shrunk", 1, 4),))

    def test_a_design_is_stored_and_read_again(self) -> None:
        design = CodeDesign(dark=Colour(1, 2, 3), shape="dots", caption="Scan to pay")
        self.assertEqual(CodeDesign.of(design.document | {"unknown": 1}), design)
        self.assertEqual(CodeDesign.of({}), CodeDesign())
