"""Worked cases of prices, build-ups and the bill: §7 and §8 of the computation."""

from __future__ import annotations

import unittest
from dataclasses import replace
from datetime import date
from decimal import Decimal as D

from sandscale.core.numbers.ways import held
from sandscale.core.numbers.working import Working
from sandscale.core.pricing import bands, bill, build_up, packs, quotes, reference, worked_out
from sandscale.core.pricing.build_up import Terms
from sandscale.core.refusals import BadEntry, Refusal

ON = date(2026, 11, 2)


def quote(
    reference: int, price: str, on: str = "2026-10-01", to: str | None = "2026-12-31", contains: str = "1"
) -> quotes.Quote:
    return quotes.Quote(
        reference,
        f"Supplier {reference}",
        D(price),
        D(contains),
        date.fromisoformat(on),
        date.fromisoformat(to) if to else None,
    )


def line(
    group: str,
    quantity: str,
    unit: str,
    price: str | None,
    basis: str = "output",
    allowance: str = "0",
    escalation: str = "0",
) -> build_up.BuildUpLine:
    return build_up.BuildUpLine(
        group,
        group,
        basis,
        D(quantity),
        unit,
        D(allowance),
        None if price is None else D(price),
        D(escalation),
    )  # type: ignore[arg-type]


class Blockwork(unittest.TestCase):
    """2 masons at 34.50 + 1 labourer at 27.20, 1.9 m²/h: 50.63; 12.5 blocks + 5 % at 1.62: 21.26."""

    LINES = (
        line("labour", "2", "h", "34.50"),
        line("labour", "1", "h", "27.20"),
        line("material", "12.5", "nr", "1.62", "unit", "5"),
    )

    def test_groups_and_rate(self) -> None:
        analysis = build_up.analyse(self.LINES, Terms(D("1.9")))
        self.assertEqual(
            (f"{analysis.groups['labour']:.2f}", f"{analysis.groups['material']:.2f}"), ("50.63", "21.26")
        )
        # 50.6316 + 21.2625 = 71.8941: rounded once, at the rate.
        self.assertEqual(analysis.rate, D("71.89"))

    def test_each_line_has_its_total_and_its_share_of_a_unit(self) -> None:
        mason, _, block = build_up.analyse(self.LINES, Terms(D("1.9"))).lines
        self.assertEqual((mason.total_quantity, mason.amount), (D(2), D("69.00")))
        self.assertEqual((f"{mason.unit_quantity:.4f}", f"{mason.unit_price:.2f}"), ("1.0526", "36.32"))
        self.assertEqual((block.unit_quantity, f"{block.unit_price:.4f}"), (D("13.125"), "21.2625"))

    def test_a_day_of_eight_hours_is_the_same_work(self) -> None:
        by_day = build_up.analyse(self.LINES, Terms(D("15.2"), D(8)))
        self.assertEqual(by_day.rate, D("71.89"))
        self.assertEqual(by_day.lines[0].total_quantity, D(16))

    def test_the_working_says_the_same(self) -> None:
        analysis = build_up.analyse(self.LINES, Terms(D("1.9")))
        told = build_up.rate_working("Blockwork", analysis, Terms(D("1.9")), "m²", "EUR")
        self.assertEqual(
            (told.value, told.expression, told.figures),
            (D("71.89"), "labour + material", "50.6316 + 21.2625"),
        )
        mason = told.parts[0].parts[0]
        self.assertEqual((mason.expression, mason.figures), ("quantity × price / output", "2 × 34.50 / 1.9"))
        block = told.parts[1].parts[0]
        self.assertEqual(
            (block.expression, block.figures),
            ("quantity × (1 + allowance) × price", "12.5 × (1 + 5 %) × 1.62"),
        )

    def test_escalation_and_hours_are_told_too(self) -> None:
        analysis = build_up.analyse([line("labour", "2", "h", "30", escalation="10")], Terms(D(16), D(8)))
        self.assertEqual(analysis.rate, D("33.00"))
        told = build_up.line_working(analysis.lines[0], Terms(D(16), D(8)), "m²", "EUR")
        self.assertEqual(told.figures, "2 × 8 × 30.00 × (1 + 10 %) / 16")

    def test_a_gang_stands_for_those_who_work_in_it(self) -> None:
        """Two gangs of a concreter and two labourers, 10 % on the gangs and 5 % on the labourers' hours, 3 % on prices: 6 m³ an hour."""
        members = [
            line("labour", "1", "h", "31.80"),
            line("labour", "2", "h", "27.20", allowance="5"),
            line("plant", "1", "h", "4.40", escalation="2"),
        ]
        drawn = line("labour", "2", "h", None, allowance="10", escalation="3")._replace(
            name="Concrete gang", row=7
        )
        parts = build_up.of_gang(drawn, members, D(8))
        self.assertEqual([(part.name, part.group, part.quantity, part.row) for part in parts], [
            ("labour, Concrete gang", "labour", D(2), 7), ("labour, Concrete gang", "labour", D(4), 7), ("plant, Concrete gang", "plant", D(2), 7),
        ])  # fmt: skip
        self.assertEqual(
            [(part.allowance, part.escalation) for part in parts],
            [(D(10), D(3)), (D("15.5"), D(3)), (D(10), D("5.06"))],
        )
        analysis = build_up.analyse(parts, Terms(D(6)))
        by_hand = (
            (2 * D("1.10") * D("31.80") + 4 * D("1.155") * D("27.20")) * D("1.03") / 6,
            2 * D("1.10") * D("4.40") * D("1.0506") / 6,
        )
        self.assertEqual(
            [f"{analysis.groups[group]:.6f}" for group in ("labour", "plant")],
            [f"{value:.6f}" for value in by_hand],
        )

    def test_a_band_is_picked_by_the_size_and_never_two(self) -> None:
        walls = [
            bands.Band(D("3"), None, D("63.40")), bands.Band(None, D("1.5"), D("50.63")),
            bands.Band(D("1.5"), D("2.5"), D("55.10")),
        ]  # fmt: skip
        for size, cost in (
            ("0", "50.63"),
            ("1.49", "50.63"),
            ("1.5", "55.10"),
            ("3", "63.40"),
            ("12", "63.40"),
        ):
            self.assertEqual(bands.pick(walls, D(size), "m").total, D(cost), size)
        with self.assertRaisesRegex(BadEntry, r"2\.7 m lies between two bands"):
            bands.pick(walls, D("2.7"), "m")
        with self.assertRaisesRegex(BadEntry, "-?−?1 lies outside every band"):
            bands.pick([bands.Band(D(0), D(4), D(1))], D(-1), "")
        bands.refuse_wrong(walls, "m")
        with self.assertRaisesRegex(BadEntry, "1.5 to below 2.5 m and 2.4 to below 3 m overlap"):
            bands.refuse_wrong([*walls[1:], bands.Band(D("2.4"), D(3), None)], "m")
        with self.assertRaisesRegex(BadEntry, "holds nothing"):
            bands.refuse_wrong([bands.Band(D(2), D(2), None)], "m")
        told = bands.working(bands.pick(walls, D("1.5"), "m"), "Block walls", "EUR/m²", "m")
        self.assertEqual(told.expression, "1.5 m lies in the band 1.5 to below 2.5 m")

    def test_a_percentage_is_taken_of_its_group_without_other_percentages(self) -> None:
        tools = [
            line("plant", share, "%", None, "percent")._replace(percent_of="labour", name=f"Tools {share}")
            for share in ("2", "3")
        ]
        analysis = build_up.analyse(
            [*self.LINES, *tools, tools[0]._replace(group="labour", percent_of="material")], Terms(D("1.9"))
        )
        self.assertEqual(f"{analysis.groups['plant']:.6f}", f"{D('96.20') / D('1.9') * D('0.05'):.6f}")
        self.assertEqual(
            f"{analysis.groups['labour']:.6f}", f"{D('96.20') / D('1.9') + D('21.2625') * D('0.02'):.6f}"
        )
        told = build_up.line_working(analysis.lines[4], Terms(D("1.9")), "m²", "EUR")
        self.assertEqual(
            (told.expression, told.figures, f"{told.value:.4f}"),
            ("labour × percentage", "50.6316 × 3 %", "1.5189"),
        )

    def test_what_a_day_takes(self) -> None:
        """160 l a day for each of three machines and 90 l for another, over 9 h: 63.3 l in the hour."""
        fuel = line("plant", "570", "l", "1.50", "day")
        terms = Terms(D(20), day=D(9))
        (told,) = build_up.analyse([fuel], terms).lines
        self.assertEqual((f"{told.total_quantity:.1f}", f"{told.unit_price:.4f}"), ("63.3", "4.7500"))
        working = build_up.line_working(told, terms, "m³", "EUR")
        self.assertEqual(working.expression, "quantity × hours × price / hours of a day / output")
        self.assertEqual(working.figures, "570 × 1 × 1.50 / 9 / 20")
        # A working day's output takes the whole of it.
        day = build_up.analyse([fuel], Terms(D(180), D(9), D(9)))
        self.assertEqual((day.lines[0].total_quantity, day.cost), (D(570), D("4.75")))

    def test_mark_up_and_margin_are_not_the_same(self) -> None:
        whole = [line("sundries", "1", "nr", "100", "unit")]
        for on, price, how in (
            ("cost", "112.00", "cost × 12 %"),
            ("price", "113.64", "cost × 12 / (100 − 12)"),
        ):
            terms = Terms(added=D(12), added_on=on)
            analysis = build_up.analyse(whole, terms)
            self.assertEqual((analysis.rate, analysis.cost), (D(price), D(100)), on)
            told = build_up.rate_working("Sum", analysis, terms, "nr", "EUR")
            self.assertEqual(told.parts[-1].expression, how)
            self.assertEqual(sum(part.value for part in told.parts), D(100) + analysis.added)
        with self.assertRaisesRegex(BadEntry, "less than 100 %"):
            build_up.analyse(whole, Terms(added=D(100), added_on="price"))
        self.assertEqual(
            build_up.analyse(whole, Terms(added=D(12), added_on="price", places=4)).rate, D("113.6364")
        )

    def test_what_is_had_once_is_spread_over_what_is_billed(self) -> None:
        set_up = [line("plant", "2", "nr", "300", "fixed", "10"), line("material", "1", "m³", "5", "unit")]
        analysis = build_up.analyse(set_up, Terms(D(50), billed=D(440)))
        self.assertEqual((analysis.groups["plant"], analysis.rate), (D("1.5"), D("6.50")))
        self.assertEqual(analysis.lines[0].total_quantity, D("0.25"))
        none = build_up.analyse(set_up, Terms())
        self.assertEqual((none.rate, [f.code for f in none.findings]), (D("5.00"), ["nothing-billed"]))

    def test_a_gang_within_a_gang_its_fuel_and_its_small_tools(self) -> None:
        """A digger, its driver and 12 l an hour, twice in a gang with a labourer and 5 % tools of labour."""
        digger = [
            line("plant", "1", "h", "40"),
            line("labour", "1", "h", "30"),
            line("plant", "12", "l", "1.5"),
        ]
        twice = line("labour", "2", "h", None)._replace(name="Digger")
        tools = line("sundries", "5", "%", None, "percent")._replace(percent_of="labour", name="Tools")
        gang = [*build_up.of_gang(twice, digger, D(8)), line("labour", "1", "h", "25"), tools]
        drawn = line("labour", "1", "h", None)._replace(name="Dig", row=3)
        for output, hours in ((D(10), D(1)), (D(80), D(8))):
            analysis = build_up.analyse(build_up.of_gang(drawn, gang, D(8)), Terms(output, hours))
            self.assertEqual(analysis.groups["labour"], D("8.5"))
            self.assertEqual(analysis.groups["plant"], D("11.6"))
            self.assertEqual(analysis.groups["sundries"], D("0.425"))

    def test_groups_have_subtotals_in_every_column(self) -> None:
        analysis = build_up.analyse(self.LINES, Terms(D("15.2"), D(8)))
        labour, material = analysis.of_group("labour"), analysis.of_group("material")
        self.assertEqual((labour.total_quantity, labour.unit, labour.amount), (D(24), "h", D("769.60")))
        self.assertEqual((f"{labour.unit_quantity:.4f}", f"{labour.unit_price:.4f}"), ("1.5789", "50.6316"))
        self.assertEqual((material.total_quantity, material.unit), (D("199.5"), "nr"))
        mixed = build_up.analyse([*self.LINES, line("material", "1", "kg", "2", "unit")], Terms(D(1)))
        self.assertEqual(
            (mixed.of_group("material").total_quantity, mixed.of_group("material").amount),
            (None, D("23.2625")),
        )

    def test_a_line_without_a_price_counts_nothing_and_says_so(self) -> None:
        analysis = build_up.analyse([line("material", "1", "m³", None, "unit")], Terms())
        self.assertEqual(
            (analysis.rate, [f.says for f in analysis.findings]),
            (D("0.00"), ["material has no price, so it counts nothing."]),
        )

    def test_an_output_of_nothing_is_told_only_where_it_is_used(self) -> None:
        """As when it is taken from a quantity line that comes to nothing: what goes by it counts nothing."""
        found = build_up.analyse(self.LINES, Terms(D(0)))
        self.assertEqual(
            (found.rate, [(f.line, f.code) for f in found.findings]),
            (D("21.26"), [(0, "no-output"), (1, "no-output")]),
        )
        self.assertEqual(build_up.analyse(self.LINES[2:], Terms(D(0))).findings, ())


