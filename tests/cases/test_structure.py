"""Worked cases of concrete, excavation, masonry, finishes and mixes: §3 and §5 of the computation."""

from __future__ import annotations

import math
import unittest
from typing import ClassVar

from hypothesis import given
from hypothesis import strategies as st
from shapely import LineString, unary_union

from sandscale.core.makeups.makeup import built_in, built_in_source, read_makeup
from sandscale.core.makeups.run import Line, Quantity, Result, drawn, run
from sandscale.core.numbers.units import unit
from sandscale.core.refusals import BadEntry, BadShape
from sandscale.core.structure.junctions import Strip, branches, net_lengths


def quantities(makeup: str, *lines: Line, **entries: str) -> dict[str, Quantity]:
    return {q.output.key: q for q in worked(makeup, *lines, **entries).quantities}


def worked(makeup: str, *lines: Line, **entries: str) -> Result:
    return run(built_in()[makeup], entries, lines)


class Foundations(unittest.TestCase):
    def told(self, makeup: str, expected: dict[str, str], *lines: Line, **entries: str) -> None:
        found = quantities(makeup, *lines, **entries)
        for key, text in expected.items():
            places = len(text.partition(".")[2])
            self.assertEqual(f"{found[key].net:.{places}f}", text, f"{key} of {makeup}")

    def test_sloped_footing(self) -> None:
        # 2.4 × 2.0 × 0.25 and a taper of 0.30 to 0.6 × 0.5: 1.20 + 0.63.
        self.told(
            "pad-footing-sloped",
            {"concrete": "1.83"},
            Line(length=2.4, width=2.0, height=0.25),
            taper="0.30",
            top_length="0.6",
            top_width="0.5",
        )

    def test_stepped_footing(self) -> None:
        expected = {
            "concrete": "2.052",
            "formwork": "5.04",
        }  # 1.8·1.8·0.5 + 1.2·1.2·0.3; 2·3.6·0.5 + 2·2.4·0.3
        self.told(
            "pad-footing-stepped",
            expected,
            Line(length=1.8, width=1.8, height=0.5),
            step_length="1.2",
            step_width="1.2",
            step_height="0.3",
        )

    def test_strip_footing_by_girth_and_with_junctions(self) -> None:
        # Outside girth of 8.0 × 6.0: 28 − 4 × 0.6 = 25.6; two branches into it lose half of 0.6 each.
        line = Line(length=28.0, width=0.6, height=0.3)
        self.told(
            "strip-footing",
            {"concrete": "4.608", "formwork": "15.36"},
            line,
            measured="an outside girth, closed",
        )
        self.told(
            "strip-footing",
            {"concrete": "4.608"},
            Line(length=23.2, width=0.6, height=0.3),
            measured="an inside girth, closed",
        )
        self.told("strip-footing", {"concrete": "4.932"}, line, junctions="2")

    def test_strip_trench_with_its_bands_backfill_and_disposal(self) -> None:
        # 10 m × (0.6 + 2 × 0.3) × 1.25: 12.00 and 3.00; built in 10 × (0.6 × 0.05 + 0.6 × 0.3).
        expected = {
            "dig_1": "12.00",
            "dig_2": "3.00",
            "disposal": "2.10",
            "backfill": "12.90",
            "carted": "2.625",
        }
        self.told(
            "strip-footing",
            expected,
            Line(length=10, width=0.6, height=0.3),
            dig_depth="1.25",
            projection="0",
        )

    def test_pit_with_batter_and_its_bands(self) -> None:
        # 3.0 × 3.0 bottom, 1.6 deep, 0.5 : 1: 23.445 m³; of it 1.6 × 3.6 … above 1 m and the rest below.
        line = Line(length=3.0, width=3.0, height=1.6)
        self.told(
            "pit",
            {"dig": "23.445", "dig_1": "16.893", "dig_2": "6.552", "disposal": "14.40", "backfill": "9.045"},
            line,
            batter="0.5",
        )
        loads = quantities("pit", line, batter="0.5", lorry="7")["carted"].pack
        self.assertEqual((loads.number, loads.words), (3, "load of 7 m³"))  # type: ignore[union-attr]  # 14.4 × 1.25 / 7 = 2.57

    def test_columns_to_the_underside_of_what_they_carry(self) -> None:
        self.told(
            "column",
            {"concrete": "0.440", "formwork": "4.40"},
            Line(length=0.4, width=0.4, height=3.0),
            carried="250",
        )
        self.told("column-round", {"concrete": "0.589", "formwork": "4.712"}, Line(width=0.5, height=3.0))

    def test_beam_below_its_slab(self) -> None:
        self.told(
            "beam",
            {"concrete": "0.720", "soffit": "1.80", "side_formwork": "4.80"},
            Line(length=6, width=0.3, height=0.6),
            slab="200",
        )
        self.told(
            "beam",
            {"side_formwork": "6.00"},
            Line(length=6, width=0.3, height=0.6),
            slab="200",
            sides="one side",
        )

    def test_wall_with_an_opening_and_a_taper(self) -> None:
        wall, door = Line(length=10, height=3), Line(length=0.9, height=2.1, deduct=True)
        self.told("wall", {"concrete": "7.0275", "formwork": "56.22", "edge_formwork": "1.50"}, wall, door)
        self.told("wall", {"concrete": "6.00"}, wall, thickness="250", top_thickness="150")
        self.told("wall", {"formwork": "60.00", "concrete": "7.0275"}, wall, door, small="2")

    def test_ground_slab_with_a_void_and_a_thickened_edge(self) -> None:
        slab, sump = (
            Line(length=12, width=8, height=0.2),
            Line(length=1.2, width=1.2, height=0.2, deduct=True),
        )
        self.told(
            "ground-slab",
            {
                "concrete": "18.912",
                "edge_formwork": "8.96",
                "membrane": "94.56",
                "membrane_bought": "108.744",
            },
            slab,
            sump,
        )
        # The edge: 0.3 × (0.4 + 0.1/2) = 0.135, its middle 0.226 from outside: 40 − 8 × 0.226 = 38.193 long.
        self.told(
            "ground-slab", {"concrete": "24.356"}, slab, edge_width="400", edge_depth="300", edge_splay="100"
        )
        # 10 × 8 less 1 × 1: the edge of the void has the slab's own thickness, drawn or as a ddt line.
        thick = {"edge_width": "300", "edge_depth": "300"}
        outside, hole = (
            Line(length=10, width=8, height=0.15),
            Line(length=1, width=1, height=0.15, deduct=True),
        )
        with_hole = Line(area=79, height=0.15, girth=36, void_girth=4)
        self.told("ground-slab", {"edge_formwork": "16.80"}, outside, hole, **thick)
        self.told("ground-slab", {"edge_formwork": "16.80"}, with_hole, **thick)
        self.told("ground-slab", {"joints": "28.00"}, slab, bay="4")  # two across of 8, one along of 12
        drawn_slab = Line(area=94.56, height=0.2, girth=40, void_girth=4.8)
        self.told("ground-slab", {"concrete": "18.912", "edge_formwork": "8.96"}, drawn_slab)

    def test_suspended_slab_with_drops(self) -> None:
        self.told(
            "suspended-slab",
            {"concrete": "26.40", "soffit": "96.00", "drop_formwork": "4.80"},
            Line(length=12, width=8, height=0.25),
            drops="4",
        )

    def test_fabric_is_bought_in_sheets(self) -> None:
        found = quantities(
            "ground-slab", Line(length=12, width=8, height=0.2), steel="fabric, one layer", fabric_lap="200"
        )
        # 96 × 4.8 × 2.4 / (4.6 × 2.2) = 109.28 m², + 5 % = 114.75: 10 sheets of 11.52.
        self.assertEqual(
            (
                f"{found['fabric'].net:.2f}",
                f"{found['fabric_bought'].net:.2f}",
                found["fabric_bought"].pack.number,
            ),
            ("96.00", "109.28", 10),
        )  # type: ignore[union-attr]

    def test_stair_flight(self) -> None:
        # 12 of 170/280 × 1.2: waist 0.15 × √(3.36² + 2.04²) × 1.2 = 0.7076; steps ½ · 0.17 · 0.28 · 1.2 · 12 = 0.3427.
        self.told("stair", {"concrete": "1.050", "risers": "2.448"}, Line(width=1.2))
        self.told("stair", {"concrete": "1.230"}, Line(width=1.2), landing_length="1000")

    def test_bored_pile_with_over_break(self) -> None:
        # π/4 · 0.45² · 12.6 · 1.10 · 4.
        self.told("pile", {"concrete": "8.817", "boring": "48.00", "cutting": "4"}, Line(times=4, length=12))

    def test_pile_cap_less_its_heads(self) -> None:
        self.told(
            "pile-cap",
            {"concrete": "6.289"},
            Line(times=4, length=1.8, width=1.8, height=0.5),
            piles="4",
            pile="450",
            head="75",
        )

    def test_retaining_wall_with_a_tapered_stem(self) -> None:
        self.told(
            "retaining-wall",
            {"concrete": "35.60", "back_drain": "18.00", "weeps": "10"},
            Line(length=20, height=3),
        )

    def test_kerb_on_its_bed(self) -> None:
        found = quantities("kerb", Line(length=100))
        self.assertEqual((f"{found['concrete'].net:.3f}", found["units"].pack.number), ("5.625", 112))  # type: ignore[union-attr]  # 109.29 + 2 %

    def test_lintels_from_an_opening_schedule(self) -> None:
        found = quantities("lintel", Line(times=2, length=0.9), Line(times=3, length=1.2))
        self.assertEqual(
            (f"{found['length'].net:.2f}", found["number"].net), ("7.40", 5)
        )  # 2 × 1.30 + 3 × 1.60
        self.assertIn(
            "outside every band of clear spans", worked("lintel", Line(length=3.7)).findings[0].says
        )
        twice = built_in_source("lintel").replace(
            'from = "1.2 m", below = "2.4 m"', 'from = "1.1 m", below = "2.4 m"'
        )
        said = run(read_makeup(twice), {}, [Line(length=1.15)]).findings
        self.assertIn("It lies on two bands of clear spans; the first was taken.", [f.says for f in said])

    def test_every_make_up_draws_what_it_makes(self) -> None:
        for makeup in built_in().values():
            shapes = drawn(makeup, {}, Line(length=3.0, width=1.2, height=0.5)).parts
            self.assertEqual(bool(shapes), bool(makeup.document.sketch), makeup.key)
        base = drawn(built_in()["pad-footing"], {}, Line(length=1.8, width=1.8, height=0.5)).parts[1]
        self.assertEqual(base.points, ((0, 0), (1.8, 0), (1.8, 0.5), (0, 0.5)))

    def test_what_was_entered_is_written_where_it_stands_in_the_sketch(self) -> None:
        sketch = drawn(
            built_in()["pad-footing"], {"cover": "75", "leg": "350"}, Line(length=1.8, width=1.6, height=0.5)
        )
        found = {size.name: (round(size.value, 3), size.across) for size in sketch.sizes}
        self.assertEqual(found["length"], (1.8, True))
        self.assertEqual(found["height"], (0.5, False))
        self.assertEqual(found["cover"], (0.075, False))
        self.assertEqual(found["leg"], (0.35, False))
        self.assertEqual(found["projection"], (0.1, True))
        self.assertNotIn("width", found)  # a section across the length shows none
        for makeup in built_in().values():
            for size in drawn(makeup, {}, Line(length=3.0, width=1.2, height=0.5)).sizes:
                ends = [abs(a - b) for a, b in zip(size.start, size.end, strict=True)]
                self.assertAlmostEqual(
                    ends[0 if size.across else 1], size.value, msg=f"{makeup.key} {size.name}"
                )


