"""Bills held against one another, brought together and read off a client's sheet, and packs to order; by hand."""

from __future__ import annotations

import random
import unittest
from collections import Counter
from collections.abc import Sequence
from dataclasses import replace
from datetime import date, timedelta
from decimal import Decimal as D
from typing import Any

from sandscale.core.numbers.entry import read_entry
from sandscale.core.pricing import bill, bill_columns, columns, comparing, composed, merging, orders
from sandscale.core.pricing.comparing import Pair, Stood
from sandscale.core.refusals import BadEntry, Refusal


def stood(id: int, words: str = "Kerb laid to falls", **fields: Any) -> Stood:
    """An item: 10 m at 2.00, in the section “Kerbs”, with no number of its own."""
    usual = Stood(id, str(id), ("Kerbs",), "", words, "m", "measured", D(10), D(2), D(20))
    return replace(usual, **fields)


def ids(pairs: Sequence[Pair]) -> list[tuple[int | None, int | None]]:
    return [(pair.before and pair.before.id, pair.after and pair.after.id) for pair in pairs]


class Compared(unittest.TestCase):
    def compared(
        self, before: Sequence[Stood], after: Sequence[Stood]
    ) -> list[tuple[int | None, int | None]]:
        return ids(comparing.compare(before, after))

    def test_each_thing_that_differs_is_named(self) -> None:
        same = stood(1)
        for name, fields in (
            ("section", {"section": ("Kerbs", "Road")}), ("words", {"description": "Kerbs laid to falls"}),
            ("unit", {"unit": "nr"}), ("kind", {"kind": "rate_only"}), ("quantity", {"quantity": D(11)}),
            ("rate", {"rate": None}), ("amount", {"amount": D("20.01")}),
        ):  # fmt: skip
            self.assertEqual(Pair(same, replace(same, **fields)).differs, (name,))
        self.assertEqual(
            Pair(same, replace(same, section=("KERBS:",), id=9, ref="4", number="7")).differs, ()
        )
        self.assertEqual((Pair(same, None).differs, Pair(None, same).differs), ((), ()))

    def test_by_how_much_an_amount_is_more(self) -> None:
        one, other = stood(1, amount=D("20.50")), stood(2, amount=D("18.25"))
        for pair, moved in (
            (Pair(one, other), "-2.25"),
            (Pair(one, None), "-20.50"),
            (Pair(None, other), "18.25"),
        ):
            self.assertEqual(pair.moved, D(moved))

    def test_the_same_number_and_words_count_before_the_place_and_the_unit(self) -> None:
        before = [stood(1, number="A1 "), stood(2, number="A2")]
        after = [stood(11, number="a2", section=("Else",), unit="nr"), stood(12, number="A1")]
        self.assertEqual(self.compared(before, after), [(2, 11), (1, 12)])

    def test_a_number_alone_tells_nothing(self) -> None:
        before, after = [stood(1, "Kerb", number="A1")], [stood(11, "Fence of oak", number="A1")]
        self.assertEqual(self.compared(before, after), [(1, None), (None, 11)])

    def test_the_same_section_counts_before_another(self) -> None:
        here, there = ("Yard",), ("Road",)
        before = [stood(1, section=here), stood(2, section=there)]
        self.assertEqual(self.compared(before, [stood(11, section=there)]), [(1, None), (2, 11)])
        # Where it is in no section of that name, the first of those words is taken.
        self.assertEqual(self.compared(before, [stood(11, section=("Hall",))]), [(1, 11), (2, None)])
        # In another unit it is another item.
        self.assertEqual(
            self.compared(before, [stood(11, section=there, unit="m²")]), [(1, None), (2, None), (None, 11)]
        )

    def test_alike_items_are_matched_first_to_first(self) -> None:
        before = [stood(1), stood(2), stood(3)]
        self.assertEqual(self.compared(before, [stood(11), stood(12)]), [(1, 11), (2, 12), (3, None)])
        self.assertEqual(self.compared(before[:1], [stood(11), stood(12)]), [(1, 11), (None, 12)])

    def test_words_mostly_alike_are_matched_best_first_within_section_and_unit(self) -> None:
        before = [stood(1, "Concrete C30/37 in ground slabs"), stood(2, "Concrete C30/37 in ground beams")]
        after = [
            stood(11, "Concrete C30/37 in the ground beams"),
            stood(12, "Concrete C35/45 in ground slabs"),
        ]
        self.assertEqual(self.compared(before, after), [(2, 11), (1, 12)])
        for fields in ({"section": ("Else",)}, {"unit": "m³"}):
            elsewhere = [replace(item, **fields) for item in after]  # type: ignore[arg-type]
            self.assertEqual(self.compared(before, elsewhere), [(1, None), (2, None), (None, 11), (None, 12)])
        # Of two that are alike in the same measure the first is taken, and nothing is taken twice.
        twice = [stood(11, "Concrete C30/37 in ground slab"), stood(12, "Concrete C30/37 in ground slab")]
        self.assertEqual(self.compared(before[:1], twice), [(1, 11), (None, 12)])

    def test_how_alike_words_are(self) -> None:
        for one, other, told in (
            ("Kerb, LAID  to falls!", "kerb laid to falls", 1.0),
            ("abcd", "abce", 0.75),  # 2 × 3 of 8 letters
            ("abcd", "abef", 0.0),  # a half: less than is looked at
            ("abcdefghi123", "abcdefghixyzw", comparing.ALIKE),  # 2 × 9 of 25 letters: just enough
            ("", "", 1.0),
            ("kerb", "", 0.0),
        ):
            self.assertEqual(comparing.alike(one, other), told, (one, other))

    def test_what_went_stands_after_what_stood_before_it(self) -> None:
        names = ("Kerb", "Fence", "Gate", "Post", "Wall", "Hedge")
        before = [stood(n, name) for n, name in enumerate(names, start=1)]
        after = [stood(15, "Wall"), stood(12, "Fence"), stood(17, "Steps")]
        self.assertEqual(
            self.compared(before, after),
            [(1, None), (5, 15), (6, None), (2, 12), (3, None), (4, None), (None, 17)],
        )
        self.assertEqual(self.compared([], []), [])

    def test_whatever_two_bills_hold_each_item_is_told_once_and_the_sums_agree(self) -> None:
        chance = random.Random(8)
        words = ["Kerb", "Kerb laid", "Kerb, laid", "Fence", "Fence of oak", "Gate"]

        def some(first: int) -> list[Stood]:
            return [
                stood(
                    first + n, chance.choice(words), number=chance.choice(["", "1", "2"]), unit=chance.choice("mt"),
                    section=(chance.choice("AB"),), amount=D(chance.randint(-500, 500)) / 100,
                )
                for n in range(chance.randint(0, 9))
            ]  # fmt: skip

        for _ in range(300):
            before, after = some(1), some(101)
            pairs = comparing.compare(before, after)
            self.assertEqual([p.after for p in pairs if p.after], after)
            self.assertEqual(Counter(p.before.id for p in pairs if p.before), Counter(i.id for i in before))
            total = sum(i.amount for i in after) - sum(i.amount for i in before)
            self.assertEqual(sum(pair.moved for pair in pairs), total)
            # Held against itself nothing differs.
            self.assertTrue(
                all(p.before and p.after and not p.moved for p in comparing.compare(after, after))
            )

    def test_those_mostly_alike_are_found_among_many(self) -> None:
        others = [stood(n, f"Item {n} of its own") for n in range(100, 400)]
        near = [stood(1, "Waterstop 250 wide in joint"), stood(2, "Waterstops 250 wide in joints")]
        index = comparing.Index([*others, *near])
        self.assertEqual([i.id for i in index.like("Waterstops 250 wide, in joints", 9)], [2, 1])
        self.assertEqual([i.id for i in index.like("Waterstops 250 wide, in joints", 1)], [2])
        self.assertEqual(index.like("Gabions", 9), [])
        self.assertEqual(comparing.Index([]).like("Kerb", 9), [])


