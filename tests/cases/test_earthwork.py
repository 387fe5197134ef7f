"""An earthwork as a whole, against what can be reckoned by hand: classes, bands, stages, methods, haulage, sections."""

from __future__ import annotations

import json
import math
import unittest
from typing import Any

import numpy as np

from sandscale.core.ground.classes import ORDINARY, Layer
from sandscale.core.ground.earthwork import (
    METHODS,
    NO_STAGE,
    Asked,
    Laid,
    Reckoned,
    across,
    grid_cells,
    grid_rows,
    laid,
    reckoned,
    row_section,
)
from sandscale.core.ground.formation import Batter, Plane, Platform, ToSurface
from sandscale.core.ground.haulage import Soil
from sandscale.core.ground.relief import relief
from sandscale.core.ground.surface import Surface, surface
from sandscale.core.measurers.earthwork import Earthworks, Given
from sandscale.core.measurers.measurer import uneven
from sandscale.core.numbers.systems import METRIC, US
from sandscale.core.refusals import BadEntry


def ground(level: float = 100.0, east: float = 0.0, size: float = 60.0, step: float = 6.0) -> Surface:
    """A plane that rises to the east."""
    axis = np.arange(0, size + step / 2, step)
    return surface(np.array([[x, y, level + x * east] for x in axis for y in axis]))


def ring(low: float, high: float) -> list[tuple[float, float]]:
    return [(low, low), (high, low), (high, high), (low, high)]


def at(level: float, corners: list[tuple[float, float]]) -> list[tuple[float, float, float]]:
    return [(x, y, level) for x, y in corners]


def asked(formation: Any, outline: list[tuple[float, float]] | None = None, **other: Any) -> Asked:
    return Asked(
        **{
            "ground": ground(), "formations": [formation], "layers": {}, "reused": frozenset(), "stages": {},
            "bands": (0, 1, 2, 4), "soil": Soil(1.25, 0.9, 10), "method": "exact", "spacing": 4.0, "angle": 0.0,
            "interval": 0.25, "rule": "mean area", "outlines": [outline] if outline else [], **other,
        }
    )  # fmt: skip


def worked(wanted: Asked) -> tuple[Laid, Reckoned]:
    work = laid(wanted)
    return work, reckoned(wanted, work)


