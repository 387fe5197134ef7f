"""Trenches: sections by hand, runs that agree with the same shape as surfaces, and networks that add up."""

from __future__ import annotations

import math
import unittest
from dataclasses import replace

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from sandscale.core.ground.cut_and_fill import cut_and_fill
from sandscale.core.ground.formation import ToSurface
from sandscale.core.ground.haulage import Soil
from sandscale.core.ground.surface import surface
from sandscale.core.ground.trench.kind import Material, Pipe, Reinstatement, Surround, TrenchKind
from sandscale.core.ground.trench.network import Network, network
from sandscale.core.ground.trench.node import Manhole, Node
from sandscale.core.ground.trench.run import Run
from sandscale.core.ground.trench.sides import EN_1610, Sides
from sandscale.core.refusals import BadEntry

PIPE = Pipe("DN 250", 0.25, 0.02)
SEWER = TrenchKind(
    "sewer",
    PIPE,
    bed=0.15,
    surrounds=(Surround("bed", "underside", material=Material(1.9, 5)), Surround("surround", "crown", 0.15)),
    reinstatements=(Reinstatement("topsoil", 0.2, 0.1),),
)


def single(
    kind: TrenchKind, first: float, last: float, length: float = 50.0, start: Manhole | None = None
) -> Network:
    """One run with its bottom level at 0 and depths at both ends."""
    nodes = [Node("A", 0, 0, first, start), Node("B", length, 0, last)]
    return network(nodes, [Run("A", "B", kind.below_invert, kind.below_invert, kind)])