class Merged(unittest.TestCase):
    def test_new_the_same_or_otherwise_in_the_sections_they_go_to(self) -> None:
        ours = [stood(1, "Kerb"), stood(2, "Fence"), stood(3, "Ours alone")]
        theirs = [
            stood(11, "Kerb", section=("Theirs",)), stood(12, "Fence", section=("Theirs",), quantity=D(3)),
            stood(13, "Gate", section=("Theirs",)), stood(14, "Post", section=("Left",)),
        ]  # fmt: skip
        found = merging.merge(ours, theirs, {("Theirs",): ("Kerbs",)})
        self.assertEqual(
            [(item.id, section) for item, section in found.fresh], [(13, ("Kerbs",)), (14, ("Left",))]
        )
        self.assertEqual((ids(found.same), ids(found.clashes)), ([(1, 11)], [(2, 12)]))
        # A section that goes elsewhere is no clash: what an item is counts.
        apart = merging.merge(ours, theirs, {})
        self.assertEqual((ids(apart.same), ids(apart.clashes)), ([(1, 11)], [(2, 12)]))

    def test_quantities_add_up_only_in_one_kind_of_unit(self) -> None:
        one = stood(1, unit="kg")
        for fields, sums in (
            ({"unit": "t"}, True),
            ({"unit": "m"}, False),
            ({"kind": "lump_sum", "unit": "kg"}, False),
        ):
            for pair in (Pair(one, replace(one, **fields)), Pair(replace(one, **fields), one)):  # type: ignore[arg-type]
                self.assertEqual(
                    merging.choices(pair), ("ours", "theirs", "both", *(("sum",) if sums else ()))
                )

    def test_two_currencies_do_not_stand_in_one_bill(self) -> None:
        merging.refuse_two_currencies("EUR", "EUR")
        with self.assertRaisesRegex(Refusal, "One bill is in EUR, the other in USD"):
            merging.refuse_two_currencies("EUR", "USD")


