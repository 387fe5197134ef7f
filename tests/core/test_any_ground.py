"""What holds for any ground, trench, route and file of levels, whatever they are made of by chance."""

from __future__ import annotations

import csv
import io
import math
import re
import unittest
from dataclasses import replace
from itertools import pairwise

import numpy as np
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st

from sandscale.core.ground.cut_and_fill import CutFill, cut_and_fill
from sandscale.core.ground.formation import Batter, Plane, Platform, ToSurface
from sandscale.core.ground.grid import rows, squares
from sandscale.core.ground.methods import side_by_side
from sandscale.core.ground.route.centreline import Centreline, Element, LongSection, through
from sandscale.core.ground.route.quantities import of_sections
from sandscale.core.ground.route.reckoned import NO_STRETCH, Reckoned, Stretch, laid_out
from sandscale.core.ground.route.sections import Change, Route, cross_sections
from sandscale.core.ground.route.typical import Ditch, RouteLayer, Strip, TypicalSection, side_of
from sandscale.core.ground.surface import Surface, surface
from sandscale.core.ground.survey import Survey, check
from sandscale.core.ground.trench.kind import Pipe, Reinstatement, Surround, TrenchKind
from sandscale.core.ground.trench.network import Network, network
from sandscale.core.ground.trench.node import Manhole, Node
from sandscale.core.ground.trench.run import Run
from sandscale.core.ground.trench.sides import Sides
from sandscale.formats import landxml, levels_csv

from ..cases.test_ground import square
from .test_formation import rolling

seeds = st.integers(0, 100_000)


def moved(points: np.ndarray, turn: float, by: tuple[float, float, float]) -> np.ndarray:
    """Points turned about the origin and moved."""
    matrix = np.array([[math.cos(turn), math.sin(turn)], [-math.sin(turn), math.cos(turn)]])
    return np.column_stack([points[:, :2] @ matrix + by[:2], points[:, 2] + by[2]])


def site(seed: int, number: int = 60) -> np.ndarray:
    """Levels by chance on 40 × 40 m, the corners among them."""
    chance = np.random.default_rng(seed)
    plan = np.concatenate([chance.uniform(0, 40, (number, 2)), [(0, 0), (40, 0), (40, 40), (0, 40)]])
    return np.column_stack([plan, 100 + chance.normal(0, 1, len(plan))])


def amounts(earth: CutFill) -> tuple[float, float]:
    return earth.cut, earth.fill