class Masonry(unittest.TestCase):
    """Wall 12.4 × 2.8 less 2 × (1.2 × 1.2) and 0.9 × 2.1: 29.95 m²; 390 × 190 × 140, joint 10."""

    WALL: ClassVar = (
        Line(length=12.4, height=2.8),
        Line(times=2, length=1.2, height=1.2, deduct=True),
        Line(length=0.9, height=2.1, deduct=True),
    )

    def test_blocks_and_mortar(self) -> None:
        found = quantities("blockwork", *self.WALL)
        self.assertEqual((f"{found['area'].net:.2f}", found["blocks"].pack.number), ("29.95", 394))  # type: ignore[union-attr]
        self.assertAlmostEqual(found["blocks"].net / found["area"].net, 12.5)
        self.assertEqual(f"{found['mortar'].gross:.5f}", "0.34016")
        self.assertAlmostEqual(found["mortar"].net / found["area"].net, 0.010325)
        self.assertEqual(
            (f"{found['cement'].net:.2f}", found["cement"].pack.number, f"{found['sand'].net:.4f}"),
            ("130.29", 6, "0.3619"),
        )  # type: ignore[union-attr]

    def test_small_openings_stay_in_by_the_rule_of_the_trade(self) -> None:
        self.assertEqual(f"{quantities('blockwork', *self.WALL, small='1.5')['area'].net:.2f}", "32.83")

    def test_what_goes_with_the_wall(self) -> None:
        found = quantities(
            "blockwork",
            *self.WALL,
            sills="yes",
            reveal="100",
            damp_course="yes",
            bed_joint="3",
            corners="2",
            stops="1",
            core_spacing="1.2",
            specials="bought as such",
        )
        told = {
            key: f"{found[key].net:.3f}"
            for key in ("sills", "reveals", "damp_course", "bed_joint", "corner_units", "half_units", "cores")
        }
        # What is bought as such is no block: 374.375 less 28 corners and 30 halves.
        self.assertEqual(f"{found['blocks'].net:.3f}", "331.375")
        # 14 courses: 7 halves at the stop, and one a course for each opening of 6, 6 and 11 courses; 12 cores.
        self.assertEqual(told,
            {"sills": "3.300", "reveals": "1.230", "damp_course": "12.400", "bed_joint": "42.100",
                "corner_units": "28.000", "half_units": "30.000", "cores": "0.437"})  # fmt: skip

    def test_shell_bedding_takes_half_the_mortar(self) -> None:
        self.assertAlmostEqual(
            quantities("blockwork", *self.WALL, bedding="shell")["mortar"].gross, 0.34016 / 2, places=5
        )

    def test_an_opening_larger_than_its_wall_is_found(self) -> None:
        said = worked(
            "blockwork", Line(length=3, height=2.8), Line(length=3.5, height=1, deduct=True)
        ).findings
        self.assertEqual([(f.line, f.says) for f in said], [(1, "The opening is larger than the wall.")])

    def test_cavity_wall_of_two_leaves(self) -> None:
        found = quantities("brickwork-cavity", *self.WALL)
        # BS 4729 bricks of 215 × 65: 59.26 per m²; blocks of 440 × 215: 9.88 per m².
        self.assertEqual(
            (
                f"{found['bricks'].net / found['area'].net:.2f}",
                f"{found['blocks'].net / found['area'].net:.2f}",
            ),
            ("59.26", "9.88"),
        )
        self.assertEqual((found["jamb_ties"].net, f"{found['closers'].net:.1f}"), (30, "9.0"))  # 2·2·4 + 2·7


