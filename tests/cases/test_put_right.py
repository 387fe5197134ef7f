"""What was reckoned wrong once, each by the case that showed it."""

from __future__ import annotations

import math
import unittest
from decimal import Decimal

from sandscale.core.bars.cutting import cut_from_stock
from sandscale.core.bars.detailing import standard
from sandscale.core.makeups.makeup import built_in, built_in_makeup, built_in_source, read_makeup
from sandscale.core.makeups.run import Line, run
from sandscale.core.numbers.entry import read_entry
from sandscale.core.numbers.formula import Formula
from sandscale.core.numbers.units import NUMBER, unit
from sandscale.core.pricing.build_up import BuildUpLine, Terms, analyse
from sandscale.core.refusals import BadFormula

LENGTH = unit("m").dimension


def net(makeup: str, output: str, *lines: Line, **entries: str) -> float:
    found = run(built_in()[makeup], entries, lines).quantities
    return next(q.net for q in found if q.output.key == output)


class PutRight(unittest.TestCase):
    def test_signs_are_read_as_people_write_them(self) -> None:
        scope = {"a": NUMBER, "b": LENGTH}
        for text, expected in (
            ("b × 2 − 50*mm", 3.95), ("b²/b", 2), ("b^2/b", 2), ("b*(1 + 5 %)", 2.1), ("sin(30°)*b", 1),
            ("b if not (a > 3) else 0*m", 0), ("(a > 3) + (a > 4)", 2), ("-(a > 3)", -1),
            ("acos(0.5)/deg", 60), ("a ÷ 2", 2.5),
        ):  # fmt: skip
            self.assertAlmostEqual(
                float(Formula(text, scope, where="case").value({"a": 5.0, "b": 2.0})), expected
            )
        for text in ("a % 3", "sin(b)", "5%a"):
            with self.subTest(text), self.assertRaises(BadFormula):
                Formula(text, scope, where="case")

    def test_a_percentage_may_carry_its_sign(self) -> None:
        wall = Line(length=10, width=1, height=1)
        for entry in ("5", "5%", " 5 % "):
            found = run(built_in()["plain-volume"], {"waste_net": entry}, [wall]).quantities[0]
            self.assertEqual((found.waste, found.gross), (5, 10.5))
        self.assertEqual(net("ground-slab", "membrane_bought", wall, membrane_lap="15%"), 11.5)

    def test_a_day_in_an_hour_field_is_a_working_day(self) -> None:
        self.assertEqual(read_entry("1 day", "h"), 8)

    def test_a_limit_in_millimetres_holds_for_an_opening_in_metres(self) -> None:
        source = (
            built_in_source("lintel")
            .replace('"1.2 m"', '"{} mm"')
            .replace('key = "lintel"\n', 'key = "own"\n', 1)
        )
        for limit in range(1001, 2400, 37):
            makeup = read_makeup(source.replace("{}", str(limit)))
            at, below = (
                next(
                    q.net for q in run(makeup, {}, [Line(length=length)]).quantities if q.output.key == "bars"
                )
                for length in (float(f"{limit / 1000:.3f}"), limit / 1000 - 0.0002)
            )
            self.assertGreater(at, 1.4 * below, limit)  # three bars of 12 from there on, two of 10 before

    def test_a_strip_that_branches_is_open_where_the_branch_meets(self) -> None:
        """10 m and 5 m of 0.6 × 0.3, meeting at a T."""
        size = {"width": 0.6, "height": 0.3}
        through, branch = Line(length=10, **size), Line(length=5, **size)
        formwork = net("strip-footing", "formwork", through) + net(
            "strip-footing", "formwork", branch, junctions="1"
        )
        self.assertAlmostEqual(formwork, 8.64)
        dug = {"dig_depth": "1", "working_space": "200"}
        alone, joined = (
            net("strip-footing", "dig_1", branch, **dug, junctions=number) for number in ("0", "1")
        )
        self.assertAlmostEqual(
            alone - joined, (0.8 + 0.4) / 2 * (0.8 + 0.4)
        )  # half of the trench it runs into

    def test_cover_that_leaves_no_core_gives_no_links(self) -> None:
        column = Line(length=0.1, width=0.1, height=3)
        self.assertEqual(net("column", "links", column, cover="50"), 0)
        self.assertEqual(net("column-round", "rings", Line(width=0.1, height=3), cover="50"), 0)
        self.assertEqual(net("pile", "helices", Line(length=9), cover="300"), 0)

    def test_a_helix_lies_on_the_slope_where_its_pitch_is_steep(self) -> None:
        shape = Formula("shape_77(A, B, C, r, d)", {**dict.fromkeys("ABrd", LENGTH), "C": NUMBER},
            standard().formulas(), where="case")  # fmt: skip
        steep = shape.value({"A": 0.43, "B": 0.15, "C": 14.0, "r": 0.02, "d": 0.01})
        self.assertEqual(round(float(steep), 3), 18.592)
        close = shape.value({"A": 0.43, "B": 0.08, "C": 14.0, "r": 0.02, "d": 0.01})
        self.assertAlmostEqual(float(close), 14 * math.pi * 0.42)

    def test_whole_bars_are_searched_for_until_they_are_proven(self) -> None:
        plan = cut_from_stock({6.8: 22, 4.35: 24, 2.15: 6, 0.91: 17}, [12.0])
        self.assertEqual((plan.order, plan.gap), ({12.0: 25}, 0))

    def test_waste_on_a_mix_reaches_its_cement_and_sand(self) -> None:
        wet = Line(length=3.2, width=1, height=1)
        for makeup, outputs in (
            ("mix-by-volume", ("cement", "sand", "aggregate")),
            ("mix-by-mass", ("cement", "sand", "water")),
        ):
            for output in outputs:
                plain, more = (net(makeup, output, wet, waste_wet=waste) for waste in ("0", "5"))
                self.assertAlmostEqual(more, 1.05 * plain)

    def test_bars_of_a_footing_by_the_number_shown(self) -> None:
        """2.2 × 2.2 × 0.55, cover 60, 9 of 16 each way, legs 100, no bend deduction: 18 × 2.28 = 41.04 m."""
        footing, entries = (
            Line(length=2.2, width=2.2, height=0.55),
            {"cover": "60", "leg": "100", "told_by": "number as shown"},
        )

        def told(output: str = "bars", **more: str) -> float:
            given = {**entries, "number_along": "9", "number_across": "9", **more}
            found = run(built_in_makeup("pad-footing", "metric-as-shown"), given, [footing])
            self.assertEqual([f.says for f in found.findings if f.code == "caution"], [])
            return next(q.net for q in found.quantities if q.output.key == output)

        per_metre = math.pi / 4 * 0.016**2 * 7850
        self.assertAlmostEqual(told(), 41.04 * per_metre)
        self.assertEqual(round(told(), 1), 64.8)
        self.assertAlmostEqual(told(ways="along the length"), 41.04 / 2 * per_metre)
        self.assertAlmostEqual(told(lie="top and bottom"), 2 * 41.04 * per_metre)
        own = {"other_way": "of their own", "other": "12", "other_leg": "150", "number_across": "11"}
        self.assertAlmostEqual(told(**own), 41.04 / 2 * per_metre)
        self.assertAlmostEqual(told("other_bars", **own), 11 * 2.38 * math.pi / 4 * 0.012**2 * 7850)

    def test_a_pipe_trench_in_feet_gives_cubic_yards_and_tons(self) -> None:
        """860 × 8 × 9 ft flared to 13 over the top 3, pipe 4.5, beds of 1 ft below and 3 ft up it, 90 % yield, 1.5 ton/yd³."""
        feet = unit("ft").size
        line = Line(length=860 * feet, width=8 * feet, height=9 * feet)
        entries = {
            "flare_width": "13 ft", "flare_depth": "3 ft", "pipe": "4.5 ft", "bed_1": "1 ft", "bed_2": "3 ft",
            "lies": "90",
            "bed_1_density": "3000/27 [lb/ft³]", "bed_2_density": "3000/27 [lb/ft³]",
        }  # fmt: skip
        found = run(built_in_makeup("pipe-trench", "", "us"), entries, [line]).quantities
        told = {q.output.key: (round(q.net, 1), q.output.unit) for q in found}
        self.assertEqual(
            [told[key] for key in ("dig", "bed_below", "surround", "bed_mass", "surround_mass")],
            [(2532.2, "yd³"), (254.8, "yd³"), (405.7, "yd³"), (424.7, "ton"), (676.1, "ton")],
        )

    def test_along_nothing_stands_nothing(self) -> None:
        for length, ends, remainder, places in (
            (0, "both ends", "takes one more", 0), (18.4, "both ends", "takes one more", 14),
            (18.4, "both ends", "is left wider", 13), (18.0, "both ends", "is left wider", 13),
            (18.0, "both ends", "takes one more", 13), (18.4, "one end", "takes one more", 13),
            (18.4, "neither end", "takes one more", 12), (0.2, "neither end", "is left wider", 0),
        ):  # fmt: skip
            entries = {"spacing": "1.5", "ends": ends, "remainder": remainder}
            found = run(built_in()["items-along-a-run"], entries, [Line(3, length)]).quantities
            self.assertEqual(found[0].net, 3 * places, (length, ends, remainder))


class Nested(unittest.TestCase):
    def test_a_nested_rate_goes_in_unrounded(self) -> None:
        cement = BuildUpLine("Cement", "material", "unit", Decimal("0.124"), "kg", Decimal(0), Decimal(1))
        inner = analyse([cement], Terms())
        self.assertEqual((inner.cost, inner.rate), (Decimal("0.124"), Decimal("0.12")))
        outer = BuildUpLine("Mix", "material", "unit", Decimal(300), "kg", Decimal(0), inner.cost)
        self.assertEqual(analyse([outer], Terms()).rate, Decimal("37.20"))
