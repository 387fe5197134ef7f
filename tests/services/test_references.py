"""Reference rates: typed by size, read by lines of rates, walked, noted, and what can't be read told."""

from __future__ import annotations

import io
from decimal import Decimal
from typing import Any

from openpyxl import load_workbook

from sandscale.core.numbers.ways import held
from sandscale.core.refusals import BadEntry, Refusal
from sandscale.services.bill import actions as bill
from sandscale.services.issue import documents
from sandscale.services.keeping import checking, history, walking
from sandscale.services.rates import actions, reading, size_tables
from sandscale.services.rates import lines as rate_lines
from sandscale.services.rates import sizes as reference_sizes
from sandscale.store.models import BuildUp, BuildUpLine, Item, ReferenceSize
from tests import scene

D = Decimal


class References(scene.DatabaseCase):
    def setUp(self) -> None:
        super().setUp()
        self.actor = scene.project()
        told = {
            "name": "Walls, in situ",
            "unit": "m²",
            "kind": "reference",
            "sized_by": "thickness",
            "sized_in": "mm",
        }
        self.table = scene.id_of(
            actions.add_build_up(self.actor, {**told, "source": "Marl book", "year": "2025"})
        )
        for size, labour, material in (("200", "38.90", "18.70"), ("0.15 m", "31.40", "18.10")):
            self.size(size, labour=D(labour), material=D(material))

    def size(self, size: str, **costs: Any) -> int:
        return scene.id_of(reference_sizes.add_size(self.actor, self.table, {"size": size, **costs}))

    def rated(self, size: str, **fields: Any) -> tuple[int, int]:
        rate = scene.id_of(actions.add_build_up(self.actor, {"name": f"Wall {size}", "unit": "m²"}))
        line = {"nested": self.table, "basis": "unit", "size": size, **fields}
        return rate, scene.id_of(rate_lines.add_build_up_line(self.actor, rate, line))

    def seen(self, rate: int) -> reading.BuildUpView:
        return reading.build_up_view(self.actor, rate)

    def test_a_size_typed_in_another_unit_stands_in_the_tables_own(self) -> None:
        self.assertEqual([(s.size, s.at) for s in self.seen(self.table).sizes], [("150", 150), ("200", 200)])
        for typed, told in (("17.5 cm", "175"), ("2*90", "180"), ("7 in", "177.8"), ("160", "160")):
            rate, _ = self.rated(typed)
            for system in ("metric", "us"):
                with held(system):
                    (line,) = self.seen(rate).lines
                    self.assertEqual((line.size, line.name), (told, f"Walls, in situ, {told} mm"))

    def test_a_line_reads_it_in_parts_and_says_from_where(self) -> None:
        rate, line = self.rated("175")
        view = self.seen(rate)
        self.assertEqual(
            (view.rate, [(g.group, g.unit_price) for g in view.groups]),
            (D("53.55"), [("labour", D("35.15")), ("material", D("18.40"))]),
        )
        self.assertEqual(view.lines[0].reads, "read at 175 mm, between 150 and 200 mm; Marl book, 2025")
        walked = walking.walk(self.actor, f"reference:{self.table}:{line}")
        self.assertEqual(
            (walked.working.value, walked.working.source),
            (53.55, "read at 175 mm, between 150 and 200 mm; Marl book, 2025"),
        )
        self.assertIn(
            f"reference:{self.table}:{line}",
            [link.ref for link in walking.walk(self.actor, f"build-up:{rate}").comes_from],
        )
        # What it tells moves what rests on it, and a rate in a rate.
        outer = scene.build_up(self.actor, "Wall, faced", "m²", [{"nested": rate, "basis": "unit"}])
        size = ReferenceSize.get((ReferenceSize.build_up == self.table) & (ReferenceSize.size == "200"))
        reference_sizes.change_size(self.actor, size.id, size.version, {"labour": D("48.90")})
        self.assertEqual((self.seen(rate).rate, self.seen(outer).rate), (D("58.55"), D("58.55")))
        history.undo(self.actor)
        self.assertEqual(self.seen(outer).rate, D("53.55"))
        # Another size, an allowance, a part of it.
        row = BuildUpLine.get_by_id(line)
        rate_lines.change_build_up_line(
            self.actor, line, row.version, {"size": "200", "quantity": "0.5", "allowance": D(10)}
        )
        self.assertEqual(self.seen(rate).rate, D("31.68"))
        book = load_workbook(io.BytesIO(documents.bill_workbook(self.actor)[1]))
        cells = [[cell.value for cell in row] for row in book["Rates"].iter_rows()]
        self.assertTrue(
            any(
                row[0] == "Walls, in situ, 200 mm" and row[12] == "read at 200 mm; Marl book, 2025"
                for row in cells
            )
        )
        copy = scene.taken_in(self.actor.person_id, scene.file_of(self.actor))
        self.assertEqual(ReferenceSize.select().where(ReferenceSize.project == copy.id).count(), 2)
        with held("us", "", 8.0):  # a bare number is in the table's unit there too
            self.assertEqual(reading.read_at(self.actor, self.table, "175").total, D("53.55"))
        twin = scene.id_of(actions.copy_build_up(self.actor, self.table))
        self.assertEqual([s.at for s in self.seen(twin).sizes], [150, 200])

    def test_a_table_comes_in_is_put_right_and_goes_out_to_come_in_again(self) -> None:
        pasted = "Thickness [cm]\tLabour\tMaterial\tTotal\n25\t45,10\t19.20\t64.30\n20\t1\t1\t2\n30\t\t\t\nx\t1\t1\t2"
        seen = size_tables.read_sizes(self.actor, self.table, pasted.encode(), "the list")
        self.assertEqual(seen.columns, ["size", "labour", "material", "whole"])
        self.assertEqual(
            [(row.fields.get("size"), row.says) for row in seen.rows],
            [
                ("25 cm", ""), ("20 cm", "The reference tells of that size already."),
                ("30 cm", "It tells no cost."), ("x cm", "“x cm” can't be read as size."),
            ],
        )  # fmt: skip
        with self.assertRaisesRegex(BadEntry, "Row 2: The reference tells of that size already"):
            size_tables.add_sizes(self.actor, self.table, [row.fields for row in seen.rows])
        saved = size_tables.add_sizes(self.actor, self.table, [seen.rows[0].fields])
        self.assertEqual(saved.id, 1)
        self.assertEqual([(s.at, s.labour) for s in self.seen(self.table).sizes][-1], (D(250), D("45.1")))
        otherwise = size_tables.read_sizes(
            self.actor, self.table, pasted.encode(), "the list", ["size", "whole", "", ""]
        )
        self.assertEqual(otherwise.rows[0].fields, {"size": "25 cm", "whole": "45,10"})
        # Out as CSV and as a workbook, and into another reference: the same costs.
        for form in ("csv", "xlsx"):
            name, content = size_tables.sizes_file(self.actor, self.table, form)
            self.assertEqual(name, f"Walls, in situ.{form}".replace(",", "_"))
            head = {"name": f"Again {form}", "unit": "m²", "kind": "reference", "sized_in": "mm"}
            twin = scene.id_of(actions.add_build_up(self.actor, head))
            back = size_tables.read_sizes(self.actor, twin, content, name)
            self.assertEqual(back.wrong, 0)
            size_tables.add_sizes(self.actor, twin, [row.fields for row in back.rows])
            self.assertEqual(
                [(s.at, s.labour, s.material) for s in self.seen(twin).sizes],
                [(s.at, s.labour, s.material) for s in self.seen(self.table).sizes],
            )
        rate, _ = self.rated("175")
        with self.assertRaisesRegex(BadEntry, "is no reference"):
            size_tables.sizes_file(self.actor, rate, "csv")

    def test_what_is_read_beyond_or_not_at_all_is_told(self) -> None:
        beyond, _ = self.rated("250")
        self.assertEqual(self.seen(beyond).rate, D("65.70"))
        says = [check.says for check in checking.checks(self.actor) if check.rule == "reference"]
        self.assertEqual(
            says,
            [
                "Wall 250: Walls, in situ: 250 mm lies beyond the sizes known, 150 to 200 mm; it is read along the last two."
            ],
        )
        unsaid, _ = self.rated("")
        self.assertIn("It isn't said at which thickness it is read", " ".join(self.seen(unsaid).findings))
        self.assertEqual(self.seen(unsaid).rate, D("0.00"))
        stops = [
            check
            for check in checking.checks(self.actor)
            if check.rule == "reference" and check.severity == "stop"
        ]
        self.assertEqual(len(stops), 1)
        told = reading.read_at(self.actor, self.table, "17.5 cm")
        self.assertEqual(
            (told.total, told.parts), (D("53.55"), {"labour": D("35.15"), "material": D("18.40")})
        )
        for wrong, says in (
            (lambda: self.size("150"), "tells of 150 already"), (lambda: self.size("15 cm"), "already"),
            (lambda: self.size(""), "A size is a number"), (lambda: self.size("2 kg"), "length"),
            (lambda: self.size("300", labour=D(-1)), "can't be a cost"),
            (lambda: self.rated("thick"), "thick"), (lambda: reading.read_at(self.actor, self.table, "-9"), "below zero|not below"),
            (lambda: rate_lines.add_build_up_line(self.actor, self.table, {"nested": beyond}), "holds sizes, not lines"),
            (lambda: reference_sizes.add_size(self.actor, beyond, {"size": "1"}), "is no reference"),
            (lambda: actions.add_build_up(self.actor, {"name": "X", "unit": "m²", "kind": "reference", "year": "last"}), "is no year"),
        ):  # fmt: skip
            with self.subTest(says), self.assertRaisesRegex(Refusal, says):
                wrong()
        row = BuildUp.get_by_id(self.table)
        with self.assertRaisesRegex(Refusal, "0.15 m"):  # one of its sizes is a length
            actions.change_build_up(self.actor, self.table, row.version, {"sized_in": "kg"})
        section = scene.id_of(bill.add_section(self.actor, "Walls"))
        item = scene.id_of(bill.add_item(self.actor, section, {"description": "Wall", "unit": "m²"}))
        bill.change_item(self.actor, item, Item.get_by_id(item).version, {"build_up": self.table})
        stops = [check.says for check in checking.checks(self.actor) if check.rule == "no size"]
        self.assertEqual(stops, ["1.1 Wall: It isn't said at which thickness it is read."])
        bill.change_item(self.actor, item, Item.get_by_id(item).version, {"size": "17.5 cm"})
        self.assertEqual(Item.get_by_id(item).rate, D("53.55"))
        priced = Item.get_by_id(item)
        bill.change_item(self.actor, item, priced.version, {"build_up": None})
        with self.assertRaisesRegex(Refusal, "is a line of “Wall 250”"):
            actions.delete_build_up(self.actor, self.table)
