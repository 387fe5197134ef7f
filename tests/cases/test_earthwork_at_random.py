"""Earthworks at random, reckoned a second time by soundings on a fine raster: no triangle is shared with the core.

Each place of the raster is looked at by itself: its ground is read off the plane or off the four planes that a
folded ground is made of, its formation is clamped by the batters, its classes are taken from the top down.
"""

from __future__ import annotations

import random
import unittest
from collections import defaultdict
from dataclasses import dataclass
from itertools import pairwise
from typing import Any

import numpy as np
from numpy.typing import NDArray

from sandscale.core.ground.classes import ORDINARY, Layer
from sandscale.core.ground.earthwork import NO_STAGE, Asked, Reckoned, laid, reckoned
from sandscale.core.ground.formation import Batter, Plane, Platform
from sandscale.core.ground.haulage import Soil
from sandscale.core.ground.surface import surface

Floats = NDArray[np.float64]
SIZE, CELL = 120.0, 0.125  # m: the site, and a place of the raster
BANDS = (0.0, 0.5, 1.5, 3.0)


@dataclass(frozen=True)
class Site:
    """Ground folded along east = 60, a rectangle to be levelled, classes, and a line that halves the work."""

    low: float
    west: float
    east: float
    north: float
    box: tuple[float, float, float, float]
    level: float
    slope: tuple[float, float]
    cut: float
    fill: float
    topsoil: float
    rock: float
    soft: float
    halved: float

    @classmethod
    def thrown(cls, seed: int, *, battered: bool) -> Site:
        dice = random.Random(seed)
        west, south = dice.uniform(40, 48), dice.uniform(40, 48)
        return cls(
            low=100.0, west=dice.uniform(-0.06, 0.06), east=dice.uniform(-0.06, 0.06), north=dice.uniform(-0.05, 0.05),
            box=(west, south, west + dice.uniform(20, 34), south + dice.uniform(14, 30)),
            level=100 + dice.uniform(-1.6, 1.2), slope=(0, 0) if battered else (dice.uniform(-0.03, 0.03), dice.uniform(-0.03, 0.03)),
            cut=dice.choice((0.5, 1.0, 2.0)) if battered else 0.0, fill=dice.choice((1.5, 2.0)) if battered else 0.0,
            topsoil=dice.uniform(0.1, 0.3), rock=dice.uniform(0.2, 0.9), soft=dice.choice((0.0, 0.4)), halved=dice.uniform(52, 68),
        )  # fmt: skip

    def ground(self, x: Floats, y: Floats) -> Floats:
        folded = np.where(x < 60, (x - 60) * self.west, (x - 60) * self.east)
        return np.asarray(self.low + folded + (y - 60) * self.north)

    def outline(self) -> list[tuple[float, float]]:
        west, south, east, north = self.box
        return [(west, south), (east, south), (east, north), (west, north)]

    def asked(self) -> Asked:
        axis = np.arange(0, SIZE + 1, 6.0)
        x, y = (each.ravel() for each in np.meshgrid(axis, axis))
        outline = self.outline()
        made: Any = Plane(self.level, *self.slope, outline[0], outline)
        if self.cut:
            levelled = [(east, north, self.level) for east, north in outline]
            made = Platform(levelled, Batter(self.cut, 0, 0), Batter(self.fill, 0, 0))
        layers = {"top": Layer("Topsoil", self.topsoil), "rock": Layer("Rock", self.rock, taken="dug")}
        if self.soft:
            layers["soft"] = Layer("Soft spots", self.soft, taken="below formation")
        west = [(0, 0), (self.halved, 0), (self.halved, SIZE), (0, SIZE)]
        return Asked(
            ground=surface(np.column_stack([x, y, self.ground(x, y)])), formations=[made], layers=layers,
            reused=frozenset({"rock"}), stages={"West": west}, bands=BANDS, soil=Soil(1.3, 0.85, 9),
            method="exact", spacing=5.0, angle=0.0, interval=0.25, rule="mean area", outlines=[outline],
        )  # fmt: skip


