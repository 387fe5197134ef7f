"""Packs, bands, references, quotes and build-ups at their edges: at a limit, at nothing, at what is missing;
reckoned by hand."""

from __future__ import annotations

import json
import unittest
from decimal import Decimal as D
from typing import Any

from sandscale.core.pricing import bands, build_up, norms, packs, quotes, reference, shares, worked_out
from sandscale.core.pricing.build_up import Terms
from sandscale.core.refusals import BadEntry, BadFormula
from tests.cases.test_prices_and_bill import ON, line, quote


class Packs(unittest.TestCase):
    def test_words_that_are_numbers(self) -> None:
        for pack, told in (
            ("dozen", 12),
            ("gross", 144),
            ("hundred", 100),
            ("pair", 2),
            ("box of 3 dozen", 36),
            ("Thousand", 1000),
        ):
            self.assertEqual(packs.holds(pack, "nr"), told, pack)

    def test_sizes_are_an_area_only_where_they_are_multiplied(self) -> None:
        for pack, unit, told in (
            ("2 × 3 m", "m²", "6"), ("2 3 m", "m", "6"), ("4 × 2 × 3 m", "m³", "24"), ("10 boards 2 m × 15 cm", "m²", "3"),
            ("5 x 2 m", "m", "10"),
        ):  # fmt: skip
            self.assertEqual(packs.holds(pack, unit), D(told), pack)
        for pack, unit in (("2 3 m", "m²"), ("4 × 2 × 3 m", "m²"), ("2 m × 3", "nr"), ("2 m × 3", "m²")):
            with self.subTest(pack=pack, unit=unit), self.assertRaisesRegex(BadEntry, "doesn't tell"):
                packs.holds(pack, unit)

    def test_a_density_is_above_zero(self) -> None:
        self.assertIsNone(packs.density_of(""))
        for entry, told in (
            ("1600", "1600"),
            ("1.6 t/m³", "1600"),
            ("1,6 t/m3", "1600"),
            ("0.85 kg/l", "850"),
            ("0.5", "0.5"),
        ):
            self.assertEqual(packs.density_of(entry), D(told))
        for entry in ("0", "-1"):
            with self.assertRaisesRegex(BadEntry, "above zero"):
                packs.density_of(entry)


class Bands(unittest.TestCase):
    TABLE = (
        bands.Band(D(3), D(4), D("30"), "Higher", "build-up:3"),
        bands.Band(D(1), D(2), D("10")),
        bands.Band(D(2), D("2.5"), None),
    )

    def test_a_limit_belongs_to_the_band_that_begins_there(self) -> None:
        for size, cost in (("1", "10"), ("1.999", "10"), ("3", "30"), ("3.99", "30")):
            self.assertEqual(bands.pick(self.TABLE, D(size), "m").total, D(cost), size)
        self.assertIsNone(bands.pick(self.TABLE, D(2), "m").total)

    def test_between_two_and_outside_all_are_told_apart(self) -> None:
        for size, where in (
            ("2.5", "between two"),
            ("2.99", "between two"),
            ("0.99", "outside every"),
            ("4", "outside every"),
            ("9", "outside every"),
        ):
            with self.assertRaisesRegex(BadEntry, where):
                bands.pick(self.TABLE, D(size), "m")
        ends = (bands.Band(None, D(2), D(1)), bands.Band(D(3), None, D(2)))
        self.assertEqual([bands.pick(ends, D(size), "m").total for size in (-5, 1, 3, 99)], [1, 1, 2, 2])
        with self.assertRaisesRegex(BadEntry, "between two"):
            bands.pick(ends, D(2), "m")

    def test_limits_in_words(self) -> None:
        told = [
            bands.Band(low, below, None).told("m")
            for low, below in ((None, None), (None, D(3)), (D(3), None), (D(2), D(3)))
        ]
        self.assertEqual(told, ["any m", "below 3 m", "3 and more m", "2 to below 3 m"])

    def test_the_working_names_the_rate_or_says_it_was_typed(self) -> None:
        for size, cost, part, source in (
            ("3", "30", "Higher", ""),
            ("1", "10", "Cost of the band", "typed"),
            ("2", "0", "Cost of the band", "typed"),
        ):
            made = bands.working(bands.pick(self.TABLE, D(size), "m"), "Walls", "EUR/m²", "m")
            self.assertEqual(
                (made.value, made.parts[0].value, made.parts[0].name, made.parts[0].source),
                (D(cost), D(cost), part, source),
            )
        self.assertEqual(made.expression, "2 m lies in the band 2 to below 2.5 m")

    def test_one_that_holds_nothing_or_overlaps_is_refused(self) -> None:
        one = bands.Band(D(1), D(2), None)
        bands.refuse_wrong((one, bands.Band(D(2), None, None), bands.Band(None, D(1), None)), "m")
        for other, says in (
            (bands.Band(D(3), D(3), None), "holds nothing"), (bands.Band(D(3), D("2.9"), None), "holds nothing"),
            (bands.Band(D("1.99"), D(3), None), "overlap"), (bands.Band(None, D("1.01"), None), "overlap"), (bands.Band(None, None, None), "overlap"),
        ):  # fmt: skip
            with self.subTest(other=other), self.assertRaisesRegex(BadEntry, says):
                bands.refuse_wrong((one, other), "m")


