"""The arithmetic that is told of ground works is the arithmetic: what stands in a working comes to its value, part by part."""

from __future__ import annotations

import unittest
from collections.abc import Iterator

import numpy as np

from sandscale.core.ground.areas import RULES
from sandscale.core.ground.classes import Layer, dig
from sandscale.core.ground.cut_and_fill import CutFill, cut_and_fill
from sandscale.core.ground.formation import Batter, Plane, Platform
from sandscale.core.ground.haulage import Soil, balance_level, haulage
from sandscale.core.ground.methods import side_by_side
from sandscale.core.ground.route.centreline import LongSection, through
from sandscale.core.ground.route.quantities import of_sections
from sandscale.core.ground.route.sections import Change, Route, Section, cross_sections
from sandscale.core.ground.trench.kind import Material, Pipe, Reinstatement, Surround, TrenchKind
from sandscale.core.ground.trench.network import network
from sandscale.core.ground.trench.node import Manhole, Node
from sandscale.core.ground.trench.run import Run
from sandscale.core.ground.trench.sides import Sides
from sandscale.core.numbers.working import Working
from tests.arithmetic import holds
from tests.cases.test_ground import square
from tests.cases.test_route import ROAD
from tests.core.test_formation import rolling


def told(working: Working) -> Iterator[Working]:
    yield working
    for part in working.parts:
        yield from told(part)


class Told(unittest.TestCase):
    def holds(self, working: Working, least: int = 1) -> None:
        """Each line of arithmetic comes to its value, to the digits it is told with; and at least so many are told."""
        number = sum(
            holds(self, each.name, each.figures, float(each.value))
            for each in told(working)
            if each.figures and each.unit != "nr"
        )
        self.assertGreaterEqual(number, least, working.name)

    def sums(self, working: Working) -> None:
        self.assertAlmostEqual(
            sum(float(part.value) for part in working.parts), float(working.value), places=6, msg=working.name
        )

    def site(self) -> CutFill:
        return cut_and_fill(
            rolling(7), Platform(square(24, 16, 101.4, -10, -8), cut=Batter(1.5), fill=Batter(2))
        )

    def test_prisms_squares_sections_and_slices(self) -> None:
        earth = self.site()
        for rule in RULES:
            exact, cells, lines, contours = (
                method.result for method in side_by_side(earth, 4.0, 0.25, rule, 15)
            )
            for at in range(0, len(earth.cut_pieces), 17):
                self.holds(exact.block("cut", at), 2)
            for at in range(0, len(earth.fill_pieces), 17):
                self.holds(exact.block("fill", at), 2)
            for at in range(0, len(cells.areas), 5):
                self.holds(cells.block(at))
            for volume in (
                lines.cut_volume,
                lines.fill_volume,
                contours.cut_slices.slices,
                contours.fill_slices.slices,
            ):
                self.holds(volume.working("Volume"))
                self.sums(volume.working("Volume"))
            for row in lines.sections[1:-1]:
                for below in (False, True):
                    if (row.area.below if below else row.area.above) > 0.05:
                        self.holds(row.area.working("Row", below=below))
                        self.sums(row.area.working("Row", below=below))

    def test_classes_haulage_and_the_level_that_balances(self) -> None:
        earth = self.site()
        layers = [
            Layer("topsoil", 0.2),
            Layer("made ground", 0.4, taken="dug"),
            Layer("peat", 0.3, outline=square(8, 8, 0, -4, -4), taken="below formation"),
        ]
        dug = dig(earth, layers)
        for name in dug.classes:
            for at in range(0, len(dug.table(name).rows), 29):
                self.holds(dug.block(name, at))
        self.holds(dug.working())
        self.sums(dug.working())
        for lorry in (0.0, 9.0):
            for step in haulage(
                earth.cut, earth.fill, Soil(1.3, 0.9, lorry), unsuitable=min(20.0, earth.cut)
            ).working:
                self.holds(step, 0)
        ground = rolling(7)
        found = balance_level(
            lambda level: cut_and_fill(
                ground, Plane(level, outline=[c[:2] for c in square(24, 16, 0, -10, -8)])
            ),
            95,
            105,
            0.9,
        )
        cut, made = found.working.figures.split(";")[0].split(" = ")
        self.assertTrue(holds(self, "cut × compacted", cut, float(made.replace("\u00a0", ""))))
        self.assertAlmostEqual(float(found.working.value), found.level)

    def test_trenches_and_the_pits_of_manholes(self) -> None:
        kind = TrenchKind(
            "sewer", Pipe("DN 300", 0.3, 0.03), 0.1, (Surround("bed", "springing", material=Material(1.9)), Surround("cover", "crown", 0.2)),
            (Reinstatement("binder", 0.06), Reinstatement("base", 0.25, 0.1)), Sides("benched", step_height=1.0, step_width=0.4),
        )  # fmt: skip
        nodes = [
            Node("M1", 0, 0, 102.5, Manhole(1.2)),
            Node("M2", 40, 30, 103.4, Manhole(1.0, 0.8)),
            Node("M3", 90, 30, 102.2),
        ]
        runs = [Run("M1", "M2", 100.0, 100.4, kind, [(20, 102.1)]), Run("M2", "M3", 100.4, 100.9, kind)]
        found = network(nodes, runs)
        for run in found.runs:
            for name in run.volumes:
                working = run.working(name)
                self.holds(working, 1 if run.volumes[name] else 0)
                self.sums(working)
                self.assertAlmostEqual(float(working.value), run.volumes[name])
        for pit in found.pits:
            self.holds(pit.working(), 2)

    def test_layers_cut_and_volumes_of_a_road_in_a_curve(self) -> None:
        line = through([(-50, 0), (0, 0), (45, 30)], [60])
        route = Route(
            line, LongSection(((0, 99.6, 0), (50, 100.4, 20), (line.end, 100.1, 0))), (Change(0, ROAD),)
        )
        made: list[Section] = cross_sections(route, rolling(7), route.chainages(10))[0]
        self.assertGreater(len(made), 8)
        for section in made:
            for name, area in section.areas.items():
                working = section.working(name)
                self.assertAlmostEqual(float(working.value), area, msg=name)
                self.holds(working, 0)
        for rule in RULES:
            quantities = of_sections(made, rule)
            curved = 0
            for name in quantities.names:
                working = quantities.volume(name).working(name)
                self.holds(working)
                self.sums(working)
                curved += sum("1 + e / R" in part.expression for part in working.parts)
            self.assertGreater(curved, 4)
        self.assertTrue(np.isfinite(list(of_sections(made).totals.values())).all())


if __name__ == "__main__":
    unittest.main()