class References(unittest.TestCase):
    """Known costs by thickness, in labour and material: 150 → 31.40 + 18.10, 200 → 38.90 + 18.70."""

    def table(self, **more: str | None) -> list[reference.Known]:
        wholes = {150: more.get("low"), 200: more.get("high")}
        return [
            reference.Known(
                D(size), {"labour": D(labour), "material": D(material)}, D(whole) if whole else None
            )
            for size, labour, material in ((200, "38.90", "18.70"), (150, "31.40", "18.10"))
            for whole in (wholes[size],)
        ]

    def test_at_between_and_beyond(self) -> None:
        for size, how, labour, material, total in (
            ("150", "at", "31.40", "18.10", "49.50"), ("175", "between", "35.15", "18.40", "53.55"),
            ("250", "beyond", "46.40", "19.30", "65.70"), ("100", "beyond", "23.90", "17.50", "41.40"),
        ):  # fmt: skip
            with self.subTest(size=size):
                told = reference.read(self.table(), D(size), "mm")
                self.assertEqual(
                    (told.how, dict(told.parts)), (how, {"labour": D(labour), "material": D(material)})
                )
                self.assertEqual(told.total, D(total))
                self.assertEqual([f.code for f in told.findings], ["beyond-sizes"] if how == "beyond" else [])
        told = reference.read(self.table(), D(175), "mm")
        self.assertEqual(told.told("mm"), "read at 175 mm, between 150 and 200 mm")
        worked = reference.working(told, "Wall", "EUR/m²", "Marl book, 2025")
        self.assertEqual((worked.value, worked.figures), (D("53.55"), "35.15 + 18.40"))
        self.assertEqual(worked.parts[0].figures, "31.40 + (38.90 − 31.40) × (175 − 150) / (200 − 150)")
        self.assertEqual([part.value for part in worked.parts], [D("35.15"), D("18.40")])

    def test_whole_against_parts(self) -> None:
        for low, high, code in (
            ("49.50", "57.60", None),
            ("49.50", "57.70", "parts-off-whole"),
            ("49.50", None, None),
        ):
            told = reference.read(self.table(low=low, high=high), D(175), "mm")
            self.assertEqual([f.code for f in told.findings], [code] if code else [])
            self.assertEqual(told.total, D("53.55"))
        wholes = [reference.Known(D(1), {}, D(10)), reference.Known(D(3), {}, D(14))]
        told = reference.read(wholes, D(2), "m")
        self.assertEqual((told.total, told.groups, told.whole), (D(12), {}, D(12)))
        self.assertEqual(
            reference.working(told, "Pit", "EUR/nr", "").figures,
            "10.00 + (14.00 − 10.00) × (2 − 1) / (3 − 1)",
        )

    def test_what_cannot_be_read_is_a_sentence(self) -> None:
        one = reference.Known(D(150), {"labour": D(5)})
        for table, size, says in (
            ([], 150, "knows no size yet"), ([one], 151, "151 mm is outside the table, which knows 150 mm only"),
            (self.table(), -60, "its labour would be below zero"),
            ([one, reference.Known(D(200), {"material": D(5)})], 175, "Nothing is told at those sizes"),
        ):  # fmt: skip
            with self.subTest(says=says), self.assertRaisesRegex(BadEntry, says):
                reference.read(table, D(size), "mm")
        half = [one, reference.Known(D(200), {"labour": D(6), "plant": D(2)})]
        told = reference.read(half, D(175), "mm")
        self.assertEqual(
            (dict(told.parts), [f.code for f in told.findings]), ({"labour": D("5.5")}, ["part-missing"])
        )


