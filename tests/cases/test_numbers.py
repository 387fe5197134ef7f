"""Worked cases of numbers, figures and counts: §1 and §2 of the computation."""

from __future__ import annotations

import unittest
from decimal import Decimal

import numpy as np

from sandscale.core.figures.scale import SHEET_UNIT
from sandscale.core.numbers.rounding import billed, ceil_guarded, exact, floor_guarded, half_up
from sandscale.core.numbers.units import unit
from sandscale.core.numbers.working import shown
from sandscale.core.numbers.written import listed
from sandscale.core.refusals import BadEntry


class RoundingHalfUp(unittest.TestCase):
    """The trade rounds halves away from zero, once, at the billed quantity."""

    def test_billed_places_by_unit(self) -> None:
        for value, symbol, text in (
            (1.005, "m²", "1.01"), (2.675, "m³", "2.68"), (6.4799999999999995, "m³", "6.48"), (0.0005, "t", "0.001"), (385.745, "kg", "386"),
            (0.5, "nr", "1"), (-0.125, "m", "-0.13"), (12.345, "ft²", "12.35"), (1e9 + 0.005, "m", "1000000000.01"),
        ):  # fmt: skip
            with self.subTest(value):
                self.assertEqual(billed(value, symbol), Decimal(text))

    def test_a_project_may_set_its_own_places(self) -> None:
        self.assertEqual(billed(6.4449, "m³", {"m³": 1}), Decimal("6.4"))
        self.assertEqual(billed(385.745, "kg", {"kg": 2}), Decimal("385.75"))

    def test_never_twice(self) -> None:
        self.assertEqual(half_up(exact(2.3449999), 2), Decimal("2.34"))

    def test_numbers_are_set_with_a_real_minus_and_thousands_apart(self) -> None:
        for value, text in (
            (6.48, "6.48"),
            (0.016, "0.016"),
            (-0.072, "−0.072"),
            (48210.66, "48\u00a0210.66"),
            (Decimal("2.3000"), "2.30"),
            (1.57833614, "1.5783"),
            (5, "5.00"),
        ):
            self.assertEqual(shown(value), text)
        self.assertEqual(shown(12.0, least=0), "12")


class ANumberOfAList(unittest.TestCase):
    """As a merchant's or a client's list has it, with its currency beside it."""

    def test_with_its_sign_and_its_currency(self) -> None:
        for text, told in (
            ("12.50", "12.50"), ("EUR 12.50", "12.50"), ("1 234,50 €", "1234.50"), ("1.234,50", "1234.50"), (" .5 ", "0.5"),
            ("-12", "-12"), ("\u221212.5", "-12.5"), ("\u20133", "-3"), ("(12.50)", "-12.50"), ("EUR (1,234.50)", "-1234.50"),
            ("(EUR 12)", "-12"), ("12 (net)", "12"), ("EUR -5", "-5"), ("2½ m", "2.5"), ("EUR ½", "0.5"),
        ):  # fmt: skip
            self.assertEqual(listed(text, "price"), Decimal(told), text)
        for text in ("", "-", "n/a", "5 - 3", "10–12", "1.2.3"):
            with self.subTest(text), self.assertRaisesRegex(BadEntry, "is no number"):
                listed(text, "price")


class ItemsAlongARun(unittest.TestCase):
    """L 18.4 at 1.5: 14 or 13; L 18.0 at 1.5: 13 and 13, where the float must not add one."""

    def test_closed_ends(self) -> None:
        for length, up, down in ((18.4, 14, 13), (18.0, 13, 13), (0.0, 1, 1), (1.5, 2, 2), (1.4999, 2, 1)):
            with self.subTest(length):
                self.assertEqual(float(ceil_guarded(length / 1.5)) + 1, up)
                self.assertEqual(float(floor_guarded(length / 1.5)) + 1, down)

    def test_the_guard_holds_for_columns_and_large_counts(self) -> None:
        lengths = np.arange(1, 2001) * 0.15
        self.assertTrue((ceil_guarded(lengths / 0.15) == np.arange(1, 2001)).all())


class Units(unittest.TestCase):
    def test_sizes_in_si(self) -> None:
        for symbol, size in {
            "mm": 0.001, "ft": 0.3048, "in": 0.0254, "yd": 0.9144, "yd³": 0.9144**3, "brass": 100 * 0.3048**3, "t": 1000, "lb": 0.45359237,
            "ha": 10_000, "acre": 4840 * 0.9144**2, "l": 0.001, "h": 1, "day": 8, "kg/m": 1, "%": 0.01,
        }.items():  # fmt: skip
            with self.subTest(symbol):
                self.assertAlmostEqual(unit(symbol).size, size)

    def test_one_unit_may_be_written_more_than_one_way(self) -> None:
        self.assertEqual(unit("M2"), unit("sqm"))
        self.assertEqual(unit("m3"), unit("m³"))

    def test_a_pdf_unit_is_a_72nd_of_an_inch(self) -> None:
        self.assertAlmostEqual(SHEET_UNIT * 72, 0.0254)


if __name__ == "__main__":
    unittest.main()
