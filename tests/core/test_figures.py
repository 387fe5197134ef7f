"""Scales and the shapes measured at them."""

from __future__ import annotations

import math
import unittest

from hypothesis import given
from hypothesis import strategies as st

from sandscale.core.figures import arcs, scale, shapes
from sandscale.core.refusals import BadEntry, BadShape

WIDE, HIGH = 1000.0, 800.0
SQUARE = [(100.0, 100.0), (300.0, 100.0), (300.0, 300.0), (100.0, 300.0)]


class Scales(unittest.TestCase):
    def test_a_sheet_unit_is_a_72nd_of_an_inch_of_paper(self) -> None:
        self.assertAlmostEqual(scale.from_ratio(100) * 72, 2.54)
        self.assertAlmostEqual(scale.ratio_of(scale.from_ratio(20)), 20)

    def test_a_known_length_gives_the_scale_its_ratio_would(self) -> None:
        units = 9.0 / scale.from_ratio(100)
        self.assertAlmostEqual(
            scale.ratio_of(scale.from_known_length((100, 100), (100 + units, 100), 9.0)), 100, places=9
        )

    def test_impossible_scales_are_refused(self) -> None:
        for ratio in (0, -100, float("nan"), float("inf"), 1e9, 0.001):
            with self.subTest(ratio), self.assertRaises(BadEntry):
                scale.from_ratio(ratio)
        for second, length in (((101, 100), 5.0), ((500, 100), 0.0), ((500, 100), -3.0), ((500, 100), 1e9)):
            with self.subTest(second=second, length=length), self.assertRaises(BadEntry):
                scale.from_known_length((100, 100), second, length)


class Areas(unittest.TestCase):
    def area(self, outline: list[tuple[float, float]], *voids: list[tuple[float, float]]) -> shapes.Area:
        return shapes.area(outline, list(voids), WIDE, HIGH)

    def test_voids_are_taken_off(self) -> None:
        measured = self.area(SQUARE, [(150, 150), (200, 150), (200, 200), (150, 200)])
        self.assertAlmostEqual(measured.gross(scale.Scale.even(0.01)), 4.0)
        self.assertAlmostEqual(measured.net(scale.Scale.even(0.01)), 3.75)
        self.assertAlmostEqual(measured.girth(scale.Scale.even(0.01)), 8.0)

    def test_a_closing_or_repeated_corner_changes_nothing(self) -> None:
        again = [SQUARE[0], SQUARE[0], *SQUARE[1:], SQUARE[0]]
        self.assertEqual(self.area(again).outline, self.area(SQUARE).outline)

    def test_a_void_may_touch_the_outline_and_another_void(self) -> None:
        touching = self.area(
            SQUARE,
            [(100, 100), (150, 100), (150, 150), (100, 150)],
            [(150, 150), (200, 150), (200, 200), (150, 200)],
        )
        self.assertAlmostEqual(touching.net(scale.Scale.even(1)), 40_000 - 5_000)

    def test_shapes_that_cannot_be_measured_are_refused_with_the_place(self) -> None:
        for said, outline, voids in (
            ("crosses itself at 200, 200", [(100, 100), (300, 300), (300, 100), (100, 300)], []),
            ("fewer than three corners", SQUARE[:2], []),
            ("no area", [(100, 100), (200, 100), (300, 100)], []),
            ("off the sheet", [*SQUARE[:3], (100, 900)], []),
            ("off the sheet", [*SQUARE[:3], (float("nan"), 5)], []),
            ("Void 1 lies partly outside", SQUARE, [[(250, 250), (350, 250), (350, 280)]]),
            ("Void 1 lies wholly outside", SQUARE, [[(450, 450), (550, 450), (550, 480)]]),
            (
                "Voids 1 and 2 overlap",
                SQUARE,
                [[(120, 120), (200, 120), (200, 200)], [(150, 130), (220, 130), (220, 200)]],
            ),
            ("void 1 crosses itself", SQUARE, [[(120, 120), (200, 200), (200, 120), (120, 200)]]),
            ("at most 5000 points", [(500 + i % 7, 400.0) for i in range(5001)], []),
        ):
            with self.subTest(said), self.assertRaises(BadShape) as refused:
                self.area(outline, *voids)
            self.assertIn(said, refused.exception.sentence)

    @given(st.floats(1, 400), st.floats(1, 300), st.floats(0.05, 0.95), st.floats(0.05, 0.95))
    def test_gross_is_net_plus_voids_wherever_the_void_lies(
        self, width: float, height: float, across: float, up: float
    ) -> None:
        x, y = 100 + across * width * 0.5, 100 + up * height * 0.5
        outline = [(100.0, 100.0), (100 + width, 100.0), (100 + width, 100 + height), (100.0, 100 + height)]
        void = [(x, y), (x + width * 0.4, y), (x + width * 0.4, y + height * 0.4), (x, y + height * 0.4)]
        measured = self.area(outline, void)
        self.assertAlmostEqual(
            measured.net(scale.Scale.even(0.03)) + sum(measured.void_areas(scale.Scale.even(0.03))),
            measured.gross(scale.Scale.even(0.03)),
        )
        self.assertAlmostEqual(
            measured.gross(scale.Scale.even(1)), width * height, delta=1e-6 * width * height
        )
        self.assertGreater(measured.net(scale.Scale.even(0.03)), 0)

    def test_a_ring_in_a_void_counts_again(self) -> None:
        void, island = (
            [(150, 150), (250, 150), (250, 250), (150, 250)],
            [(180, 180), (200, 180), (200, 200), (180, 200)],
        )
        for voids in ((void, island), (island, void)):
            measured = self.area(SQUARE, *voids)
            self.assertAlmostEqual(measured.net(scale.Scale.even(1)), 40_000 - 10_000 + 400)
        self.assertAlmostEqual(measured.void_girth(scale.Scale.even(0.01)), 4.8)

    def test_areas_of_one_element_that_overlap_are_found(self) -> None:
        square, over, beside = (
            self.area(SQUARE),
            self.area([(290, 100), (400, 100), (400, 200)]),
            self.area([(300, 200), (400, 200), (400, 300), (300, 300)]),
        )
        found = shapes.overlaps([square, over, beside])
        self.assertEqual([pair[:2] for pair in found], [(0, 1)])
        self.assertIn("Two areas overlap at 29", found[0][2].says)

    def test_an_area_in_the_void_of_another_overlaps_nothing_but_its_island(self) -> None:
        void, island = (
            [(150, 150), (250, 150), (250, 250), (150, 250)],
            [(180, 180), (200, 180), (200, 200), (180, 200)],
        )
        holed = self.area(SQUARE, void, island)
        in_void, on_island = (
            self.area([(155, 155), (175, 155), (175, 175), (155, 175)]),
            self.area([(190, 190), (220, 190), (220, 220), (190, 220)]),
        )
        self.assertEqual(shapes.overlaps([holed, in_void]), [])
        self.assertEqual([pair[:2] for pair in shapes.overlaps([holed, in_void, on_island])], [(0, 2)])


