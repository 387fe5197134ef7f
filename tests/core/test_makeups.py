"""Make-ups as data: reading them, refusing those that don't hold, running them over lines."""

from __future__ import annotations

import math
import unittest

from hypothesis import given, settings
from hypothesis import strategies as st

from sandscale.core.bars.detailing import built_in_detailing
from sandscale.core.makeups.makeup import built_in, built_in_source, read_makeup
from sandscale.core.makeups.run import Line, Result, run, run_all, working
from sandscale.core.refusals import BadEntry, BadFormula

PAD = built_in()["pad-footing"]
SOURCE = """
key = "kerb-bed"
name = "Kerb bed"
headline = "bed"
needs = ["length"]

[[inputs]]
key = "thick"
label = "Thickness"
unit = "mm"
default = "150"
minimum = 0

[[derived]]
key = "section"
label = "Section"
unit = "m²"
formula = "thick * 0.3 * m"

[[outputs]]
key = "bed"
label = "Bed"
unit = "m³"
family = "concrete"
formula = "times * length * section"
item = "Kerb bed {thick} thick"
section = "Kerbs"
"""


def net(result: Result, key: str) -> float:
    return next(q.net for q in result.quantities if q.output.key == key)


class Reading(unittest.TestCase):
    def test_a_make_up_is_read_and_run(self) -> None:
        makeup = read_makeup(SOURCE)
        result = run(makeup, {"thick": "200"}, [Line(times=2, length=10.0)])
        self.assertAlmostEqual(net(result, "bed"), 2 * 10 * 0.2 * 0.3)
        self.assertEqual(makeup.words("Kerb bed {thick} thick", {"thick": "200"}), "Kerb bed 200 thick")

    def test_what_does_not_hold_is_refused_where_it_stands(self) -> None:
        for said, old, new in (
            ("use each other in a loop: section → section", "thick * 0.3 * m", "section + thick * thick"),
            ("gives a length (m), but its unit is m²", "thick * 0.3 * m", "thick"),
            ("gives a volume (m³), but its unit is m²", 'unit = "m³"', 'unit = "m²"'),
            (
                "uses “depth”, which is not one of its values",
                "times * length * section",
                "times * length * depth * m",
            ),
            ("calls “volume”, which is not a function", "times * length * section", "volume(length)"),
            ("“furlong” is not a unit", 'unit = "m³"', 'unit = "furlong"'),
            ("can't be read", "key = ", "key == "),
            ("doesn't hold at outputs → 0 → label", 'label = "Bed"', 'labels = "Bed"'),
            ("shows “slab” first", 'headline = "bed"', 'headline = "slab"'),
            ("names two values “thick”", 'key = "section"\nlabel', 'key = "thick"\nlabel'),
            ("names two values “length”", 'key = "thick"', 'key = "length"'),
            ("of a family “cheese”", 'family = "concrete"', 'family = "cheese"'),
            ("The default of Thickness doesn't fit", 'default = "150"', 'default = "thin"'),
            (
                "doesn't hold at outputs → 0 → deducts",
                'family = "concrete"',
                'family = "concrete"\ndeducts = "perhaps"',
            ),
        ):
            with self.subTest(said), self.assertRaises(BadFormula) as refused:
                self.assertIn(old, SOURCE)
                read_makeup(SOURCE.replace(old, new, 1))
            self.assertIn(said, refused.exception.sentence)

    def test_a_loop_over_two_values_names_both(self) -> None:
        second = (
            '[[derived]]\nkey = "half"\nlabel = "Half"\nunit = "m²"\nformula = "section / 2"\n\n[[outputs]]'
        )
        looped = SOURCE.replace("thick * 0.3 * m", "half * 2").replace("[[outputs]]", second)
        with self.assertRaisesRegex(BadFormula, "section → half → section"):
            read_makeup(looped)

    def test_choices_must_set_the_same_values(self) -> None:
        uneven = SOURCE.replace(
            "[[derived]]",
            '[[inputs]]\nkey = "size"\nlabel = "Size"\ndefault = "a"\nchoices = [{label="a", sets={d="1 m"}}, {label="b", sets={d="1 kg"}}]\n\n[[derived]]',
            1,
        )
        with self.assertRaisesRegex(BadFormula, "Choice “b” of Size doesn't set the same values as “a”"):
            read_makeup(uneven)

    def test_a_make_up_of_any_size_or_depth_is_refused_not_run(self) -> None:
        for source in ("a = " + "[" * 5000 + "]" * 5000, SOURCE + "#" * 70_000):
            with self.assertRaises(BadFormula):
                read_makeup(source)

    def test_what_would_take_long_to_read_is_refused_at_once(self) -> None:
        output = SOURCE[SOURCE.index("[[outputs]]") :]
        long = "pit_band(length, width, height, 0, 0*m, 1*m)"
        many = "".join(
            f'[[derived]]\nkey = "d{at}"\nlabel = "D"\nunit = "m³"\nformula = "{long}"\n' for at in range(120)
        )
        for source, said in (
            (".".join("a" * 20_000) + " = 1", "too many parts"), ('"a" . ' * 9_000 + "b = 1", "too many parts"), ("a = " + "[" * 900, "can't be read"),
            ("a = " + "{b=" * 500 + "1" + "}" * 500, "can't be read"), (SOURCE + output.replace('"bed"', '"bed2"') * 200, "at most 60"),
            (SOURCE + "".join(f"[[inputs]]\nkey = 'i{at}'\nlabel = 'I'\ndefault = '1'\n" for at in range(150)), "at most 100"),
            (SOURCE + many, "too long together"), (SOURCE.replace('default = "150"', 'default = "1e999"'), "doesn't fit"),
            (SOURCE.replace("minimum = 0", "minimum = inf"), "finite"),
        ):  # fmt: skip
            with self.subTest(said), self.assertRaisesRegex(BadFormula, said):
                read_makeup(source)

    def test_a_value_on_the_way_that_is_no_number_is_shown_as_none(self) -> None:
        source = SOURCE.replace(
            "thick * 0.3 * m", "thick * 0.3 * m / (thick - 150*mm) * (0*m) + thick * 0.3 * m"
        )
        source = source.replace(
            "times * length * section", "times * length * (section if thick > 160*mm else 0.045*m2)"
        )
        source += '[outputs.purchase]\npack = "heap"\nholds = "m3 * (thick/mm - 151) ** 0.5"\n'
        made = read_makeup(source)
        result = run(made, {}, [Line(1.0, 10.0)])
        self.assertAlmostEqual(result.quantities[0].net, 0.45)
        self.assertEqual([f.code for f in result.findings], ["no-pack"])
        told = working(made, {}, [Line(1.0, 10.0)], "bed", "Bed")
        self.assertTrue(any(not math.isfinite(part.value) for part in told.parts))

    def test_every_built_in_make_up_is_read_and_says_what_it_is(self) -> None:
        self.assertEqual(len(built_in()), 35)
        for rules in built_in_detailing().values():
            for makeup in built_in().values():
                self.assertTrue(makeup.document.about)
                self.assertEqual(read_makeup(built_in_source(makeup.key), rules).key, makeup.key)


