"""Routes: centreline and long section, sections by hand, volumes against the same shapes as surfaces, mass haul."""

from __future__ import annotations

import math
import unittest
from dataclasses import replace
from itertools import pairwise

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.special import fresnel

from sandscale.core.findings import Finding
from sandscale.core.ground.cut_and_fill import cut_and_fill
from sandscale.core.ground.formation import Batter, ToSurface
from sandscale.core.ground.route.centreline import Centreline, Element, LongSection, along_arcs, through
from sandscale.core.ground.route.imported import SectionLines, areas_of
from sandscale.core.ground.route.mass_haul import mass_haul
from sandscale.core.ground.route.quantities import AreaRow, RouteQuantities, of_sections
from sandscale.core.ground.route.reckoned import NO_STAGE, Reckoned, Stretch, laid_out
from sandscale.core.ground.route.sections import Change, Route, Section, cross_sections
from sandscale.core.ground.route.typical import Ditch, RouteLayer, Strip, TypicalSection
from sandscale.core.ground.surface import Surface, surface
from sandscale.core.refusals import BadEntry

ROAD = TypicalSection(
    "road",
    left=(Strip("carriageway", 3, 0.025), Strip("verge", 1, 0.04)),
    right=(Strip("carriageway", 3, 0.025), Strip("verge", 1, 0.04)),
    layers=(
        RouteLayer("surfacing", 0.05, ("carriageway",)),
        RouteLayer("base", 0.15, ("carriageway",), spread=0.2),
    ),
    cut=Batter(1.0),
    fill=Batter(2.0),
)
BOX = TypicalSection(
    "box", left=(Strip("floor", 2),), right=(Strip("floor", 2),), cut=Batter(1.0), fill=Batter(1.0)
)


def flat(level: float = 100.0) -> Surface:
    return surface(np.array([(x, y, level) for x in (-100, 60, 300) for y in (-150, 10, 150)]))


def straight(typical: TypicalSection, first: float, last: float, length: float = 100.0) -> Route:
    return Route(
        through([(0, 0), (length, 0)]), LongSection(((0, first, 0), (length, last, 0))), (Change(0, typical),)
    )


def sections(route: Route, ground: Surface, interval: float = 20.0) -> list[Section]:
    made, findings = cross_sections(route, ground, route.chainages(interval))
    assert not findings, findings
    return made


def laid(found: RouteQuantities, stretches: list[Stretch]) -> tuple[Reckoned, tuple[Finding, ...]]:
    along = found.chainages
    lie, findings = laid_out(stretches, float(along[0]), float(along[-1]))
    broken = found.broken([at for each in lie for at in (each.begin, each.end)])
    return Reckoned(broken, (), lie), findings


def within(found: RouteQuantities, begin: float, end: float) -> dict[str, float]:
    made, _ = laid(found, [Stretch("here", begin, end)])
    return {
        name: dict(made.by_stretch([made.quantities.volume(name)])).get("here", 0.0) for name in found.names
    }


