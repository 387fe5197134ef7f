"""Numbers and measures as a project writes them: what is typed, what is kept, what is shown."""

from __future__ import annotations

import unittest

from sandscale.core.figures.scale import in_words, read_scale
from sandscale.core.makeups.makeup import built_in, built_in_keys, built_in_makeup
from sandscale.core.makeups.run import Line, run, working
from sandscale.core.numbers.entry import as_typed, kept, read_entry
from sandscale.core.numbers.systems import METRIC, US
from sandscale.core.numbers.units import unit
from sandscale.core.numbers.ways import held
from sandscale.core.numbers.working import shown
from sandscale.core.refusals import BadEntry


class Typed(unittest.TestCase):
    def test_each_way_reads_its_own_and_what_can_mean_one_thing_only(self) -> None:
        cases = {
            "": {"12.5": 12.5, "12,5": 12.5, "2½": 2.5, "1 234,5": 1234.5, "1,234.5": 1234.5, "1.234": 1.234,
                 "1,234": "which-number", "2*1,5": 3.0},
            "1 234.5": {"1.234": 1.234, "1,234": "two-readings", "12,5": 12.5},
            "1,234.5": {"1,234": 1234, "1.234": 1.234, "12,5": 12.5, "1,234,567.8": 1234567.8},
            "1 234,5": {"1,234": 1.234, "1.234": "two-readings", "2.5": 2.5, "1.234.567": 1234567},
            "1.234,5": {"1.234": 1234, "1,234": 1.234, "2.5": 2.5, "1.234,5+0,5": 1235},
            "1234,5": {"1,234": 1.234, "1.234": "two-readings", "1234,5": 1234.5},
        }  # fmt: skip
        for writing, texts in cases.items():
            for text, expected in texts.items():
                with self.subTest(f"{text} where numbers are written {writing}"), held("metric", writing):
                    if isinstance(expected, str):
                        with self.assertRaises(BadEntry) as refused:
                            kept(text, "m")
                        self.assertEqual(refused.exception.code, expected)
                        continue
                    entry = kept(text, "m")
                    self.assertAlmostEqual(read_entry(entry, "m"), expected)
                    again = kept(as_typed(entry, "m"), "m")  # what is shown in its field means the same there
                    self.assertAlmostEqual(read_entry(again, "m"), expected)
                # And everywhere else: another project's way doesn't touch what was kept.
                with held("us", "1.234,5"):
                    self.assertAlmostEqual(read_entry(entry, "m"), expected)

    def test_numbers_are_shown_with_the_projects_signs(self) -> None:
        for writing, expected in {
            "": "−1 234 567.891", "1,234.5": "−1,234,567.891", "1234.5": "−1234567.891",
            "1 234,5": "−1 234 567,891", "1.234,5": "−1.234.567,891", "1234,5": "−1234567,891",
        }.items():  # fmt: skip
            with held("metric", writing):
                self.assertEqual(shown(-1234567.891), expected.replace(" ", "\u00a0"))

    def test_a_day_is_the_projects_working_day(self) -> None:
        for hours, texts in {
            8: {"1 day": 8, "0.5 day": 4},
            7.5: {"1 day": 7.5, "2days": 15, "0.5 day + 1 h": 4.75, "3": 3},
        }.items():
            with held("metric", "", hours):
                entries = {kept(text, "h"): expected for text, expected in texts.items()}
            for entry, expected in entries.items():  # what was typed then stays so under other ways
                self.assertAlmostEqual(read_entry(entry, "h"), expected, msg=entry)

    def test_in_us_customary_a_bare_length_is_in_feet_and_stays_so(self) -> None:
        with held("us"):
            for text, metres in {
                "12.5": 3.81, "12'-6\"": 3.81, "12' 6 1/2\"": 3.8227, "8in": 0.2032, "3.81m": 3.81,
                "2*6.25": 3.81, "10+3m": 6.048,
            }.items():  # fmt: skip
                entry = kept(text, "m")
                self.assertAlmostEqual(read_entry(entry, "m"), metres, msg=text)
                self.assertAlmostEqual(read_entry(kept(as_typed(entry, "m"), "m"), "m"), metres, msg=text)
                with held("metric"):
                    self.assertAlmostEqual(read_entry(entry, "m"), metres, msg=text)
            self.assertEqual(as_typed(kept("12.5", "m"), "m"), "12.5")
            self.assertEqual(as_typed("3.81", "m"), "3.81 m")
            self.assertEqual(as_typed("0", "mm"), "0")
            with self.assertRaises(BadEntry) as wrong:
                read_entry("2 lb", "m", field="length")
            self.assertIn("length takes a length (ft)", wrong.exception.sentence)

    def test_feet_and_inches_with_a_dash_are_asked_about(self) -> None:
        for system in ("metric", "us"):
            with held(system), self.assertRaises(BadEntry) as refused:
                kept("75-0", "m", field="length")
            self.assertEqual(refused.exception.code, "two-readings")
            self.assertIn("75 ft 0 in, or 75 less 0", refused.exception.sentence)
        self.assertEqual(read_entry(kept("75 - 0", "m"), "m"), 75)
        self.assertEqual(read_entry(kept("75-20", "m"), "m"), 55)


