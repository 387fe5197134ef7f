"""Surfaces of any levels: what holds for all of them; contours, profiles, slopes; and levels that look wrong."""

from __future__ import annotations

import math
import unittest
from collections.abc import Sequence

import numpy as np
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st
from shapely import LineString, MultiPoint, Point, Polygon

from sandscale.core.ground.surface import Surface, of_faces, surface
from sandscale.core.ground.survey import Survey, SurveyLine, check, joined_surveys
from sandscale.core.refusals import BadEntry, BadShape

whole = st.integers(0, 40)


@st.composite
def surveys(draw: st.DrawFn) -> tuple[np.ndarray, list[list[tuple[float, float, float]]]]:
    """Levels on whole metres, far from the origin, many on lines and circles, and breaklines between some and across others."""
    east, north = draw(st.sampled_from([(0.0, 0.0), (500_000.0, 5_400_000.0)]))
    places = draw(st.lists(st.tuples(whole, whole), min_size=6, max_size=60, unique=True))
    points = np.array([(east + x, north + y, 100 + draw(st.integers(-50, 50)) / 10) for x, y in places])
    lines = draw(st.lists(st.lists(st.tuples(whole, whole), min_size=2, max_size=4, unique=True), max_size=4))
    return points, [[(east + x, north + y, 100 + (x - y) / 10) for x, y in line] for line in lines]


def hull_area(points: np.ndarray) -> float:
    return float(MultiPoint(points[:, :2]).convex_hull.area)