class Lines(unittest.TestCase):
    def test_arcs_between_straights(self) -> None:
        line = through([(0, 0), (100, 0), (100, 100)], [60], begin=1000)
        np.testing.assert_allclose(line.changes - 1000, [0, 40, 40 + 30 * math.pi, 80 + 30 * math.pi])
        places, directions, curvatures = line.at([1040 + 15 * math.pi, line.end])
        np.testing.assert_allclose(
            places,
            [(40 + 60 * math.sin(math.pi / 4), 60 - 60 * math.cos(math.pi / 4)), (100, 100)],
            atol=1e-9,
        )
        np.testing.assert_allclose(directions, [math.pi / 4, math.pi / 2])
        np.testing.assert_allclose(curvatures, [1 / 60, 0])
        np.testing.assert_allclose(line.offset_places(np.array([1020.0]), np.array([3.0])), [(20, -3)])

    def test_a_transition_is_a_clothoid(self) -> None:
        length, radius = 60.0, 120.0
        element = Element((0, 0), 0.0, length, 0.0, -1 / radius)
        scale = math.sqrt(math.pi * radius * length)
        y, x = fresnel(length / scale)
        np.testing.assert_allclose(element.places(np.array([length]))[0], (x * scale, -y * scale), atol=1e-9)

    def test_a_polyline_with_bulges(self) -> None:
        line = along_arcs([(0, 0), (10, 0, math.tan(math.pi / 8)), (20, 10), (20, 30)])
        np.testing.assert_allclose(line.changes, [0, 10, 10 + 5 * math.pi, 30 + 5 * math.pi])
        np.testing.assert_allclose(line.at(line.changes)[0], [(0, 0), (10, 0), (20, 10), (20, 30)], atol=1e-9)

    def test_vertical_curve(self) -> None:
        profile = LongSection(((0, 10, 0), (100, 12, 40), (200, 11, 0)))
        # 2 % up, 1 % down, over 40: at the point of intersection (g2 − g1) L / 8 below it.
        np.testing.assert_allclose(
            profile.levels(np.array([80, 100, 120, 150])), [11.6, 12 - 0.03 * 40 / 8, 11.8, 11.5]
        )
        self.assertEqual(profile.changes.tolist(), [0, 80, 100, 120, 200])

    def test_what_cannot_be_is_refused(self) -> None:
        for make in (
            lambda: through([(0, 0)]),
            lambda: through([(0, 0), (0, 0)]),
            lambda: through([(0, 0), (10, 0), (10, 10)], [20]),
            lambda: Centreline(()),
            lambda: LongSection(((0, 1, 0),)),
            lambda: LongSection(((0, 1, 0), (10, 1, 15), (20, 1, 15), (40, 1, 0))),
            lambda: straight(ROAD, 98, 98).centreline.at([101]),
            lambda: straight(ROAD, 98, 98).chainages(0),
            lambda: replace(ROAD, layers=(RouteLayer("x", 0.1, ("footway",)),)),
            lambda: ROAD.blended(BOX, 0.5),
            lambda: LongSection(((0, 1, 0), (10, math.nan, 0))),
            lambda: replace(BOX, left=(Strip("floor", math.nan),)),
            lambda: replace(BOX, left=(Strip("floor", 2, math.nan),)),
            lambda: replace(ROAD, layers=(RouteLayer("x", math.nan, ("verge",)),)),
        ):
            with self.assertRaises(BadEntry):
                make()