class Packs(unittest.TestCase):
    def test_whole_packs_cover_what_is_needed(self) -> None:
        for needed, contains, deliveries, told in (
            ("50", "25", 1, 2), ("50.01", "25", 1, 3), ("0.001", "25", 1, 1), ("0", "25", 3, 0), ("-4", "25", 1, 0),
            ("50.00000001", "25", 1, 2),  # a share of a pack that is no more than noise
            ("100", "25", 3, 6),  # 33.3 each: two bags
            ("1", "25", 4, 4), ("100", "0.5", 200, 200),
        ):  # fmt: skip
            self.assertEqual(
                orders.packs(D(needed), D(contains), deliveries), told, (needed, contains, deliveries)
            )
        for contains, deliveries, says in (
            ("0", 1, "holds more than nothing"), ("-1", 1, "holds more than nothing"),
            ("1", 0, "1 to 200 deliveries"), ("1", 201, "1 to 200 deliveries"),
        ):  # fmt: skip
            with (
                self.subTest(contains=contains, deliveries=deliveries),
                self.assertRaisesRegex(BadEntry, says),
            ):
                orders.packs(D(5), D(contains), deliveries)

    def test_whatever_is_needed_the_packs_cover_it_with_less_than_a_pack_to_spare(self) -> None:
        chance = random.Random(4)
        for _ in range(400):
            needed, contains = D(chance.randint(1, 10**6)) / 1000, D(chance.randint(1, 10**5)) / 1000
            deliveries = chance.randint(1, 20)
            spare = orders.packs(needed, contains, deliveries) * contains - needed
            self.assertLess(spare, contains * deliveries)
            self.assertGreater(spare, -contains * deliveries * D("1e-8"))

    def test_where_an_order_stands(self) -> None:
        today = date(2026, 11, 12)
        for needed, ordered, delivered, due, state, left in (
            (10, 0, 0, None, "to order", 10), (10, 10, 0, None, "ordered", 0), (10, 10, 0, today, "ordered", 0),
            (10, 10, 0, today - timedelta(1), "late", 0), (10, 10, 4, today, "part delivered", 0),
            (10, 10, 4, today - timedelta(1), "late", 0), (10, 10, 10, today - timedelta(9), "delivered", 0),
            (10, 12, 13, None, "delivered", 0), (10, 9, 9, None, "outgrown", 1), (0, 5, 0, None, "ordered", 0),
            (0, 0, 0, None, "to order", 0),
        ):  # fmt: skip
            standing = orders.Standing(D(needed), D(ordered), D(delivered), due)
            self.assertEqual((standing.state(today), standing.left), (state, left), standing)
        # What is only noise of what is needed has not outgrown it.
        for needed, outgrown in (("1000000.0005", False), ("1000000.002", True), ("0.50000002", True)):
            ordered = D(needed).quantize(D("0.1"))
            standing = orders.Standing(D(needed), ordered, D(0))
            self.assertEqual((standing.outgrown, standing.covered), (outgrown, not outgrown), needed)
        # What whole packs were taken to cover is covered.
        for needed, contains in (("1000.0000005", "1000"), ("50.00000001", "25"), ("0.3", "0.1")):
            bought = orders.packs(D(needed), D(contains)) * D(contains)
            self.assertTrue(orders.Standing(D(needed), bought, D(0)).covered, needed)


