"""Worked cases of pad footings and their bars: §3 and §4 of the computation."""

from __future__ import annotations

import math
import unittest
from dataclasses import replace
from itertools import pairwise

from sandscale.core.bars.detailing import built_in_detailing, standard
from sandscale.core.bars.schedule import BarLine, schedule
from sandscale.core.bars.shapes import SHAPES
from sandscale.core.bars.sizes import mass_per_metre, typed_mass
from sandscale.core.makeups.makeup import built_in
from sandscale.core.makeups.run import Line, run
from sandscale.core.numbers.formula import Formula
from sandscale.core.numbers.units import unit
from sandscale.core.refusals import BadEntry

PF2 = [Line(times=4, length=1.80, width=1.80, height=0.50)]
LENGTHS = {name: unit("m").dimension for name in ("A", "B", "C", "r", "d", "w", "c", "s")}


def rule(text: str, **values: float) -> float:
    """A bar rule worked out for values in m."""
    return float(Formula(text, LENGTHS, standard().formulas(), where="case").value(values))


class PadFooting(unittest.TestCase):
    """4 × 1.80 × 1.80 × 0.50, blinding 50 with 100 projection, 16 at 150 both ways, cover 50, legs 350."""

    def quantities(self, **entries: str) -> dict[str, float]:
        return {q.output.key: q.net for q in run(built_in()["pad-footing"], entries, PF2).quantities}

    def test_concrete_formwork_blinding(self) -> None:
        found = self.quantities()
        self.assertEqual(
            [f"{found[key]:.2f}" for key in ("concrete", "formwork", "blinding_concrete")],
            ["6.48", "14.40", "0.80"],
        )

    def test_bars_both_ways(self) -> None:
        values = run(built_in()["pad-footing"], {}, PF2).values
        self.assertEqual((float(values["bars_across"][0]), float(values["bars_along"][0])), (13, 13))
        self.assertEqual(f"{values['long_cut'][0]:.3f}", "2.350")
        self.assertEqual(f"{4 * values['bar_length'][0]:.1f}", "244.4")
        self.assertEqual(f"{self.quantities()['bars']:.1f}", "385.7")

    def test_bars_counted_by_the_other_rules(self) -> None:
        for counting, number in (
            ("spaces up, plus one", 13),
            ("spaces down, plus one", 12),
            ("spaces up", 12),
        ):
            values = run(built_in()["pad-footing"], {"counting": counting}, PF2).values
            self.assertEqual(float(values["bars_across"][0]), number)

    def test_an_oblong_footing_has_its_own_bars_each_way(self) -> None:
        oblong = run(built_in()["pad-footing"], {}, [Line(times=1, length=2.40, width=1.20, height=0.50)])
        values = oblong.values
        # Across 1.20: (1.20 − 0.10 − 0.016)/0.15 = 7.23 → 9 bars of 2.40 − 0.10 + 0.70 − 0.064 = 2.936 → 2.950.
        self.assertEqual((float(values["bars_across"][0]), f"{values['long_cut'][0]:.3f}"), (9, "2.950"))
        # Along 2.40: (2.40 − 0.10 − 0.016)/0.15 = 15.23 → 17 bars of 1.736 → 1.750.
        self.assertEqual((float(values["bars_along"][0]), f"{values['cross_cut'][0]:.3f}"), (17, "1.750"))


class BarMasses(unittest.TestCase):
    """EN 10080: π/4·d²·7850."""

    def test_kilograms_per_metre(self) -> None:
        for millimetres, mass in (
            (8, "0.395"),
            (10, "0.617"),
            (12, "0.888"),
            (16, "1.578"),
            (20, "2.466"),
            (25, "3.853"),
            (32, "6.313"),
        ):
            with self.subTest(millimetres):
                self.assertEqual(f"{rule('bar_mass(d)', d=millimetres / 1000):.3f}", mass)