class AnySurface(unittest.TestCase):
    @settings(max_examples=150, deadline=None)
    @given(surveys())
    def test_it_covers_its_hull_once_and_every_breakline_is_a_chain_of_edges(
        self, given_levels: tuple
    ) -> None:
        points, lines = given_levels
        every = np.concatenate([points, *[np.array(line) for line in lines]])
        if hull_area(every) < 1:
            return
        made = surface(points, lines)
        self.assertAlmostEqual(made.plan_area, hull_area(every), places=6)
        self.assertAlmostEqual(made.outline.area, hull_area(every), places=6)
        given_places = {(x, y) for x, y, _ in every}
        self.assertLessEqual(given_places, {(x, y) for x, y, _ in made.points})
        sides = shapely.linestrings(
            made.points[
                np.unique(np.sort(made.triangles[:, [[0, 1], [1, 2], [2, 0]]].reshape(-1, 2), axis=1), axis=0)
            ][:, :, :2]
        )
        edges = shapely.linestrings(made.points[made.edges][:, :, :2]) if len(made.edges) else np.array([])
        for line in lines:
            path = LineString([corner[:2] for corner in line])
            on = edges[shapely.covers(path.buffer(1e-6), edges)]
            self.assertAlmostEqual(
                shapely.length(shapely.union_all(on)), shapely.length(shapely.union_all([path])), places=4
            )
        on_sides = (
            shapely.STRtree(sides).query(shapely.centroid(edges), predicate="dwithin", distance=1e-6)[0]
            if len(edges)
            else []
        )
        self.assertEqual(len(set(on_sides)), len(edges), "a breakline's edge is no side of a triangle")

    @settings(max_examples=60, deadline=None)
    @given(surveys(), st.integers(0, 10_000))
    def test_a_boundary_with_a_hole_changes_no_level(self, given_levels: tuple, seed: int) -> None:
        points, lines = given_levels
        if hull_area(points) < 20:
            return
        made = surface(points, lines)
        chance = np.random.default_rng(seed)
        middle = points[:, :2].mean(axis=0) + chance.uniform(-3, 3, 2)
        turns = np.sort(chance.uniform(0, 2 * math.pi, 9))
        if np.diff(turns, append=turns[0] + 2 * math.pi).max() > math.pi or np.diff(turns).min() < 0.01:
            return
        outer = [
            tuple(middle + 18 * share * np.array([math.cos(t), math.sin(t)]))
            for t, share in zip(turns, chance.uniform(0.6, 1, 9), strict=True)
        ]
        hole = [tuple(middle + 2.3 * np.array([math.cos(t), math.sin(t)])) for t in (0.1, 2, 4)]
        region = Polygon(outer).difference(Polygon(hole)).intersection(made.outline)
        inner = surface(points, lines, outer, [hole])
        self.assertAlmostEqual(inner.plan_area, region.area, places=5)
        self.assertAlmostEqual(inner.outline.symmetric_difference(region).area, 0, places=4)
        places = inner.points[:, :2] + 1e-4 * (
            inner.points[inner.triangles[0], :2].mean(axis=0) - inner.points[:, :2]
        )
        levels, own = inner.levels_at(places), made.levels_at(places)
        known = np.isfinite(levels) & np.isfinite(own)
        np.testing.assert_allclose(levels[known], own[known], atol=2e-3)
        under = inner.pieces.volumes(inner.pieces["level"] - 100).sum()
        within = made.pieces.within(region)
        self.assertAlmostEqual(float(under), float(within.volumes(within["level"] - 100).sum()), places=4)

    def test_slivers_along_the_rim_are_left_out_and_the_rest_is_whole(self) -> None:
        chance = np.random.default_rng(2)
        ticks = np.linspace(0, 50, 51)
        # A rim that is straight but for its last digits, as surveyed coordinates are after a transformation.
        rim = np.concatenate(
            [
                np.column_stack([ticks, chance.normal(0, 1e-12, 51)]),
                np.column_stack([ticks, 30 + chance.normal(0, 1e-12, 51)]),
            ]
        )
        made = surface(
            np.column_stack([np.concatenate([rim, chance.uniform(1, 29, (40, 2))]), np.full(142, 7.0)])
        )
        self.assertAlmostEqual(made.plan_area, 1500, places=9)
        self.assertLess(float(made.slopes.max()), 1e-6)
        self.assertGreater(float(made.pieces.areas.min()), 1e-9)

    def test_slivers_inside_harm_nothing(self) -> None:
        chance = np.random.default_rng(4)
        ticks = np.linspace(0, 50, 201)
        row = np.column_stack([ticks, 15 + chance.normal(0, 1e-13, 201), 8 + np.sin(ticks)])
        frame = np.array([(0, 0, 8.0), (50, 0, 8), (50, 30, 8), (0, 30, 8)])
        made = surface(np.concatenate([frame, row]), [row.tolist()])
        self.assertAlmostEqual(made.plan_area, 1500, places=8)
        self.assertTrue(math.isfinite(made.true_area) and np.isfinite(made.slopes).all())
        np.testing.assert_allclose(made.levels_at(row[:, :2]), row[:, 2], atol=1e-6)
        along = made.profile([(0, 15), (50, 15)])
        np.testing.assert_allclose(np.interp(ticks, along.chainages, along.levels), row[:, 2], atol=1e-6)

    def test_what_is_no_surface_is_refused_with_a_sentence(self) -> None:
        cases: list[tuple[Sequence, dict, str]] = [
            ([(0, 0, 1), (1, 1, 1)], {}, "at least three levels"),
            ([(0, 0, 1), (1, 1, 1), (2, 2, 1)], {}, "on one line"),
            ([(0, 0, 1), (1, 0, math.nan), (0, 1, 1)], {}, "not a number"),
            (
                [(0, 0, 1), (1, 0, 1), (0, 1, 1)],
                {"breaklines": [[(0, 0), (1, 1)]]},
                "needs a level at each corner",
            ),
            (
                [(0, 0, 1), (9, 0, 1), (0, 9, 1)],
                {"boundary": [(0, 0), (4, 4), (4, 0), (0, 4)]},
                "crosses itself at 2.00, 2.00",
            ),
            (
                [(0, 0, 1), (9, 0, 1), (0, 9, 1)],
                {"boundary": [(50, 50), (60, 50), (55, 60)]},
                "holds none of the surface",
            ),
        ]
        for levels, more, says in cases:
            with self.assertRaisesRegex(BadShape, says):
                surface(np.array(levels, dtype=float), **more)

    def test_breaklines_that_disagree_where_they_cross_are_told(self) -> None:
        corners = np.array([(0, 0, 10.0), (10, 0, 10), (10, 10, 10), (0, 10, 10)])
        made = surface(corners, [[(0, 0, 10), (10, 10, 10)], [(1, 9, 12), (9, 1, 12)]])
        self.assertIn("cross at 5.00, 5.00 at levels 10.00 and 12.00", made.findings[0].says)
        self.assertAlmostEqual(float(made.levels_at(np.array([[5.0, 5.0]]))[0]), 11)
        made = surface(corners, [[(0, 10, 12), (10, 0, 10)]])
        self.assertIn(
            "a different level: 1, the first at 0.00, 10.00 (12.00 on 10.00)", made.findings[0].says
        )