class AnyEarthwork(unittest.TestCase):
    @settings(max_examples=40, deadline=None)
    @given(seeds, st.floats(0, 6.3))
    def test_it_is_the_same_wherever_and_whichever_way_round_it_lies(self, seed: int, turn: float) -> None:
        one, other = site(seed), site(seed + 1)
        earth = cut_and_fill(surface(one), ToSurface(surface(other)))
        far = cut_and_fill(
            *(
                make(surface(moved(each, turn, (512_000.0, 5_401_000.0, -250.0))))
                for make, each in ((lambda s: s, one), (ToSurface, other))
            )
        )
        np.testing.assert_allclose(amounts(far), amounts(earth), rtol=1e-7)
        upside = cut_and_fill(surface(other), ToSurface(surface(one)))
        np.testing.assert_allclose(amounts(upside), amounts(earth)[::-1], rtol=1e-9)
        raised = cut_and_fill(surface(one), ToSurface(surface(other - np.array([0.0, 0.0, 20.0]))))
        self.assertEqual(raised.fill, 0)
        self.assertAlmostEqual(raised.cut, earth.net + 20 * 1600, places=6)

    @settings(max_examples=25, deadline=None)
    @given(seeds)
    def test_net_volumes_add_up_over_steps_and_parts(self, seed: int) -> None:
        first, second, third = (surface(site(seed + at)) for at in range(3))
        steps = cut_and_fill(first, ToSurface(second)).net + cut_and_fill(second, ToSurface(third)).net
        self.assertAlmostEqual(steps, cut_and_fill(first, ToSurface(third)).net, places=7)
        whole = cut_and_fill(first, ToSurface(second))
        ring = [(5, 7), (33, 3), (20, 18), (37, 31), (9, 35)]  # with an inner corner
        part, _ = whole.by_stage({"A": ring})
        alone = cut_and_fill(first, ToSurface(second, ring))
        np.testing.assert_allclose(amounts(part["A"]), amounts(alone), rtol=1e-9)
        np.testing.assert_allclose(np.add(amounts(part["A"]), amounts(part[""])), amounts(whole), rtol=1e-9)

    @settings(max_examples=12, deadline=None)
    @given(seeds, st.floats(0, 90))
    def test_grids_close_in_on_the_exact_volume_at_any_angle(self, seed: int, angle: float) -> None:
        earth = cut_and_fill(
            surface(site(seed, 20)), Plane(100.0, 0.01, -0.02, outline=[(3, 2), (38, 6), (30, 37), (6, 30)])
        )
        for method in (squares, rows):
            off = [
                abs(found.cut - earth.cut) + abs(found.fill - earth.fill)
                for found in (method(earth, spacing, angle=angle) for spacing in (4.0, 0.5))
            ]
            self.assertLess(
                off[1],
                max(0.3 * off[0], 0.004 * (earth.cut + earth.fill)),
                f"{method.__name__}: {off} of {amounts(earth)}",
            )

    @settings(max_examples=15, deadline=None)
    @given(seeds)
    def test_each_method_sums_its_blocks_and_covers_the_plan_once(self, seed: int) -> None:
        earth = cut_and_fill(
            rolling(seed), Platform(square(20, 14, 100.3, -9, -6), cut=Batter(1.5), fill=Batter(2))
        )
        exact, cells, lines, contours = side_by_side(earth, 1.7, 0.2, angle=seed % 90)
        self.assertAlmostEqual(float(cells.result.areas.sum()), earth.area, places=3)
        self.assertAlmostEqual(
            sum(abs(cells.result.block(at).value) for at in range(len(cells.result.areas))),
            cells.cut + cells.fill,
            places=6,
        )
        self.assertAlmostEqual(exact.result.table("cut").total, exact.cut, places=7)
        self.assertAlmostEqual(contours.result.cut_slices.areas[0], earth.cut_pieces.area, places=6)
        for row in lines.result.sections:
            known = np.isfinite(row.ground)
            self.assertEqual(known.tolist(), np.isfinite(row.offsets).tolist())

    @settings(max_examples=15, deadline=None)
    @given(seeds)
    def test_what_is_drawn_lies_where_it_is_reckoned(self, seed: int) -> None:
        earth = cut_and_fill(
            rolling(seed), Platform(square(20, 14, 100.3, -9, -6), cut=Batter(1.5), fill=Batter(2))
        )
        _, cells, lines, contours = (
            method.result for method in side_by_side(earth, 1.7, 0.2, angle=seed % 90)
        )
        for side, sign in ((contours.cut_slices, 1), (contours.fill_slices, -1)):
            self.assertEqual(len(side.lines), max(len(side.heights) - 1, 0))
            for height, drawn in zip(side.heights, side.lines, strict=False):
                self.assertTrue(drawn or height == 0, "a contour that encloses something is drawn")
                for ground, formation in (earth.levels_at(line) for line in drawn):
                    known = np.isfinite(ground)
                    self.assertGreater(known.mean(), 0.6)  # the ends may lie a hair outside
                    np.testing.assert_allclose(sign * (ground - formation)[known], height, atol=1e-4)
        for row in lines.sections:
            ground, formation = earth.levels_at(row.plan)
            np.testing.assert_array_equal([ground, formation], [row.ground, row.formation])
            steps = np.hypot(*np.diff(row.plan, axis=0).T)
            np.testing.assert_allclose(
                steps[np.isfinite(steps)], np.diff(row.offsets)[np.isfinite(steps)], atol=1e-9
            )
        for at in range(len(cells.areas)):
            block, centre = cells.block(at), shapely.point_on_surface(cells.outlines[at])
            upper, lower, area = (
                float(part.replace("\u00a0", "")) for part in re.findall(r"[\d.\u00a0]+", block.figures)
            )
            self.assertAlmostEqual((upper - lower) * area, block.value, delta=1e-3 * area + 0.01)
            self.assertEqual(block.name[:3] == "Cut", cells.volumes[at] >= 0)
            self.assertIn(f"at {centre.x:.2f}, {centre.y:.2f}", block.name)