class FinishesAndMixes(unittest.TestCase):
    def test_render(self) -> None:
        """64 m² × 15, 20 % unevenness, factor 1.30, 1:5: wet 0.96, 1.4976 dry; cement 359.42 kg; sand 1.248 m³."""
        found = quantities("render", Line(area=64, girth=32))
        self.assertEqual(
            [f"{found[key].net:.4f}" for key in ("wet_volume", "dry_volume", "sand")],
            ["0.9600", "1.4976", "1.2480"],
        )
        self.assertEqual((f"{found['cement'].net:.2f}", found["cement"].pack.number), ("359.42", 15))  # type: ignore[union-attr]

    def test_concrete_by_volume(self) -> None:
        """3.2 m³ of 1:2:4, cement 1440 kg/m³: cement 1013.76 kg = 41 bags of 25 kg, sand 1.408, aggregate 2.816 m³."""
        found = quantities("mix-by-volume", Line(length=3.2, width=1, height=1))
        self.assertEqual((f"{found['cement'].net:.2f}", found["cement"].pack.number), ("1013.76", 41))  # type: ignore[union-attr]
        self.assertEqual((f"{found['sand'].net:.3f}", f"{found['aggregate'].net:.3f}"), ("1.408", "2.816"))
        in_bags = quantities("mix-by-volume", Line(length=3.2, width=1, height=1), bag="94 lb")["cement"].pack
        self.assertEqual((in_bags.number, in_bags.words), (24, "bag of 94 lb"))  # type: ignore[union-attr]

    def test_a_mix_over_an_area_in_bags_by_volume(self) -> None:
        """80 m² × 15 mm, 40 % for voids and 12 % for unevenness of the wet volume, 1:5: 1.824 m³ dry, 9 bags of 0.035 m³, sand 1.52 m³ = 0.54 brass."""
        found = quantities("mix-over-an-area", Line(area=80), dry_factor="1.40", added="12", bags="by volume")
        self.assertEqual((f"{found['dry'].net:.3f}", f"{found['sand'].net:.2f}"), ("1.824", "1.52"))
        self.assertEqual(f"{found['sand'].net / unit('brass').size:.2f}", "0.54")
        pack = found["cement_loose"].pack
        self.assertEqual((pack.number, pack.words, found["cement"].net), (9, "bag of 0.035 m³", 0))  # type: ignore[union-attr]

    def test_what_is_bought_in_packs_of_many_and_by_yield(self) -> None:
        """394 blocks of the worked wall on pallets of 60, and at 90 % yield; a load for what has no pack of its own."""
        wall = (
            Line(length=12.4, height=2.8),
            Line(times=2, length=1.2, height=1.2, deduct=True),
            Line(length=0.9, height=2.1, deduct=True),
        )
        found = quantities(
            "blockwork", *wall, pack_blocks="pallet of 60", pack_sand="load of 2 m3", waste_sand="90 % yield"
        )
        blocks, sand = found["blocks"], found["sand"]
        self.assertEqual((blocks.pack.number, blocks.pack.words, sand.pack.number), (7, "pallet of 60", 1))  # type: ignore[union-attr]
        self.assertAlmostEqual(sand.gross, sand.net / 0.9)
        for entry, said in (
            ("pallet of 0", "holds nothing"),
            ("box of 5 kg", "takes a number"),
            ("pallet", "pallet"),
        ):
            with self.assertRaisesRegex(BadEntry, said) as refused:
                quantities("blockwork", *wall, pack_blocks=entry)
            self.assertEqual(refused.exception.field, "pack_blocks")
        with self.assertRaisesRegex(BadEntry, "can't be"):
            quantities("blockwork", *wall, waste_blocks="0 % yield")

    def test_concrete_by_mass(self) -> None:
        found = quantities("mix-by-mass", Line(length=10, width=1, height=1))
        self.assertEqual(
            (found["cement"].net, found["cement"].pack.number, f"{found['sand'].net:.2f}"),
            (3400, 136, "7.20"),
        )  # type: ignore[union-attr]

    def test_screed_with_its_edge(self) -> None:
        found = quantities("screed", Line(length=6, width=4))
        self.assertEqual((f"{found['mortar'].net:.2f}", f"{found['edge'].net:.0f}"), ("1.56", "20"))