class ByHand(unittest.TestCase):
    def test_widths_of_the_standard(self) -> None:
        by_size = [
            (0.15, 0.16, 0.9, 0.56),
            (0.225, 0.25, 0.9, 0.65),
            (0.30, 0.36, 0.9, 0.86),
            (0.60, 0.76, 5.0, 1.46),
            (1.2, 1.4, 3.0, 2.25),
            (1.4, 1.6, 3, 2.6),
        ]
        by_depth = [
            (0.25, 0.29, 0.99, 0.79),
            (0.25, 0.29, 1.0, 0.80),
            (0.25, 0.29, 1.75, 0.80),
            (0.25, 0.29, 1.76, 0.90),
            (0.1, 0.11, 4, 0.9),
            (0.1, 0.11, 4.1, 1),
        ]
        for bore, outside, depth, width in by_size + by_depth:
            self.assertAlmostEqual(EN_1610.width(bore, outside, depth), width, msg=f"{bore} at {depth}")

    def test_a_sewer_of_constant_depth(self) -> None:
        run = single(SEWER, 2.0, 2.0).runs[0]
        circle = math.pi / 4 * 0.29**2
        expected = {
            "dug": 0.9 * 2.0 * 50,
            "bed": 0.9 * 0.15 * 50,
            "surround": (0.9 * (0.29 + 0.15) - circle) * 50,
            "pipe": circle * 50,
            "backfill": 0.9 * (2.0 - 0.2 - 0.59) * 50,
            "topsoil": (0.9 + 0.2) * 0.2 * 50,
        }
        self.assertEqual(set(run.volumes), set(expected))
        for name, volume in expected.items():
            self.assertAlmostEqual(run.volumes[name], volume, places=9, msg=name)
        self.assertAlmostEqual(run.surface_area(SEWER.reinstatements[0]), 1.1 * 50)
        self.assertEqual(
            [(low, high, round(band, 9)) for low, high, band in run.dug_bands], [(0, 1, 45), (1, 2, 45)]
        )
        self.assertEqual(run.length_bands, [(1.0, 2.0, 50.0)])

    def test_haunch_to_the_springing_takes_half_the_pipe(self) -> None:
        kind = replace(SEWER, surrounds=(Surround("haunch", "springing"),), reinstatements=())
        run = single(kind, 2.0, 2.0).runs[0]
        self.assertAlmostEqual(
            run.volumes["haunch"], (0.9 * (0.15 + 0.145) - math.pi / 8 * 0.29**2) * 50, places=9
        )
        self.assertAlmostEqual(
            run.volumes["backfill"], (0.9 * (2 - 0.295) - math.pi / 8 * 0.29**2) * 50, places=9
        )

    def test_a_layer_over_another_takes_only_its_own_part_of_the_pipe(self) -> None:
        layers = (
            Surround("haunch", "springing"),
            Surround("cover", "crown", 0.15),
            Surround("fill", "crown", 0.45),
        )
        kind = replace(
            SEWER,
            surrounds=layers,
            reinstatements=(Reinstatement("turf", 0.1), Reinstatement("topsoil", 0.2)),
            sides=Sides("battered", 1.0),
        )
        volumes, half_pipe = single(kind, 2.0, 2.0, 1.0).runs[0].volumes, math.pi / 8 * 0.29**2

        def up_to(height: float) -> float:
            return 0.9 * height + height**2

        self.assertAlmostEqual(volumes["haunch"], up_to(0.295) - half_pipe, places=9)
        self.assertAlmostEqual(volumes["cover"], up_to(0.59) - up_to(0.295) - half_pipe, places=9)
        self.assertAlmostEqual(volumes["fill"], up_to(0.89) - up_to(0.59), places=9)
        self.assertAlmostEqual(volumes["backfill"], up_to(1.7) - up_to(0.89), places=9)
        self.assertAlmostEqual(volumes["topsoil"], up_to(1.9) - up_to(1.7), places=9)
        self.assertAlmostEqual(volumes["turf"], up_to(2.0) - up_to(1.9), places=9)

    def test_a_network_across_a_slope(self) -> None:
        """Two runs of 50 m (3-4-5) meet a rectangular chamber from below and from above, the ground rising 1 in 20 to the east."""
        ground = surface(np.array([(x, y, 10 + x / 20) for x in (-50.0, 90) for y in (-50.0, 90)]))
        chamber = Manhole(1.0, 0.8, wall=0.2, base=0.25, working_space=0.4)
        nodes = [Node("A", 0, 0), Node("B", 30, 40, manhole=chamber), Node("C", 60, 80)]
        found = network(nodes, [Run("A", "B", 8.0, 8.5, SEWER), Run("B", "C", 8.7, 9.2, SEWER)], ground)
        lower, upper = found.runs
        self.assertEqual(found.findings[0].says, "Run A–B rises by 0.500 m from A to B.")
        # Upright: area of the long section × width, up to the chamber's pit 1.1 m from its middle. The ground falls to A by 3 in 100.
        reach, floor = 50 - 1.1, 0.17
        mean_depth = (10 + 0.03 * reach / 2) - (8 + 0.01 * reach / 2) + floor
        self.assertAlmostEqual(lower.volumes["dug"], 0.9 * mean_depth * reach, places=9)
        self.assertAlmostEqual(lower.pipe_length, 49.5)
        mean_depth = (11.5 + 0.03 * (50 + 1.1) / 2) - (8.7 + 0.01 * (50 + 1.1) / 2) + floor
        self.assertAlmostEqual(upper.volumes["dug"], 0.9 * mean_depth * reach, places=9)
        (pit,) = found.pits
        depth = 11.5 - 8.5 + 0.25  # to the lower of the two inverts
        self.assertAlmostEqual(pit.dug, (1.0 + 1.2) * (0.8 + 1.2) * depth)
        self.assertAlmostEqual(pit.manhole, 1.4 * 1.2 * depth)
        self.assertAlmostEqual(pit.pipes, 2 * math.pi / 4 * 0.29**2 * 0.4)
        self.assertAlmostEqual(pit.restored["topsoil"], (2.2 * 2.0 - 1.4 * 1.2) * 0.2)
        working = pit.working()
        self.assertEqual(working.expression, "dug − manhole − pipes − topsoil")
        self.assertEqual([part.figures for part in working.parts[:2]], ["4.40 × 3.25", "1.68 × 3.25"])
        self.assertAlmostEqual(
            working.parts[0].value - sum(part.value for part in working.parts[1:]), working.value
        )
        self.assertAlmostEqual(
            found.tonnes["topsoil"],
            1.8 * (lower.volumes["topsoil"] + upper.volumes["topsoil"] + pit.restored["topsoil"]),
        )

    def test_a_section_is_drawn_as_it_is_reckoned(self) -> None:
        run = single(replace(SEWER, sides=Sides("battered", 0.5)), 2.0, 3.0).runs[0]
        drawn = run.section(20.0)
        circle = np.array(drawn["pipe"])
        np.testing.assert_allclose(circle[0], circle[-1], atol=1e-12)
        np.testing.assert_allclose(np.hypot(circle[:, 0], circle[:, 1] - (0.15 + 0.145)), 0.145)
        self.assertEqual((circle[:, 0].max(), circle[:, 0].min()), (0.145, -0.145))
        for name, height in (("bed", 0.15), ("surround", 0.59), ("backfill", 2.4 - 0.2), ("topsoil", 2.4)):
            half = 0.45 + 0.5 * height
            np.testing.assert_allclose(
                drawn[name], [(-half, height), (half, height)], atol=1e-6, err_msg=name
            )

    def test_sides(self) -> None:
        for sides, area in [
            (Sides(), 1.0 * 3),
            (Sides("battered", 0.5), (1 + 1.5) * 3),
            (Sides("benched", step_height=1.2, step_width=0.4), 1.2 * 1.0 + 1.2 * 1.8 + 0.6 * 2.6),
            (
                Sides("benched", step_height=1.5, step_width=0.4),
                1.5 * 1.0 + 1.5 * 1.8,
            ),  # the second bench is where the ground is
            (Sides("flared", 1.0, upright=1.0), 1.0 + 2 * (1 + 5) / 2),
            (Sides("flared", 1.0), (1 + 7) / 2 * 3),
            (Sides("flared", 1.0, upright=3.5), 1.0 * 3),
        ]:
            kind = TrenchKind("plain", width=1.0, sides=sides)
            self.assertAlmostEqual(
                single(kind, 3, 3, 10).runs[0].volumes["dug"], area * 10, places=9, msg=sides.kind
            )
            outline = np.array(sides.outline(1.0, 3.0))
            x, y = outline.T
            shoelace = abs(np.sum(x * np.roll(y, -1) - y * np.roll(x, -1))) / 2
            self.assertAlmostEqual(shoelace, area, places=4, msg=f"{sides.kind} drawn")

    def test_manhole_pit_and_what_is_taken_off(self) -> None:
        hole = Manhole(1.2, wall=0.15, base=0.2, working_space=0.5)
        found = single(SEWER, 2.0, 2.0, start=hole)
        (pit,) = found.pits
        depth = 2.0 - 0.17 + 0.2  # the invert lies 0.17 above the trench bottom
        self.assertAlmostEqual(pit.dug, 2.5**2 * depth)
        self.assertAlmostEqual(pit.manhole, math.pi / 4 * 1.5**2 * depth)
        self.assertAlmostEqual(pit.restored["topsoil"], (2.5**2 - math.pi / 4 * 1.5**2) * 0.2)
        self.assertAlmostEqual(
            pit.backfill, pit.dug - pit.manhole - math.pi / 4 * 0.29**2 * 0.5 - pit.restored["topsoil"]
        )
        self.assertEqual(pit.working().value, pit.backfill)
        run = found.runs[0]
        self.assertAlmostEqual(run.volumes["dug"], 0.9 * 2 * (50 - 1.25))
        self.assertAlmostEqual(run.pipe_length, 50 - 0.6)
        self.assertAlmostEqual(found.volumes["dug"], run.volumes["dug"] + pit.dug)
        self.assertAlmostEqual(found.tonnes["bed"], run.volumes["bed"] * 1.9 * 1.05)
        surplus = found.surplus(Soil(1.3, 1.0, 10))
        self.assertAlmostEqual(surplus.exported, found.volumes["dug"] - found.volumes["backfill"])

    def test_working_goes_down_to_one_span(self) -> None:
        run = single(SEWER, 2.0, 3.0).runs[0]
        working = run.working("dug")
        self.assertEqual(working.parts[-1].figures, "50.00 / 6 × (1.800 + 4 × 2.250 + 2.700)")
        self.assertAlmostEqual(sum(part.value for part in working.parts), run.volumes["dug"])
        self.assertAlmostEqual(run.table("surround").total, run.volumes["surround"])
        drawn = run.long_section
        self.assertEqual(
            [name for name, line in drawn.items() if len(line) == len(run.chainages)],
            ["ground", "bottom", "invert", "crown"],
        )
        self.assertEqual((drawn["ground"][-1].tolist(), drawn["bottom"][-1].tolist()), ([50, 3], [50, 0]))
        self.assertAlmostEqual(drawn["crown"][0, 1], 0.17 + 0.25)
        section = run.section(25)
        self.assertAlmostEqual(section["topsoil"][0][1], 2.5)
        self.assertAlmostEqual(max(y for _, y in section["pipe"]), 0.15 + 0.29)
        with self.assertRaises(BadEntry):
            run.section(51)


