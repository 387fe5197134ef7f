"""Formations on any ground, held against a reckoning by samples; classes, stages, order; and what is told."""

from __future__ import annotations

import math
import unittest

import numpy as np
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st
from shapely import Polygon

from sandscale.core.ground.classes import ORDINARY, Layer, dig
from sandscale.core.ground.cut_and_fill import cut_and_fill
from sandscale.core.ground.formation import Batter, Plane, Platform, ToSurface
from sandscale.core.ground.surface import Surface, surface
from sandscale.core.refusals import BadEntry, BadShape

from ..cases.test_ground import square


def rolling(seed: int, rough: float = 1.0) -> Surface:
    """A ground of 120 × 120 m about level 100, with humps."""
    chance = np.random.default_rng(seed)
    plan = np.concatenate([chance.uniform(-60, 60, (250, 2)), [(x, y) for x in (-60, 60) for y in (-60, 60)]])
    level = 100 + rough * (np.sin(plan[:, 0] / 15 + seed) + np.cos(plan[:, 1] / 11)) + 0.03 * plan[:, 0]
    return surface(np.column_stack([plan, level]))


def star(seed: int, corners: int, level: float) -> list[tuple[float, float, float]]:
    """An outline with inner corners, turning right or left."""
    chance = np.random.default_rng(seed)
    turns = np.sort(chance.uniform(0, 1, corners) + np.arange(corners) * 1.5) / (corners * 1.5) * 2 * math.pi
    reach = chance.uniform(6, 14, corners)
    ring = [
        (float(r * math.cos(t)), float(r * math.sin(t)), level + float(z))
        for t, r, z in zip(turns, reach, chance.uniform(-0.2, 0.2, corners), strict=True)
    ]
    return ring if seed % 2 else ring[::-1]


class AnyPlatform(unittest.TestCase):
    @settings(max_examples=25, deadline=None)
    @given(
        st.integers(0, 10_000),
        st.integers(3, 8),
        st.sampled_from([98.5, 100.0, 101.5]),
        st.sampled_from([0.0, 0.5, 1.5]),
    )
    def test_the_batters_clamp_the_ground(self, seed: int, corners: int, level: float, run: float) -> None:
        """Level with a reckoning by samples: outside the outline the ground is dug to, or filled to, the slope that
        begins at the nearest point of an edge, mitred at outer corners, and is left alone in between."""
        ground, ring = rolling(seed), star(seed, corners, level)
        outline = Polygon([corner[:2] for corner in ring])
        if not outline.is_valid:
            return
        flat = [(x, y, level) for x, y, _ in ring]  # level edges: distance alone tells the height of a batter
        earth = cut_and_fill(ground, Platform(flat, cut=Batter(run), fill=Batter(run)))
        self.assertLess(shapely.symmetric_difference(earth.footprint, earth.pieces.footprint).area, 1e-4)
        self.assertAlmostEqual(earth.area, earth.footprint.area, places=4)
        places = np.random.default_rng(seed + 1).uniform(-40, 40, (4000, 2))
        own_ground, formed = earth.levels_at(places)
        within = shapely.intersects_xy(outline, places[:, 0], places[:, 1])
        np.testing.assert_allclose(formed[within], level, atol=1e-6)
        covered = np.isfinite(formed)
        np.testing.assert_allclose(own_ground[covered], ground.levels_at(places)[covered], atol=1e-9)
        if not run:
            self.assertTrue((covered == within).all())
            return
        beyond = covered & ~within
        away = shapely.distance(outline, shapely.points(places))
        height = np.abs(formed - level)[beyond]
        # A mitre lies farther out than its corner: never higher than the slope from the nearest point, never below half of it.
        self.assertTrue((height <= away[beyond] / run + 1e-6).all())
        cut = own_ground[beyond] > level
        self.assertTrue(
            (
                np.where(cut, own_ground[beyond] - formed[beyond], formed[beyond] - own_ground[beyond])
                >= -1e-6
            ).all()
        )
        self.assertTrue((np.where(cut, formed[beyond] - level, level - formed[beyond]) >= -1e-6).all())
        # Away from corners the slope is the batter itself.
        edges = outline.exterior
        along = shapely.line_locate_point(edges, shapely.points(places[beyond]))
        marks = shapely.line_locate_point(edges, shapely.points(np.array(edges.coords)))
        straight = np.abs(along[:, None] - marks).min(axis=1) > 1e-6
        np.testing.assert_allclose(height[straight], away[beyond][straight] / run, atol=1e-5)

    @settings(max_examples=25, deadline=None)
    @given(st.integers(0, 10_000), st.integers(3, 7))
    def test_classes_sum_to_the_whole_dig_and_stages_to_the_whole(self, seed: int, corners: int) -> None:
        ground, ring = rolling(seed), star(seed, corners, 100.2)
        if not Polygon([corner[:2] for corner in ring]).is_valid:
            return
        earth = cut_and_fill(ground, Platform(ring, cut=Batter(1), fill=Batter(2)))
        rock = surface(
            ground.points
            - np.column_stack([0 * ground.points[:, :2], 0.6 + 0.5 * np.sin(ground.points[:, 1])])
        )
        layers = [
            Layer("paving", 0.12, outline=square(9, 5, 0, -2, -2)),
            Layer("topsoil", 0.3),
            Layer("soil", bottom=rock, taken="dug"),
            Layer("soft", 0.4, outline=square(4, 4, 0), taken="below formation"),
        ]
        found = dig(earth, layers)
        self.assertEqual(found.classes, ("paving", "topsoil", "soil", ORDINARY, "soft"))
        self.assertAlmostEqual(sum(found.volumes.values()), found.dug, places=7)
        self.assertAlmostEqual(found.dug - found.fill, earth.net, places=7)
        self.assertAlmostEqual(found.pieces.area, earth.area, places=6)
        self.assertTrue(all(found.thickness(name).min() > -1e-9 for name in found.classes))
        self.assertAlmostEqual(
            found.volume("topsoil"), 0.3 * earth.area, places=6
        )  # stripped under cut and fill alike
        parts, _ = earth.by_stage({"A": square(12, 30, 0, -20, -15), "B": square(20, 20, 0, -10, -10)})
        self.assertAlmostEqual(sum(part.cut for part in parts.values()), earth.cut, places=6)
        self.assertAlmostEqual(sum(part.fill for part in parts.values()), earth.fill, places=6)
        bands = earth.depth_bands((0, 0.25, 0.5, 1))
        self.assertAlmostEqual(sum(band[2] for band in bands), earth.cut, places=7)
        blocks = [earth.block("fill", at).value for at in range(len(earth.fill_pieces))]
        self.assertAlmostEqual(sum(blocks), earth.working("fill").value, places=6)