class CutLengths(unittest.TestCase):
    """BS 8666:2020 table 3 (ISO 3766), outside dimensions."""

    # With A 1.0, B 0.5, C 0.4, D 0.3, E 0.25, F 0.2, R 0.3; r 0.032, d 0.016: worked by hand from the table.
    TABLE = {
        "00": 1.0, "01": 1.0, "11": 1.468, "12": 1.3518, "13": 1.6594, "14": 1.336, "15": 1.4, "21": 1.836, "22": 1.9704, "23": 1.836,
        "24": 1.9, "25": 1.75, "26": 1.9, "29": 1.836, "31": 2.104, "32": 2.104, "33": 3.586, "34": 2.118, "35": 2.118, "36": 2.136,
        "41": 2.322, "44": 2.322, "46": 2.65, "47": 3.3, "51": 3.64, "56": 2.54, "63": 4.108, "64": 2.758, "67": 1.0, "75": 3.59133, "98": 2.572,
    }  # fmt: skip

    def test_every_shape_of_the_table(self) -> None:
        legs = {"A": 1.0, "B": 0.5, "C": 0.4, "D": 0.3, "E": 0.25, "F": 0.2, "R": 0.3}
        self.assertEqual({*self.TABLE, "77"}, set(SHAPES))
        for code, length in self.TABLE.items():
            with self.subTest(code):
                own = {name: unit("m").dimension for name in (*SHAPES[code].legs, "r", "d")}
                call = f"shape_{code}({', '.join(own)})"
                value = Formula(call, own, standard().formulas(), where="case").value(
                    {**legs, "r": 0.032, "d": 0.016}
                )
                self.assertAlmostEqual(float(value), length, places=5)

    def test_helix_of_14_turns_420_on_its_centre_line_pitch_150(self) -> None:
        told = schedule(
            [BarLine("P1", "07", "10", 1, 1, "77", {"A": 0.430, "B": 0.150, "C": 14})], standard()
        ).lines[0]
        self.assertEqual(f"{float(told.working.parts[0].value):.3f}", "18.592")
        self.assertIn(
            "18.600 m is longer than the stock of 12 m: it needs a lap.", [f.says for f in told.findings]
        )

    def test_shape_21(self) -> None:
        exact = rule("shape_21(A, B, C, r, d)", A=0.35, B=1.70, C=0.35, r=0.032, d=0.016)
        self.assertEqual(f"{exact:.3f}", "2.336")
        self.assertEqual(
            f"{rule('up_to_step(shape_21(A, B, C, r, d), 25*mm)', A=0.35, B=1.70, C=0.35, r=0.032, d=0.016):.3f}",
            "2.350",
        )

    def test_shape_51(self) -> None:
        exact = rule("shape_51(A, B, C, r, d)", A=0.40, B=0.25, C=0.16, r=0.020, d=0.010)
        self.assertEqual(f"{exact:.3f}", "1.520")
        self.assertEqual(
            f"{rule('up_to_step(shape_51(A, B, C, r, d), 25*mm)', A=0.40, B=0.25, C=0.16, r=0.020, d=0.010):.3f}",
            "1.525",
        )

    def test_straight_and_one_bend(self) -> None:
        self.assertAlmostEqual(rule("shape_00(A, r, d)", A=3.2, r=0.032, d=0.016), 3.2)
        self.assertAlmostEqual(rule("shape_11(A, B, r, d)", A=1.0, B=0.3, r=0.032, d=0.016), 1.268)


class Laps(unittest.TestCase):
    """Stock 12, lap 0.6: a run of 12.0 has none, 12.1 one, 40 three."""

    def test_laps_of_a_run(self) -> None:
        for run_length, laps, total in ((12.0, 0, 12.0), (12.1, 1, 12.7), (40.0, 3, 41.8), (0.0, 0, 0.0)):
            self.assertEqual(rule("lap_number(A, B, C)", A=run_length, B=12, C=0.6), laps)
            self.assertAlmostEqual(rule("lapped(A, B, C)", A=run_length, B=12, C=0.6), total)

    def test_links_stand_closer_near_the_supports(self) -> None:
        # 6.0 m: 1.0 at 100 at each end, 4.0 at 200 between: 10 + 20 + 10 spaces.
        self.assertEqual(rule("zoned_links(A, B, C, w)", A=6.0, B=1.0, C=0.1, w=0.2), 41)
        self.assertEqual(rule("zoned_links(A, B, C, w)", A=1.5, B=1.0, C=0.1, w=0.2), 17)