class WorkedOut(unittest.TestCase):
    """All-in labour, hired plant and owned plant, by hand."""

    def price(self, way: worked_out.Way, **inputs: str) -> Working:
        return worked_out.price(
            way, {key: worked_out.Input(D(value)) for key, value in inputs.items()}, "EUR"
        )

    def test_labour_from_wage_paid_and_worked_hours_and_on_costs(self) -> None:
        told = self.price("labour", wage="18", paid="2080", on_percent="28", on_costs="1400", worked="1720")
        # 18 × 2080 = 37 440; with 28 % 47 923.20; with 1 400 49 323.20; over 1 720 hours
        self.assertAlmostEqual(float(told.value), 49323.20 / 1720, places=9)
        self.assertEqual(told.figures, "(18.00 × 2\u00a0080 × (1 + 28 %) + 1\u00a0400.00) / 1\u00a0720")

    def test_plant_from_hire_or_ownership_with_fuel_and_driver(self) -> None:
        hired = self.price("hire", hire="1240", hours="40", fuel="14", fuel_price="1.35", driver="31")
        self.assertEqual(hired.value, D("31") + D("18.90") + D("31"))
        owned = self.price(
            "owned", new="118000", left="22000", life="9600", year="1600", interest="5", upkeep="60", fuel="14",
            fuel_price="1.35", driver="31", wear="1.10",
        )  # fmt: skip
        # 96 000 / 9 600 = 10; (118 000 + 22 000) / 2 × 5 % / 1 600 = 2.1875; upkeep 6; fuel 18.90
        self.assertEqual([(part.name, part.value) for part in owned.parts], [
            ("Loss in value", D(10)), ("Interest", D("2.1875")), ("Upkeep", D(6)), ("Fuel and oil", D("18.90")),
            ("Driver", D(31)), ("Wear", D("1.10")),
        ])  # fmt: skip
        self.assertEqual(owned.value, D("69.1875"))

    def test_what_is_missing_or_cannot_be_is_a_sentence(self) -> None:
        with self.assertRaisesRegex(BadEntry, "“Hours worked a year” isn't told yet"):
            self.price("labour", wage="18", paid="2080")
        for key, value, says in (
            ("life", "0", "above zero"),
            ("interest", "-1", "can't be -1"),
            ("wage", "3", "isn't asked"),
        ):
            with self.subTest(key), self.assertRaisesRegex(BadEntry, says):
                worked_out.check("owned", {key: D(value)})


