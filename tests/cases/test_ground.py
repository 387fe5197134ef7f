"""Worked cases of cut and fill (§6), shapes with a known volume by every method, and real terrain."""

from __future__ import annotations

import math
import unittest
from collections.abc import Callable
from importlib.util import find_spec
from pathlib import Path

import numpy as np

from sandscale.core.ground.areas import RULES, volume
from sandscale.core.ground.cut_and_fill import CutFill, cut_and_fill
from sandscale.core.ground.formation import Batter, Plane, Platform, ToSurface, on_plane
from sandscale.core.ground.grid import rows, squares, typed_rows, typed_squares
from sandscale.core.ground.haulage import Soil, balance_level, haulage
from sandscale.core.ground.methods import side_by_side
from sandscale.core.ground.pieces import Floats
from sandscale.core.ground.surface import Surface, surface
from sandscale.core.refusals import BadEntry

LEVELS = np.array([[101.20, 101.55, 101.90], [100.80, 101.10, 101.60], [100.10, 100.45, 100.95]])


def square(
    width: float, length: float, level: float, x: float = 0.0, y: float = 0.0
) -> list[tuple[float, float, float]]:
    return [(x, y, level), (x + width, y, level), (x + width, y + length, level), (x, y + length, level)]


def grid_surface(
    level: Callable[[Floats, Floats], Floats], low: float, high: float, step: float, breaklines: tuple = ()
) -> Surface:
    ticks = np.linspace(low, high, round((high - low) / step) + 1)
    x, y = (each.ravel() for each in np.meshgrid(ticks, ticks))
    return surface(np.column_stack([x, y, level(x, y)]), breaklines)