class AnyNetwork(unittest.TestCase):
    def kind(self, seed: int) -> TrenchKind:
        chance = np.random.default_rng(seed)
        sides = [
            Sides(),
            Sides("battered", 0.5),
            Sides("benched", step_height=0.9, step_width=0.3),
            Sides("flared", 0.8, upright=1.2),
        ][seed % 4]
        pipe = Pipe("pipe", float(chance.choice([0.15, 0.3, 0.6])), 0.03)
        return TrenchKind(
            "kind",
            pipe,
            0.1,
            (Surround("bed", "springing"), Surround("cover", "crown", 0.2)),
            (Reinstatement("turf", 0.1, 0.05),),
            sides,
        )

    def made(self, seed: int, *, turned: bool) -> Network:
        chance = np.random.default_rng(seed)
        places = np.cumsum(chance.uniform(8, 30, (5, 2)), axis=0)
        ground = surface(
            np.column_stack([chance.uniform(-20, 200, (300, 2)), chance.uniform(99.5, 100.5, 300)])
        )
        inverts = np.sort(chance.uniform(95.5, 97.8, 5))[::-1]
        nodes = [
            Node(f"N{at}", float(x), float(y), manhole=Manhole(1.0) if at % 2 else None)
            for at, (x, y) in enumerate(places)
        ]
        kind = self.kind(seed)
        runs = [
            Run(f"N{at}", f"N{at + 1}", float(inverts[at]), float(inverts[at + 1]), kind) for at in range(4)
        ]
        if turned:
            runs = [
                replace(
                    run,
                    start=run.end,
                    end=run.start,
                    start_invert=run.end_invert,
                    end_invert=run.start_invert,
                )
                for run in reversed(runs)
            ]
        return network(nodes, runs, ground)

    @settings(max_examples=25, deadline=None)
    @given(seeds)
    def test_volumes_add_up_and_do_not_depend_on_the_way_a_run_is_written(self, seed: int) -> None:
        found, turned = self.made(seed, turned=False), self.made(seed, turned=True)
        self.assertEqual(set(found.volumes), set(turned.volumes))
        for name, volume in found.volumes.items():
            self.assertAlmostEqual(turned.volumes[name], volume, places=6, msg=name)
        overlaps = sum(
            2 * layer.overlap * layer.thickness * (run.chainages[-1] - run.chainages[0])
            for run in found.runs
            for layer in run.run.kind.reinstatements
        )
        put_in = sum(volume for name, volume in found.volumes.items() if name != "dug") - overlaps
        self.assertAlmostEqual(found.volumes["dug"], put_in, places=6)
        self.assertEqual(
            [f for f in turned.findings if "rises" not in f.says],
            [f for f in found.findings if "rises" not in f.says],
        )
        for run in found.runs:
            self.assertAlmostEqual(sum(band[2] for band in run.dug_bands), run.volumes["dug"], places=7)
            self.assertEqual(run.table("dug").total, run.volumes["dug"])