class References(unittest.TestCase):
    """10 at 100, 20 at 200, 50 at 300."""

    TABLE = tuple(reference.Known(D(size), {}, D(whole)) for size, whole in ((300, 50), (100, 10), (200, 20)))

    def test_read_along_the_two_sizes_it_lies_between_or_nearest_to(self) -> None:
        for size, how, total in (
            (100, "at", 10), (200, "at", 20), (150, "between", 15), (250, "between", 35), (201, "between", "20.3"),
            (50, "beyond", 5), (400, "beyond", 80), (0, "beyond", 0),
        ):  # fmt: skip
            read = reference.read(self.TABLE, D(size), "mm")
            self.assertEqual((read.how, read.total), (how, D(total)), size)
            says = [f"{size} mm lies beyond the sizes known, 100 to 300 mm; it is read along the last two."]
            self.assertEqual([f.says for f in read.findings], says if how == "beyond" else [])
        with self.assertRaisesRegex(
            BadEntry, "At -1 its whole would be below zero|At −1 its whole would be below zero"
        ):
            reference.read(self.TABLE, D(-1), "mm")

    def test_parts_are_held_against_the_whole_to_the_projects_places(self) -> None:
        known = (reference.Known(D(100), {"labour": D("4.004"), "material": D(6)}, D(10)),)
        self.assertEqual(reference.read(known, D(100), "mm").findings, ())
        (off,) = reference.read(known, D(100), "mm", places=3).findings
        self.assertEqual((off.code, off.numbers), ("parts-off-whole", (10.004, 10.0)))
        made = reference.working(reference.read(known, D(100), "mm"), "Walls", "EUR/m²", "list of 2025")
        self.assertEqual((made.value, [p.value for p in made.parts]), (D("10.004"), [D("4.004"), D(6)]))

    def test_a_part_told_at_one_size_only_counts_nothing_and_says_so(self) -> None:
        known = (
            reference.Known(D(1), {"labour": D(2), "plant": D(1)}),
            reference.Known(D(3), {"labour": D(4)}),
        )
        read = reference.read(known, D(2), "m")
        self.assertEqual((read.parts, [f.code for f in read.findings]), ({"labour": D(3)}, ["part-missing"]))
        with self.assertRaisesRegex(BadEntry, "Nothing is told at those sizes"):
            reference.read((reference.Known(D(1), {}), reference.Known(D(3), {"labour": D(4)})), D(2), "m")