class SectionsByHand(unittest.TestCase):
    def test_layers_and_cut_of_a_road(self) -> None:
        (section, *_) = sections(straight(ROAD, 98, 98), flat())
        self.assertAlmostEqual(section.areas["surfacing"], 6 * 0.05)
        self.assertAlmostEqual(section.areas["base"], 6.4 * 0.15)
        # Each side: the box under the base to 3.2, the verge to 4, then the batter.
        box = (2.2 + 2.28) / 2 * 3.2
        verge = (2.083 + 2.115) / 2 * 0.8
        self.assertAlmostEqual(section.areas["cut"], 2 * (box + verge + 2.115**2 / 2))
        self.assertEqual(section.areas["fill"], 0)
        self.assertEqual([round(x, 9) for x in section.daylight], [-6.115, 6.115])
        self.assertIn((3.2, 97.72), [(round(x, 9), round(z, 9)) for x, z in section.formation])
        self.assertEqual(len(section.layers["base"]), 2)
        base = section.working("base")
        self.assertEqual([part.figures for part in base.parts], ["3.200 × 0.150", "3.200 × 0.150"])
        for name in ("base", "cut"):
            self.assertAlmostEqual(
                sum(part.value for part in section.working(name).parts), section.areas[name]
            )

    def test_a_cutting_is_stripped_to_its_top_and_has_no_fill(self) -> None:
        """Ground at 100, formation at 97, 0.3 stripped: what is dug below the strip is 2.7 deep."""
        (section, *_) = sections(straight(replace(BOX, topsoil=0.3), 97, 97), flat())
        self.assertAlmostEqual(section.areas["fill"], 0)
        self.assertAlmostEqual(section.areas["cut"], 4 * 2.7 + 2.7**2)
        self.assertAlmostEqual(section.areas["topsoil strip"], 0.3 * 10)
        # A formation within the strip is filled up to, between its edges.
        (shallow, *_) = sections(straight(replace(BOX, topsoil=0.3), 99.9, 99.9), flat())
        self.assertAlmostEqual(shallow.areas["fill"], 4 * 0.2)
        self.assertAlmostEqual(shallow.areas["cut"], 0)

    def test_a_bank_and_its_topsoil(self) -> None:
        (section, *_) = sections(straight(replace(BOX, topsoil=0.2), 103, 103), flat())
        self.assertAlmostEqual(section.areas["topsoil strip"], 0.2 * 10)
        self.assertEqual(section.working("topsoil strip").parts[0].figures, "10.000 × 0.200")
        self.assertAlmostEqual(section.areas["fill"], (4 + 10) / 2 * 3 + 0.2 * 10)

    def test_a_ditch_in_cut_only(self) -> None:
        ditched = replace(BOX, ditch=Ditch(0.5, 0.4, 1.5, 1.0))
        (section, *_) = sections(straight(ditched, 99, 99), flat())
        # Beyond the floor each side: the ditch, 0.75 + 0.4 + 0.5 wide and 0.5 deep, under 1 m of ground; then the batter.
        side = 1.65 * 1.0 + (0.4 + 1.65) / 2 * 0.5 + 0.5
        self.assertAlmostEqual(section.areas["cut"], 4 + 2 * side)
        self.assertAlmostEqual(sections(straight(ditched, 101, 101), flat())[0].areas["fill"], 4 + 1)

    def test_half_cut_half_fill_on_a_slope(self) -> None:
        ground = surface(
            np.array([(x, y, 100 - y / 10) for x in (-9, 110) for y in (-40, 40)])
        )  # rises to the right
        (section, *_) = sections(straight(BOX, 100, 100), ground)
        reach = 0.2 / 0.9  # where a slope of 1 in 1 meets one of 1 in 10 that starts 0.2 away
        for side in ("cut", "fill"):
            self.assertAlmostEqual(section.areas[side], 2 * 0.2 / 2 + 0.2 * reach / 2, msg=side)
        self.assertGreater(section.middles["cut"], 1)
        self.assertAlmostEqual(section.middles["cut"], -section.middles["fill"])

    def test_a_benched_cutting_far_from_its_ground_reaches_it(self) -> None:
        tall = replace(BOX, cut=Batter(1, 10, 3))
        (section, *_) = sections(straight(tall, 50, 50), flat())
        self.assertAlmostEqual(section.daylight[1], 2 + 50 + 4 * 3)


