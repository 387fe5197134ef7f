"""A surface seen from above: light from the north-west, heights between its lowest and its highest, nothing off it."""

from __future__ import annotations

import io
import unittest
from collections.abc import Callable

import numpy as np
from PIL import Image

from sandscale.core.ground import relief as module
from sandscale.core.ground.relief import Relief, relief
from sandscale.core.ground.surface import Surface, surface
from sandscale.formats.relief_png import write_relief


def made(level: Callable[[float, float], float], wide: float = 40, high: float = 20) -> Surface:
    places = [(x, y) for x in np.arange(0, wide + 1, 4.0) for y in np.arange(0, high + 1, 4.0)]
    return surface(np.array([(x, y, level(x, y)) for x, y in places]))


class FromAbove(unittest.TestCase):
    def test_the_raster_lies_over_the_surface(self) -> None:
        seen = relief(made(lambda x, _: x / 10), 100)
        self.assertEqual(seen.light.shape, (50, 100))
        np.testing.assert_allclose(seen.bounds, (0, 0, 40, 20), atol=1e-9)
        self.assertTrue(np.isfinite(seen.light).all())

    def test_heights_rise_as_the_ground_does_and_the_first_row_is_north(self) -> None:
        surveyed = made(lambda x, y: x / 20 + y / 8)
        seen = relief(surveyed, 80)
        rows, columns = np.indices(seen.height.shape)
        size = 40 / 80
        x, y = (columns + 0.5) * size, 20 - (rows + 0.5) * size
        level = surveyed.levels_at(np.column_stack([x.ravel(), y.ravel()])).reshape(x.shape)
        np.testing.assert_allclose(seen.height, level / 4.5, atol=1e-6)
        self.assertGreater(seen.height[0].min(), seen.height[-1].min())

    def test_heights_are_those_of_the_surface_wherever_its_points_lie(self) -> None:
        chance = np.random.default_rng(5)
        for spread in ((60, 40), (0.7, 90), (400, 400)):
            places = chance.random((150, 2)) * spread
            surveyed = surface(np.column_stack([places, chance.random(150) * 9]))
            seen = relief(surveyed, 230)
            west, _, _, north = seen.bounds
            size = (seen.bounds[2] - west) / seen.height.shape[1]
            row, column = np.nonzero(np.isfinite(seen.height))
            levels = surveyed.levels_at(
                np.column_stack([west + (column + 0.5) * size, north - (row + 0.5) * size])
            )
            told = seen.height[row, column] * (surveyed.highest - surveyed.lowest) + surveyed.lowest
            known = np.isfinite(levels)  # a middle on the rim may lie a hair beside it
            self.assertGreater(known.mean(), 0.999)
            np.testing.assert_allclose(told[known], levels[known], atol=2e-5)

    def test_slopes_towards_the_light_are_bright_and_those_away_dark(self) -> None:
        flat = relief(made(lambda _x, _y: 5), 40).light
        np.testing.assert_allclose(flat, np.sqrt(0.5), atol=1e-6)
        facing = {
            name: float(relief(made(level), 40).light.mean())
            for name, level in {
                "north-west": lambda x, y: (x - y) / 10, "south-east": lambda x, y: (y - x) / 10,
                "north-east": lambda x, y: -(x + y) / 10, "south-west": lambda x, y: (x + y) / 10,
            }.items()
        }  # fmt: skip
        self.assertGreater(facing["north-west"], 0.85)
        self.assertLess(facing["south-east"], 0.5)
        self.assertAlmostEqual(facing["north-east"], facing["south-west"], places=6)

    def test_nothing_is_seen_in_a_hole_or_beyond_the_rim(self) -> None:
        triangle = surface(np.array([(0, 0, 1.0), (40, 0, 1.0), (0, 40, 2.0)]))
        seen = relief(triangle, 200)
        known = np.isfinite(seen.light)
        self.assertAlmostEqual(known.mean(), 0.5, delta=0.01)
        self.assertFalse(known[0, -1])
        self.assertTrue((np.isfinite(seen.height) == known).all())

    def test_in_several_goes_it_is_the_same_picture(self) -> None:
        rough = made(lambda x, y: np.sin(x) + np.cos(y / 3), 80, 60)
        whole = relief(rough, 300)
        rows, module._ROWS = module._ROWS, 9
        self.addCleanup(setattr, module, "_ROWS", rows)
        parts = relief(rough, 300)
        np.testing.assert_array_equal(whole.light, parts.light)
        np.testing.assert_array_equal(whole.height, parts.height)


class AsPicture(unittest.TestCase):
    def pixels(self, light: float, height: float) -> list[int]:
        seen = Relief(
            np.array([[light, np.nan]], np.float32), np.array([[height, np.nan]], np.float32), (0, 0, 2, 1)
        )
        with Image.open(io.BytesIO(write_relief(seen))) as picture:
            self.assertEqual((picture.size, picture.mode), ((2, 1), "RGBA"))
            self.assertEqual(picture.getpixel((1, 0))[3], 0)  # type: ignore[index]
            return list(picture.getpixel((0, 0)))  # type: ignore[arg-type]

    def test_level_ground_is_paper_and_shadow_darkens_it(self) -> None:
        level, dark, high = self.pixels(0.7071, 0), self.pixels(0.2, 0), self.pixels(0.7071, 1)
        self.assertEqual(level, [236, 236, 226, 255])
        self.assertEqual(high, [252, 246, 234, 255])
        self.assertTrue(all(d < p for d, p in zip(dark[:3], level[:3], strict=True)))
        self.assertGreaterEqual(min(self.pixels(0.0, 0)[:3]), 115)  # never so dark that lines drown in it


if __name__ == "__main__":
    unittest.main()
