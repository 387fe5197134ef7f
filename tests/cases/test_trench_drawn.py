"""What is drawn of a trench has the area that is reckoned; kinds as people write them; runs against thin slices."""

from __future__ import annotations

import math
import random
import unittest

import numpy as np
import shapely

from sandscale.core.ground.haulage import Soil
from sandscale.core.ground.trench.document import kind_of, read_kind, read_source, told
from sandscale.core.ground.trench.drawn import parts_of, rings_of
from sandscale.core.ground.trench.kind import (
    DUG,
    PIPE,
    Material,
    Pipe,
    Reinstatement,
    Surround,
    TrenchKind,
)
from sandscale.core.ground.trench.network import network
from sandscale.core.ground.trench.node import Manhole, Node
from sandscale.core.ground.trench.run import Run
from sandscale.core.ground.trench.sides import Sides
from sandscale.core.measurers.trench import Asked, layers_of, lines_of, run_working, slug
from sandscale.core.numbers.systems import METRIC, SYSTEMS
from sandscale.core.refusals import BadEntry, BadFormula

SIDES = (
    Sides(), Sides("battered", 0.5), Sides("benched", step_height=0.6, step_width=0.3), Sides("flared", 0.75, upright=0.8),
)  # fmt: skip


def any_kind(dice: random.Random, name: str = "Any") -> TrenchKind:
    """A kind by chance: with a pipe or without, layers that rise, courses on top."""
    pipe = Pipe("DN", dice.uniform(0.1, 0.6), dice.uniform(0, 0.05)) if dice.random() < 0.8 else None
    bed = dice.uniform(0, 0.3)
    layers = [
        Surround("bed", "underside", dice.uniform(-min(bed, 0.05), 0), Material(1.8, dice.uniform(0, 20)))
    ]
    if pipe:
        layers.append(Surround("haunch", "springing", dice.uniform(0, 0.05), Material(2.0)))
        layers.append(Surround("cover", "crown", dice.uniform(0.05, 0.4), Material(1.7, 10)))
    courses = [
        Reinstatement("topsoil", dice.uniform(0.05, 0.3)),
        Reinstatement("subsoil", dice.uniform(0, 0.2)),
    ]
    return TrenchKind(
        name, pipe, bed, layers, courses[: dice.randrange(3)], dice.choice(SIDES), dice.uniform(0.7, 1.5),
    )  # fmt: skip


class Drawn(unittest.TestCase):
    def test_every_part_has_the_area_that_volumes_are_of_and_lies_where_it_should(self) -> None:
        dice = random.Random(8)
        for trial in range(120):
            kind, depth = any_kind(dice), dice.uniform(0.2, 4.0)
            with self.subTest(trial=trial, kind=kind, depth=depth):
                bottom = kind.bottom(depth)
                parts = parts_of(kind, bottom, depth)
                law = {name: float(area[0]) for name, area in kind.areas(bottom, np.array([depth])).items()}
                whole = next(part for part in parts if part.name == DUG)
                for part in parts:
                    # A circle of 64 corners is a little less than round.
                    self.assertAlmostEqual(part.region.area, law[part.name], delta=0.004, msg=part.name)
                    self.assertEqual(part.area, law[part.name])
                    if part.name != DUG:
                        self.assertLess(shapely.difference(part.region, whole.region.buffer(1e-6)).area, 1e-5)
                put_in = sum(part.area for part in parts if part.name != DUG) + law[PIPE]
                self.assertAlmostEqual(put_in, law[DUG], places=9)
                laid = [part.region for part in parts if part.name != DUG and not part.region.is_empty]
                together = shapely.union_all(laid).area
                self.assertAlmostEqual(together, sum(region.area for region in laid), places=6)
                self.assertTrue(all(len(ring) >= 4 for part in parts for ring in rings_of(part.region)))

    def test_a_course_goes_beyond_the_sides_and_nothing_is_drawn_above_ground(self) -> None:
        kind = TrenchKind("x", width=1.0, reinstatements=(Reinstatement("paving", 0.2, 0.3),))
        paving = parts_of(kind, 1.0, 2.0)[-1]
        self.assertEqual(tuple(round(each, 9) for each in paving.region.bounds), (-0.8, 1.8, 0.8, 2.0))
        self.assertAlmostEqual(paving.area, 0.2 * 1.6)
        self.assertEqual(parts_of(kind, 1.0, 0.0), [])


class AgainstSlices(unittest.TestCase):
    def test_a_run_is_the_sum_of_thin_slices_of_its_sections(self) -> None:
        dice = random.Random(21)
        for trial in range(25):
            kind = any_kind(dice)
            ends, length = [dice.uniform(0.6, 4.0) for _ in range(2)], dice.uniform(10, 80)
            nodes = [Node("A", 0, 0, ends[0]), Node("B", length, 0, ends[1])]
            net = network(nodes, [Run("A", "B", kind.below_invert, kind.below_invert, kind)])
            (run,) = net.runs
            number = 4_000
            middles = (np.arange(number) + 0.5) / number
            depths = ends[0] + (ends[1] - ends[0]) * middles
            with self.subTest(trial=trial):
                for name, area in kind.areas(run.bottom, depths).items():
                    slices = float(area.sum() * length / number)
                    self.assertAlmostEqual(
                        run.volumes[name], slices, delta=2e-3 * max(slices, 0.05), msg=name
                    )
                self.assertAlmostEqual(run.sides_area, 2 * float(depths.mean()) * length, places=6)
                self.assertAlmostEqual(sum(v for *_, v in run.dug_bands), run.volumes[DUG], places=9)