class AnyRoute(unittest.TestCase):
    def made(self, seed: int, step: float) -> tuple[Surface, Route, list]:
        chance = np.random.default_rng(seed)
        ground = surface(np.column_stack([chance.uniform(-60, 260, (400, 2)), chance.normal(100, 0.8, 400)]))
        side = (Strip("lane", float(chance.uniform(2, 4)), 0.025), Strip("verge", 1.0, 0.05))
        layers = (
            RouteLayer("top", 0.06, ("lane",)),
            RouteLayer("base", 0.2, ("lane",), float(chance.uniform(0, 0.4))),
            RouteLayer("soil", 0.15, ("verge",)),
        )
        ditch = Ditch(0.4, 0.3, 1.5, 1.5) if seed % 2 else None
        typical = TypicalSection(
            "road",
            side,
            side[:1] if seed % 3 else side,
            layers,
            Batter(1.0),
            Batter(1.5),
            ditch,
            0.1 * (seed % 4),
        )
        line = through([(20, 20), (110, 60), (180, 180)], [60])
        route = Route(
            line,
            LongSection(
                ((0, 100, 0), (line.end / 2, 100 + float(chance.uniform(-1, 1)), 30), (line.end, 100, 0))
            ),
            (Change(0, typical),),
        )
        sections, findings = cross_sections(route, ground, route.chainages(step))
        self.assertEqual(findings, ())
        return ground, route, sections

    @settings(max_examples=20, deadline=None)
    @given(seeds)
    def test_every_section_lies_on_its_ground_and_holds_its_layers(self, seed: int) -> None:
        ground, route, sections = self.made(seed, 15.0)
        for section in sections:
            left, right = section.daylight
            offsets = np.linspace(left, right, 4001)
            places = route.centreline.offset_places(np.full(4001, section.chainage), offsets)
            levels = ground.levels_at(places) - section.topsoil
            # Steps of the formation are upright: between its corners it is straight.
            formed = np.interp(
                offsets,
                section.formation[:, 0] + np.arange(len(section.formation)) * 1e-12,
                section.formation[:, 1],
            )
            over = levels - formed
            width = right - left
            self.assertAlmostEqual(
                section.areas["cut"], float(np.maximum(over, 0).mean() * width), delta=2e-3 * width
            )
            # A cutting's bank above the stripped ground went with the strip: it is no fill.
            typical = route.changes[0].typical
            filled = np.maximum(-over, 0)
            for strips, mirror, end in ((typical.left, -1, 0), (typical.right, 1, -1)):
                x, z = side_of(strips, typical.layers).edge
                if section.formation[end, 1] > section.level + z:
                    filled = np.where(mirror * offsets > x, 0, filled)
            self.assertAlmostEqual(section.areas["fill"], float(filled.mean() * width), delta=2e-3 * width)
            for end in (0, -1):
                self.assertAlmostEqual(
                    float(levels[end]) + section.topsoil, section.formation[end, 1], places=6
                )
            for name, outlines in section.layers.items():
                drawn = sum(
                    abs(
                        sum(
                            a[0] * b[1] - b[0] * a[1] for a, b in zip(part, [*part[1:], part[0]], strict=True)
                        )
                    )
                    / 2
                    for part in outlines
                )
                self.assertAlmostEqual(drawn, section.areas[name], places=9, msg=name)

    @settings(max_examples=8, deadline=None)
    @given(seeds)
    def test_closer_sections_settle_and_stretches_add_up(self, seed: int) -> None:
        found = [of_sections(self.made(seed, step)[2]) for step in (8.0, 2.0, 1.0)]
        whole = found[2].totals["cut"] + found[2].totals["fill"]
        off = [
            abs(each.totals["cut"] - found[2].totals["cut"])
            + abs(each.totals["fill"] - found[2].totals["fill"])
            for each in found[:2]
        ]
        self.assertLess(off[1], 0.01 * whole)
        end = float(found[0].chainages[-1])
        marks = [0.0, *np.sort(np.random.default_rng(seed).uniform(0, end, 4)).tolist(), end]
        stretches, findings = laid_out([Stretch(f"{a}", a, b) for a, b in pairwise(marks)], 0.0, end)
        self.assertEqual(findings, ())
        made = Reckoned(found[0].broken(marks), (), stretches)
        for name, total in found[0].totals.items():
            parts = made.by_stretch([made.quantities.volume(name)])
            self.assertNotIn(NO_STRETCH, dict(parts))
            # What a stretch's ends cut apart on a curve differs by the product of two straight laws there.
            self.assertAlmostEqual(sum(v for _, v in parts), total, delta=2e-3 * max(1.0, total), msg=name)