class PriceBasis(unittest.TestCase):
    QUOTES = (
        quote(1, "1.61", "2026-10-14"),
        quote(2, "1.55", "2026-10-15"),
        quote(3, "1.70", "2026-10-12"),
        quote(4, "1.98", "2026-02-03", "2026-03-31"),
    )

    def test_every_basis(self) -> None:
        for basis, value in (
            ("latest", "1.55"),
            ("lowest", "1.55"),
            ("mean", "1.62"),
            ("median", "1.61"),
            ("chosen", "1.70"),
        ):
            with self.subTest(basis):
                self.assertEqual(quotes.price(self.QUOTES, basis, ON, chosen=3).value, D(value))  # type: ignore[arg-type]

    def test_a_quote_holds_from_its_date_to_its_last_day(self) -> None:
        for on, to, valid in (
            ("2026-11-02", "2026-11-02", True),
            ("2026-11-03", None, False),
            ("2026-01-01", "2026-11-01", False),
            ("2026-01-01", None, True),
        ):
            self.assertEqual(quote(1, "1", on, to).valid(ON), valid, (on, to))
        told = [quote(1, "1", *days).validity(ON) for days in (("2026-11-03",), ("2026-01-01", "2026-11-01"))]
        self.assertEqual(told, ["not yet", "lapsed"])

    def test_merchants_units(self) -> None:
        for pack, unit, density, told in (
            ("", "kg", None, "1"), ("bag 25 kg", "kg", None, "25"), ("bag 25 l", "m³", None, "0.025"),
            ("pallet of 60 bags of 25 kg", "kg", None, "1500"), ("pallet 60 × 25 kg", "t", None, "1.5"),
            ("thousand", "nr", None, "1000"), ("5 thousand", "nr", None, "5000"), ("pallet 72", "nr", None, "72"),
            ("roll 2 × 50 m", "m²", None, "100"), ("sheet 2.44 × 1.22 m", "m²", None, "2.9768"),
            ("load 12 m³", "t", "1900", "22.8"), ("t", "m³", "1600", "0.625"), ("big bag 0,85 t", "kg", None, "850"),
            ("day", "h", None, "8"), ("bag", "nr", None, "1"), ("length 20 ft", "m", None, "6.096"),
        ):  # fmt: skip
            with self.subTest(pack=pack, unit=unit):
                self.assertEqual(packs.holds(pack, unit, D(density) if density else None), D(told))
        with held("metric", "", 9.0):
            self.assertEqual(packs.holds("day", "h"), 9)
        for pack, unit, density, code, says in (
            ("sheet", "m²", None, "pack-unread", "doesn't tell how many m² it holds"),
            ("t", "m³", None, "no-density", "no density is known"),
            ("bag 0 kg", "kg", None, "bad-entry", "holds nothing"), ("h", "kg", "1600", "pack-unread", "doesn't tell"),
            ("bag 1,000 kg", "kg", None, "two-readings", "can be read in two ways"),
        ):  # fmt: skip
            with self.subTest(pack=pack), self.assertRaisesRegex(BadEntry, says) as refused:
                packs.holds(pack, unit, D(density) if density else None)
            self.assertEqual(refused.exception.code, code)

    def test_an_own_norm_prices_and_judges(self) -> None:
        dear = [quote(1, "6.00"), quote(2, "5.00")]
        for norm, basis, value, said in (
            (quotes.Norm(D(4), D("5.5")), "latest", "5", None),
            (quotes.Norm(D(4), D("4.5")), "lowest", "5", "is outside the own norm of 4.00 to 4.50."),
            (quotes.Norm(D("4.60")), "lowest", "5", None), (quotes.Norm(D("4.50")), "lowest", "5", "from the own norm of 4.50."),
            (quotes.Norm(D(4), D(5)), "norm", "4.5", None), (quotes.Norm(D("4.20")), "norm", "4.2", None),
        ):  # fmt: skip
            with self.subTest(norm=norm, basis=basis):
                found = quotes.price(dear, basis, ON, norm=norm)  # type: ignore[arg-type]
                self.assertEqual(found.value, D(value))
                self.assertEqual([f.code for f in found.findings], ["outside-norm"] if said else [])
                self.assertTrue(all(f.says.endswith(said or "") for f in found.findings))
        none = quotes.price(dear, "norm", ON)
        self.assertEqual((none.value, [f.code for f in none.findings]), (None, ["no-norm"]))

    def test_sold_in_more_than_is_needed(self) -> None:
        bags = replace(quote(1, "5.35", contains="25"), least=D(40))
        self.assertIsNone(quotes.too_little(bags, D(1000), "kg"))
        found = quotes.too_little(bags, D("999.99"), "kg")
        assert found is not None
        self.assertIn("is for 1\u00a0000 kg at least; the bill needs 999.99 kg", found.says)

    def test_a_bag_becomes_kilograms(self) -> None:
        self.assertEqual(quote(1, "5.35", contains="25").per_unit, D("0.214"))

    def test_a_chosen_quote_past_its_date_is_used_and_found(self) -> None:
        price = quotes.price(self.QUOTES, "chosen", ON, chosen=4)
        self.assertEqual(price.value, D("1.98"))
        self.assertEqual([f.code for f in price.findings], ["quote-lapsed"])
        price = quotes.price([quote(5, "2.00", "2026-11-03")], "chosen", ON, chosen=5)
        self.assertEqual([(f.code, f.says) for f in price.findings], [
            ("quote-early", "The quote of Supplier 5 is dated after the day prices hold on."),
        ])  # fmt: skip

    def test_an_outlying_quote_is_found(self) -> None:
        price = quotes.price(
            (quote(1, "1.00"), quote(2, "1.02"), quote(3, "1.30", "2026-10-30")), "latest", ON
        )
        (outlying,) = price.findings
        self.assertEqual(outlying.says, "The quote of Supplier 3 is more than 25 % from the median.")
        self.assertEqual(outlying.code, "quote-outlying")

    def test_no_price_says_why(self) -> None:
        for found, basis, why in ((quotes.price((), "latest", ON), "latest", "Has no quote."), (quotes.price(self.QUOTES[3:], "mean", ON), "mean", "Has no quote valid on 02 Nov 2026."), (quotes.price(self.QUOTES, "chosen", ON, 99), "chosen", "Has no chosen quote.")):  # fmt: skip
            with self.subTest(basis):
                self.assertEqual((found.value, [f.says for f in found.findings]), (None, [why]))