class Schedule(unittest.TestCase):
    """PF2: 4 footings × 2 ways × 13 × 2.350 = 244.4 m = 385.7 kg of 16."""

    PF2 = (
        BarLine("PF2", "01", "16", 4, 13, "21", {"A": 0.35, "B": 1.70, "C": 0.35}),
        BarLine("PF2", "02", "16", 4, 13, "21", {"A": 0.35, "B": 1.70, "C": 0.35}),
    )

    def test_lines_and_the_summary_by_diameter(self) -> None:
        worked = schedule(
            [*self.PF2, BarLine("C1", "03", "8", 6, 15, "51", {"A": 0.4, "B": 0.25, "C": 0.16})], standard()
        )
        self.assertEqual(
            [(line.total, f"{line.cut_length:.3f}") for line in worked.lines],
            [(52, "2.350"), (52, "2.350"), (90, "1.550")],
        )
        self.assertEqual(
            [(t.size, t.number, f"{t.length:.1f}", f"{t.mass:.1f}") for t in worked.sizes],
            [("8", 90, "139.5", "55.0"), ("16", 104, "244.4", "385.7")],
        )
        self.assertAlmostEqual(worked.mass, sum(t.mass for t in worked.sizes))
        self.assertEqual(f"{worked.sizes[1].tonnes:.3f}", "0.386")

    def test_the_cut_length_is_told_in_trade_notation(self) -> None:
        told = schedule(self.PF2, standard()).lines[0].working
        self.assertEqual((told.expression, told.figures), ("up to 25 mm", "2.3360 m"))
        self.assertEqual(told.parts[0].figures, "0.35 + 1.70 + 0.35 − 0.032 − 2 × 0.016")

    def test_other_rules_deduct_by_count_or_not_at_all(self) -> None:
        rules = built_in_detailing()
        by_count = schedule(self.PF2, rules["two-diameters"]).lines[0]
        self.assertAlmostEqual(float(by_count.working.parts[0].value), 2.40 - 2 * 2 * 0.016)
        shown = schedule(
            [BarLine("F1", "01", "#5", 1, 1, "21", {"A": 0.35, "B": 1.70, "C": 0.35})], rules["imperial"]
        ).lines[0]
        self.assertAlmostEqual(float(shown.working.parts[0].value), 2.40)
        self.assertAlmostEqual(shown.mass / shown.length, 1.043 * 0.45359237 / 0.3048)  # ASTM A615, #5

    def test_what_is_legal_but_suspect_is_found(self) -> None:
        for bar, said in (
            (
                BarLine("B1", "01", "16", 1, 1, "21", {"A": 0.05, "B": 1.7, "C": 0.35}),
                "Leg A of 50 is under the least end of 130 mm.",
            ),
            (
                BarLine("B1", "01", "25", 1, 1, "21", {"A": 0.35, "B": 0.1, "C": 0.35}),
                "B is too short for its two bends",
            ),
            (
                BarLine("B1", "01", "16", 1, 1, "26", {"A": 1.0, "B": 0.5, "C": 1.0, "D": 0.6}),
                "B can't be as short as its offset.",
            ),
            (BarLine("B1", "01", "16", 1, 1, "00", {"A": 12.5}), "12.500 m is longer than the stock of 12 m"),
        ):
            with self.subTest(said):
                self.assertTrue(any(said in f.says for f in schedule([bar], standard()).lines[0].findings))
        twice = schedule(
            [
                self.PF2[0],
                BarLine("PF3", "01", "16", 1, 1, "00", {"A": 2.0}),
                BarLine("PF2", "01", "16", 1, 1, "00", {"A": 2.0}),
            ],
            standard(),
        )
        self.assertEqual(twice.lines[1].findings, ())  # marks are a member's own
        self.assertIn("Mark 01 is another bar in PF2", twice.lines[2].findings[0].says)

    def test_what_can_not_be_is_refused_with_its_line_and_column(self) -> None:
        for change, field, said in (
            ({"shape": "20"}, "0.shape", "There is no shape code 20."),
            ({"size": "17"}, "0.size", "There is no bar of size “17”."),
            ({"legs": {"A": 1.0, "B": 1.0}}, "0.C", "needs a leg C"),
            ({"legs": {"A": 1.0, "B": -1.0, "C": 1.0}}, "0.B", "must be above zero"),
            ({"members": -1}, "0.members", "below zero"),
        ):
            with self.subTest(said), self.assertRaises(BadEntry) as refused:
                schedule([replace(self.PF2[0], **change)], standard())
            self.assertIn(said, refused.exception.sentence)
            self.assertEqual(refused.exception.field, field)

    def test_a_typed_mass_is_held_against_its_size(self) -> None:
        self.assertIsNone(typed_mass("16", 1.58))
        self.assertIn("900% over the 1.578", typed_mass("16", 15.78).says)  # type: ignore[union-attr]
        self.assertEqual(f"{mass_per_metre('#8'):.3f}", "3.973")  # ASTM A615: 2.670 lb/ft

    def test_every_outline_is_as_long_as_its_legs(self) -> None:
        legs = {"A": 1.0, "B": 0.5, "C": 0.4, "D": 0.3, "E": 0.25, "F": 0.2, "R": 0.5}
        for code in ("00", "01", "11", "21", "23", "31", "32", "41", "44", "51", "64"):
            shape = SHAPES[code]
            own = {leg: legs[leg] for leg in shape.legs}
            drawn = shape.points(own, 0.016, 0.032)
            total = Formula(shape.sum, {leg: unit("m").dimension for leg in own}, where="case").value(own)
            self.assertAlmostEqual(sum(math.dist(a, b) for a, b in pairwise(drawn)), float(total), msg=code)
        for shape in SHAPES.values():
            self.assertTrue(
                all(
                    math.isfinite(v)
                    for point in shape.points({leg: legs.get(leg, 3) for leg in shape.legs}, 0.016, 0.032)
                    for v in point
                )
            )


class BarsOverAWidth(unittest.TestCase):
    """W 1.80, c 50, d 16, s 150: 11.23 intervals, 13 bars (12; 12)."""

    def test_intervals(self) -> None:
        self.assertEqual(f"{rule('bar_intervals(w, c, d, s)', w=1.80, c=0.05, d=0.016, s=0.15):.2f}", "11.23")
        self.assertEqual(rule("bar_intervals(w, c, d, s)", w=0.10, c=0.05, d=0.016, s=0.15), 0)

    def test_counts(self) -> None:
        for rounds_up, end_bar, number in ((1, 1, 13), (0, 1, 12), (1, 0, 12)):
            self.assertEqual(
                rule(
                    f"bar_count(bar_intervals(w, c, d, s), {rounds_up}, {end_bar})",
                    w=1.80,
                    c=0.05,
                    d=0.016,
                    s=0.15,
                ),
                number,
            )


if __name__ == "__main__":
    unittest.main()
