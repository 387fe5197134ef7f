"""Cutting bars from stock, held against published optima and against plans found by trying everything."""

from __future__ import annotations

import unittest
from collections.abc import Mapping

from hypothesis import given, settings
from hypothesis import strategies as st

from sandscale.core.bars.cutting import CutPlan, cut_from_stock
from sandscale.core.refusals import BadEntry

# The paper-roll instance common in operations research texts: 13 widths from rolls of 5600, optimum 73 rolls.
ROLLS = {
    1.380: 22,
    1.520: 25,
    1.560: 12,
    1.710: 14,
    1.820: 18,
    1.880: 18,
    1.930: 20,
    2.000: 10,
    2.050: 12,
    2.100: 14,
    2.140: 16,
    2.150: 18,
    2.200: 20,
}


class PublishedInstances(unittest.TestCase):
    def test_paper_rolls_of_13_widths(self) -> None:
        plan = cut_from_stock(ROLLS, [5.6])
        self.assertEqual(plan.order, {5.6: 73})
        self.assertAlmostEqual(plan.bound, 73 * 5.6)
        self.assertEqual(plan.gap, 0)

    def test_gilmore_and_gomory_need_more_than_the_length_alone(self) -> None:
        # Five of 5.0 from bars of 12: two to a bar, so three bars, though 25 m would fit in 2.1.
        plan = cut_from_stock({5.0: 5}, [12.0])
        self.assertEqual((plan.order, plan.bound), ({12.0: 3}, 36.0))
        self.assertEqual(plan.offcuts, {7.0: 1, 2.0: 2})


class Plans(unittest.TestCase):
    def check(self, wanted: Mapping[float, int], plan: CutPlan) -> None:
        """The plan cuts what is wanted, no more, from bars that are long enough; the bound lies below it."""
        cut: dict[float, int] = {}
        for pattern in plan.patterns:
            used = sum(length * number for length, number in pattern.cuts.items())
            self.assertAlmostEqual(used + pattern.offcut, pattern.stock, places=6)
            for length, number in pattern.cuts.items():
                cut[round(length, 3)] = cut.get(round(length, 3), 0) + number * pattern.times
        self.assertEqual(cut, {round(length, 3): number for length, number in wanted.items() if number})
        self.assertLessEqual(plan.bound, plan.bought + 1e-9)
        self.assertGreaterEqual(plan.bound, plan.demand - 1e-6)

    @settings(deadline=None, max_examples=30)
    @given(
        st.dictionaries(
            st.integers(200, 6000).map(lambda mm: mm / 1000), st.integers(0, 12), min_size=1, max_size=6
        )
    )
    def test_every_plan_covers_its_demand_and_no_more(self, wanted: dict[float, int]) -> None:
        self.check(wanted, cut_from_stock(wanted, [12.0, 6.0]))

    def test_a_mixed_order_takes_the_shorter_stock_where_it_fits(self) -> None:
        self.assertEqual(cut_from_stock({5.9: 1, 11.8: 1}, [12.0, 6.0]).order, {12.0: 1, 6.0: 1})

    def test_the_saw_takes_its_share(self) -> None:
        self.assertEqual(cut_from_stock({3.0: 4}, [12.0]).order, {12.0: 1})
        self.assertEqual(cut_from_stock({3.0: 4}, [12.0], saw=0.003).order, {12.0: 2})

    def test_nothing_wanted_is_nothing_bought(self) -> None:
        self.assertEqual(cut_from_stock({3.0: 0}, [12.0]).bought, 0)

    def test_what_can_not_be_cut_is_refused(self) -> None:
        for wanted, stock, said in (
            ({12.5: 1}, [12.0], "longer than the stock of 12 m"),
            ({3.0: -1}, [12.0], "can't be cut"),
            ({0.0: 2}, [12.0], "can't be cut"),
            ({3.0: 1}, [], "there is none"),
        ):
            with self.subTest(said), self.assertRaisesRegex(BadEntry, said):
                cut_from_stock(wanted, stock)


if __name__ == "__main__":
    unittest.main()