class Volumes(unittest.TestCase):
    def test_a_cutting_is_the_same_as_between_surfaces(self) -> None:
        """Ground that slopes along and across, a floor that falls: areas are square laws, so the prismoidal rule is exact."""
        ground = surface(np.array([(x, y, 103 + 0.02 * x + 0.05 * y) for x in (-1, 101) for y in (-60, 60)]))
        route = straight(BOX, 100, 99)
        found = of_sections(sections(route, ground, 25), "prismoidal")
        shape = [(x, y, 100 - x / 100 + max(abs(y) - 2, 0)) for x in (0, 100) for y in (-30, -2, 2, 30)]
        earth = cut_and_fill(
            ground, ToSurface(surface(np.array(shape), [[shape[at], shape[at + 4]] for at in range(4)]))
        )
        self.assertAlmostEqual(found.totals["cut"], earth.cut, places=7)
        self.assertEqual(found.volume("cut").findings, ())

    def test_volumes_on_a_curve_by_pappus(self) -> None:
        """A box cut on one side of a quarter circle: corrected volumes are exact, and the surface's converge to them."""
        one_sided = TypicalSection(
            "kerb side", left=(Strip("floor", 1),), right=(Strip("floor", 5),), cut=Batter(0.0)
        )
        line = Centreline(
            (Element((0, 0), 0.0, 30 * math.pi, 1 / 60, 1 / 60),)
        )  # to the left, so the right is outside
        route = Route(line, LongSection(((0, 98, 0), (line.end, 98, 0))), (Change(0, one_sided),))
        made = sections(route, flat())
        exact = math.pi / 4 * (65**2 - 59**2) * 2
        self.assertAlmostEqual(of_sections(made).totals["cut"], exact, places=6)
        self.assertAlmostEqual(of_sections(made, curved=False).totals["cut"], 12 * line.end, places=6)
        turns = np.linspace(0, math.pi / 2, 65)
        ring = [
            (r * math.sin(t), 60 - r * math.cos(t), 98.0)
            for r, order in ((59, 1), (65, -1))
            for t in turns[::order]
        ]
        earth = cut_and_fill(flat(), ToSurface(surface(np.array(ring), boundary=ring)))
        self.assertAlmostEqual(earth.cut / exact, 1, delta=2e-4)

    def test_a_change_of_typical_section_has_two_sections(self) -> None:
        wide = replace(BOX, name="wide", left=(Strip("floor", 4),), right=(Strip("floor", 4),))
        route = replace(straight(BOX, 98, 98), changes=(Change(0, BOX), Change(50, wide)))
        made = sections(route, flat(), 20)
        self.assertEqual(
            [(s.chainage, s.typical) for s in made if s.chainage == 50], [(50, "box"), (50, "wide")]
        )
        found = of_sections(made)
        self.assertAlmostEqual(found.totals["cut"], 50 * 12 + 50 * 20)
        self.assertAlmostEqual(within(found, 50, 100)["cut"], 50 * 20)
        self.assertAlmostEqual(within(found, 0, 50)["cut"], 50 * 12)
        tapered = replace(route, changes=(Change(0, BOX), Change(50, wide, taper=20)))
        self.assertAlmostEqual(
            of_sections(sections(tapered, flat(), 20)).totals["cut"], 50 * 12 + 20 * 16 + 30 * 20
        )

    def test_stretches_and_stages_add_up(self) -> None:
        found = of_sections(sections(straight(ROAD, 98, 102), flat(), 7))
        first, second = Stretch("a", 0, 33, "one"), Stretch("b", 33, 61.5, "two")
        made, findings = laid(found, [first, second, Stretch("c", 80, 100, "one")])
        self.assertEqual(findings, ())
        for name in found.names:
            whole = made.quantities.volume(name)
            for parts in (made.by_stage([whole]), made.by_stretch([whole])):
                self.assertAlmostEqual(sum(v for _, v in parts), found.totals[name], places=9, msg=name)
        base = made.quantities.volume("base")
        self.assertAlmostEqual(dict(made.by_stage([base]))[NO_STAGE], 6.4 * 0.15 * 18.5)
        _, findings = laid(found, [first, Stretch("b", 30, 40), Stretch("c", 90, 120), Stretch("d", 70, 60)])
        self.assertEqual(
            [f.says.split(",")[0] for f in findings],
            [
                "Stretches a and b overlap from 30.00 to 33.00. That counts in a.",
                "Stretch c", "Stretch d",
            ],
        )  # fmt: skip
        self.assertAlmostEqual(found.volume("base").table("Base").total, found.totals["base"])
        self.assertEqual(found.area_table.rows.shape, (len(found.rows), 1 + len(found.names)))
        chainages, cumulative = found.cumulative("base")
        np.testing.assert_allclose(cumulative, chainages * 6.4 * 0.15)

    def test_stretches_cut_between_sections_keep_areas_and_curves(self) -> None:
        """Areas and curvature that grow evenly, each multiplied out by hand: A = 2 + x/10, 1/R = x/1000, the middle 5 outside."""
        rows = [AreaRow(x, {"cut": 2 + x / 10}, {"cut": 5.0}, x / 1000) for x in (0.0, 20.0, 40.0, 60.0)]
        found = RouteQuantities(tuple(rows))

        def curved(x: float) -> float:
            return (2 + x / 10) * (1 + 5 * x / 1000)

        # Between two sections of its own; over a section; from the very first to one between.
        for marks in ((22, 37), (22, 40, 47), (0, 3), (55, 60)):
            by_hand = sum((curved(a) + curved(b)) / 2 * (b - a) for a, b in pairwise(marks))
            self.assertAlmostEqual(
                within(found, marks[0], marks[-1])["cut"], by_hand, places=9, msg=str(marks)
            )
        straight_on = RouteQuantities(tuple(rows), curved=False)
        self.assertAlmostEqual(within(straight_on, 22, 37)["cut"], (4.2 + 5.7) / 2 * 15)
        self.assertEqual(within(straight_on, 61, 80), {"cut": 0.0})
        self.assertAlmostEqual(within(straight_on, 50, 80)["cut"], (7 + 8) / 2 * 10)
        with self.assertRaisesRegex(BadEntry, "beyond the centre of the curve"):
            RouteQuantities((AreaRow(0, {"cut": 1}, {"cut": -30}, 1 / 20), AreaRow(9, {"cut": 1}))).volume(
                "cut"
            )

    def test_layers_on_one_side_have_their_middle_there(self) -> None:
        left = TypicalSection(
            "left only",
            (Strip("footway", 2),),
            (Strip("floor", 1),),
            (RouteLayer("paving", 0.06, ("footway",), spread=0.5),),
            cut=Batter(0.0),
        )
        right = replace(left, left=left.right, right=left.left)
        for typical, middle in ((left, -1.25), (right, 1.25)):
            (section, *_) = sections(straight(typical, 98, 98), flat())
            self.assertAlmostEqual(section.areas["paving"], 2.5 * 0.06)
            self.assertAlmostEqual(section.middles["paving"], middle)
            self.assertEqual(section.working("paving").value, section.areas["paving"])

    def test_missing_layers_are_never_silent(self) -> None:
        bare = replace(ROAD, name="bare", layers=ROAD.layers[:1])
        route = replace(straight(ROAD, 98, 98), changes=(Change(0, ROAD), Change(40, bare)))
        found = of_sections(sections(route, flat())).missing(["surfacing", "base", "sub-base"])
        self.assertEqual(
            [(f.says, f.wrong) for f in found],
            [
                ("Base has no area at chainages 40 to 100.", False),
                ("Sub-base has no area at any chainage.", True),
            ],
        )

    def test_sections_where_there_is_no_ground_or_nothing_built_are_told(self) -> None:
        short = surface(np.array([(x, y, 100.0) for x in (-1, 50) for y in (-3, 3)]))
        route = replace(straight(BOX, 98, 98), changes=(Change(20, BOX),))
        _, findings = cross_sections(route, short, [10, 30, 70])
        says = [finding.says for finding in findings]
        self.assertIn("No typical section is given at chainage 10.00", says[0])
        self.assertIn("left batter at chainage 30.00 doesn't meet the ground", says[1])
        self.assertIn("right batter at chainage 30.00", says[2])
        self.assertIn("isn't known over the whole width", says[3])
        holed = surface(
            np.array([(x, y, 100.0) for x in (-1, 90) for y in (-30, 30)]),
            holes=[[(29, 0.5), (31, 0.5), (31, 1), (29, 1)]],
        )
        _, findings = cross_sections(route, holed, [30])
        self.assertIn("The ground has a gap in the section at chainage 30.00", findings[0].says)

    def test_a_long_section_that_is_too_short_is_told(self) -> None:
        route = replace(straight(BOX, 98, 98), long_section=LongSection(((20, 98, 0), (60, 97, 0))))
        made, findings = cross_sections(route, flat(), [0, 100])
        self.assertEqual(
            [f.says for f in findings],
            ["The long section is given from 20 to 60 only; beyond, its last straights go on."],
        )
        self.assertEqual([s.level for s in made], [98.5, 96])

    def test_imported_sections(self) -> None:
        def line(*levels: float) -> np.ndarray:
            return np.column_stack([np.linspace(-4, 4, len(levels)), levels])

        made = [
            SectionLines(
                20,
                {
                    "top": line(10, 10),
                    "base": line(9.9, 9.9),
                    "formation": line(9.7, 9.6, 9.7),
                    "ground": line(10.7, 8.7),
                },
            ),
            SectionLines(0, {"top": line(10, 10), "formation": line(9.5, 9.5), "ground": line(10, 10)}),
        ]
        rows, findings = areas_of(made, ["top", "base", "formation"])
        self.assertEqual([row.chainage for row in rows], [0, 20])
        self.assertEqual(
            (round(rows[0].areas["top"], 9), rows[0].areas.get("base")), (4.0, None)
        )  # straight down to formation
        self.assertEqual((round(rows[1].areas["top"], 9), round(rows[1].areas["base"], 9)), (0.8, 2.0))
        self.assertAlmostEqual(rows[1].areas["cut"] - rows[1].areas["fill"], 8 * (9.7 - 9.65))
        self.assertAlmostEqual(RouteQuantities(tuple(rows)).totals["top"], (4.0 + 0.8) / 2 * 20)
        # The ground is 9.7 − x / 4, the formation 9.6 + |x| / 40: they cross at 0.1 / 0.275, and the fill is a triangle.
        crossing = 0.1 / 0.275
        self.assertAlmostEqual(
            rows[1].middles["cut"], (-5.6 + 0.1 * crossing**2 / 6) / (2.2 + 0.1 * crossing / 2)
        )
        self.assertAlmostEqual(rows[1].middles["fill"], crossing + (4 - crossing) * 2 / 3)
        self.assertEqual(findings, ())
        _, findings = areas_of(
            [SectionLines(0, {"top": line(9, 9), "base": line(9.1, 9.1)})], ["top", "base"]
        )
        self.assertIn("the line of base lies above top by 0.800 m²", findings[0].says)
        for wrong, order in (
            ([made[0], made[0]], ["top", "base"]),
            ([SectionLines(0, {"top": line(9, 9)})], ["top"]),
        ):
            with self.assertRaises(BadEntry):
                areas_of(wrong, order)

    def test_imported_lines_that_do_not_cover_one_another_are_told(self) -> None:
        def line(left: float, right: float, level: float) -> np.ndarray:
            return np.array([(left, level), (right, level)])

        lines = {
            "top": line(-3, 3, 10),
            "base": line(-4, 4, 9.8),
            "subbase": line(-4, 1, 9.5),
            "formation": line(-5, 5, 9),
            "ground": line(-2, 6, 11),
        }
        rows, findings = areas_of([SectionLines(0, lines)], ["top", "base", "formation"])
        self.assertEqual(
            [finding.says for finding in findings],
            ["The line subbase isn't in the order of layers and is not counted.",
             "At chainage 0 the line of ground ends 3.00 m short of formation; what lies beyond is not counted."],
        )  # fmt: skip
        self.assertEqual(
            {name: round(area, 9) for name, area in rows[0].areas.items()},
            {"top": 1.2, "base": 8 * 0.8, "cut": 7 * 2.0, "fill": 0},
        )
        rows, findings = areas_of([SectionLines(0, lines)], ["base", "subbase", "formation"])
        self.assertIn("the line of subbase ends 3.00 m short of base", findings[1].says)
        self.assertEqual(
            (round(rows[0].areas["base"], 9), round(rows[0].areas["subbase"], 9)), (5 * 0.3, 5 * 0.5)
        )
        apart = SectionLines(7, {"top": line(-3, -1, 10), "base": line(1, 3, 9)})
        rows, findings = areas_of([apart], ["top", "base"])
        self.assertEqual((rows[0].areas, "2.00 m short of top" in findings[0].says), ({"top": 0.0}, True))