class AnyTrench(unittest.TestCase):
    @settings(max_examples=60, deadline=None)
    @given(
        st.sampled_from(
            [
                Sides(),
                Sides("battered", 0.75),
                Sides("benched", step_height=0.8, step_width=0.5),
                Sides("flared", 1.0, upright=1.1),
            ]
        ),
        st.floats(1.2, 5),
        st.floats(1.2, 5),
        st.booleans(),
    )
    def test_what_is_dug_is_what_is_put_in(self, sides: Sides, first: float, last: float, pipe: bool) -> None:
        kind = (
            replace(SEWER, sides=sides)
            if pipe
            else TrenchKind("plain", width=1.0, sides=sides, reinstatements=(Reinstatement("turf", 0.15),))
        )
        run = single(kind, first, last).runs[0]
        overlaps = sum(2 * layer.overlap * layer.thickness * 50 for layer in kind.reinstatements)
        put_in = sum(volume for name, volume in run.volumes.items() if name != "dug") - overlaps
        self.assertAlmostEqual(run.volumes["dug"], put_in, places=7)
        self.assertAlmostEqual(sum(band[2] for band in run.dug_bands), run.volumes["dug"], places=7)
        self.assertAlmostEqual(sum(band[2] for band in run.length_bands), 50, places=7)
        # Against many thin slices.
        depths = np.linspace(first, last, 20_001)
        for name, areas in kind.areas(run.bottom, (depths[:-1] + depths[1:]) / 2).items():
            self.assertAlmostEqual(run.volumes[name], float(areas.mean() * 50), delta=2e-3, msg=name)

    def test_the_same_trench_as_two_surfaces(self) -> None:
        """A battered trench along a ground that rises and falls, as a network and as cut and fill between surfaces."""
        chainages, levels = np.array([0.0, 15, 32, 60]), np.array([3.0, 2.2, 3.6, 2.5])
        ground = surface(
            np.array([(x, y, z) for x, z in zip(chainages, levels, strict=True) for y in (-10, 10)])
        )
        kind = TrenchKind("plain", width=1.2, sides=Sides("battered", 0.6))
        found = network([Node("A", 0, 0), Node("B", 60, 0)], [Run("A", "B", 0.2, -0.4, kind)], ground)
        shape = [
            (x, y, 0.2 - x / 100 + max(abs(y) - 0.6, 0) / 0.6) for x in (0, 60) for y in (-8, -0.6, 0.6, 8)
        ]
        trench = surface(np.array(shape), [[shape[at], shape[at + 4]] for at in range(4)])
        earth = cut_and_fill(ground, ToSurface(trench))
        self.assertAlmostEqual(found.volumes["dug"], earth.cut, places=8)
        bands = [band[2] for band in found.runs[0].dug_bands]
        self.assertEqual(len(bands), 3)
        self.assertAlmostEqual(sum(bands), earth.cut, places=8)


