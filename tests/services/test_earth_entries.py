"""What is typed for earthworks: batters, grades and depth bands as the trade writes them."""

from __future__ import annotations

import unittest
from collections.abc import Callable

from sandscale.core.refusals import Refusal
from sandscale.services.ground.entered import batter_of, grade_of, limits_of


class Entries(unittest.TestCase):
    def refused(self, read: Callable[[str, str], object], *texts: str) -> None:
        for text in texts:
            with self.subTest(text), self.assertRaises(Refusal) as caught:
                read(text, "cut_batter")
            self.assertEqual(caught.exception.field, "cut_batter")

    def test_a_batter_is_one_up_to_so_many_along(self) -> None:
        for text, along in {
            "": 0, "0": 0, "1:0": 0, "2": 2, "1:2": 2, "1 : 1.5": 1.5, "1 in 3": 3, "2:1": 0.5, "0.5": 0.5, " 1:1 ": 1,
            "1:(1+0.25)": 1.25,
        }.items():  # fmt: skip
            self.assertAlmostEqual(batter_of(text, "cut_batter"), along, msg=text)
        self.refused(batter_of, "0:1", "1:", ":2", "1:2:3", "steep", "-1", "1:-2", "1:2 m", "1e400")

    def test_a_grade_rises_or_falls(self) -> None:
        for text, rise in {
            "": 0, "2 %": 0.02, "-2%": -0.02, "−2.5 %": -0.025, "0.02": 0.02, "1:50": 0.02, "-1:40": -0.025, "1 in 200": 0.005,
            "0": 0, "0:50": 0,
        }.items():  # fmt: skip
            self.assertAlmostEqual(grade_of(text, "cut_batter"), rise, msg=text)
        self.refused(grade_of, "1:0", "up", "%", "2 % to the east", "1:50:2")

    def test_bands_rise_from_nothing(self) -> None:
        for text, limits in {
            "0; 1; 2": (0, 1, 2), "1;2": (0, 1, 2), " 0.5 ": (0, 0.5), "1;1;2": (0, 1, 2), "2*0.5; 4": (0, 1, 4),
            "500 mm; 2": (0, 0.5, 2),
        }.items():  # fmt: skip
            self.assertEqual(limits_of(text), limits, text)
        for text in ("", "0", ";", "2; 1", "-1; 2", "x", "1, 2; y"):
            with self.subTest(text), self.assertRaises(Refusal):
                limits_of(text)


if __name__ == "__main__":
    unittest.main()