class Entries(unittest.TestCase):
    def test_inputs_out_of_bounds_or_off_the_table_are_refused_at_their_field(self) -> None:
        for field, entry, said in (
            ("blinding", "-50", "Blinding must be not below zero"),
            ("cover", "2 kg", "is a mass (kg)"),
            ("bar", "17", "Bar has no choice “17”"),
            ("spacing", "0", "at least 10 mm"),
            ("waste_concrete", "-1", "must be not below zero"),
            ("colour", "red", "has no input “colour”"),
        ):
            with self.subTest(field), self.assertRaises(BadEntry) as refused:
                PAD.values({field: entry})
            self.assertIn(said, refused.exception.sentence)
            self.assertEqual(refused.exception.field, field)


class Running(unittest.TestCase):
    def test_a_line_still_being_typed_counts_nothing_and_says_so(self) -> None:
        result = run(PAD, {}, [Line(times=4, length=1.8, width=1.8, height=0.5), Line(times=2, length=1.8)])
        self.assertAlmostEqual(net(result, "concrete"), 6.48)
        self.assertEqual(result.counted.tolist(), [True, False])
        self.assertEqual(
            [(f.line, f.says) for f in result.findings], [(1, "Has no width yet, so it counts nothing.")]
        )

    def test_an_element_without_lines_comes_to_nothing(self) -> None:
        self.assertTrue(all(q.net == 0 for q in run(PAD, {}, []).quantities))
        self.assertEqual(working(PAD, {}, [], "bars", "Bars").value, 0)

    def test_a_ddt_line_takes_concrete_and_leaves_the_rest(self) -> None:
        footing, pocket = (
            Line(times=4, length=1.8, width=1.8, height=0.5),
            Line(times=4, length=0.3, width=0.3, height=0.4, deduct=True),
        )
        alone, less = run(PAD, {}, [footing]), run(PAD, {}, [footing, pocket])
        self.assertAlmostEqual(net(less, "concrete"), net(alone, "concrete") - 4 * 0.3 * 0.3 * 0.4)
        for key in ("formwork", "blinding_concrete", "bars"):
            self.assertEqual(net(less, key), net(alone, key))

    def test_more_deducted_than_measured_is_found(self) -> None:
        result = run(PAD, {}, [Line(length=1, width=1, height=0.1, deduct=True)])
        self.assertIn(
            "Concrete is below zero: more is deducted than measured.", [f.says for f in result.findings]
        )

    def test_suspect_footings_are_found(self) -> None:
        for line, entries, said in (
            (Line(length=0.1, width=1.8, height=0.5), {}, "The cover leaves no width for bars."),
            (Line(length=1800, width=1.8, height=0.5), {}, "were millimetres read as metres?"),
            (Line(length=1.8, width=1.8, height=0.04), {}, "no deeper than its blinding"),
            (
                Line(length=1.8, width=1.8, height=0.5),
                {"bar": "32"},
                "kg/m³ is more than the 150 kg/m³ usual in a pad footing",
            ),
            (
                Line(length=1.8, width=1.8, height=0.5),
                {"bar": "10", "spacing": "300"},
                "kg/m³ is less than the 25 kg/m³ usual",
            ),
        ):
            with self.subTest(said):
                self.assertTrue(any(said in f.says for f in run(PAD, entries, [line]).findings))
        self.assertEqual(run(PAD, {}, [Line(times=4, length=1.8, width=1.8, height=0.5)]).findings, ())

    def test_no_blinding_is_none_whatever_its_projection(self) -> None:
        self.assertEqual(
            net(
                run(PAD, {"blinding": "0", "projection": "500"}, [Line(length=1.8, width=1.8, height=0.5)]),
                "blinding_concrete",
            ),
            0,
        )

    def test_a_cover_that_leaves_no_width_gives_no_bars(self) -> None:
        self.assertEqual(
            net(run(PAD, {"cover": "900"}, [Line(length=1.8, width=1.8, height=0.5)]), "bars"), 0
        )

    def test_a_formula_that_divides_by_zero_is_found_on_its_line(self) -> None:
        dividing = read_makeup(
            SOURCE.replace("times * length * section", "times * length * section * m / (length - 1*m)")
        )
        result = run(dividing, {}, [Line(length=2), Line(length=1)])
        self.assertAlmostEqual(net(result, "bed"), 2 * 0.15 * 0.3)
        self.assertEqual(
            [(f.line, f.says) for f in result.findings],
            [(1, "Bed comes to no number: its formula divides by zero, or a measure is far too large.")],
        )

    sizes = st.floats(0.3, 5)

    @given(st.lists(st.tuples(st.integers(0, 9), sizes, sizes, sizes), min_size=1, max_size=6))
    def test_lines_together_come_to_the_sum_of_each_alone(
        self, lines: list[tuple[int, float, float, float]]
    ) -> None:
        read = [Line(times=n, length=a, width=b, height=c) for n, a, b, c in lines]
        together = run(PAD, {}, read)
        single = run_all(PAD, [({}, [line]) for line in read])
        for quantity in together.quantities:
            alone = sum(net(result, quantity.output.key) for result in single)
            self.assertAlmostEqual(quantity.net, alone, places=6)
            self.assertGreaterEqual(quantity.net, 0)
            self.assertAlmostEqual(quantity.gross, quantity.net * (1 + quantity.waste / 100))


