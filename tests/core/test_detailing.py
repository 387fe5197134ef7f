"""Detailing rules: the published table they reproduce, bars with legs of their own, and what can't be a set of rules."""

from __future__ import annotations

import math
import unittest
from importlib import resources

from sandscale.core.bars.detailing import built_in_detailing, read_detailing, standard
from sandscale.core.bars.schedule import BarLine, schedule
from sandscale.core.refusals import BadEntry, BadFormula

SOURCE = (resources.files("sandscale.core.bars") / "detailing" / "two-diameters.toml").read_text("utf-8")


class Bs8666Table2(unittest.TestCase):
    """BS 8666, table 2: nominal size, least radius for scheduling, and least end projection for a bend of 90°, in mm."""

    def test_least_radius_and_end(self) -> None:
        table = [
            (6, 12, 110),
            (8, 16, 115),
            (10, 20, 120),
            (12, 24, 125),
            (16, 32, 130),
            (20, 70, 190),
            (25, 87.5, 240),
            (32, 112, 305),
            (40, 140, 380),
        ]
        for size, radius, end in table:
            self.assertAlmostEqual(standard().radius(size / 1000) * 1000, radius, msg=f"radius of {size}")
            self.assertAlmostEqual(standard().leg(size / 1000) * 1000, end, msg=f"end of {size}")

    def test_thicker_than_any_former(self) -> None:
        with self.assertRaisesRegex(BadEntry, "no former for a bar of 60 mm"):
            standard().radius(0.060)


class OtherRules(unittest.TestCase):
    def test_ends_and_hooks_by_diameters_but_not_less_than_a_length(self) -> None:
        rules = built_in_detailing()["two-diameters"]
        self.assertEqual([round(rules.leg(d), 6) for d in (0.008, 0.010, 0.016)], [0.075, 0.09, 0.144])
        self.assertEqual([round(rules.leg(d, hook=True), 6) for d in (0.008, 0.016)], [0.1, 0.192])

    def test_laps_by_concrete(self) -> None:
        rules = built_in_detailing()["two-diameters"]
        self.assertAlmostEqual(rules.lap(0.016, "C30/37"), 45 * 0.016)
        with self.assertRaisesRegex(BadEntry, "no lap in C8/10. It knows C25/30, C30/37, C35/45"):
            rules.lap(0.016, "C8/10")
        thick = SOURCE + '\n[[laps]]\nconcrete = "C30/37"\ntimes_d = 60\nabove = "25 mm"\n'
        self.assertEqual(
            [round(read_detailing(thick).lap(d, "C30/37") / d) for d in (0.016, 0.025, 0.032)], [45, 45, 60]
        )

    def test_covers_of_exposures_they_do_not_know_are_their_greatest(self) -> None:
        rules = built_in_detailing()["two-diameters"]
        self.assertEqual(
            (rules.setting("cover:inside"), rules.setting("cover:XC2"), rules.setting("stock")),
            ("25 mm", "75 mm", "12 m"),
        )
        for wrong in ("cover", "lap"):
            with self.assertRaises(BadFormula):
                rules.setting(wrong)

    def test_what_is_no_set_of_rules_says_where(self) -> None:
        for spoilt, says in (
            (SOURCE.replace('cut_step = "10 mm"', 'cut_step = "10 kg"'), "don't hold: “10 kg” is a mass"),
            (SOURCE.replace('stock = ["12 m", "6 m"]', "stock = []"), "don't hold at stock"),
            (SOURCE.replace('bends = "count"', 'bends = "guess"'), "don't hold at bends"),
            (SOURCE.replace('to = "50 mm"', 'to = "20 mm"'), "has no former for a bar of 25 mm"),
            (SOURCE.replace('least = "75 mm"', 'least = "-1 mm"'), "must be not below zero"),
            (SOURCE + "\ncolour = 3\n", "don't hold at laps → 2 → colour"),
            (SOURCE[:200] + "[[", "can't be read"),
        ):
            with self.subTest(says), self.assertRaisesRegex(BadFormula, says):
                read_detailing(spoilt)


class Shape99(unittest.TestCase):
    def bar(self, bends: int = 2, **legs: float) -> BarLine:
        return BarLine("S1", "07", "12", 2, 5, "99", legs, bends=bends)

    def test_legs_of_its_own_less_each_bend(self) -> None:
        line = schedule([self.bar(A=0.40, B=1.10, C=0.25, D=0.60)], standard()).lines[0]
        self.assertAlmostEqual(float(line.working.parts[0].value), 2.35 - 2 * (0.5 * 0.024 + 0.012))
        self.assertAlmostEqual(line.cut_length, 2.325)
        self.assertAlmostEqual(line.length, 10 * 2.325)
        drawn = [math.dist(a, b) for a, b in zip(line.outline, line.outline[1:], strict=False)]
        self.assertEqual([round(leg, 9) for leg in drawn], [0.40, 1.10, 0.25, 0.60])
        one = schedule([self.bar(1, A=0.40, B=1.10)], built_in_detailing()["two-diameters"]).lines[0]
        self.assertAlmostEqual(float(one.working.parts[0].value), 1.50 - 2 * 0.012)

    def test_more_bends_than_corners_or_legs_are_refused(self) -> None:
        for bar in (
            self.bar(2, A=1.0, B=1.0),
            self.bar(-1, A=1.0),
            self.bar(0),
            self.bar(0, **dict.fromkeys("ABCDEFGHIJKLM", 0.3)),
        ):
            with self.assertRaisesRegex(BadEntry, "1 to 12 legs"):
                schedule([bar], standard())
        with self.assertRaisesRegex(BadEntry, "Bar mark 07 in S1: Leg B of shape 99 must be above zero"):
            schedule([self.bar(1, A=1.0, B=-0.2)], standard())


if __name__ == "__main__":
    unittest.main()