class WorkedCases(unittest.TestCase):
    def test_squares_and_sections_of_nine_levels(self) -> None:
        by_squares, by_rows = typed_squares(LEVELS, 100.90, 10), typed_rows(LEVELS, 100.90, 10)
        self.assertEqual((f"{by_squares.cut:.2f}", f"{by_squares.fill:.2f}"), ("102.50", "28.75"))
        self.assertEqual((f"{by_rows.cut:.2f}", f"{by_rows.fill:.2f}"), ("116.79", "43.04"))
        for method in (by_squares, by_rows):
            self.assertEqual(f"{method.cut - method.fill:.2f}", "73.75")

    def test_their_working_goes_down_to_one_block(self) -> None:
        by_squares, by_rows = typed_squares(LEVELS, 100.90, 10), typed_rows(LEVELS, 100.90, 10)
        block = by_squares.block(2)  # the four levels above the lower left: mean 100.6125
        self.assertEqual((block.figures, f"{block.value:.2f}"), ("(100.900 − 100.6125) × 100.00", "28.75"))
        self.assertAlmostEqual(
            sum(abs(by_squares.block(at).value) for at in range(4)),
            by_squares.cut + by_squares.fill,
            places=9,
        )
        working = by_rows.cut_volume.working("Cut")
        self.assertEqual(working.parts[0].figures, "(13.000 + 5.1667) / 2 × 10.00")
        row = by_rows.sections[1].area.working("Row 2")
        self.assertEqual(
            [part.figures for part in row.parts],
            ["(0.000 + 0.200) / 2 × 6.6667", "(0.200 + 0.700) / 2 × 10.00"],
        )
        self.assertAlmostEqual(sum(part.value for part in row.parts), row.value, places=12)

    def test_every_volume_has_the_table_it_is_the_sum_of(self) -> None:
        x, y = np.meshgrid([0.0, 10.0, 20.0], [0.0, 10.0, 20.0])
        earth = cut_and_fill(surface(np.column_stack([x.ravel(), y.ravel(), LEVELS.ravel()])), Plane(100.90))
        exact, cells, lines, contours = (method.result for method in side_by_side(earth, 10, 0.25))
        tables = [
            (exact.table("cut"), earth.cut), (exact.table("fill"), earth.fill),
            (cells.table, cells.cut - cells.fill),
            (lines.cut_volume.table("Cut"), lines.cut),
            (contours.fill_slices.slices.table("Fill"), contours.fill),
        ]  # fmt: skip
        for found, total in tables:
            self.assertAlmostEqual(found.total, total, places=9, msg=found.name)
            self.assertEqual(found.rows.shape[1], len(found.columns))
        self.assertEqual(lines.area_table.rows[1].round(4).tolist(), [10.0, 5.1667, 0.1667, 5.0])
        self.assertEqual(exact.block("cut", 0).value, exact.table("cut").rows[0, -1])

    def test_the_same_levels_as_surfaces_give_the_same_net(self) -> None:
        x, y = np.meshgrid([0.0, 10.0, 20.0], [0.0, 10.0, 20.0])
        earth = cut_and_fill(surface(np.column_stack([x.ravel(), y.ravel(), LEVELS.ravel()])), Plane(100.90))
        for laid, typed in (
            (squares(earth, 10), typed_squares(LEVELS, 100.90, 10)),
            (rows(earth, 10), typed_rows(LEVELS, 100.90, 10)),
        ):
            self.assertAlmostEqual(laid.cut, typed.cut, places=6)
            self.assertAlmostEqual(laid.fill, typed.fill, places=6)

    def test_sections_keep_what_lies_at_irregular_ends(self) -> None:
        """Level ground 1 m above formation in a square set askew, and in one with a slanting end: its own area."""
        for outline, area in (
            ([(0, 0), (17, 5), (12, 22), (-5, 17)], 314.0),
            ([(0, 0), (20, 0), (20, 24), (0, 33)], 570.0),
        ):
            earth = cut_and_fill(surface(np.array([(x, y, 101.0) for x, y in outline])), Plane(100.0))
            for rule in RULES:
                found = rows(earth, 10, rule)
                if rule != "frustum":
                    self.assertAlmostEqual(found.cut, area, places=5, msg=rule)
                self.assertEqual(found.cut_volume.findings, ())

    def test_volumes_of_three_areas_by_each_rule(self) -> None:
        found = {rule: f"{volume([0, 20, 40], [4.20, 6.80, 5.10], rule).total:.2f}" for rule in RULES}
        self.assertEqual(found, {"mean area": "229.00", "prismoidal": "243.33", "frustum": "227.55"})

    def test_volume_on_a_curve(self) -> None:
        span = volume([0, 20], [5, 5], "mean area", [1 + 1.5 / 60] * 2).spans[0]
        self.assertEqual(
            (f"{span.volume:.2f}", span.working().figures), ("102.50", "(5.000 + 5.000) / 2 × 20.00 × 1.0250")
        )

    def test_prismoidal_where_there_is_no_third_section_says_so(self) -> None:
        found = volume([0, 10, 20, 25], [2, 4, 6, 8], "prismoidal")
        self.assertEqual([span.rule for span in found.spans], ["prismoidal", "mean area"])
        self.assertIn("1 of the spans", found.findings[0].says)
        for chainages, areas in (
            ([10, 0], [1, 1]),
            ([0, 10], [1, -1]),
            ([0, 10], [1, math.nan]),
            ([0, 10], [1]),
        ):
            with self.assertRaises(BadEntry):
                volume(chainages, areas, "mean area")

    def test_pit_with_batters_is_the_prismoid_of_its_make_up(self) -> None:
        flat = grid_surface(lambda x, y: 0 * x + 100, -20, 20, 20)
        earth = cut_and_fill(flat, Platform(square(3, 3, 98.4), cut=Batter(0.5)))
        self.assertEqual((f"{earth.cut:.3f}", earth.fill), ("23.445", 0.0))

    def test_haulage_and_loads(self) -> None:
        found = haulage(100, 45, Soil(bulking=1.25, compacted=0.9, lorry=8), unsuitable=60)
        self.assertEqual((found.reused, found.exported, found.imported), (40, 60, 10))
        self.assertEqual((found.exported_loose, found.export_loads, found.import_loads), (75, 10, 2))
        self.assertEqual(found.working[-1].figures, "12.50 / 8.00")
        with self.assertRaises(BadEntry):
            haulage(10, 10, Soil(), unsuitable=11)