class Bill(unittest.TestCase):
    def test_an_item_sums_what_it_draws_on_and_rounds_once(self) -> None:
        links = [bill.Link(5.292, "m³", 1), bill.Link(6.48, "m³", 1)]
        self.assertEqual(bill.item_quantity(links, "m³"), D("11.77"))
        thirds = [bill.Link(0.004, "m³", 1)] * 3
        self.assertEqual(bill.item_quantity(thirds, "m³"), D("0.01"))

    def test_kilograms_go_into_a_tonne_item_by_factor(self) -> None:
        self.assertEqual(bill.item_quantity([bill.Link(385.745, "kg", 2)], "t"), D("0.771"))

    def test_another_kind_of_unit_is_refused(self) -> None:
        with self.assertRaisesRegex(Refusal, "Concrete in PF2 is in m³; an item in m² can't take it"):
            bill.item_quantity([bill.Link(6.48, "m³", 1, "Concrete in PF2")], "m²")

    def test_amounts_to_the_cent_half_up(self) -> None:
        self.assertEqual(bill.amount(D("11.77"), D("188.87")), D("2223.00"))
        self.assertEqual(bill.amount(D("0.5"), D("0.01")), D("0.01"))
        self.assertEqual(bill.amount(D("3"), None), D("0.00"))

    def test_adjustments_follow_in_order_on_their_bases(self) -> None:
        adjustments = [
            bill.Adjustment("Overheads", D("8.5"), "items"),
            bill.Adjustment("Profit", D(5), "running"),
            bill.Adjustment("Discount", D(-1), "items"),
        ]
        summary = bill.summary(D("23011.36"), adjustments)
        self.assertEqual([a.adds for a in summary.adjustments], [D("1955.97"), D("1248.37"), D("-230.11")])
        self.assertEqual([a.on for a in summary.adjustments], [D("23011.36"), D("24967.33"), D("23011.36")])
        self.assertEqual(summary.total, D("25985.59"))

    def test_sums_stand_for_what_was_typed_or_for_their_rate_once(self) -> None:
        for kind in bill.SUMS:
            self.assertEqual(bill.amount(D(7), D("12.50"), kind, D("4500")), D("4500.00"))
            self.assertEqual(bill.amount(D(7), D("12.50"), kind), D("12.50"))
            self.assertEqual(
                bill.amount(D(7), D("12.50"), kind, D(0)), D("0.00")
            )  # nothing typed isn't a nought typed
            self.assertEqual(bill.amount(D(7), None, kind), D("0.00"))
        for kind in ("rate_only", "heading"):
            self.assertEqual(bill.amount(D(7), D("12.50"), kind, D("4500")), D("0.00"))  # type: ignore[arg-type]

    def test_adjustments_on_work_alone_and_on_a_total_before(self) -> None:
        """10 000 of items, 1 000 of them sums put aside: 10 % of the work, 5 % of what that makes, 2 % of the first total."""
        adjustments = [
            bill.Adjustment("Overheads", D(10), "work"), bill.Adjustment("Profit", D(5), "running"), bill.Adjustment("Risk", D(2), "after:Overheads"),
        ]  # fmt: skip
        summary = bill.summary(D(10_000), adjustments, D(1_000))
        self.assertEqual(
            [(a.on, a.adds) for a in summary.adjustments],
            [(D(9_000), D(900)), (D(10_900), D(545)), (D(10_900), D(218))],
        )
        self.assertEqual(summary.total, D(11_663))
        self.assertEqual(bill.summary(D(10), []).total, D(10))
        with self.assertRaisesRegex(
            Refusal, "Risk is taken on the total after Overheads, which doesn't stand before it"
        ):
            bill.summary(D(10), adjustments[::-1])

    def test_the_quantity_is_told_from_its_links(self) -> None:
        links = [
            bill.Link(385.745, "kg", 2, "Bars in PF2", "quantity:1:bars"),
            bill.Link(120, "kg", 1, "Bars in PF1"),
        ]
        told = bill.quantity_working("Quantity of 3.1", links, "t", bill.item_quantity(links, "t"))
        self.assertEqual((told.value, told.figures), (D("0.891"), "0.3857 × 2 + 0.12"))
        self.assertEqual(
            [(part.value, part.unit, part.link) for part in told.parts],
            [(385.745, "kg", "quantity:1:bars"), (120, "kg", "")],
        )

    def test_mark_up_on_cost_is_not_margin_on_price(self) -> None:
        self.assertEqual(
            (bill.mark_up(D(100), D(12)), bill.margin(D(100), D(12))), (D("112.00"), D("113.64"))
        )
        with self.assertRaises(Refusal):
            bill.margin(D(100), D(100))


if __name__ == "__main__":
    unittest.main()