class Junctions(unittest.TestCase):
    """Strips on their centre lines: a T loses half a width, a cross the whole, a corner nothing."""

    def test_a_rectangle_with_a_partition_and_a_cross(self) -> None:
        outer = Strip(((0, 0), (8, 0), (8, 6), (0, 6), (0, 0)), 0.6)
        partition, crossing = Strip(((4, 0), (4, 6)), 0.5), Strip(((0, 3), (8, 3)), 0.4)
        lengths, junctions = net_lengths([outer, partition, crossing])
        self.assertEqual(
            [(j.kind, j.through, j.branch) for j in junctions],
            [("T", 0, 1), ("T", 0, 1), ("T", 0, 2), ("T", 0, 2), ("cross", 1, 2)],
        )
        self.assertEqual([f"{length.net:.2f}" for length in lengths], ["28.00", "5.40", "6.90"])

    def test_a_skew_branch_loses_more(self) -> None:
        _, (junction,) = net_lengths([Strip(((-5, 0), (5, 0)), 0.6), Strip(((0, 0), (5, 5)), 0.6)])
        self.assertAlmostEqual(junction.deduct, 0.3 * 2**0.5)

    def test_the_union_of_the_strips_is_their_net_lengths(self) -> None:
        strips = [Strip(((0, 0), (10, 0)), 0.6), Strip(((3, 0), (3, 5)), 0.6), Strip(((6, -4), (6, 4)), 0.4)]
        covered = unary_union(
            [LineString(s.points).buffer(s.width / 2, cap_style="flat") for s in strips]
        ).area
        self.assertAlmostEqual(
            sum(n.net * s.width for n, s in zip(net_lengths(strips)[0], strips, strict=True)), covered
        )

    @given(
        st.floats(50, 130),
        st.floats(0.4, 0.8),
        st.floats(0.4, 0.8),
        st.sampled_from(["T", "T first", "cross"]),
    )
    def test_the_union_of_skew_strips_is_their_net_lengths_too(
        self, degrees: float, one: float, other: float, kind: str
    ) -> None:
        away = (6 * math.cos(math.radians(degrees)), 6 * math.sin(math.radians(degrees)))
        through = Strip(((-20, 0), (20, 0)), one)
        branch = Strip(((-away[0], -away[1]) if kind == "cross" else (0, 0), away), other)
        strips = [branch, through] if kind == "T first" else [through, branch]
        lengths, (junction,) = net_lengths(strips)
        self.assertEqual(
            (junction.kind, strips[junction.branch]), ("cross" if kind == "cross" else "T", branch)
        )
        covered = unary_union(
            [LineString(s.points).buffer(s.width / 2, cap_style="flat") for s in strips]
        ).area
        self.assertAlmostEqual(
            sum(n.net * s.width for n, s in zip(lengths, strips, strict=True)), covered, places=6
        )

    def test_branches_of_strips_as_they_were_drawn(self) -> None:
        """Ends 3 cm short of the centre line and 4 cm over it are at it; one 10 cm short only comes near."""
        outer = Strip(((0, 0), (8, 0), (8, 6), (0, 6), (0, 0)), 0.6)
        short, over, near = (Strip(((x, gap), (x, 3)), 0.5) for x, gap in ((2, 0.03), (4, -0.04), (6, 0.1)))
        cross = Strip(((-2, 5), (10, 5)), 0.5)
        self.assertEqual(branches([outer, short, over, near, cross]), [0, 1, 1, 0, 4])
        self.assertEqual(branches([outer, Strip(((4, 0), (4, 6)), 0.0), Strip(((4, 0),), 1.0)]), [0, 0, 0])

    def test_strips_that_only_come_near_or_run_on_in_one_another_meet_nowhere(self) -> None:
        run = Strip(((0, 0), (10, 0)), 0.6)
        for other in (
            ((5, 0.01), (5, 4)),
            ((11, -2), (11, 2)),
            ((2, 0), (8, 0)),
            ((10, 0), (10, 5)),
        ):  # the last is a corner
            self.assertEqual(net_lengths([run, Strip(other, 0.6)])[1], (), other)
        for wrong in (Strip(((0, 0),), 0.6), Strip(((0, 0), (1, 0)), 0)):
            with self.assertRaisesRegex(BadShape, "Strip 2 needs two points and a width"):
                net_lengths([run, wrong])


if __name__ == "__main__":
    unittest.main()