class Arcs(unittest.TestCase):
    EVEN = scale.Scale.even(0.01)

    def test_a_circle_of_two_arcs(self) -> None:
        circle = shapes.area([(100, 200, 1.0), (300, 200, 1.0)], [], WIDE, HIGH)
        self.assertAlmostEqual(circle.net(self.EVEN), math.pi)
        self.assertAlmostEqual(circle.girth(self.EVEN), 2 * math.pi)
        # Stretched, it is an ellipse with half axes 1 and 2: area 2π, girth 9.68845 (Ramanujan 1914).
        tall = scale.Scale(0.01, 0.02)
        self.assertAlmostEqual(circle.net(tall), 2 * math.pi)
        self.assertAlmostEqual(circle.girth(tall), 9.68845, places=4)

    def test_an_arc_bulges_outwards_whichever_way_its_ring_turns(self) -> None:
        right = [(100.0, 100.0), (300.0, 100.0, 1.0), (300.0, 300.0), (100.0, 300.0)]
        left = [(100.0, 100.0), (100.0, 300.0), (300.0, 300.0, -1.0), (300.0, 100.0)]
        for ring in (right, left):
            self.assertAlmostEqual(shapes.area(ring, [], WIDE, HIGH).net(self.EVEN), 4 + math.pi / 2)

    def test_an_arc_through_three_picks(self) -> None:
        for middle, angle in (
            ((1.0, -1.0), math.pi),
            ((1.0, 1.0), -math.pi),
            ((1.0, math.sqrt(2) - 1), -math.pi / 2),
            ((1.0, -math.sqrt(2) - 1), 1.5 * math.pi),
            ((1.0, 0.0), 0),
        ):
            bulge = arcs.through((0, 0), middle, (2, 0))
            self.assertAlmostEqual(4 * math.atan(bulge), angle)
            if bulge:
                nearest = min(math.dist(point, middle) for point in arcs.chords(((0, 0), (2, 0), bulge), 720))
                self.assertLess(nearest, 0.01)
        with self.assertRaises(BadShape):
            arcs.through((1, 1), (2, 2), (1, 1))

    @given(
        st.floats(50, 900),
        st.floats(50, 700),
        st.floats(10, 400),
        st.floats(0, 6.28),
        st.floats(0.2, 6.0),
        st.booleans(),
    )
    def test_chords_of_an_arc_lie_on_its_circle_wherever_it_is(
        self, x: float, y: float, radius: float, begin: float, turn: float, left: bool
    ) -> None:
        way = turn if left else -turn
        start, middle, end = (
            (x + radius * math.cos(begin + way * part), y + radius * math.sin(begin + way * part))
            for part in (0, 0.4, 1)
        )
        bulge = arcs.through(start, middle, end)
        self.assertAlmostEqual(4 * math.atan(bulge), way, places=6)
        side = (start, end, bulge)
        drawn = arcs.chords(side)
        self.assertEqual((drawn[0], drawn[-1]), (start, end))
        self.assertGreaterEqual(len(drawn), 3)
        for point in drawn:
            self.assertAlmostEqual(math.dist(point, (x, y)) / radius, 1, places=6)
        self.assertAlmostEqual(arcs.side_length(side, scale.Scale.even(1)) / (radius * turn), 1, places=6)
        self.assertAlmostEqual(
            arcs.bow(side) / radius**2, math.copysign((turn - math.sin(turn)) / 2, way), places=6
        )

    def test_an_arc_that_leaves_the_sheet_is_refused(self) -> None:
        with self.assertRaisesRegex(BadShape, "off the sheet"):
            shapes.run([(10, 100, -1.0), (10, 700)], WIDE, HIGH)

    @given(
        st.lists(st.tuples(st.floats(0, 900), st.floats(0, 700)), min_size=2, max_size=12, unique=True),
        st.integers(0, 11),
        st.floats(0.05, 0.95),
    )
    def test_splitting_a_run_loses_no_length(
        self, points: list[tuple[float, float]], at: int, share: float
    ) -> None:
        at %= len(points) - 1
        (ax, ay), (bx, by) = points[at], points[at + 1]
        middle = (ax + (bx - ax) * share, ay + (by - ay) * share)
        whole = shapes.Run(tuple(points)).length(self.EVEN)
        parts = shapes.Run((*points[: at + 1], middle)).length(self.EVEN) + shapes.Run(
            (middle, *points[at + 1 :])
        ).length(self.EVEN)
        self.assertAlmostEqual(whole, parts, places=7)