class Volumes(unittest.TestCase):
    def test_a_box_by_class_band_and_stage(self) -> None:
        box = ring(20, 40)
        layers = {
            "k1": Layer("Paving", 0.1, outline=ring(20, 30)), "k2": Layer("Topsoil", 0.2),
            "k3": Layer("Rock", 1.0, taken="dug"), "k4": Layer("Soft", 0.5, taken="below formation"),
        }  # fmt: skip
        stages = {
            "West": [(0, 0), (25, 0), (25, 60), (0, 60)],
            "Middle": [(20, 0), (35, 0), (35, 60), (20, 60)],
        }
        _, made = worked(asked(Plane(97, outline=box), box, layers=layers, stages=stages))
        shares = {share.key: share for share in made.shares}
        self.assertEqual(
            [share.name for share in made.shares], ["Paving", "Topsoil", "Rock", "Ordinary digging", "Soft"]
        )
        for key, volume in {"k1": 10, "k2": 80, "k3": 400, ORDINARY: 1200 - 10 - 80 - 400, "k4": 200}.items():
            self.assertAlmostEqual(shares[key].volume, volume, places=6, msg=key)
        # Bands count from where digging begins: below what is stripped.
        rock = dict(shares["k3"].bands)
        self.assertAlmostEqual(rock["0 to 1 m"], 400)
        own = dict(shares[ORDINARY].bands)
        self.assertAlmostEqual(own["1 to 2 m"], 400)
        self.assertAlmostEqual(own["2 to 4 m"], 0.8 * 300 + 0.7 * 100)
        self.assertAlmostEqual(dict(shares["k2"].stages)["West"], 0.2 * 5 * 20)
        self.assertAlmostEqual(dict(shares["k2"].stages)["Middle"], 0.2 * 10 * 20)
        self.assertAlmostEqual(dict(shares["k2"].stages)[NO_STAGE], 0.2 * 5 * 20)
        self.assertEqual({f.code for f in made.findings}, {"stages-overlap", "stage-missing"})
        self.assertAlmostEqual(made.fill, 200)
        self.assertAlmostEqual((made.floor), 400)
        self.assertEqual(made.slopes, 0)

    def test_what_becomes_of_it(self) -> None:
        box = ring(20, 40)
        layers = {"k1": Layer("Topsoil", 0.25), "k2": Layer("Gravel", 0.5, taken="dug")}
        wanted = asked(
            Plane(99, outline=box), box, layers=layers, reused=frozenset({"k2"}), soil=Soil(1.3, 0.8, 7)
        )
        haul = worked(wanted)[1].haul
        self.assertAlmostEqual(haul["exported"], 400)
        self.assertAlmostEqual(haul["exported_loose"], 520)
        self.assertEqual(haul["export_loads"], math.ceil(520 / 7))
        # Half of it lies below the level: what is ordinary or used again fills it, topsoil doesn't.
        tilted = asked(
            Plane(100, outline=ring(10, 50)),
            ring(10, 50),
            ground=ground(97, 0.1),
            layers={"k1": Layer("Topsoil", 0.25)},
        )
        _, made = worked(tilted)
        cut, fill, topsoil = made.cut, made.fill, made.shares[0].volume
        self.assertAlmostEqual(topsoil, 400)
        usable = min(fill / 0.9, cut)
        self.assertAlmostEqual(made.haul["reused"], usable)
        self.assertAlmostEqual(made.haul["exported"], cut + topsoil - usable)
        self.assertAlmostEqual(made.haul["imported"], fill / 0.9 - usable)

    def test_a_pit_with_batters_and_benches_by_the_prismoid(self) -> None:
        pit = ring(25, 35)
        _, made = worked(asked(Platform(at(97, pit), Batter(0.5)), pit))
        top, middle = 10 + 2 * 1.5, 10 + 1.5
        self.assertAlmostEqual(made.cut, 3 / 6 * (10**2 + 4 * middle**2 + top**2), places=6)
        self.assertAlmostEqual(made.slopes, (top**2 - 100) * math.hypot(1, 0.5) / 0.5, places=6)
        benched = Platform(at(97, pit), Batter(0.5, bench_height=1.5, bench_width=1.0))
        _, wider = worked(asked(benched, pit))
        low = 1.5 / 6 * (100 + 4 * 10.75**2 + 11.5**2)
        high = 1.5 / 6 * (13.5**2 + 4 * 14.25**2 + 15**2)
        self.assertAlmostEqual(wider.cut, low + high, places=6)

    def test_a_second_surface_and_several_in_order(self) -> None:
        floor = ground(98)
        _, made = worked(asked(ToSurface(floor, ring(10, 30)), ring(10, 30)))
        self.assertAlmostEqual(made.cut, 800)
        both = asked(
            None,
            formations=[Plane(99, outline=ring(10, 30)), Plane(97, outline=ring(20, 40))],
            outlines=[ring(10, 30), ring(20, 40)],
        )
        self.assertAlmostEqual(worked(both)[1].cut, 400 * 1 + 300 * 3)
        whole = asked(Plane(99))
        _, made = worked(whole)
        self.assertAlmostEqual(made.cut, 3600)
        self.assertAlmostEqual(made.floor, 3600)

    def test_methods_agree_on_a_plane_and_tell_why_they_cannot(self) -> None:
        box = ring(20, 40)
        _, made = worked(asked(Plane(99, outline=box), box, spacing=5, angle=30))
        self.assertEqual([m.name for m in made.methods], list(METHODS))
        for method in made.methods:
            self.assertAlmostEqual(method.cut, 400, places=5, msg=method.name)
        wrong = asked(Plane(99, outline=box), box, spacing=0.001, interval=0.00001, method="square grid")
        _, made = worked(wrong)
        self.assertEqual([bool(m.says) for m in made.methods], [False, True, True, True])
        self.assertEqual(made.method, "exact")  # what can't be reckoned isn't billed
        self.assertIn("method", {f.code for f in made.findings})
        self.assertAlmostEqual(made.cut, 400)

    def test_the_method_billed_moves_every_part_alike(self) -> None:
        pit = ring(22, 39)
        wanted = asked(
            Platform(at(97, pit), Batter(1)),
            pit,
            method="square grid",
            spacing=7,
            layers={"k1": Layer("Topsoil", 0.2)},
            stages={"A": ring(0, 30)},
        )
        _, made = worked(wanted)
        squares = made.methods[1]
        own = made.shares[-1]
        self.assertAlmostEqual(made.cut, squares.cut)
        self.assertAlmostEqual(sum(value for _, value in own.bands), own.volume)
        self.assertAlmostEqual(sum(value for _, value in own.stages), own.volume)
        self.assertAlmostEqual(own.volume / own.exact, squares.cut / made.methods[0].cut)
        self.assertAlmostEqual(
            made.shares[0].volume, made.shares[0].exact
        )  # what is stripped is always exact

    def test_what_cannot_be_laid(self) -> None:
        with self.assertRaises(BadEntry) as caught:
            laid(asked(None, formations=[]))
        self.assertEqual(caught.exception.field, "formations")
        with self.assertRaises(BadEntry):
            laid(asked(Plane(99, outline=ring(500, 510)), ring(500, 510)))
        with self.assertRaises(BadEntry):
            worked(asked(Plane(99), bands=(0, 3, 2)))

    def test_kept_and_read_again_it_is_the_same(self) -> None:
        pit = ring(25, 35)
        _, made = worked(
            asked(
                Platform(at(97, pit), Batter(0.5)),
                pit,
                layers={"k1": Layer("Topsoil", 0.2)},
                stages={"A": ring(0, 30)},
            )
        )
        self.assertEqual(Reckoned.from_kept(json.loads(json.dumps(made.kept()))), made)


