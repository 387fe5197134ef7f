"""Worked cases of pad footings and their bars: §3 and §4 of the computation."""

from __future__ import annotations

import unittest

from sandscale.core.bars.rules import BAR_RULES
from sandscale.core.makeups.makeup import built_in
from sandscale.core.makeups.run import Line, run
from sandscale.core.numbers.formula import Formula
from sandscale.core.numbers.units import unit

PF2 = [Line(times=4, length=1.80, width=1.80, height=0.50)]
LENGTHS = {name: unit("m").dimension for name in ("A", "B", "C", "r", "d", "w", "c", "s")}


def rule(text: str, **values: float) -> float:
    """A bar rule worked out for values in m."""
    return float(Formula(text, LENGTHS, BAR_RULES, where="case").value(values))


class PadFooting(unittest.TestCase):
    """4 × 1.80 × 1.80 × 0.50, blinding 50 with 100 projection, 16 at 150 both ways, cover 50, legs 350."""

    def quantities(self, **entries: str) -> dict[str, float]:
        return {q.output.key: q.net for q in run(built_in()["pad-footing"], entries, PF2).quantities}

    def test_concrete_formwork_blinding(self) -> None:
        found = self.quantities()
        self.assertEqual([f"{found[key]:.2f}" for key in ("concrete", "formwork", "blinding_concrete")], ["6.48", "14.40", "0.80"])

    def test_bars_both_ways(self) -> None:
        values = run(built_in()["pad-footing"], {}, PF2).values
        self.assertEqual((float(values["bars_across"][0]), float(values["bars_along"][0])), (13, 13))
        self.assertEqual(f"{values['cut_long'][0]:.3f}", "2.350")
        self.assertEqual(f"{4 * values['bar_length'][0]:.1f}", "244.4")
        self.assertEqual(f"{self.quantities()['bars']:.1f}", "385.7")

    def test_bars_counted_by_the_other_rules(self) -> None:
        for counting, number in (("spaces up, plus one", 13), ("spaces down, plus one", 12), ("spaces up", 12)):
            values = run(built_in()["pad-footing"], {"counting": counting}, PF2).values
            self.assertEqual(float(values["bars_across"][0]), number)

    def test_an_oblong_footing_has_its_own_bars_each_way(self) -> None:
        oblong = run(built_in()["pad-footing"], {}, [Line(times=1, length=2.40, width=1.20, height=0.50)])
        values = oblong.values
        # Across 1.20: (1.20 − 0.10 − 0.016)/0.15 = 7.23 → 9 bars of 2.40 − 0.10 + 0.70 − 0.064 = 2.936 → 2.950.
        self.assertEqual((float(values["bars_across"][0]), f"{values['cut_long'][0]:.3f}"), (9, "2.950"))
        # Along 2.40: (2.40 − 0.10 − 0.016)/0.15 = 15.23 → 17 bars of 1.736 → 1.750.
        self.assertEqual((float(values["bars_along"][0]), f"{values['cut_cross'][0]:.3f}"), (17, "1.750"))


class BarMasses(unittest.TestCase):
    """EN 10080: π/4·d²·7850."""

    def test_kilograms_per_metre(self) -> None:
        for millimetres, mass in ((8, "0.395"), (10, "0.617"), (12, "0.888"), (16, "1.578"), (20, "2.466"), (25, "3.853"), (32, "6.313")):
            with self.subTest(millimetres):
                self.assertEqual(f"{rule('bar_mass(d)', d=millimetres / 1000):.3f}", mass)


class CutLengths(unittest.TestCase):
    """BS 8666 / ISO 3766 shape codes, outside dimensions."""

    def test_shape_21(self) -> None:
        exact = rule("shape_21(A, B, C, r, d)", A=0.35, B=1.70, C=0.35, r=0.032, d=0.016)
        self.assertEqual(f"{exact:.3f}", "2.336")
        self.assertEqual(f"{rule('up_to_step(shape_21(A, B, C, r, d), 25*mm)', A=0.35, B=1.70, C=0.35, r=0.032, d=0.016):.3f}", "2.350")

    def test_shape_51(self) -> None:
        exact = rule("shape_51(A, B, C, r, d)", A=0.40, B=0.25, C=0.16, r=0.020, d=0.010)
        self.assertEqual(f"{exact:.3f}", "1.520")
        self.assertEqual(f"{rule('up_to_step(shape_51(A, B, C, r, d), 25*mm)', A=0.40, B=0.25, C=0.16, r=0.020, d=0.010):.3f}", "1.525")

    def test_straight_and_one_bend(self) -> None:
        self.assertAlmostEqual(rule("shape_00(A)", A=3.2), 3.2)
        self.assertAlmostEqual(rule("shape_11(A, B, r, d)", A=1.0, B=0.3, r=0.032, d=0.016), 1.268)


class BarsOverAWidth(unittest.TestCase):
    """W 1.80, c 50, d 16, s 150: 11.23 intervals, 13 bars (12; 12)."""

    def test_intervals(self) -> None:
        self.assertEqual(f"{rule('bar_intervals(w, c, d, s)', w=1.80, c=0.05, d=0.016, s=0.15):.2f}", "11.23")
        self.assertEqual(rule("bar_intervals(w, c, d, s)", w=0.10, c=0.05, d=0.016, s=0.15), 0)

    def test_counts(self) -> None:
        for rounds_up, end_bar, number in ((1, 1, 13), (0, 1, 12), (1, 0, 12)):
            self.assertEqual(rule(f"bar_count(bar_intervals(w, c, d, s), {rounds_up}, {end_bar})", w=1.80, c=0.05, d=0.016, s=0.15), number)


if __name__ == "__main__":
    unittest.main()