class QuotesAndNorms(unittest.TestCase):
    def test_a_quarter_off_the_median_is_not_outlying(self) -> None:
        for price, found in (
            ("1.25", []),
            ("1.26", ["quote-outlying"]),
            ("0.75", []),
            ("0.74", ["quote-outlying"]),
        ):
            three = (quote(1, "1.00"), quote(2, "1.00"), quote(3, price, "2026-10-30"))
            self.assertEqual([f.code for f in quotes.price(three, "latest", ON).findings], found, price)

    def test_a_norm_of_one_price_has_a_tenth_to_both_sides_a_range_none(self) -> None:
        for norm, price, missed in (
            (quotes.Norm(D(10)), "11", False), (quotes.Norm(D(10)), "9", False), (quotes.Norm(D(10)), "11.01", True),
            (quotes.Norm(D(10)), "8.99", True), (quotes.Norm(D(4), D(5)), "4", False), (quotes.Norm(D(4), D(5)), "5", False),
            (quotes.Norm(D(4), D(5)), "3.99", True), (quotes.Norm(D(4), D(5)), "5.01", True),
        ):  # fmt: skip
            self.assertEqual(bool(norm.missed_by(D(price))), missed, (norm, price))

    def test_one_without_a_least_is_never_too_little(self) -> None:
        self.assertIsNone(quotes.too_little(quote(1, "5"), D(0), "kg"))

    def read(self, *entries: dict[str, Any], name: str = "Firm") -> norms.NormsDocument:
        return norms.read_norms(json.dumps({"name": name, "currency": "EUR", "norms": entries}))

    def test_a_list_of_norms_is_read_or_refused(self) -> None:
        block: dict[str, Any] = {"resource": "Block 140", "unit": "nr", "low": "1.5"}
        self.assertEqual(
            len(
                self.read(
                    block, {**block, "unit": "m²"}, {**block, "resource": "Sand", "low": "0", "high": "2"}
                ).norms
            ),
            3,
        )
        for wrong in (
            {"high": "1.5"}, {"high": "1.4"}, {"unit": "bags"}, {"low": "-1"}, {"low": "1.1234567"}, {"resource": " "}, {"low": "NaN"},
            {"low": "1000000000"}, {"other": 1},
        ):  # fmt: skip
            with self.subTest(wrong), self.assertRaisesRegex(BadFormula, "can't be read at norms → 0"):
                self.read({**block, **wrong})
        with self.assertRaisesRegex(BadFormula, "Two norms of the list are for one resource"):
            self.read(block, {**block, "resource": " block  140 "})
        with self.assertRaises(BadFormula):
            self.read(block, name="")


class WorkedOut(unittest.TestCase):
    def test_what_divides_is_above_zero_and_nothing_is_below(self) -> None:
        for way, dividing in (
            ("labour", ("paid", "worked")),
            ("hire", ("hours",)),
            ("owned", ("life", "year")),
        ):
            for asked in worked_out.INPUTS[way]:
                for value, fits in (
                    ("0", asked.key not in dividing),
                    ("0.01", True),
                    ("999999999", True),
                    ("1000000000", False),
                    ("-0.01", False),
                    ("NaN", False),
                ):
                    with self.subTest(way=way, key=asked.key, value=value):
                        if fits:
                            worked_out.check(way, {asked.key: D(value)})
                        else:
                            with self.assertRaisesRegex(
                                BadEntry, "above zero" if asked.key in dividing else "from zero up"
                            ):
                                worked_out.check(way, {asked.key: D(value)})
        with self.assertRaisesRegex(BadEntry, "isn't asked for"):
            worked_out.check("hire", {"wage": D(1)})

    def test_a_machine_does_not_gain_in_value(self) -> None:
        whole = {"new": "100", "life": "10", "year": "5"}
        for left, loss in (("100", []), ("99", [D("0.1")])):
            inputs = {key: worked_out.Input(D(value)) for key, value in {**whole, "left": left}.items()}
            self.assertEqual([part.value for part in worked_out.price("owned", inputs, "EUR").parts], loss)
        inputs["left"] = worked_out.Input(D("100.01"))
        with self.assertRaisesRegex(BadEntry, "can't be worth more at its end than when it is new"):
            worked_out.price("owned", inputs, "EUR")

    def test_an_owned_machine_part_by_part(self) -> None:
        """(120 000 − 20 000) / 10 000 = 10; 70 000 × 6 % / 1400 = 3; upkeep 50 % of 10 = 5; 12 l of 1.60
        = 19.20; driver 32.80."""
        given = {
            "new": "120000",
            "left": "20000",
            "life": "10000",
            "year": "1400",
            "interest": "6",
            "upkeep": "50",
            "fuel": "12",
            "fuel_price": "1.60",
            "driver": "32.80",
        }
        inputs = {
            key: worked_out.Input(D(value), {"fuel_price": "resource:7", "driver": "resource:8"}.get(key, ""))
            for key, value in given.items()
        }
        made = worked_out.price("owned", inputs, "EUR")
        self.assertEqual(
            (made.value, made.unit, made.expression),
            (D(70), "EUR/h", "loss in value + interest + upkeep + fuel and oil + driver"),
        )
        told = [(p.name, p.value, p.figures, p.link) for p in made.parts]
        self.assertEqual(told, [
            ("Loss in value", D(10), "(120\u00a0000.00 − 20\u00a0000.00) / 10\u00a0000", ""),
            ("Interest", D(3), "(120\u00a0000.00 + 20\u00a0000.00) / 2 × 6 % / 1\u00a0400", ""),
            ("Upkeep", D(5), "10.00 × 50 %", ""), ("Fuel and oil", D("19.2"), "12 × 1.60", "resource:7"),
            ("Driver", D("32.8"), "32.80", "resource:8"),
        ])  # fmt: skip
        del inputs["fuel_price"], inputs["fuel"]
        self.assertEqual(worked_out.price("owned", inputs, "EUR").value, D("50.8"))


