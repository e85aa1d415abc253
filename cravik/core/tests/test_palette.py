from __future__ import annotations

from itertools import product
from unittest import TestCase

from hypothesis import given
from hypothesis import strategies as st

from cravik.core.errors import InvalidDocument
from cravik.core.graphics.contrast import BLACK, TEXT, WHITE, Colour, distance, nearest_passing, passes, ratio
from cravik.core.graphics.palette import COLOURS, USUAL, Palette

COLOUR = st.builds(Colour, *[st.integers(0, 255)] * 3)


class ContrastTest(TestCase):
    def test_ratios_are_those_of_wcag(self) -> None:
        """Against figures worked out by hand from the definition of relative luminance."""
        cases = {("#000000", "#ffffff"): 21.0, ("#777777", "#ffffff"): 4.48, ("#767676", "#ffffff"): 4.54}
        for (one, other), wanted in cases.items():
            self.assertAlmostEqual(ratio(Colour.from_hex(one), Colour.from_hex(other)), wanted, places=2)

    def test_hex_is_read_in_every_usual_spelling(self) -> None:
        self.assertEqual({Colour.from_hex(text) for text in ("#A32", "aa3322", " #aa3322 ")}, {Colour(170, 51, 34)})
        for text in ("", "#12345", "red", "#12345g", "#1234567", "٣٣٣"):
            with self.subTest(text), self.assertRaises(InvalidDocument):
                Colour.from_hex(text)

    @given(COLOUR, COLOUR)
    def test_on_one_ground_there_is_always_a_colour_that_passes(self, colour: Colour, ground: Colour) -> None:
        found = nearest_passing(colour, [ground], TEXT)
        self.assertIsNotNone(found)
        self.assertTrue(passes(found, [ground], TEXT))
        if passes(colour, [ground], TEXT):
            self.assertEqual(found, colour)
        for end in (BLACK, WHITE):  # and none of the obvious ways out is nearer
            if passes(end, [ground], TEXT):
                self.assertLessEqual(distance(found, colour), distance(end, colour))

    def test_the_nearest_is_as_near_as_a_search_of_all_colours_finds(self) -> None:
        """Every seventh shade of each part is tried; what is found is at most 3 % farther."""
        shades = [Colour(*parts) for parts in product(range(0, 256, 7), repeat=3)]
        for colour, ground in (("#e2a53c", "#ffffff"), ("#5aa9a2", "#f3f7f6"), ("#204080", "#101820")):
            wanted, grounds = Colour.from_hex(colour), [Colour.from_hex(ground)]
            least = min(distance(shade, wanted) for shade in shades if passes(shade, grounds, TEXT))
            found = nearest_passing(wanted, grounds, TEXT)
            self.assertLessEqual(distance(found, wanted), least * 1.03)

    def test_between_two_far_grounds_there_may_be_none(self) -> None:
        self.assertIsNone(nearest_passing(Colour(128, 128, 128), [BLACK, WHITE], TEXT * 1.1))


class PaletteTest(TestCase):
    @given(st.builds(Palette, *[COLOUR] * len(COLOURS)))
    def test_one_press_mends_every_pair_that_can_be_mended(self, palette: Palette) -> None:
        for pair in palette.pairs():
            if pair.mend:
                mended = palette.mended(pair.name)
                self.assertTrue(all(each.passes for each in mended.pairs() if each.name == pair.name))

    @given(st.builds(Palette, *[COLOUR] * len(COLOURS)))
    def test_the_shades_beside_a_readable_palette_are_readable_too(self, palette: Palette) -> None:
        palette = palette.mended("text")
        if not all(pair.passes for pair in palette.pairs() if pair.name == "text"):
            return
        shades = palette.shades()
        for name in ("soft", "madder", "lichen", "ochre"):
            self.assertTrue(passes(shades[name], (palette.ground, palette.sheet), TEXT), name)
        for name in ("madder", "lichen", "ochre"):
            self.assertTrue(passes(palette.text, [shades[f"{name}-wash"]], TEXT), name)

    def test_the_products_own_colours_pass(self) -> None:
        self.assertTrue(all(pair.passes for pair in USUAL.pairs()))