class Scales(unittest.TestCase):
    def test_a_scale_is_read_as_it_is_written_on_the_sheet(self) -> None:
        for text, ratio, metric, us in (
            ("1:50", 50, "1:50", "1:50"), ("100", 100, "1:100", "1:100"),
            ("1/4\" = 1'-0\"", 48, "1:48", "1/4\" = 1'-0\""),
            ("3/32\"=1'-0\"", 128, "1:128", "3/32\" = 1'-0\""),
            ("1 1/2 in = 1 ft", 8, "1:8", "1 1/2\" = 1'-0\""), ("1 in = 20 ft", 240, "1:240", "1\" = 20'"),
            ("1 cm = 5 m", 500, "1:500", "1:500"),
        ):  # fmt: skip
            with self.subTest(text):
                found = read_scale(text)[0]
                self.assertEqual(found, ratio)
                self.assertEqual((in_words(found, METRIC), in_words(found, US)), (metric, us))
        for text in ("1/4 = 1", "0 in = 20 ft", "1 kg = 2 m", "= 3 ft"):
            with self.subTest(text), self.assertRaises(BadEntry):
                read_scale(text)


class Customary(unittest.TestCase):
    def test_every_make_up_comes_to_the_same_in_both_systems(self) -> None:
        line = Line(times=2, length=5.2, width=1.9, height=0.75)
        for key in built_in_keys():
            with self.subTest(key):
                metric = run(built_in()[key], {}, [line]).quantities
                us = run(built_in_makeup(key, "", "us"), {}, [line]).quantities
                for one, other in zip(metric, us, strict=True):
                    self.assertEqual(other.output.unit, US.symbol(one.output.unit))
                    sizes = (unit(q.output.unit).size for q in (one, other))
                    self.assertAlmostEqual(one.net * next(sizes), other.net * next(sizes), places=7)

    def test_a_pack_holds_the_same_in_both_systems(self) -> None:
        wall, here = (
            Line(length=60, height=30),
            {"us": built_in_makeup("blockwork", "", "us"), "metric": built_in()["blockwork"]},
        )
        for system, typed, words in (
            ("us", "load of 2", "load of 2 yd³"),
            ("metric", "load of 1,5", "load of 1.5"),
            ("us", "60", "pack of 60 yd³"),
        ):
            with held(system):
                entries = {"pack_sand": here[system].typed("pack_sand", typed)}
            packs = [
                next(q.pack for q in run(makeup, entries, [wall]).quantities if q.output.key == "sand")
                for makeup in here.values()
            ]
            self.assertEqual([pack.words for pack in packs if pack], [words, words])
            self.assertEqual(*(pack.number for pack in packs if pack))

    def test_a_working_is_in_feet_and_ends_in_cubic_yards(self) -> None:
        pad = built_in_makeup("pad-footing", "", "us")
        feet = unit("ft").size
        line = Line(times=4, length=6 * feet, width=6 * feet, height=1.5 * feet, times_shown="4/")
        told = working(pad, {}, [line], "concrete", "Concrete")
        self.assertAlmostEqual(float(told.value), 8)
        self.assertEqual(told.unit, "yd³")
        self.assertEqual(told.figures, "4 × 6.00 × 6.00 × 1.50 / 27")
        self.assertEqual([round(d, 9) for d in told.rows[0].dimensions], [6, 6, 1.5])