class Sounded:
    """The same by soundings: volume by class, by band and by stage; fill, footprint and floor."""

    def __init__(self, site: Site) -> None:
        axis = np.arange(0, SIZE, CELL) + CELL / 2
        x, y = (each.ravel() for each in np.meshgrid(axis, axis))
        west, south, east, north = site.box
        inside = (x > west) & (x < east) & (y > south) & (y < north)
        away = np.hypot(
            np.maximum(np.maximum(west - x, x - east), 0), np.maximum(np.maximum(south - y, y - north), 0)
        )
        ground = site.ground(x, y)
        level = site.level + (x - west) * site.slope[0] + (y - south) * site.slope[1]
        if site.cut:
            formation = np.clip(ground, level - away / site.fill, level + away / site.cut)
            worked = inside | (np.abs(formation - ground) > 1e-12)
        else:
            formation, worked = level, inside
        self.footprint, self.floor = worked.sum() * CELL**2, inside.sum() * CELL**2
        x, inside, ground, formation = x[worked], inside[worked], ground[worked], formation[worked]
        stage = np.where(x < site.halved, "West", NO_STAGE)
        self.volumes: dict[str, float] = {}
        self.stages: dict[str, dict[str, float]] = defaultdict(dict)
        self.bands: dict[str, list[float]] = {}
        # On the batter of a cutting stripping ends at the batter; elsewhere all of the topsoil goes.
        bottom = ground - site.topsoil
        stripped = np.where(inside | (ground <= formation), bottom, np.maximum(bottom, formation))
        self.add("top", ground - stripped, stage)
        dug = np.maximum(stripped - formation, 0)
        rock = np.minimum(np.maximum(ground - site.topsoil - site.rock, formation), stripped)
        above = np.maximum(stripped - rock, 0) * (dug > 0)
        self.add("rock", above, stage)
        self.add(ORDINARY, dug - above, stage)
        # What is soft is taken out under all of the formation, batters too, and filled up again.
        self.soft = site.soft * self.footprint
        start = stripped
        for key, top, low in (
            ("rock", stripped, stripped - above),
            (ORDINARY, stripped - above, stripped - dug),
        ):
            limits = [*BANDS, np.inf]
            self.bands[key] = [
                float(np.maximum(np.minimum(top, start - a) - np.maximum(low, start - b), 0).sum() * CELL**2)
                for a, b in pairwise(limits)
            ]
        self.fill = float(np.maximum(formation - stripped, 0).sum() * CELL**2)

    def add(self, key: str, thickness: Floats, stage: NDArray[Any]) -> None:
        self.volumes[key] = float(thickness.sum() * CELL**2)
        for name in ("West", NO_STAGE):
            self.stages[key][name] = float(thickness[stage == name].sum() * CELL**2)


class AtRandom(unittest.TestCase):
    def check(self, site: Site, made: Reckoned, sounded: Sounded) -> None:
        shares = {share.key: share for share in made.shares}
        # What a raster may be off: along an outline half a place, times the height there.
        off = 0.006 * (abs(made.cut) + made.fill) + 1.5

        def close(name: str, found: float, wanted: float) -> None:
            self.assertAlmostEqual(found, wanted, delta=off, msg=f"{name} of {site}")

        for key, volume in sounded.volumes.items():
            close(key, shares[key].volume, volume)
            for stage, part in sounded.stages[key].items():
                close(f"{key} in {stage}", dict(shares[key].stages).get(stage, 0.0), part)
        for key, bands in sounded.bands.items():
            found = [volume for _, volume in shares[key].bands]
            for at, wanted in enumerate(bands):
                close(f"{key}, band {at}", found[at] if at < len(found) else 0.0, wanted)
        self.assertAlmostEqual(made.floor, sounded.floor, delta=0.01 * sounded.floor)
        self.assertAlmostEqual(made.footprint, sounded.footprint, delta=0.01 * sounded.footprint)
        refilled = sum(share.exact for share in made.shares if share.taken == "below formation")
        close("fill", made.fill - refilled, sounded.fill)
        close("soft spots", refilled, sounded.soft)
        # Whatever is split adds up to what it was split from.
        for share in made.shares:
            self.assertAlmostEqual(sum(v for _, v in share.stages), share.volume, places=6)
            if share.taken == "dug":
                self.assertAlmostEqual(sum(v for _, v in share.bands), share.volume, places=6)
        self.assertAlmostEqual(sum(v for _, v in made.fill_stages), made.fill, places=6)
        # And the soil: what was dug and isn't used is carted, what the fill lacks is brought.
        dug = sum(share.volume for share in made.shares)
        usable = shares["rock"].volume + shares[ORDINARY].volume
        needed = made.fill / made.soil.compacted
        self.assertAlmostEqual(
            made.haul["exported"], dug - usable + max(usable - needed, 0), delta=1e-6 * max(dug, 1)
        )

    def test_formations_without_batters(self) -> None:
        for seed in range(6):
            with self.subTest(seed=seed):
                site = Site.thrown(seed, battered=False)
                wanted = site.asked()
                self.check(site, reckoned(wanted, laid(wanted)), Sounded(site))

    def test_platforms_with_batters(self) -> None:
        for seed in range(10, 16):
            with self.subTest(seed=seed):
                site = Site.thrown(seed, battered=True)
                wanted = site.asked()
                self.check(site, reckoned(wanted, laid(wanted)), Sounded(site))


if __name__ == "__main__":
    unittest.main()