class Priced(unittest.TestCase):
    def test_what_an_item_is_totalled_with(self) -> None:
        for kind, composed_of, told in (
            ("measured", False, "plain"), ("measured", True, "composite"), ("lump_sum", True, "plain"),
            ("rate_only", True, "plain"), ("provisional", False, "set_aside"), ("prime_cost", True, "set_aside"),
            ("fixed", False, "preliminaries"), ("time", True, "preliminaries"),
        ):  # fmt: skip
            self.assertEqual(bill.apart_of(kind, composed_of), told)  # type: ignore[arg-type]

    def test_a_link_in_another_unit_of_its_kind(self) -> None:
        for net, unit, into, told in ((2.5, "t", "kg", 2500), (250, "mm", "m", 0.25), (3, "m", "m", 3)):
            self.assertAlmostEqual(bill.in_unit(bill.Link(net, unit, 1), into), told, places=9)
        with self.assertRaisesRegex(Refusal, "^The quantity is in m; an item in m² can't take it"):
            bill.in_unit(bill.Link(1, "m", 1), "m²")

    def test_a_credit_is_below_zero_to_the_end(self) -> None:
        self.assertEqual(bill.amount(D("12.5"), D("-4.10")), D("-51.25"))
        self.assertEqual(bill.amount(D("0.5"), D("-0.01")), D("-0.01"))  # half away from zero, as a charge
        self.assertEqual(bill.summary(D(-100), [bill.Adjustment("Overheads", D(10), "items")]).total, D(-110))

    def test_a_quantity_that_draws_on_nothing_has_no_arithmetic(self) -> None:
        told = bill.quantity_working("Quantity", [], "m", D(0))
        self.assertEqual((told.expression, told.figures, told.parts), ("", "", ()))
        told = bill.quantity_working("Quantity", [bill.Link(3, "m", 0.5)], "m", D("1.5"))
        self.assertEqual(
            (told.expression, told.figures),
            ("sum of its quantity lines, rounded into the bill", "3.00 × 0.5"),
        )

    def test_a_composed_rate_is_rounded_once_and_names_what_has_no_rate(self) -> None:
        part = composed.Part("Concrete", "m³", D("0.333"), D("100.015"), "build-up:1")
        without = composed.Part("Formwork", "m²", D(2), None, "build-up:2")
        self.assertEqual(composed.rate([part, part, without], 2), D("66.61"))  # 2 × 33.304995
        self.assertEqual(composed.rate([part], 4), D("33.3050"))
        self.assertIsNone(composed.rate([without], 2))
        free = replace(without, price=D(0))
        self.assertEqual(composed.rate([free], 2), D("0.00"))
        told = composed.working("Slab", [part, without, free], D("33.30"), "m²", "EUR")
        self.assertEqual(
            (told.value, told.unit, told.figures), (D("33.30"), "EUR/m²", "33.305 + 0.00 + 0.00")
        )
        self.assertEqual(
            [(p.expression, p.figures, p.source, p.link) for p in told.parts],
            [
                ("m³ in one m² × rate", "0.333 × 100.015", "", "build-up:1"),
                ("m² in one m² × rate", "2 × 0.00", "no rate yet", "build-up:2"),
                ("m² in one m² × rate", "2 × 0.00", "", "build-up:2"),
            ],
        )


HEAD = ["Item", "Description", "Unit", "Qty", "Rate EUR", "Amount (EUR)"]