class AnyCentreline(unittest.TestCase):
    @settings(max_examples=40, deadline=None)
    @given(seeds)
    def test_it_runs_on_without_a_break_and_comes_back_from_its_file(self, seed: int) -> None:
        chance = np.random.default_rng(seed)
        corners = np.cumsum(chance.uniform(-1, 1, (5, 2)) * 20 + [120, 0], axis=0)
        line = through(
            corners.tolist(), chance.uniform(30, 90, 3).tolist(), begin=float(chance.integers(0, 1000))
        )
        along = np.linspace(line.begin, line.end, 2000)
        places, directions, curvatures = line.at(along)
        step = np.hypot(*np.diff(places, axis=0).T)
        np.testing.assert_allclose(step, along[1] - along[0], rtol=2e-4)
        turned = np.diff(np.unwrap(directions)) / np.diff(along)
        inner = np.flatnonzero(np.diff(np.searchsorted(line.changes, along)) == 0)  # steps within one element
        np.testing.assert_allclose(turned[inner], curvatures[inner], atol=1e-9)
        again = (
            landxml.read_landxml(landxml.write_landxml(alignments={"a": landxml.Alignment(line)}), "a.xml")
            .alignments["a"]
            .centreline
        )
        np.testing.assert_allclose(again.at(along)[0], places, atol=1e-6)

    @settings(max_examples=60, deadline=None)
    @given(st.floats(-math.pi, math.pi), st.floats(20, 300), st.floats(-0.05, 0.05), st.floats(-0.05, 0.05))
    def test_a_transition_of_any_kind_comes_back_from_its_file(
        self, direction: float, length: float, first: float, last: float
    ) -> None:
        """Into a curve, out of one, from one to another the same or the other way round, even turning right round."""
        line = Centreline((Element((500, 300), direction, length, first, last),))
        again = (
            landxml.read_landxml(landxml.write_landxml(alignments={"a": landxml.Alignment(line)}), "a.xml")
            .alignments["a"]
            .centreline
        )
        along = np.linspace(0, length, 50)
        np.testing.assert_allclose(again.at(along)[0], line.at(along)[0], atol=1e-5)
        np.testing.assert_allclose(again.at(along)[2], line.at(along)[2], atol=1e-9)


class AnyFile(unittest.TestCase):
    @settings(max_examples=60, deadline=None)
    @given(
        seeds,
        st.permutations(["E", "N", "Z", "code"]),
        st.sampled_from([";", "\t", "|", ","]),
        st.booleans(),
        st.booleans(),
    )
    def test_levels_in_any_columns_are_read_alike(
        self, seed: int, order: list[str], separator: str, header: bool, comma: bool
    ) -> None:
        chance = np.random.default_rng(seed)
        points = np.round(
            np.column_stack([chance.uniform(1e5, 9e5, (12, 2)), chance.uniform(-5, 900, 12)]), 3
        )
        comma = comma and separator != ","
        names = order if header else ["E", "N", "Z", "code"]  # without a header the order is the usual one
        out = io.StringIO()
        writer = csv.writer(out, delimiter=separator)
        if header:
            writer.writerow(
                {"E": "Easting", "N": "Northing [m]", "Z": "Level", "code": "Code"}[name] for name in names
            )
        for east, north, level in points:
            cells = {"E": f"{east:.3f}", "N": f"{north:.3f}", "Z": f"{level:.3f}", "code": "kerb"}
            writer.writerow(
                cells[name].replace(".", ",") if comma and name != "code" else cells[name] for name in names
            )
        survey, findings = levels_csv.read_levels(out.getvalue().encode(), "any.csv")
        np.testing.assert_allclose(survey.points, points, rtol=0, atol=1e-9)
        self.assertEqual((set(survey.codes), findings), ({"kerb"}, ()))

    @settings(max_examples=30, deadline=None)
    @given(seeds)
    def test_spikes_are_found_on_any_slope_and_good_levels_left_alone(self, seed: int) -> None:
        chance = np.random.default_rng(seed)
        plan = chance.uniform(0, 100, (800, 2))
        level = (
            50
            + plan @ chance.uniform(-0.4, 0.4, 2)
            + 2 * np.sin(plan[:, 0] / 25)
            + chance.normal(0, 0.02, 800)
        )
        spikes = np.sort(chance.choice(800, 6, replace=False))
        level[spikes] += chance.choice([-1, 1], 6) * chance.uniform(2, 9, 6)
        found = {
            doubt.kind: set(doubt.which.tolist())
            for doubt in check(Survey(np.column_stack([plan, level]))).doubts
        }
        self.assertEqual(set(found), {"spike"})
        inner = {int(at) for at in spikes if plan[at].min() > 3 and plan[at].max() < 97}
        self.assertLessEqual(inner, found["spike"])
        self.assertLessEqual(len(found["spike"] - set(spikes.tolist())), 2)


if __name__ == "__main__":
    unittest.main()