class Told(unittest.TestCase):
    def says(self, found: Network) -> list[str]:
        return [finding.says for finding in found.findings]

    def test_what_looks_wrong_is_told(self) -> None:
        self.assertIn("comes out of the ground at 0.00", self.says(single(SEWER, -0.1, 2))[0])
        self.assertIn("too shallow at 0.00 for all its layers (0.79 m)", self.says(single(SEWER, 0.6, 2))[0])
        uphill = network([Node("A", 0, 0, 3), Node("B", 9, 0, 3)], [Run("A", "B", 1, 1.5, SEWER)])
        self.assertEqual(self.says(uphill), ["Run A–B rises by 0.500 m from A to B."])
        alone = network(
            [Node("A", 0, 0, 3), Node("B", 9, 0, 3), Node("C", 5, 5, 3, Manhole(1))],
            [Run("A", "B", 1, 1, SEWER)],
        )
        self.assertEqual(
            self.says(alone), ["No run meets manhole C, so its depth is not known; it is not counted."]
        )
        hole = surface(
            np.array([(-5.0, -5, 3), (30, -5, 3), (30, 5, 3), (-5, 5, 3)]),
            holes=[[(8, -1), (12, -1), (12, 1), (8, 1)]],
        )
        gap = network([Node("A", 0, 0), Node("B", 20, 0)], [Run("A", "B", 1, 1, SEWER)], hole)
        self.assertEqual(len(gap.findings), 1)
        self.assertAlmostEqual(gap.runs[0].volumes["dug"], 0.9 * 2.17 * 20)

    def test_a_shallow_trench_is_never_filled_with_more_than_it_holds(self) -> None:
        run = single(SEWER, 0.3, 1.0).runs[0]
        put_in = sum(volume for name, volume in run.volumes.items() if name != "dug") - 2 * 0.1 * 0.2 * 50
        self.assertAlmostEqual(put_in, run.volumes["dug"], places=7)
        self.assertTrue(all(volume >= -1e-9 for volume in run.volumes.values()))

    def test_what_cannot_be_is_refused(self) -> None:
        a, b = Node("A", 0, 0, 3), Node("B", 9, 0, 3)
        cases = [
            (([a, b], [Run("A", "X", 1, 1, SEWER)]), "names node X"),
            (([a, replace(b, x=0)], [Run("A", "B", 1, 1, SEWER)]), "nothing is left of it"),
            (([a, replace(b, ground=None)], [Run("A", "B", 1, 1, SEWER)]), "is not known"),
            (([a, a], []), "one name"),
            (([a, b], [Run("A", "B", math.nan, 1, SEWER)]), "is missing"),
            (([a, b], [Run("A", "B", 1, 1, SEWER, ground=[(12, 3)])]), "beyond its 9.00 m"),
        ]
        for (nodes, runs), says in cases:
            if "one name" in says:
                with self.assertRaisesRegex(BadEntry, says):
                    network(nodes, runs)
                continue
            net = network(nodes, runs)
            self.assertRegex(net.findings[-1].says, says)
            self.assertTrue(net.findings[-1].wrong and not net.runs)
        for make in (
            lambda: TrenchKind("x"),
            lambda: replace(SEWER, bed=-1),
            lambda: replace(SEWER, surrounds=(Surround("a", "crown"), Surround("b", "underside"))),
            lambda: replace(SEWER, surrounds=(Surround("backfill", "crown"),)),
            lambda: Sides("benched"),
            lambda: Sides(batter=-1),
            lambda: Sides(batter=math.nan),
            lambda: Manhole(0),
            lambda: Manhole(1, wall=-0.1),
        ):
            with self.assertRaises(BadEntry):
                make()


if __name__ == "__main__":
    unittest.main()