class Drawn(unittest.TestCase):
    ramp: Surface

    @classmethod
    def setUpClass(cls) -> None:
        x, y = (each.ravel() for each in np.meshgrid(np.arange(0, 41, 10.0), np.arange(0, 41, 10.0)))
        cls.ramp = surface(np.column_stack([x, y, 100 + 0.3 * x + 0.4 * y]))

    def test_slopes_areas_and_bearings_of_a_plane(self) -> None:
        self.assertAlmostEqual(self.ramp.true_area, 1600 * math.sqrt(1.25), places=9)
        np.testing.assert_allclose(self.ramp.slopes, 0.5)
        np.testing.assert_allclose(self.ramp.falls_to, 180 + math.degrees(math.atan2(0.3, 0.4)))
        self.assertEqual((self.ramp.lowest, self.ramp.highest), (100, 128))

    def test_contours_are_whole_lines_and_end_at_the_edge(self) -> None:
        contours = self.ramp.contours(2)
        self.assertEqual([c.level for c in contours], [102 + 2 * n for n in range(13)])
        for contour in contours:
            np.testing.assert_allclose(100 + contour.line @ (0.3, 0.4), contour.level, atol=1e-9)
            self.assertTrue(all(min(x, y, 40 - x, 40 - y) < 1e-9 for x, y in contour.line[[0, -1]]))
        hill = surface(np.array([(0, 0, 0), (4, 0, 0), (4, 4, 0), (0, 4, 0), (2, 2, 4.0)]))
        (ring,) = [c.line for c in hill.contours(1) if c.level == 2]
        self.assertEqual(ring[0].tolist(), ring[-1].tolist())
        self.assertAlmostEqual(Polygon(ring).area, 4)
        for interval in (0, -1, 1e-5):
            with self.assertRaises(BadEntry):
                self.ramp.contours(interval)

    def test_profile_has_a_level_at_every_edge_and_none_off_the_surface(self) -> None:
        along = self.ramp.profile([(-10, 5), (35, 5), (35, 25)])
        known = np.isfinite(along.levels)
        self.assertEqual((along.chainages[0], along.chainages[-1]), (0, 65))
        np.testing.assert_allclose(along.levels[known], 100 + along.plan[known] @ (0.3, 0.4), atol=1e-9)
        self.assertTrue((along.plan[~known, 0] < 0).all() and (~known).any())
        self.assertLessEqual({10.0, 20.0, 30.0, 40.0}, set(along.chainages.round(9)))
        with self.assertRaises(BadShape):
            self.ramp.profile([(1, 1), (1, 1)])

    def test_faces_as_they_are(self) -> None:
        faces = self.ramp.points[self.ramp.triangles]
        again = of_faces(np.concatenate([faces[:, ::-1], [[(0, 0, 0), (0, 0, 5), (1, 0, 0)]]]))
        self.assertEqual((len(again.points) - 3, len(again.triangles)), (25, 32))
        self.assertAlmostEqual(again.true_area, self.ramp.true_area)
        self.assertIn("1 faces are upright", again.findings[0].says)