class ToLookAt(unittest.TestCase):
    def test_every_row_is_drawn_with_the_levels_its_area_is_of(self) -> None:
        pit = ring(22, 38)
        wanted = asked(
            Platform(at(98, pit), Batter(1)),
            pit,
            ground=ground(100, 0.02),
            layers={"k1": Layer("Topsoil", 0.3)},
        )
        work = laid(wanted)
        made = grid_rows(work, 4, "mean area", 0, wanted.breaks)
        for n in range(len(made.sections)):
            drawn = row_section(work, made, n)
            top, floor = drawn.lines["k1"], drawn.lines["formation"]
            known = np.isfinite(drawn.offsets) & np.isfinite(top) & np.isfinite(floor)
            area = np.trapezoid(np.maximum(top - floor, 0)[known], drawn.offsets[known])
            self.assertAlmostEqual(area, drawn.cut, delta=0.02 * max(drawn.cut, 1))
            self.assertTrue((drawn.lines["ground"][known] >= top[known] - 1e-9).all())
        # A row meets the pit's edge, so a coarse grid doesn't cut its corners off.
        inner = [n for n in range(len(made.sections)) if made.sections[n].area.above > 30]
        wide = row_section(work, made, inner[len(inner) // 2])
        places = {round(float(x), 6) for x in wide.offsets + work.footprint.bounds[0]}
        self.assertLessEqual({22.0, 38.0}, places)

    def test_a_section_across_any_line_has_the_area_of_the_shape(self) -> None:
        pit = ring(25, 35)
        work = laid(asked(Platform(at(97, pit), Batter(0.5)), pit))
        found = across(work, [(5, 30), (55, 30)], ground())
        self.assertAlmostEqual(found.cut, (10 + 13) / 2 * 3, delta=0.25)
        skew = across(work, [(20, 20), (40, 40)], ground())
        self.assertAlmostEqual(skew.cut, (10 + 13) / 2 * 3 * math.sqrt(2), delta=0.6)
        off = across(work, [(1, 1), (9, 1)], ground())
        self.assertEqual((off.cut, off.fill), (0, 0))

    def test_squares_cover_the_footprint(self) -> None:
        pit = ring(25, 35)
        work = laid(asked(Platform(at(97, pit), Batter(0.5)), pit))
        cells = grid_cells(work, 3, 20)
        self.assertAlmostEqual(float(cells.areas.sum()), work.dig.pieces.area, places=6)

    def test_relief_lights_slopes_and_leaves_out_what_is_not_known(self) -> None:
        tilted = ground(100, -0.3)  # falls to the east, away from the light
        facing = ground(100, 0.3)
        dark, light = (relief(each, 40) for each in (tilted, facing))
        self.assertEqual(dark.light.shape, (40, 40))
        self.assertLess(np.nanmean(dark.light), np.nanmean(relief(ground(), 40).light))
        self.assertLess(np.nanmean(relief(ground(), 40).light), np.nanmean(light.light))
        self.assertEqual(light.bounds, (0, 0, 60, 60))
        self.assertTrue((np.diff(light.height[20]) > 0).all())
        triangle = relief(surface(np.array([[0, 0, 1.0], [10, 0, 1], [0, 10, 2]])), 20)
        share = np.isfinite(triangle.light).mean()
        self.assertAlmostEqual(share, 0.5, delta=0.06)


class Measured(unittest.TestCase):
    def given(self, wanted: Asked, system: Any = METRIC) -> tuple[Earthworks, Given, Any]:
        measurer = Earthworks()
        first = Given("x", lambda: wanted, lambda: None, system)
        measured = measurer.measure(first)
        return measurer, Given("x", lambda: wanted, lambda: measured.reckoned, system), measured

    def test_parts_add_up_and_every_number_has_its_arithmetic(self) -> None:
        pit = ring(22, 39)
        layers = {
            "k1": Layer("Topsoil", 0.2),
            "k2": Layer("Rock", 1.0, taken="dug"),
            "k3": Layer("Soft", 0.3, taken="below formation"),
        }
        for system in (METRIC, US):
            for method in METHODS:
                wanted = asked(
                    Platform(at(98.5, pit), Batter(1), Batter(2)), pit, ground=ground(97.5, 0.04), layers=layers,
                    stages={"A": ring(0, 30)}, method=method,
                )  # fmt: skip
                measurer, given, measured = self.given(wanted, system)
                keys = [line.output for line in measured.quantities]
                self.assertEqual(len(keys), len(set(keys)))
                for line in measured.quantities:
                    self.assertEqual(list(uneven(line)), [], line.output)
                    told = measurer.working(given, line.output, line.label)
                    self.assertAlmostEqual(float(told.value), line.net, places=9)
                    self.assertEqual(told.unit, line.unit)
                    self.assertTrue(told.expression or told.figures, line.output)
        volumes = {line.output: line for line in measured.quantities}
        self.assertEqual((volumes["cut"].unit, volumes["floor"].unit), ("yd³", "ft²"))
        self.assertEqual(measured.headline, "cut")

    def test_figures_of_a_working_are_the_sum_they_say(self) -> None:
        box = ring(20, 40)
        measurer, given, _ = self.given(
            asked(Plane(99, outline=box), box, layers={"k1": Layer("Topsoil", 0.25)})
        )
        carted = measurer.working(given, "carted_loose", "Carted")
        self.assertEqual(
            (carted.expression, carted.figures),
            ("(dug − used for the fill) × bulking", "(400.00 − 0.00) × 1.25"),
        )
        self.assertEqual([p.name for p in carted.parts], ["Topsoil", "Ordinary digging"])
        loads = measurer.working(given, "loads_away", "Loads")
        self.assertEqual((loads.value, loads.figures), (50, "500.00 / 10.00"))
        strip = measurer.working(given, "class_k1", "Strip")
        self.assertEqual((strip.value, strip.figures), (100, "over 400.00 m²"))
        self.assertEqual(measurer.working(given, "class_k1_area", "Area").value, 400)

    def test_what_it_has_not(self) -> None:
        box = ring(20, 40)
        measurer, given, _ = self.given(asked(Plane(99, outline=box), box))
        with self.assertRaises(BadEntry):
            measurer.working(given, "class_k9", "Nothing")
        with self.assertRaises(BadEntry):
            measurer.bar_working(given, "1", "Bars")
        self.assertEqual(measurer.needs(given), ())
        never = Given("x", given.asked, lambda: None)
        self.assertEqual(measurer.working(never, "cut", "Cut").source, "not worked out yet")


if __name__ == "__main__":
    unittest.main()