class Classes(unittest.TestCase):
    ground: Surface

    @classmethod
    def setUpClass(cls) -> None:
        cls.ground = surface(np.array([(0, 0, 100.0), (20, 0, 100), (20, 10, 100), (0, 10, 100)]))

    def test_each_class_to_its_rule(self) -> None:
        # Half of the work is cut to 99.0, half is filled to 100.5.
        earth = cut_and_fill(
            self.ground, Plane(99.0, outline=square(10, 10, 0)), Plane(100.5, outline=square(10, 10, 0, 10))
        )
        rock = surface(np.array([(0, 0, 99.4), (20, 0, 99.4), (20, 10, 99.4), (0, 10, 99.4)]))
        layers = [
            Layer("paving", 0.1, outline=square(5, 10, 0)),
            Layer("topsoil", 0.3),
            Layer("soil", bottom=rock, taken="dug"),
            Layer("soft", 0.5, outline=square(4, 10, 0), taken="below formation"),
        ]
        found = dig(earth, layers)
        expected = {"paving": 5, "topsoil": 60, "soil": 25, ORDINARY: 40, "soft": 20}
        for name, volume in expected.items():
            self.assertAlmostEqual(found.volume(name), volume, places=9, msg=name)
        self.assertAlmostEqual(
            found.fill, 20 + 80
        )  # soft ground replaced; 0.5 m and the strip of 0.3 under the bank
        for name, volume in expected.items():
            self.assertAlmostEqual(found.table(name).total, volume, places=9, msg=name)
        self.assertEqual([part.name for part in found.working().parts], list(expected))
        block, row = found.block("topsoil", 0), found.table("topsoil").rows[0]
        self.assertEqual(
            (block.value, block.figures.endswith("× (0.300 + 0.300 + 0.300) / 3")), (row[-1], True)
        )

    def test_a_bottom_that_is_not_known_everywhere_is_told(self) -> None:
        rock = surface(np.array([(0, 0, 99.5), (5, 0, 99.5), (5, 10, 99.5), (0, 10, 99.5)]))
        found = dig(cut_and_fill(self.ground, Plane(99.0)), [Layer("soil", bottom=rock, taken="dug")])
        self.assertIn("The bottom of soil is not known on 150.00 m²", found.findings[0].says)
        self.assertAlmostEqual(found.volume("soil"), 25)
        self.assertAlmostEqual(found.volume(ORDINARY), 175)

    def test_what_cannot_be_a_class_is_refused(self) -> None:
        earth = cut_and_fill(self.ground, Plane(99.0))
        for layers in (
            [Layer("a", -1)],
            [Layer("a"), Layer("a")],
            [Layer("ground")],
            [Layer("a", taken="below formation"), Layer("b")],
        ):
            with self.assertRaises(BadEntry):
                dig(earth, layers)


