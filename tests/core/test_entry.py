"""What may be typed into a number field, and what is refused with which sentence."""

from __future__ import annotations

import unittest
from datetime import date

from hypothesis import given
from hypothesis import strategies as st

from sandscale.core.numbers.days import read_day
from sandscale.core.numbers.entry import kept, read_entry, read_times
from sandscale.core.refusals import BadEntry

LENGTHS = {
    "2.5": 2.5,
    "2500mm": 2.5,
    "2500 mm": 2.5,
    "8ft 2in": 2.4892,
    "8'2\"": 2.4892,
    "17'-8\"": 5.3848,
    "5' 3 1/2\"": 1.6129,
    '18"': 0.4572,
    "1/2in": 0.0127,
    "5 1/2in": 0.1397,
    "98.5 ft": 30.0228,
    "1.2+0.35": 1.55,
    "2*0.9": 1.8,
    "2×0.9": 1.8,
    "(1.2 + 0.35) * 2": 3.1,
    "0.5m + 350mm": 0.85,
    "2*0.9m+0.5": 2.3,
    "1 500.25": 1500.25,
    "1\u00a0500": 1500.0,
    "3.6/2": 1.8,
    "-0.3+1": 0.7,
    ".5": 0.5,
    "1m*2m/1m": 2.0,
    "0": 0.0,
    "1,5": 1.5,
    "2½": 2.5,
    "¾m": 0.75,
    "1 234,5": 1234.5,
    "1,234.5": 1234.5,
    "1.234,5": 1234.5,
    "1,234,567.5mm": 1234.5675,
    "0,125": 0.125,
    "2,5+1,25": 3.75,
    "3,6/2": 1.8,
    "2.4 to 3": 2.7,
    "2400mm to 2*1.5": 2.7,
    "2,4 to 3,0": 2.7,
    "3 at 3:4": 3.75,
    "12 at 1 in 0.75": 20.0,
    "4 at 75%": 5.0,
    "1 at 60°": 2.0,
    "1+1 at 60 deg": 4.0,
    "2 at 60° to 6": 5.0,
}

REFUSED = {
    "": "Length is empty",
    "abc": "can't be read as length",
    "3m²": "“3m²” is an area (m²); length takes a length (m).",
    "3m2": "is an area (m²)",
    "2m*3m": "is an area (m²)",
    "5 kg": "is a mass (kg)",
    "1,234": "“1,234” can be 1234 or 1.234.",
    "2+12,500": "“12,500” can be 12500 or 12.500.",
    "1,23,4": "can't be read as length",
    "1.2.3": "can't be read as length",
    "1/0": "divides by zero",
    "1/0in": "divides by zero",
    "(1": "A bracket in “(1” is not closed",
    "1)": "can't be read",
    "1..2": "can't be read",
    "1 2": "can't be read",
    "3 parsecs": "“parsecs” in “3 parsecs” is not a unit",
    "1e300": "too large",
    "2.4 to": "“to” in “2.4 to” is not a unit",
    "2 to 3 kg": "adds a length (m) to a mass (kg)",
    "2 at 90°": "stands upright",
    "2 at 1 in 0": "stands upright",
    "2 at 1.5": "“at” in “2 at 1.5” is not a unit",
    "nan": "can't be read",
    "1m + 1kg": "adds a length (m) to a mass (kg)",
    "9" * 200: "longer than 120 characters",
    "__import__('os')": "can't be read",
}


class Days(unittest.TestCase):
    def test_a_day_is_read_as_people_write_it_and_two_are_asked_about(self) -> None:
        for text in ("02 Nov 2026", "2 november 26", "2.11.2026", "2026-11-02", "2. Nov 2026"):
            self.assertEqual(read_day(text), date(2026, 11, 2), text)
        self.assertEqual(read_day("13/11/2026"), read_day("11/13/26"))
        for text, says in (
            ("2/11/2026", "two days"),
            ("31 Feb 2026", "no date"),
            ("soon", "no date"),
            ("", "no date"),
        ):
            with self.assertRaisesRegex(BadEntry, says):
                read_day(text)


class Lengths(unittest.TestCase):
    def test_entries_are_read_in_metres(self) -> None:
        for text, metres in LENGTHS.items():
            with self.subTest(text):
                self.assertAlmostEqual(read_entry(text, "m", field="length"), metres, places=9)

    def test_what_is_no_length_is_refused_with_a_sentence(self) -> None:
        for text, said in REFUSED.items():
            with self.subTest(text), self.assertRaises(BadEntry) as refused:
                read_entry(text, "m", field="length")
            self.assertIn(said, refused.exception.sentence)
            self.assertEqual(refused.exception.field or "length", "length")

    def test_a_bare_number_takes_the_unit_of_its_field(self) -> None:
        for symbol, value in (
            ("mm", 0.05),
            ("m", 50.0),
            ("ft", 15.24),
            ("", 50.0),
            ("kg", 50.0),
            ("t", 50_000.0),
            ("h", 50.0),
        ):
            with self.subTest(symbol):
                self.assertAlmostEqual(read_entry("50", symbol), value)

    def test_a_number_in_brackets_may_be_a_sum_of_accounts_and_is_asked(self) -> None:
        for text in ("(12.50)", " ( 3 ) "):
            with (
                self.subTest(text),
                self.assertRaisesRegex(BadEntry, "or as accounts write it −(12.50|3)") as refused,
            ):
                kept(text, "m")
            self.assertEqual(refused.exception.code, "two-readings")
        for text in ("(1.5+2)", "(2)*3", "2*(3)"):
            self.assertEqual(kept(text, "m"), text)

    def test_a_product_of_lengths_is_an_area_where_an_area_is_wanted(self) -> None:
        self.assertAlmostEqual(read_entry("3m * 200cm", "m²"), 6.0)
        self.assertAlmostEqual(read_entry("3*2", "m²"), 6.0)

    def test_a_value_below_its_minimum_names_the_minimum(self) -> None:
        with self.assertRaisesRegex(BadEntry, "Thickness must be not below zero; “-50” is below it"):
            read_entry("-50", "mm", field="thickness", minimum=0)
        with self.assertRaisesRegex(BadEntry, "at least 10 mm"):
            read_entry("5", "mm", field="spacing", minimum=0.01)

    @given(st.text(max_size=40))
    def test_any_text_is_read_or_refused_never_worse(self, text: str) -> None:
        try:
            value = read_entry(text, "m")
        except BadEntry:
            return
        self.assertEqual(value, value)

    @given(
        st.floats(min_value=0.001, max_value=1e6, allow_nan=False),
        st.sampled_from(["m", "mm", "ft", "in", "yd"]),
    )
    def test_a_written_value_reads_back(self, value: float, symbol: str) -> None:
        self.assertAlmostEqual(
            read_entry(f"{value:.6f}{symbol}", "m"), read_entry(f"{value:.6f}", symbol), places=9
        )


class Times(unittest.TestCase):
    def test_nested_timesing_multiplies(self) -> None:
        for text, number in {
            "": 1,
            "4": 4,
            "3/4": 12,
            "3/4/": 12,
            "2/3/4/": 24,
            "2+1/4": 12,
            "0": 0,
            "1.5/2": 3,
        }.items():
            with self.subTest(text):
                self.assertAlmostEqual(read_times(text), number)

    def test_negative_or_dimensioned_timesing_is_refused(self) -> None:
        for text in ("-2", "2m", "x", "3//a"):
            with self.subTest(text), self.assertRaises(BadEntry):
                read_times(text)


if __name__ == "__main__":
    unittest.main()