class EveryMakeUp(unittest.TestCase):
    """What must hold of each built-in make-up, whatever is measured."""

    size = st.floats(0.3, 3)

    @settings(deadline=None, max_examples=8)
    @given(st.lists(st.tuples(st.integers(0, 5), size, size, size), min_size=1, max_size=4))
    def test_nothing_comes_out_negative(self, lines: list[tuple[int, float, float, float]]) -> None:
        for makeup in built_in().values():
            for quantity in run(
                makeup, {}, [Line(times=n, length=a, width=b, height=c) for n, a, b, c in lines]
            ).quantities:
                self.assertGreaterEqual(quantity.net, 0, (makeup.key, quantity.output.key))

    @settings(deadline=None, max_examples=10)
    @given(st.lists(st.tuples(st.floats(0.2, 1.5), st.floats(0.2, 1.5)), max_size=5), st.floats(0, 1))
    def test_more_openings_never_add_wall(self, openings: list[tuple[float, float]], small: float) -> None:
        for key, outputs in (
            ("blockwork", ("area", "blocks", "mortar")),
            ("brickwork-cavity", ("area", "bricks")),
            ("wall", ("concrete", "formwork")),
        ):
            wall, entries, before = [Line(length=12, height=3)], {"small": f"{small:.3f}"}, None
            for length, height in openings:
                wall.append(Line(length=length, height=height, deduct=True))
                now = [net(run(built_in()[key], entries, wall), output) for output in outputs]
                self.assertTrue(
                    before is None or all(a <= b + 1e-9 for a, b in zip(now, before, strict=True))
                )
                before = now

    def test_bands_of_a_dig_sum_to_the_dig(self) -> None:
        for depth in ("0.4", "1", "1.7", "3.2", "5.5"):
            dug = run(
                built_in()["pad-footing"],
                {"dig_depth": depth, "batter": "0.4"},
                [Line(times=2, length=1.8, width=1.5, height=0.4)],
            )
            bands = sum(net(dug, key) for key in ("dig_1", "dig_2", "dig_4", "dig_more"))
            self.assertAlmostEqual(bands, net(dug, "backfill") + net(dug, "disposal"))
            a, b, h = 1.8 + 0.2 + 0.6, 1.5 + 0.2 + 0.6, float(depth)
            self.assertAlmostEqual(
                bands, 2 * h / 6 * (a * b + 4 * (a + 0.4 * h) * (b + 0.4 * h) + (a + 0.8 * h) * (b + 0.8 * h))
            )

    def test_bands_must_hold_together(self) -> None:
        source = built_in_source("lintel")
        for said, old, new in (
            (
                "doesn't set the same values",
                'sets = { lintel_width = "0 m", depth = "0.19 m", bars = "3", bar_d = "0.012 m" }',
                'sets = { depth = "0.19 m" }',
            ),
            ("is not a number with a unit", 'from = "1.2 m"', 'from = "wide"'),
            ("There is no part", 'uses = ["concrete"', 'uses = ["concretes"'),
            (
                "have no table",
                'key = "wall", label = "Wall thickness", unit = "mm", default = "140"',
                'key = "wall", label = "Wall", table = "walls", default = "140"',
            ),
            ("have no setting", 'rule = "cover:XC1"', 'rule = "thickness"'),
            ("There is no steel band", 'headline = "length"', 'headline = "length"\nsteel = "lintel"'),
        ):
            with self.subTest(said), self.assertRaisesRegex(BadFormula, said):
                self.assertIn(old, source)
                read_makeup(source.replace(old, new, 1))