class Told(unittest.TestCase):
    def test_the_first_of_several_formations_counts(self) -> None:
        ground = surface(np.array([(0, 0, 100.0), (30, 0, 100), (30, 30, 100), (0, 30, 100)]))
        pit = Platform(square(6, 6, 98, 10, 10), cut=Batter(1))
        earth = cut_and_fill(ground, pit, Plane(99.0, outline=square(20, 20, 0, 5, 5)))
        frustum = 2 / 6 * (36 + 4 * 64 + 100)
        self.assertAlmostEqual(earth.cut, frustum + (400 - 100), places=6)
        self.assertAlmostEqual(earth.area, 400, places=6)
        swapped = cut_and_fill(ground, Plane(99.0, outline=square(20, 20, 0, 5, 5)), pit)
        self.assertAlmostEqual(swapped.cut, 400, places=6)

    def test_work_beyond_the_levels_is_told(self) -> None:
        ground = surface(np.array([(0, 0, 100.0), (10, 0, 100), (10, 10, 100), (0, 10, 100)]))
        self.assertIn(
            "50.00 m² of the formation lie where",
            cut_and_fill(ground, Plane(99, outline=square(10, 10, 0, 5))).findings[0].says,
        )
        self.assertIn(
            "25.00 m² of the formation lie",
            cut_and_fill(ground, ToSurface(surface(np.array(square(5, 10, 99, 7.5))))).findings[0].says,
        )
        found = cut_and_fill(ground, Platform(square(4, 4, 97, 1, 3), cut=Batter(1))).findings
        self.assertEqual(len(found), 1)
        self.assertRegex(found[0].says, r"The batter in cut comes to the edge of the levels at 0\.00, \d")
        self.assertEqual(cut_and_fill(ground, Platform(square(4, 4, 97, 3, 3), cut=Batter(0.9))).findings, ())

    def test_a_hump_beyond_the_daylight_line_is_left_alone(self) -> None:
        x, y = (each.ravel() for each in np.meshgrid(np.arange(-40, 41, 2.0), np.arange(-10, 11, 2.0)))
        hump = np.maximum(0, 8 - np.abs(x - 25))
        ground = surface(np.column_stack([x, y, 100 + hump]))
        alone = cut_and_fill(ground, Platform(square(4, 4, 99, -2, -2), cut=Batter(2.5)))
        flat = cut_and_fill(
            surface(np.column_stack([x, y, 100 + 0 * x])), Platform(square(4, 4, 99, -2, -2), cut=Batter(2.5))
        )
        self.assertAlmostEqual(alone.cut, flat.cut, places=9)

    def test_a_formation_that_is_the_ground_itself_moves_nothing(self) -> None:
        ground = rolling(3)
        earth = cut_and_fill(ground, ToSurface(ground))
        self.assertAlmostEqual(earth.area, ground.plan_area, places=6)
        self.assertLess(max(earth.cut, earth.fill), 1e-9)
        touching = cut_and_fill(ground, Plane(ground.lowest))
        self.assertEqual((touching.fill, touching.zero_lines), (0.0, []))

    def test_what_cannot_be_laid_is_refused(self) -> None:
        ground = surface(np.array([(0, 0, 100.0), (10, 0, 100), (10, 10, 100), (0, 10, 100)]))
        with self.assertRaises(BadShape):
            cut_and_fill(ground, Platform([(0, 0, 1), (4, 4, 1), (4, 0, 1), (0, 4, 1)]))
        with self.assertRaises(BadShape):
            cut_and_fill(ground, Platform([(0, 0), (4, 0), (4, 4)]))
        with self.assertRaisesRegex(BadShape, "turns back on itself at 9.00, 5.00"):
            cut_and_fill(ground, Platform([(1, 4.99, 99), (9, 5, 99), (1, 5.01, 99)], cut=Batter(1)))
        for batter in (Batter(-1), Batter(1, bench_width=2), Batter(1, -1, 1), Batter(1, 1e-9, 1)):
            with self.assertRaises(BadEntry):
                cut_and_fill(ground, Platform(square(2, 2, 99, 4, 4), cut=batter))
        with self.assertRaises(BadEntry):
            cut_and_fill(ground, Plane(math.nan))
        with self.assertRaises(BadEntry):
            cut_and_fill(ground, Plane(99)).depth_bands((2, 1))


if __name__ == "__main__":
    unittest.main()