def number(text: str) -> D:
    return D(str(read_entry(text, "", field="number")))


def lines(
    *rows: Sequence[str], known: Sequence[bill_columns.BillColumn] | None = None
) -> list[bill_columns.Line]:
    told = known or bill_columns.recognise([HEAD]).columns
    return list(bill_columns.lines(list(enumerate(rows, start=2)), told, number))


class AClientsSheet(unittest.TestCase):
    def test_heads_by_their_words(self) -> None:
        for head, column in (
            ("Ref.", "number"), ("Pos", "number"), ("Description of works", "description"), ("U.O.M.", "unit"), ("m", ""),
            ("Est. quantity", "quantity"), ("Unit rate (EUR)", "rate"), ("PRICE per unit", "rate"), ("Price in EUR", "rate"),
            ("Total\nprice", "amount"), ("Extension:", "amount"), ("Sum €", "amount"), ("Spec. ref.", "note"), ("", ""),
        ):  # fmt: skip
            known = bill_columns.recognise([["Clause", "Text", "Units", "Qty", head]]).columns
            self.assertEqual(known[4], column if column not in known[:4] else "", head)
        told = bill_columns.recognise([["Title", "", ""], [], HEAD, ["1", "Kerb", "m", "2", "", ""]])
        self.assertEqual(
            (told.first, told.columns), (3, ("number", "description", "unit", "quantity", "rate", "amount"))
        )
        # Without heads, in the usual order; what somebody says holds, and what there is no word for is left out.
        self.assertEqual(
            bill_columns.recognise([["1", "Kerb", "m", "2"]]).columns,
            ("number", "description", "unit", "quantity"),
        )
        self.assertEqual(
            bill_columns.recognise([["Kerb", "m", "2"]], ("description", "unit")).columns,
            ("description", "unit", ""),
        )

    def test_sections_items_words_and_totals(self) -> None:
        found = lines(
            ["", "Weir Lane storm tank"], ["2", "Substructure"], ["2.1", "Concrete"], ["", "All concrete is vibrated."],
            ["2.1.1", "Slab", "m³", "12.5", "100", "1250"], ["", "Collection of sheet 2"], ["2.1.2", "Wall", "m3", "4"],
            ["", "Total of Substructure", "", "", "", "1250"], ["", "Carried forward\nto sheet 3"], ["", "SUB-TOTAL:"], ["", "To collection"],
            ["3", "Collection chambers"], ["", "Brought-in topsoil"], ["", "Summer works"], ["3.1", "Sum"], ["", ""],
        )  # fmt: skip
        self.assertEqual(
            [(line.row, line.what, line.depth) for line in found],
            [
                (2, "section", 0), (3, "section", 0), (4, "section", 1), (5, "words", 0), (6, "item", 0), (7, "total", 0),
                (8, "item", 0), (9, "total", 0), (10, "total", 0), (11, "total", 0), (12, "total", 0), (13, "section", 0),
                (14, "words", 0), (15, "words", 0), (16, "total", 0),
            ],
        )  # fmt: skip
        slab, wall = (line for line in found if line.what == "item")
        self.assertEqual((slab.quantity, slab.rate, slab.amount, slab.says), (D("12.5"), D(100), D(1250), ""))
        self.assertEqual(
            (wall.unit, wall.quantity, wall.rate, wall.amount, wall.says), ("m³", D(4), None, None, "")
        )
        deep = lines(["1.2.3.4.5.6.7", "So deep"], ["A", "One"], ["B/2-c", "Three"])
        self.assertEqual([line.depth for line in deep], [bill_columns.DEEPEST, 0, 2])

    def test_heads_said_again_on_a_page_are_no_item(self) -> None:
        found = lines(
            ["1", "Kerb", "m", "2"], HEAD, ["", "Description", "Unit", "Qty"], ["2", "Unit", "m", "2"]
        )
        self.assertEqual([line.description for line in found], ["Kerb", "Unit"])

    def test_kinds_by_words_and_unit(self) -> None:
        for words, unit, quantity, kind in (
            ("Testing", "sum", "", "lump_sum"), ("Testing", "LS", "1", "lump_sum"), ("Testing", "item", "3", "measured"),
            ("Provisional sum for rock", "item", "1", "provisional"), ("Prov. sum", "", "1", "provisional"),
            ("Provisional sum for rock", "m³", "1", "measured"), ("PC sum for doors", "sum", "", "prime_cost"),
            ("Prime cost of doors", "Lump sum", "", "prime_cost"), ("Rock", "m³", "", "rate_only"),
            ("Rock", "m³", "rate only", "rate_only"), ("Rock", "m³", "0", "measured"),
        ):  # fmt: skip
            (found,) = lines(["1", words, unit, quantity])
            self.assertEqual(found.kind, kind, (words, unit, quantity))
        (once,) = lines(["1", "Allow for testing", "", "", "", "500"])
        self.assertEqual((once.kind, once.amount, once.unit), ("lump_sum", D(500), "nr"))

    def test_units_as_people_write_them(self) -> None:
        for unit, told in (
            ("M2", "m²"), ("Sq.m", "m²"), ("cu.m.", "m³"), ("No.", "nr"), ("each", "nr"), ("Lm", "m"), ("tonnes", "t"),
            ("hrs", "h"), ("wks", "week"), ("ft", "ft"), ("KG", "kg"),
        ):  # fmt: skip
            (found,) = lines(["1", "Kerb", unit, "2"])
            self.assertEqual((found.unit, found.says), (told, ""), unit)
        (odd,) = lines(["1", "Kerb", "furlong", "2"])
        self.assertEqual((odd.unit, odd.says), ("nr", "Its unit “furlong” isn't known; it counts in nr."))

    def test_what_cannot_be_read_is_told_and_stays(self) -> None:
        (found,) = lines(["7", "", "m", "about 12", "x", ""])
        self.assertEqual((found.description, found.kind), ("7", "rate_only"))
        for says in (
            "quantity “about 12” is no number",
            "rate “x” is no number",
            "It has no words",
            "taken for its rate only",
        ):
            self.assertIn(says, found.says)
        self.assertEqual(lines(["", "", "m", "2"])[0].description, "Item without words")

    def test_an_amount_that_is_not_its_quantity_times_its_rate_is_told(self) -> None:
        for quantity, rate, amount, says in (
            ("10", "49", "490", ""), ("10", "49.04", "490", ""), ("1000", "0.12", "124.99", ""), ("10", "49", "491", ""),
            ("10", "49", "491.01", "Its amount of 491.01 isn't 10.00 × 49.00 = 490.00, which counts."),
            ("1000", "0.12", "125.01", "Its amount of 125.01 isn't"), ("10", "", "500", "Its amount of 500.00 stands without a rate"),
            ("10", "0", "500", "stands without a rate"), ("10", "", "0", ""), ("10", "", "", ""), ("-10", "-49", "490", ""),
            ("10", "-49", "490", "isn't 10.00 × −49.00 = −490.00"), ("-1000", "0.12", "-124.99", ""),
        ):  # fmt: skip
            (found,) = lines(["1", "Kerb", "m", quantity, rate, amount])
            self.assertIn(says, found.says, (quantity, rate, amount))
            self.assertEqual(bool(found.says), bool(says), (quantity, rate, amount))
        self.assertEqual(lines(["1", "Testing", "sum", "1", "", "500"])[0].says, "")


class APriceList(unittest.TestCase):
    def test_heads_by_their_words(self) -> None:
        heads = [
            "Goods",
            "Merchant",
            "Net price [EUR]",
            "UOM",
            "Holds",
            "Min. order",
            "Date",
            "Valid until",
            "Quote no",
        ]
        told = columns.recognise(
            [heads, ["Cement", "Quayside", "5,10", "bag", "25", "", "2 Nov 2026", "", "Q7"]]
        )
        self.assertEqual(
            told.columns,
            ("resource", "supplier", "price", "unit", "contains", "least", "quoted_on", "valid_to", "source"),
        )
        row = ["Cement", " ", "5,10", "bag", "25"]
        self.assertEqual(
            columns.fields_of(row, told),
            {"resource": "Cement", "price": "5,10", "unit": "bag", "contains": "25"},
        )


if __name__ == "__main__":
    unittest.main()