class Shares(unittest.TestCase):
    def test_cents_left_over_go_where_most_was_cut_off(self) -> None:
        for amount, weights, told in (
            ("100.00", (1, 1, 1), ("33.34", "33.33", "33.33")), ("10.00", (1, 2, 4), ("1.43", "2.86", "5.71")),
            ("0.05", (1, 1), ("0.03", "0.02")), ("-10.00", (1, 2), ("-3.33", "-6.67")), ("7.00", (0, 3, 0), ("0", "7", "0")),
            ("5.00", (0, 0), ("5", "0")), ("5.00", (), ()),
        ):  # fmt: skip
            shared = shares.spread(D(amount), [D(each) for each in weights])
            self.assertEqual(shared, [D(each) for each in told], (amount, weights))


class BuildUps(unittest.TestCase):
    def test_allowance_and_escalation_multiply(self) -> None:
        """12.5 × 1.05 × (1.62 × 1.1) = 23.38875 a unit; for an output of 4: 52.5 of them for 93.555."""
        made = build_up.analyse(
            [line("material", "12.5", "nr", "1.62", "unit", "5", "10")], Terms(output=D(4))
        )
        (only,) = made.lines
        self.assertEqual(
            (only.total_quantity, only.amount, only.unit_quantity, only.unit_price),
            (D("52.5"), D("93.555"), D("13.125"), D("23.38875")),
        )
        self.assertEqual((made.cost, made.rate), (D("23.38875"), D("23.39")))
        self.assertEqual(
            build_up.line_working(only, Terms(), "m²", "EUR").expression,
            "quantity × (1 + allowance) × price × (1 + escalation)",
        )

    def test_an_output_or_hours_of_nothing_or_less_count_nothing(self) -> None:
        lines = [
            line("labour", "2", "h", "30"),
            line("plant", "1", "h", "50", "day"),
            line("material", "3", "nr", "2", "unit"),
        ]
        for terms in (Terms(output=D(0)), Terms(hours=D(0)), Terms(output=D(-1)), Terms(hours=D(-1))):
            made = build_up.analyse(lines, terms)
            self.assertEqual(
                (made.cost, [(f.line, f.code) for f in made.findings]),
                (D(6), [(0, "no-output"), (1, "no-output")]),
            )
        self.assertEqual(build_up.analyse(lines, Terms(output=D("0.5"), hours=D("0.5"))).findings, ())

    def test_hours_multiply_what_is_by_output_alone(self) -> None:
        """4 a day of 8 hours: 1 h per unit stays 1 h; 2 by output are 16 h, 4 each."""
        terms = Terms(output=D(4), hours=D(8))
        made = build_up.analyse(
            [
                line("labour", "1", "h", "30", "unit"),
                line("labour", "2", "h", "30"),
                line("material", "2", "nr", "5"),
            ],
            terms,
        )
        self.assertEqual([a.unit_quantity for a in made.lines], [1, 4, D("0.5")])
        told = [build_up.line_working(a, terms, "m²", "EUR").expression for a in made.lines]
        self.assertEqual(
            told, ["quantity × price", "quantity × hours × price / output", "quantity × price / output"]
        )

    def test_a_gang_hour_holds_its_own_percentages(self) -> None:
        """2 × 34.50 = 69.00, a foreman 10 % of labour 6.90, tools 5 % of labour, not of the foreman, 3.45:
        79.35; 2 gangs for an output of 2."""
        members = [
            line("labour", "2", "h", "34.50")._replace(source="resource:1"),
            line("labour", "10", "%", None, "percent")._replace(percent_of="labour"),
            line("sundries", "5", "%", None, "percent")._replace(percent_of="labour"),
        ]
        gangs = build_up.of_gang(line("labour", "2", "h", None), members, D(8))
        terms = Terms(output=D(2))
        made = build_up.analyse(gangs, terms)
        self.assertEqual(
            (made.groups["labour"], made.groups["sundries"], made.cost), (D("75.9"), D("3.45"), D("79.35"))
        )
        takes = [take for each in gangs for take in build_up.takes_of(each, terms)]
        self.assertEqual(build_up.cost_of(takes, {"resource:1": D(40)}), D(92))

    def test_what_is_had_once_needs_something_billed(self) -> None:
        once = [line("sundries", "1", "nr", "640", "fixed")]
        for billed, cost, codes in (
            (None, 0, ["nothing-billed"]),
            (D(0), 0, ["nothing-billed"]),
            (D(50), "12.8", []),
        ):
            made = build_up.analyse(once, Terms(billed=billed))
            self.assertEqual((made.cost, [f.code for f in made.findings]), (D(cost), codes))
        self.assertEqual(
            build_up.line_working(made.lines[0], Terms(billed=D(50)), "m³", "EUR").figures, "1 × 640.00 / 50"
        )

    def test_a_percentage_tells_what_it_is_of(self) -> None:
        tools = line("sundries", "5", "%", None, "percent")._replace(percent_of="labour")
        made = build_up.analyse([line("labour", "2", "h", "30"), tools], Terms(output=D(4)))
        self.assertEqual((made.groups["sundries"], made.cost, made.findings), (D("0.75"), D("15.75"), ()))
        told = build_up.line_working(made.lines[1], Terms(output=D(4)), "m²", "EUR")
        self.assertEqual(
            (told.value, told.expression, told.figures), (D("0.75"), "labour × percentage", "15.00 × 5 %")
        )
        self.assertIsNone(made.of_group("sundries").total_quantity)
        self.assertEqual((made.of_group("labour").total_quantity, made.of_group("labour").unit), (D(2), "h"))

    def test_what_is_added_is_told_as_what_it_is(self) -> None:
        plain = [line("material", "1", "nr", "100", "unit")]
        for terms, rate, name, how in (
            (Terms(added=D(10)), "110.00", "Mark-up on cost", "cost × 10 %"),
            (Terms(added=D(20), added_on="price"), "125.00", "Margin on price", "cost × 20 / (100 − 20)"),
        ):
            made = build_up.analyse(plain, terms)
            told = build_up.rate_working("Rate", made, terms, "nr", "EUR")
            self.assertEqual(
                (made.rate, told.value, told.parts[-1].name, told.parts[-1].expression),
                (D(rate), D(rate), name, how),
            )
            self.assertEqual(told.parts[-1].value, made.rate - 100)
        self.assertEqual(Terms(added=D("99"), added_on="price").price_of(D(1)), D(100))
        with self.assertRaisesRegex(BadEntry, "less than 100 %"):
            Terms(added=D(100), added_on="price").price_of(D(1))

    def test_a_line_without_a_price_says_so_in_its_working(self) -> None:
        for price, source in ((None, "no price yet"), ("0", "")):
            made = build_up.analyse([line("material", "3", "nr", price, "unit")], Terms())
            (part,) = build_up.line_working(made.lines[0], Terms(), "m²", "EUR").parts
            self.assertEqual(
                (part.value, part.source, [f.wrong for f in made.findings]),
                (D(0), source, [True] if price is None else []),
            )
            self.assertEqual(build_up.line_working(made.lines[0], Terms(), "m²", "EUR").figures, "3 × 0.00")

    def test_kept_takes_cost_what_the_analysis_does(self) -> None:
        """By output 2 × 34.50 / 1.9, per unit 13.125 × 1.62, by day 16 / 8, 3 % of labour."""
        lines = [
            line("labour", "2", "h", "34.50")._replace(source="resource:1"),
            line("material", "12.5", "nr", "1.62", "unit", "5")._replace(source="resource:2"),
            line("plant", "1", "h", "16", "day"),
            line("sundries", "3", "%", None, "percent")._replace(percent_of="labour"),
        ]
        terms = Terms(output=D("1.9"), hours=D(1), day=D(8))
        takes = [take for each in lines for take in build_up.takes_of(each, terms)]
        prices = {"resource:1": D("34.50"), "resource:2": D("1.62")}
        self.assertEqual(build_up.cost_of(takes, prices), build_up.analyse(lines, terms).cost)
        self.assertAlmostEqual(
            build_up.cost_of(takes, prices),
            D(69) / D("1.9") * D("1.03") + D("21.2625") + D(2) / D("1.9"),
            places=20,
        )
        self.assertEqual(
            build_up.cost_of(takes, {**prices, "resource:1": None}), D("21.2625") + D(2) / D("1.9")
        )


if __name__ == "__main__":
    unittest.main()