class Lines(unittest.TestCase):
    def asked(self, dice: random.Random, number: int = 6) -> Asked:
        kinds = [any_kind(dice, f"Kind {n}") for n in range(2)]
        nodes = [
            Node(
                f"N{n}",
                n * 30.0,
                dice.uniform(-5, 5),
                dice.uniform(9.5, 10.5),
                Manhole(1.0) if n % 2 else None,
            )
            for n in range(number + 1)
        ]
        runs = [
            Run(f"N{n}", f"N{n + 1}", dice.uniform(7, 8.2), dice.uniform(7, 8.2), dice.choice(kinds),
                stage=dice.choice(("", "One", "Two")))
            for n in range(number)
        ]  # fmt: skip
        return Asked(nodes, runs, None, (0.0, 1.0, 2.0), Soil(1.3, 0.9, 12.0), list(range(number)))

    def test_lines_add_up_over_runs_kinds_stages_and_bands_in_any_system(self) -> None:
        dice = random.Random(5)
        for trial in range(12):
            asked = self.asked(dice)
            net = asked.reckoned()
            metric = {line.output: line for line in lines_of(net, asked.soil, METRIC)}
            us = {line.output: line for line in lines_of(net, asked.soil, SYSTEMS["us"])}
            with self.subTest(trial=trial):
                self.assertEqual(len(metric), len(list(lines_of(net, asked.soil, METRIC))))
                self.assertAlmostEqual(metric["dug"].net, sum(run.volumes[DUG] for run in net.runs))
                for line in metric.values():
                    self.assertGreaterEqual(line.net, -1e-9, line.output)
                    self.assertGreaterEqual(line.gross, line.net - 1e-9)
                    for split in {part.split for part in line.parts}:
                        mine = [part for part in line.parts if part.split == split]
                        self.assertAlmostEqual(
                            sum(p.net for p in mine), line.net, places=6, msg=f"{line.output} by {split}"
                        )
                        self.assertAlmostEqual(sum(p.gross for p in mine), line.gross, places=6)
                self.assertAlmostEqual(us["dug"].net * 0.9144**3, metric["dug"].net, places=6)
                self.assertAlmostEqual(us["length"].net * 0.3048, metric["length"].net, places=6)
                # What is dug is what is put in, with what goes beyond the sides taken off.
                put_in = metric["backfill"].net + metric["pipe_volume"].net
                put_in += sum(sum(layer.volumes) for layer in layers_of(net))
                self.assertAlmostEqual(put_in, metric["dug"].net, places=6)
                for run in net.runs:
                    for output in (
                        "dug",
                        "backfill",
                        "length",
                        *(f"laid_{slug(s.name)}" for s in run.run.kind.surrounds),
                    ):
                        told_ = run_working(run, output)
                        if told_.parts:
                            self.assertAlmostEqual(
                                math.fsum(float(p.value) for p in told_.parts), float(told_.value)
                            )
                with self.assertRaises(BadEntry):
                    run_working(net.runs[0], "paint")

    def test_a_row_that_cannot_be_is_left_out_and_the_others_stand(self) -> None:
        asked = self.asked(random.Random(1))
        broken = [*asked.runs]
        broken[2] = Run("N2", "nowhere", 8, 8, broken[2].kind)
        net = Asked(asked.nodes, broken, None, asked.limits, asked.soil, [10, 11, 12, 13, 14, 15]).reckoned()
        self.assertEqual((len(net.runs), [f.line for f in net.findings if f.code == "left-out"]), (5, [12]))


class Written(unittest.TestCase):
    GOOD = (
        '{"name": "Storm", "pipe": "DN 300", "bore": "300 mm", "wall": "0.03", "bed": "4 in", "flattest": "1:200", '
        '"steepest": "8 %", "sides": "flared", "upright": "1.2", "batter": "1:0.5", "supported": true, '
        '"layers": [{"name": "Bed", "mark": "underside", "over": "-2 cm", "density": "1.8", "extra": "10"}], '
        '"restored": [{"name": "Turf", "thickness": "0.1", "overlap": "5 cm"}]}'
    )

    def test_entries_are_read_with_their_units(self) -> None:
        kind = kind_of(read_source(self.GOOD))
        assert kind.pipe is not None
        self.assertAlmostEqual(kind.pipe.outside, 0.36)
        self.assertAlmostEqual(kind.bed, 0.1016)
        self.assertEqual((kind.flattest, kind.steepest, kind.supported), (0.005, 0.08, True))
        self.assertEqual((kind.sides.kind, kind.sides.batter, kind.sides.upright), ("flared", 0.5, 1.2))
        self.assertAlmostEqual(kind.tops[0], 0.0816)
        self.assertEqual(kind.reinstatements[0].overlap, 0.05)
        self.assertEqual(
            told(kind),
            "Storm: DN 300, bottom by pipe and depth, flared sides, 0.1016 m below the pipe, Bed to underside − 0.02 m, Turf 0.1 m",
        )

    def test_what_is_no_kind_says_so(self) -> None:
        for source in (
            "", "[]", "3", "{", '{"name": ""}', '{"bore": "1"}', '{"name": "x", "more": 1}', "[" * 5_000, self.GOOD + " " * 30_000,
            self.GOOD.replace("underside", "top"), self.GOOD.replace('"4 in"', '"four"'), self.GOOD.replace("flared", "steep"),
            self.GOOD.replace("300 mm", "0"), self.GOOD.replace('"wall": "0.03"', '"wall": "-1"'),
        ):  # fmt: skip
            with self.subTest(source[:60]), self.assertRaises(BadFormula):
                read_source(source)
        with self.assertRaises(BadEntry):
            kind_of(read_kind({"name": "x"}))  # no pipe, and no width to go by