class Workings(unittest.TestCase):
    lines = (
        Line(times=4, length=1.8, width=1.8, height=0.5, times_shown="4/", note="Grid 2–3", link="figure:7"),
        Line(length=0.3, width=0.3, height=0.4, deduct=True),
    )

    def test_concrete_is_set_out_as_on_dimension_paper(self) -> None:
        told = working(PAD, {}, self.lines, "concrete", "Concrete in PF2")
        self.assertEqual(
            (told.expression, told.figures), ("times × length × width × height", "4 × 1.80 × 1.80 × 0.50")
        )
        self.assertEqual([(r.times, r.dimensions, round(r.squared, 3), r.deduct, r.note, r.link) for r in told.rows], [("4/", (1.8, 1.8, 0.5), 6.48, False, "Grid 2–3", "figure:7"), ("", (0.3, 0.3, 0.4), -0.036, True, "", "")])  # fmt: skip
        self.assertAlmostEqual(float(told.value), 6.48 - 0.036)

    def test_every_part_of_the_bars_can_be_opened_down_to_an_entry(self) -> None:
        told = working(PAD, {"cover": "40"}, self.lines[:1], "bars", "Bars in PF2")
        self.assertEqual(told.rows[0].dimensions, ())
        seen: dict[str, tuple[float, str]] = {}

        def open_all(part: object) -> None:
            seen[part.name] = (float(part.value), part.source)  # type: ignore[attr-defined]
            for inner in part.parts:  # type: ignore[attr-defined]
                open_all(inner)

        open_all(told)
        self.assertEqual(seen["Cover"], (0.04, "entered"))
        self.assertEqual(seen["Spacing"], (0.15, "default of the make-up"))
        self.assertAlmostEqual(seen["Bar ø, by bar 16"][0], 0.016)
        self.assertAlmostEqual(seen["Mass per metre"][0], 1.578, places=3)

    def test_the_working_of_every_output_of_every_make_up_agrees_with_its_quantity(self) -> None:
        lines = [
            Line(times=3, length=2.5, width=1.2, height=0.4),
            Line(times=1, length=1, width=1, height=1, deduct=True),
        ]
        for makeup in built_in().values():
            result = run(makeup, {}, lines)
            for quantity in result.quantities:
                told = working(makeup, {}, lines, quantity.output.key, "x")
                self.assertEqual(told.value, quantity.net)
                self.assertAlmostEqual(sum(row.squared for row in told.rows), quantity.net)
                self.assertTrue(told.figures, quantity.output.key)


if __name__ == "__main__":
    unittest.main()