class KnownShapes(unittest.TestCase):
    """Shapes made of planes are exact to 1e-9 by the exact method, and by the others where their lines meet the shape's."""

    def exactly(self, found: float, known: float) -> None:
        self.assertLess(abs(found - known), 1e-9 * max(1.0, abs(known)), f"{found} is not {known}")

    def test_wedge(self) -> None:
        # Ground rising 1 in 10 over 20 × 20, formation at its middle: two wedges of 20 × 10 × 1 / 2.
        earth = cut_and_fill(grid_surface(lambda x, y: 100 + x / 10, 0, 20, 5), Plane(101.0))
        for method in side_by_side(earth, 5, 0.25):
            self.exactly(method.cut, 100.0)
            self.exactly(method.fill, 100.0)
        self.assertEqual({x for line in earth.zero_lines for x in line[:, 0].tolist()}, {10.0})

    def test_middles_of_cut_and_fill(self) -> None:
        # Two wedges, each deepest at its outer edge: their middles lie two thirds of the way there.
        earth = cut_and_fill(grid_surface(lambda x, y: 100 + x / 10, 0, 20, 5), Plane(101.0))
        cut, fill = earth.centres()
        np.testing.assert_allclose([cut, fill], [(10 + 20 / 3, 10), (10 - 20 / 3, 10)])
        self.assertIsNone(
            cut_and_fill(grid_surface(lambda x, y: 100 + 0 * x, 0, 20, 5), Plane(99.0)).centres()[1]
        )

    def test_frustum_cut_and_bank(self) -> None:
        flat = grid_surface(lambda x, y: 0 * x + 100, -30, 30, 10)
        frustum = 3 / 6 * (12**2 + 4 * 15**2 + 18**2)
        for level, one in ((97.0, "cut"), (103.0, "fill")):
            earth = cut_and_fill(flat, Platform(square(12, 12, level), cut=Batter(1), fill=Batter(1)))
            self.exactly(earth.cut if one == "cut" else earth.fill, frustum)
            self.exactly(earth.net, frustum if one == "cut" else -frustum)
            # Rows every 1.5 m have one at each crease, so that three of them see one law of the area.
            self.exactly(rows(earth, 1.5, "prismoidal").cut + rows(earth, 1.5, "prismoidal").fill, frustum)
            # Its contour areas are squares: a prismoid again, so the prismoidal rule is exact over three of them.
            self.exactly(
                side_by_side(earth, 1, 1.5, "prismoidal")[3].cut
                + side_by_side(earth, 1, 1.5, "prismoidal")[3].fill,
                frustum,
            )

    def test_frustum_by_squares_converges_with_the_square_of_the_spacing(self) -> None:
        flat = grid_surface(lambda x, y: 0 * x + 100, -30, 30, 10)
        earth = cut_and_fill(flat, Platform(square(10, 10, 97.3), cut=Batter(1.37)))
        off = [abs(squares(earth, spacing, 7).cut / earth.cut - 1) for spacing in (2.0, 0.5)]
        self.assertLess(off[1], off[0] / 8)
        self.assertLess(off[1], 3e-3)

    def test_sloped_pit(self) -> None:
        # A floor of 12 × 8 falling 1 in 20 along, upright sides: the mean of its depths, wherever it lies in the plan.
        ground = grid_surface(lambda x, y: 50 + x * 0.02 - y * 0.01, -40, 60, 20)
        floor = on_plane(square(12, 8, 0, 3, 5), Plane(45.0, east=-0.05))
        earth = cut_and_fill(ground, Platform(floor))
        self.exactly(earth.cut, 12 * 8 * ((50 + 9 * 0.02 - 9 * 0.01) - (45 - 0.05 * 9)))
        self.exactly(earth.fill, 0)
        for method in side_by_side(earth, 1, 0.05)[1:3]:
            self.exactly(method.cut, earth.cut)

    def test_pit_with_battered_sides_in_sloping_ground(self) -> None:
        # By the prismoidal rule over its own horizontal slices: an independent reckoning of the same polyhedron.
        slope = 0.1
        ground = grid_surface(lambda x, y: 100 + slope * x, -60, 60, 20)
        earth = cut_and_fill(ground, Platform(square(10, 10, 96.0), cut=Batter(1)))
        x = np.linspace(-20, 40, 240_001)
        top = 100 + slope * x
        # At each x the section is a trapezium: its floor is the pit's or the end batters', its sides go out 1 to 1.
        floor = np.maximum(96.0, np.maximum(96.0 - x, 96.0 + x - 10))
        depth = np.maximum(top - floor, 0)
        width = 10 + 2 * (floor - 96.0)
        known = np.trapezoid((width + depth) * depth, x)
        self.assertLess(abs(earth.cut - known), 1e-6)

    def test_benched_sides(self) -> None:
        flat = grid_surface(lambda x, y: 0 * x + 100, -40, 50, 30)
        earth = cut_and_fill(
            flat, Platform(square(10, 10, 95.0), cut=Batter(1, bench_height=2, bench_width=1))
        )
        slices = [(2, 10, 14), (2, 16, 20), (1, 22, 24)]  # height, side below, side above
        self.exactly(earth.cut, sum(h / 6 * (a * a + (a + b) ** 2 + b * b) for h, a, b in slices))

    def test_pit_with_an_inner_corner(self) -> None:
        # 64 m² of floor 2 deep: 128; sides 40 m × 2 · 2 / 2: 80; five outer corners + 8/3 each, the inner one − 8/3.
        flat = grid_surface(lambda x, y: 0 * x + 100, -20, 30, 10)
        outline = [(0, 0, 98), (10, 0, 98), (10, 4, 98), (4, 4, 98), (4, 10, 98), (0, 10, 98)]
        earth = cut_and_fill(flat, Platform(outline, cut=Batter(1)))
        self.exactly(earth.cut, 128 + 80 + 4 * 8 / 3)
        self.exactly(cut_and_fill(flat, Platform(outline[::-1], cut=Batter(1))).cut, earth.cut)

    def test_cone_against_a_plane(self) -> None:
        known = math.pi / 3 * 10**2 * 5
        off = []
        for sides in (32, 128):
            turn = np.linspace(0, 2 * math.pi, sides, endpoint=False)
            foot = np.column_stack([10 * np.cos(turn), 10 * np.sin(turn), np.full(sides, 100.0)])
            cone = surface(np.concatenate([foot, [[0, 0, 105.0]]]))
            earth = cut_and_fill(cone, Plane(100.0))
            self.exactly(earth.cut, sides / 2 * 10**2 * math.sin(2 * math.pi / sides) * 5 / 3)
            half = cut_and_fill(cone, Plane(102.5))
            self.exactly(half.cut, earth.cut / 8)
            self.exactly(half.depth_bands((0, 1.25, 2.5))[1][2], earth.cut / 64)
            off.append(known - earth.cut)
        self.assertAlmostEqual(off[0] / off[1], 16, delta=0.2)  # second order in the length of its chords

    def test_sphere_cap_by_every_method(self) -> None:
        radius, height = 20.0, 8.0
        known = math.pi * height**2 * (radius - height / 3)

        def cap(x: Floats, y: Floats) -> Floats:
            return np.sqrt(np.maximum(radius**2 - x**2 - y**2, 0)) - (radius - height)

        off = np.array(
            [
                [abs(m.cut - known) / known for m in side_by_side(_earth(cap, step), step, step / 4)]
                for step in (2.0, 0.5)
            ]
        )
        for at, name in enumerate(("exact", "square grid", "grid sections", "contour areas")):
            self.assertLess(off[1, at], off[0, at] / 6, f"{name}: {off[:, at]}")
            self.assertLess(off[1, at], 2e-3, name)

    def test_balance_level(self) -> None:
        ground = grid_surface(lambda x, y: 100 + x / 10, 0, 20, 5)
        found = balance_level(lambda level: cut_and_fill(ground, Plane(level)), 100, 102)
        self.assertAlmostEqual(found.level, 101.0, places=6)
        shrunk = balance_level(lambda level: cut_and_fill(ground, Plane(level)), 100, 102, 0.81)
        # Both are wedges with the square of their length: lengths as 1 to √0.81.
        self.assertAlmostEqual(shrunk.level, 102 - 2 / 1.9, places=6)
        self.assertAlmostEqual(shrunk.earth.cut * 0.81, shrunk.earth.fill, places=4)
        with self.assertRaisesRegex(BadEntry, "don't balance between 103.00 and 104.00"):
            balance_level(lambda level: cut_and_fill(ground, Plane(level)), 103, 104)


