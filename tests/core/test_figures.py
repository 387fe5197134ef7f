"""Scales and the shapes measured at them."""

from __future__ import annotations

import unittest

from hypothesis import given
from hypothesis import strategies as st

from sandscale.core.figures import scale, shapes
from sandscale.core.refusals import BadEntry, BadShape

WIDE, HIGH = 1000.0, 800.0
SQUARE = [(100.0, 100.0), (300.0, 100.0), (300.0, 300.0), (100.0, 300.0)]


class Scales(unittest.TestCase):
    def test_a_sheet_unit_is_a_72nd_of_an_inch_of_paper(self) -> None:
        self.assertAlmostEqual(scale.from_ratio(100) * 72, 2.54)
        self.assertAlmostEqual(scale.ratio_of(scale.from_ratio(20)), 20)

    def test_a_known_length_gives_the_scale_its_ratio_would(self) -> None:
        units = 9.0 / scale.from_ratio(100)
        self.assertAlmostEqual(scale.ratio_of(scale.from_known_length((100, 100), (100 + units, 100), 9.0)), 100, places=9)

    def test_impossible_scales_are_refused(self) -> None:
        for ratio in (0, -100, float("nan"), float("inf"), 1e9, 0.001):
            with self.subTest(ratio), self.assertRaises(BadEntry):
                scale.from_ratio(ratio)
        for second, length in (((101, 100), 5.0), ((500, 100), 0.0), ((500, 100), -3.0), ((500, 100), 1e9)):
            with self.subTest(second=second, length=length), self.assertRaises(BadEntry):
                scale.from_known_length((100, 100), second, length)

    def test_a_polyline_is_as_long_as_its_parts(self) -> None:
        self.assertAlmostEqual(scale.run_length([(0, 0), (3, 4), (3, 10)]), 11)
        self.assertEqual(scale.run_length([(5, 5)]), 0)


class Areas(unittest.TestCase):
    def area(self, outline: list[tuple[float, float]], *voids: list[tuple[float, float]]) -> shapes.Area:
        return shapes.area(outline, list(voids), WIDE, HIGH)

    def test_voids_are_taken_off(self) -> None:
        measured = self.area(SQUARE, [(150, 150), (200, 150), (200, 200), (150, 200)])
        self.assertAlmostEqual(measured.gross(0.01), 4.0)
        self.assertAlmostEqual(measured.net(0.01), 3.75)
        self.assertAlmostEqual(measured.girth(0.01), 8.0)

    def test_a_closing_or_repeated_corner_changes_nothing(self) -> None:
        again = [SQUARE[0], SQUARE[0], *SQUARE[1:], SQUARE[0]]
        self.assertEqual(self.area(again).outline, self.area(SQUARE).outline)

    def test_a_void_may_touch_the_outline_and_another_void(self) -> None:
        touching = self.area(SQUARE, [(100, 100), (150, 100), (150, 150), (100, 150)], [(150, 150), (200, 150), (200, 200), (150, 200)])
        self.assertAlmostEqual(touching.net(1), 40_000 - 5_000)

    def test_shapes_that_cannot_be_measured_are_refused_with_the_place(self) -> None:
        for said, outline, voids in (
            ("crosses itself at 200, 200", [(100, 100), (300, 300), (300, 100), (100, 300)], []),
            ("fewer than three corners", SQUARE[:2], []),
            ("no area", [(100, 100), (200, 100), (300, 100)], []),
            ("off the sheet", [*SQUARE[:3], (100, 900)], []),
            ("off the sheet", [*SQUARE[:3], (float("nan"), 5)], []),
            ("Void 1 lies partly outside", SQUARE, [[(250, 250), (350, 250), (350, 280)]]),
            ("Void 1 lies wholly outside", SQUARE, [[(450, 450), (550, 450), (550, 480)]]),
            ("Voids 1 and 2 overlap", SQUARE, [[(120, 120), (200, 120), (200, 200)], [(150, 130), (220, 130), (220, 200)]]),
            ("void 1 crosses itself", SQUARE, [[(120, 120), (200, 200), (200, 120), (120, 200)]]),
            ("at most 5000 points", [(500 + i % 7, 400.0) for i in range(5001)], []),
        ):
            with self.subTest(said), self.assertRaises(BadShape) as refused:
                self.area(outline, *voids)
            self.assertIn(said, refused.exception.sentence)

    @given(st.floats(1, 400), st.floats(1, 300), st.floats(0.05, 0.95), st.floats(0.05, 0.95))
    def test_gross_is_net_plus_voids_wherever_the_void_lies(self, width: float, height: float, across: float, up: float) -> None:
        x, y = 100 + across * width * 0.5, 100 + up * height * 0.5
        outline = [(100.0, 100.0), (100 + width, 100.0), (100 + width, 100 + height), (100.0, 100 + height)]
        void = [(x, y), (x + width * 0.4, y), (x + width * 0.4, y + height * 0.4), (x, y + height * 0.4)]
        measured = self.area(outline, void)
        self.assertAlmostEqual(measured.net(0.03) + sum(measured.void_areas(0.03)), measured.gross(0.03))
        self.assertAlmostEqual(measured.gross(1), width * height, delta=1e-6 * width * height)
        self.assertGreater(measured.net(0.03), 0)


class Counts(unittest.TestCase):
    def test_points_are_counted_on_the_sheet_only(self) -> None:
        self.assertEqual(shapes.count(SQUARE, WIDE, HIGH).number, 4)
        for points in ([], [(2000.0, 5.0)]):
            with self.assertRaises(BadShape):
                shapes.count(points, WIDE, HIGH)

    def test_inside_counts_the_edge(self) -> None:
        self.assertTrue(shapes.inside(SQUARE, (100, 200)))
        self.assertFalse(shapes.inside(SQUARE, (99, 200)))


if __name__ == "__main__":
    unittest.main()