class LevelsThatLookWrong(unittest.TestCase):
    def setUp(self) -> None:
        chance = np.random.default_rng(11)
        plan = chance.uniform(0, 200, (2000, 2))
        self.points = np.column_stack([plan, 100 + 0.05 * plan[:, 0] + chance.normal(0, 0.03, 2000)])

    def found(self, points: np.ndarray, boundary: list | None = None) -> dict[str, list[int]]:
        return {doubt.kind: doubt.which.tolist() for doubt in check(Survey(points), boundary).doubts}

    def test_clean_levels_raise_no_doubt(self) -> None:
        self.assertEqual(self.found(self.points), {})
        self.assertEqual(self.found(self.points * [1, 1, 4]), {})

    def test_each_doubt_names_its_points_and_nothing_else(self) -> None:
        points = self.points.copy()
        points[5, 2] += 3
        points[77, 2] = 0
        points[80] = points[81]
        points[90, :2] = points[91, :2]
        points[100, 2] = math.nan
        points[300, 2] -= 1.2
        ring = [(0, 0), (200, 0), (200, 200), (0, 199.0)]
        expected = {
            "missing": [100],
            "zero": [77],
            "duplicate": [81],
            "conflict": [91],
            "spike": [5, 77, 90, 300],
        }  # 90 was moved to where its level isn't
        self.assertEqual(self.found(points), expected)
        outside = [
            n
            for n, place in enumerate(points)
            if n not in (81, 91, 100) and not Polygon(ring).covers(Point(place[:2]))
        ]
        self.assertEqual(self.found(points, ring), {**expected, "outside": outside})
        usable = check(Survey(points)).usable
        self.assertEqual(np.flatnonzero(~usable).tolist(), [81, 91, 100])

    def test_rows_of_the_file_are_named(self) -> None:
        survey = Survey(np.array([(0, 0, 1.0), (5, 0, math.nan), (0, 5, 1)]), rows=np.array([7, 9, 12]))
        finding = check(survey).findings[0]
        self.assertEqual(
            (finding.says, finding.line, finding.wrong),
            ("No level: 1 point, left out, the first in row 9.", 8, True),
        )

    def test_columns_and_units_that_cannot_be(self) -> None:
        ring = [(0, 1000), (190, 1000), (190, 1200), (0, 1200)]
        square = [(0, 0), (200, 0), (200, 200), (0, 200)]
        for name, points, boundary, kind, says in [
            ("level and east swapped", self.points[:, [2, 1, 0]], None, "swapped", "columns look swapped"),
            ("level and north swapped", self.points[:, [0, 2, 1]], None, "swapped", "columns look swapped"),
            ("levels in mm", self.points * [1, 1, 1000], None, "swapped", "another unit"),
            ("all in mm", self.points * 1000, None, "units", "mm or feet"),
            (
                "east and north swapped",
                self.points[:, [1, 0, 2]] + [1000, 0, 0],
                ring,
                "swapped",
                "East and north look swapped",
            ),
            ("in feet", self.points / 0.3048, square, "units", "look to be in feet"),
            ("in mm", self.points * [1000, 1000, 1], square, "units", "look to be in mm"),
            (
                "elsewhere",
                self.points + np.array([9000, 0, 0]),
                square,
                "outside",
                "Outside the boundary: all",
            ),
        ]:
            doubts = check(Survey(points), boundary).doubts
            self.assertTrue(
                any(d.kind == kind and says in d.finding.says for d in doubts),
                f"{name}: {[d.finding.says for d in doubts]}",
            )

    def test_few_and_no_levels(self) -> None:
        for number in range(6):
            check(Survey(self.points[:number]))
        self.assertEqual(self.found(np.full((3, 3), math.nan)), {"missing": [0, 1, 2]})

    def test_a_survey_makes_its_surface(self) -> None:
        lines = (
            SurveyLine(
                "boundary",
                np.array(
                    [(50, 50, math.nan), (150, 50, math.nan), (150, 150, math.nan), (50, 150, math.nan)]
                ),
            ),
        )
        both = joined_surveys([Survey(self.points[:900]), Survey(self.points[900:], lines=lines)])
        made = both.surface()
        self.assertAlmostEqual(made.plan_area, 10_000, places=6)
        self.assertEqual([f.field for f in made.findings], ["outside"])
        vague = SurveyLine("breakline", np.array([(60, 60, 103.0), (70, 60, math.nan)]))
        told = Survey(self.points, lines=(*lines, *lines, vague)).surface().findings
        self.assertEqual(
            [f.says for f in told[1:]],
            [
                "Breaklines with a corner that has no level: 1, left out.",
                "Boundaries: 2. The first is taken.",
            ],
        )
        feet = Survey(self.points / 0.3048).scaled(0.3048, 0.3048)
        np.testing.assert_allclose(feet.points, self.points)


if __name__ == "__main__":
    unittest.main()