def _earth(level: Callable[[Floats, Floats], Floats], step: float) -> CutFill:
    return cut_and_fill(grid_surface(level, -20, 20, step), Plane(0.0))


class RealTerrain(unittest.TestCase):
    """The elevation sample that matplotlib ships: 344 × 403 levels about a fault, here 90 m apart."""

    ground: Surface

    @classmethod
    def setUpClass(cls) -> None:
        where = find_spec("matplotlib")
        assert where is not None and where.origin is not None
        with np.load(Path(where.origin).parent / "mpl-data/sample_data/jacksboro_fault_dem.npz") as sample:
            levels = sample["elevation"].astype(float)
        down, across = levels.shape
        x, y = np.meshgrid(
            np.arange(across) * 90.0, np.arange(down)[::-1] * 90.0
        )  # its rows go from north to south
        cls.ground = surface(np.column_stack([x.ravel(), y.ravel(), levels.ravel()]))

    def test_all_its_points_make_its_surface(self) -> None:
        self.assertEqual(len(self.ground.triangles), 2 * 343 * 402)
        self.assertAlmostEqual(self.ground.plan_area, 343 * 402 * 8100.0, delta=1e-3)
        self.assertGreater(self.ground.true_area, self.ground.plan_area * 1.005)

    def test_four_methods_agree_as_far_as_they_can(self) -> None:
        ring = [(9_000, 9_000), (21_600, 9_900), (20_700, 20_250), (10_350, 21_600)]
        earth = cut_and_fill(self.ground, Plane(480.0, east=0.001, at=(9_000, 9_000), outline=ring))
        methods = side_by_side(earth, 180, 5)
        shoelace = sum(ring[n - 1][0] * ring[n][1] - ring[n][0] * ring[n - 1][1] for n in range(4)) / 2
        self.assertAlmostEqual(earth.area, shoelace, delta=1e-3)
        for method, within in zip(methods[1:], (0.02, 0.01, 0.002), strict=True):
            self.assertLess(abs(method.cut_off) / earth.cut, within, method.name)
            self.assertLess(abs((method.cut - method.fill) - earth.net) / earth.cut, within, method.name)
        # The net volume is known without cutting anything: mean levels of whole triangles less the plane's.
        inner = self.ground.bounded(earth.footprint)
        formation = 480 + (inner.points[:, 0] - 9_000) * 0.001
        heights = (inner.points[:, 2] - formation)[inner.triangles].mean(axis=1)
        self.assertAlmostEqual(float((inner.pieces.areas * heights).sum()) / earth.net, 1, places=9)

    def test_against_a_smoothed_surface_of_fewer_points(self) -> None:
        points = self.ground.points.reshape(344, 403, 3)
        coarse = surface(points[::7, ::6].reshape(-1, 3))
        earth = cut_and_fill(self.ground, ToSurface(coarse))
        self.assertAlmostEqual(earth.area, coarse.plan_area, delta=1e-3)
        own = self.ground.bounded(coarse.outline)
        net = float(
            own.pieces.volumes(own.pieces["level"]).sum()
            - coarse.pieces.volumes(coarse.pieces["level"]).sum()
        )
        self.assertAlmostEqual(earth.net / net, 1, places=6)
        self.assertGreater(earth.cut, 0)
        self.assertGreater(earth.fill, 0)


if __name__ == "__main__":
    unittest.main()