class ScalesOfAScan(unittest.TestCase):
    def test_a_second_known_length_proves_the_scale(self) -> None:
        even = scale.Scale.even(scale.from_ratio(100))
        units = 10 / even.x
        self.assertIsNone(scale.prove(even, (0, 0), (units, 0), 10.04).finding)
        off = scale.prove(even, (0, 0), (units, 0), 9.9)
        self.assertIn("A known length of 9.900 m measures 10.000 m: 1.0% too long.", off.finding.says)  # type: ignore[union-attr]

    def test_a_stretched_scan_has_a_scale_each_way(self) -> None:
        found = scale.stretched(
            ((0, 0), (400, 10)), math.hypot(8, 0.25), ((50, 0), (40, 300)), math.hypot(0.2, 7.5)
        )
        self.assertAlmostEqual(found.x, 0.02)
        self.assertAlmostEqual(found.y, 0.025)
        away = scale.stretched(
            ((500, 700), (900, 710)), math.hypot(8, 0.25), ((50, 900), (40, 1200)), math.hypot(0.2, 7.5)
        )
        self.assertAlmostEqual(away.y, 0.025)
        for which, across, up in (
            ("first", ((0, 0), (400, 300)), ((50, 0), (40, 300))),
            ("second", ((0, 0), (400, 10)), ((50, 0), (150, 300))),
        ):
            with self.assertRaisesRegex(BadEntry, f"The {which} known length runs askew"):
                scale.stretched(across, 8, up, 7.5)

    def test_a_detail_is_measured_at_the_scale_of_its_area(self) -> None:
        whole, detail = (
            scale.Scale.even(0.1),
            scale.ScaleArea(((100, 100), (300, 100), (300, 300), (100, 300)), scale.Scale.even(0.02)),
        )
        self.assertEqual(scale.scale_at([(150, 150), (200, 200)], whole, [detail]), detail.scale)
        self.assertEqual(scale.scale_at([(350, 150)], whole, [detail]), whole)
        with self.assertRaisesRegex(BadShape, "across the edge of a scale area"):
            scale.scale_at([(150, 150), (350, 150)], whole, [detail])


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