def earthwork(*volumes: float, step: float = 20.0) -> RouteQuantities:
    """A cut (above zero) or fill volume in each step of a route."""
    rows = []
    for at, volume in enumerate(volumes):
        areas = {"cut": max(volume, 0) / step, "fill": max(-volume, 0) / step}
        rows += [AreaRow(at * step, areas), AreaRow((at + 1) * step, areas)]
    return RouteQuantities(tuple(rows))


class MassHaul(unittest.TestCase):
    def test_by_hand(self) -> None:
        found = mass_haul(earthwork(100, 100, -100, -100), free_distance=10)
        self.assertEqual(found.ordinates.tolist(), [0, 100, 200, 100, 0])
        self.assertEqual((found.haul, found.moved, found.left_over), (8000, 200, 0))
        self.assertAlmostEqual(found.overhaul, 70 * 175 / 2)  # chords of 80 − 2/5 h, longer than 10 up to 175
        self.assertAlmostEqual(found.free + found.overhaul, found.haul)
        self.assertEqual(found.balances, (0, 80))

    def test_a_diagram_that_turns_within_its_steps(self) -> None:
        found = mass_haul(earthwork(100, -150, 80), free_distance=15)
        self.assertEqual(found.ordinates.tolist(), [0, 100, -50, 30])
        np.testing.assert_allclose(found.balances, [0, 20 + 100 / 150 * 20, 40 + 50 / 80 * 20])
        self.assertAlmostEqual(found.moved, 100 + 50 + 30)
        bases = (100 / 3, 52.5 - 100 / 3, 60 - 52.5)
        self.assertAlmostEqual(
            found.haul, sum(base * height / 2 for base, height in zip(bases, (100, 50, 30), strict=True))
        )
        # Chords shorten evenly to nothing, so those beyond the free distance are triangles too; the last ones are too short.
        self.assertAlmostEqual(
            found.overhaul, sum((b - 15) ** 2 / b * h / 2 for b, h in zip(bases[:2], (100, 50), strict=True))
        )

    def test_shrinkage_and_what_is_left_over(self) -> None:
        found = mass_haul(earthwork(100, -45, 20, -60), compacted=0.9)
        np.testing.assert_allclose(found.ordinates, [0, 90, 45, 63, 3])
        self.assertAlmostEqual(found.left_over, 3)
        self.assertAlmostEqual(found.moved, 90 + 18)
        for bad in ({"compacted": 0}, {"free_distance": -1}):
            with self.assertRaises(BadEntry):
                mass_haul(earthwork(1), **bad)

    @settings(max_examples=40, deadline=None)
    @given(st.lists(st.integers(-50, 50), min_size=1, max_size=12), st.integers(0, 120))
    def test_haul_is_the_area_under_the_diagram(self, volumes: list[int], free: int) -> None:
        found = mass_haul(earthwork(*volumes), free_distance=free)
        chainages = np.linspace(0, 20 * len(volumes), 20 * len(volumes) * 50 + 1)
        diagram = np.interp(chainages, found.chainages, found.ordinates)
        self.assertAlmostEqual(
            found.haul,
            float(np.trapezoid(np.abs(diagram), chainages)),
            delta=1e-6 * max(1, found.haul) + 0.02,
        )
        self.assertGreaterEqual(found.free, -1e-9)
        self.assertGreaterEqual(found.overhaul, -1e-9)
        self.assertEqual(mass_haul(earthwork(*volumes), free_distance=20 * len(volumes)).overhaul, 0)
        # Chords at many heights, counted one by one.
        low, high = min(0.0, float(diagram.min())), max(0.0, float(diagram.max()))
        thick, longer = (high - low) / 600, 0.0
        for height in low + (np.arange(600) + 0.5) * thick:
            over = diagram > height if height > 0 else diagram < height
            edges = np.flatnonzero(np.diff(np.concatenate([[False], over, [False]]).astype(int)))
            longer += (
                sum(max(0.0, (end - begin) * 0.02 - free) for begin, end in edges.reshape(-1, 2)) * thick
            )
        self.assertAlmostEqual(found.overhaul, longer, delta=0.01 * found.haul + 0.1)


if __name__ == "__main__":
    unittest.main()
