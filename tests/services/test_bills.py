"""Bills: rates typed, composed and of references; preliminaries; a client's workbook read, matched, priced and given
back; bills compared and brought together; reports that add up."""

from __future__ import annotations

import io
import zipfile
from datetime import date
from decimal import Decimal as D
from typing import Any
from xml.etree import ElementTree

import xlsxwriter
from openpyxl import load_workbook

from sandscale.core.pricing.shares import GROUPED_BY
from sandscale.core.refusals import BadEntry, Refusal
from sandscale.demo.bills import FINISHES, SUBSTRUCTURE, client_bill
from sandscale.formats import bill_workbook
from sandscale.services.bill import (
    actions,
    adjustments,
    bills,
    compared,
    composing,
    exchange,
    matching,
    merging,
    rating,
    reading,
    received,
    report,
)
from sandscale.services.bill.block import ItemEdit, change_items
from sandscale.services.issue import documents
from sandscale.services.keeping import history, walking
from sandscale.services.keeping.acting import InUse
from sandscale.services.prices import actions as prices
from sandscale.services.prices import needs
from sandscale.services.projects import actions as projects
from sandscale.services.rates import actions as rates
from sandscale.store.models import Bill, BuildUp, Item, Project, RatePart, Resource, Section
from tests import scene
from tests.services.test_issue import recalculated

DAY = date(2026, 11, 12)


class BillCase(scene.DatabaseCase):
    def setUp(self) -> None:
        super().setUp()
        self.actor = scene.project()
        self.section = scene.id_of(actions.add_section(self.actor, "Slabs"))

    def resource(self, name: str, unit: str, price: str, kind: str = "material") -> int:
        return scene.resource(self.actor, name, kind, unit, price)

    def rate(self, name: str, unit: str, *lines: dict[str, Any], **head: Any) -> int:
        made = scene.build_up(self.actor, name, unit, list(lines))
        if head:
            rates.change_build_up(self.actor, made, BuildUp.get_by_id(made).version, head)
        return made

    def item(self, words: str = "Slab 200 thick, complete", unit: str = "m²", **fields: Any) -> int:
        typed = {"typed_quantity": "10", "typed_reason": "sketch"}
        fields = {"description": words, "unit": unit, **typed, **fields}
        return scene.id_of(actions.add_item(self.actor, self.section, fields))

    def change(self, item: int, **fields: Any) -> None:
        actions.change_item(self.actor, item, Item.get_by_id(item).version, fields)

    def total(self, bill: int | None = None) -> D:
        return reading.bill_outline(self.actor, bill).total

    def own(self) -> int:
        return reading.own_bill(self.actor.project_id).id


class RatesOfItems(BillCase):
    def test_a_rate_is_typed_with_its_reason_or_of_one_or_of_several(self) -> None:
        sand, mix = self.resource("Sand", "m³", "30"), self.resource("Concrete", "m³", "120.005")
        concrete = self.rate("Concrete placed", "m³", {"resource": mix})
        shutter = self.rate("Formwork", "m²", {"resource": sand, "quantity": "1.5"}, added=D(10))
        item = self.item()
        with self.assertRaisesRegex(BadEntry, "needs its reason"):
            self.change(item, typed_rate="44.5")
        self.change(item, typed_rate="44.5", rate_reason="agreed with the client")
        self.assertEqual(Item.get_by_id(item).amount, D("445.00"))
        # Composed: 0.2 m³ × 120.005 + 0.35 m² × 45 × 1.1 = 24.001 + 17.325 = 41.326, rounded once.
        composing.add_part(self.actor, item, concrete, "0.2")
        part = scene.id_of(composing.add_part(self.actor, item, shutter, "0.35"))
        row = Item.get_by_id(item)
        self.assertEqual((row.typed_rate, row.rate, row.amount), ("", D("41.33"), D("413.30")))
        told = rating.parts(self.actor, item)
        self.assertEqual(
            [(p.name, p.comes_to) for p in told],
            [("Concrete placed", D("24.0010")), ("Formwork", D("17.3250"))],
        )
        walked = walking.walk(self.actor, f"item-rate:{item}")
        self.assertEqual([link.target for link in walked.comes_from], [concrete, shutter])
        # A price within it moves it; what the bill needs of it is by its factor.
        quote = Resource.get_by_id(mix).quotes.get()
        prices.change_quote(self.actor, quote.id, quote.version, {"price": D("130")})
        self.assertEqual(Item.get_by_id(item).rate, D("43.33"))
        project = Project.get_by_id(self.actor.project_id)
        self.assertEqual(needs.needed(project, [mix, sand]), {mix: D("2.0"), sand: D("5.25")})
        self.assertEqual([n.id for n in needs.items_needing(self.actor, sand)], [item])
        composing.change_part(self.actor, part, RatePart.get_by_id(part).version, {"factor": "2*0.35"})
        self.assertEqual(Item.get_by_id(item).rate, D("60.65"))
        with self.assertRaisesRegex(BadEntry, "no part of another"):
            composing.change_part(self.actor, part, RatePart.get_by_id(part).version, {"factor": "0"})
        # One rate takes the place of several, and undo brings them back.
        square = self.rate("Slab, from elsewhere", "m²", {"resource": sand, "quantity": "1"})
        self.change(item, build_up=square)
        self.assertEqual((Item.get_by_id(item).rate, len(rating.parts(self.actor, item))), (D("30.00"), 0))
        # What an item was priced by is the first part, once another is added.
        composing.add_part(self.actor, item, concrete, "0.1")
        self.assertEqual([p.factor for p in rating.parts(self.actor, item)], ["1", "0.1"])
        history.undo(self.actor)
        history.undo(self.actor)
        self.assertEqual(Item.get_by_id(item).rate, D("60.65"))
        for refused in (
            lambda: rates.delete_build_up(self.actor, shutter),
            lambda: rates.change_build_up(self.actor, shutter, 2, {"unit": "m"}),
        ):
            with self.assertRaises(InUse):
                refused()

    def test_preliminaries_last_as_long_as_the_work_and_are_totalled_apart(self) -> None:
        office = self.item(
            "Site office",
            "week",
            kind="time",
            typed_quantity="",
            typed_reason="",
            typed_rate="200",
            rate_reason="list",
        )
        fixed = self.item(
            "Set up", "nr", kind="fixed", typed_quantity="", typed_amount="1500", typed_reason="list"
        )
        with self.assertRaisesRegex(BadEntry, "goes by time"):
            self.item("Office", "m²", kind="time")
        own = Bill.get_by_id(self.own())
        bills.change_bill(self.actor, own.id, own.version, {"period": "26"})
        self.assertEqual(
            (Bill.get_by_id(own.id).period, Item.get_by_id(office).amount), ("26 weeks", D("5200.00"))
        )
        bills.change_bill(self.actor, own.id, own.version + 1, {"period": "6 months"})  # of 52/12 weeks
        self.assertEqual(Item.get_by_id(office).amount, D("5200.00"))
        self.change(office, typed_quantity="10", typed_reason="programme")
        self.assertEqual(Item.get_by_id(office).amount, D("2000.00"))
        for wrong in ("soon", "-3 weeks", "4 m"):
            with self.subTest(wrong), self.assertRaises(Refusal):
                bills.change_bill(self.actor, own.id, own.version + 2, {"period": wrong})
        rate = self.rate("Slab", "m²", {"resource": self.resource("Stone", "m²", "12")})
        self.change(self.item(), build_up=rate)
        several = self.item("Edge", "m")
        composing.add_part(self.actor, several, rate, "0.5")
        actions.add_item(
            self.actor,
            self.section,
            {
                "kind": "provisional",
                "description": "Risk",
                "unit": "nr",
                "typed_amount": "400",
                "typed_reason": "x",
            },
        )
        foot = reading.bill_outline(self.actor)
        self.assertEqual(
            (foot.items_total, foot.composite, foot.preliminaries, foot.set_aside),
            (D("4080.00"), D("60.00"), D("3500.00"), D("400.00")),
        )
        # A part taken out leaves a plain item; the foot follows though no total moved before the next one does.
        composing.delete_part(self.actor, rating.parts(self.actor, several)[0].id)
        self.assertEqual(reading.bill_outline(self.actor).composite, 0)
        self.assertEqual(Item.get_by_id(fixed).amount, D("1500.00"))
        book = recalculated(load_workbook(io.BytesIO(documents.bill_workbook(self.actor)[1])))["Bill"]
        money = {row[1].value: row[5].value for row in book.iter_rows() if row[1].value}
        self.assertEqual(money["Site office (time-related charge)"], 2000)
        self.assertEqual((money["Preliminaries"], money["Sum of the items"]), (3500, 4020))

    def test_what_was_issued_stays_and_says_so(self) -> None:
        item = self.item(typed_rate="12", rate_reason="list")
        issued = scene.id_of(bills.issue_bill(self.actor, "Tender", DAY))
        self.change(item, typed_rate="13")
        self.assertEqual((self.total(issued), self.total()), (D("120.00"), D("130.00")))
        kept = reading.bill_items(self.actor, 0, 9, issued)[0]
        for refused in (
            lambda: actions.change_item(self.actor, kept.id, kept.version, {"note": "x"}),
            lambda: bills.change_bill(self.actor, issued, 1, {"title": "X"}),
            lambda: adjustments.add_adjustment(self.actor, "Tax", "20", "items", issued),
            lambda: bills.delete_bill(self.actor, self.own()),
            lambda: merging.merge_bills(self.actor, issued, self.own(), {}, {}),
        ):
            with self.assertRaises(InUse):
                refused()
        view = compared.compared(self.actor, issued, self.own())
        self.assertEqual((view.changed, view.added, view.removed, view.moved), (1, 0, 0, D("10.00")))
        self.assertEqual(view.pairs[0].differs, ["rate", "amount"])
        bills.delete_bill(self.actor, issued)
        history.undo(self.actor)
        self.assertEqual(self.total(issued), D("120.00"))


class TwoBills(BillCase):
    def received(self, *rows: tuple[str, str, str, str]) -> int:
        """A bill received: number, words, unit, quantity."""
        bill = scene.id_of(bills.receive_bill(self.actor, "Theirs", DAY))
        section = scene.id_of(actions.add_section(self.actor, "Slabs", bill_id=bill))
        for number, words, unit, quantity in rows:
            fields = {
                "number": number,
                "description": words,
                "unit": unit,
                "typed_quantity": quantity,
                "typed_reason": "as received",
            }
            actions.add_item(self.actor, section, fields)
        return bill

    def test_each_item_is_found_in_the_other_bill(self) -> None:
        self.item("Slab 200 thick", typed_rate="10", rate_reason="r")
        self.item("Kerb, laid to falls", "m", typed_rate="5", rate_reason="r")
        self.item("Gone by then", "nr")
        theirs = self.received(
            ("A1", "SLAB, 200 thick", "m²", "12"),
            ("A2", "Kerbs laid to falls", "m", "10"),
            ("A3", "Fence", "m", "4"),
        )
        view = compared.compared(self.actor, self.own(), theirs)
        by_words = {
            (p.before.description if p.before else None, p.after.description if p.after else None): p
            for p in view.pairs
        }
        self.assertEqual(
            set(by_words),
            {
                ("Slab 200 thick", "SLAB, 200 thick"),
                ("Kerb, laid to falls", "Kerbs laid to falls"),
                ("Gone by then", None),
                (None, "Fence"),
            },
        )
        self.assertEqual(
            by_words["Slab 200 thick", "SLAB, 200 thick"].differs, ["words", "quantity", "rate", "amount"]
        )
        self.assertEqual(by_words["Slab 200 thick", "SLAB, 200 thick"].moved, D("-100.00"))
        self.assertEqual((view.added, view.removed, view.moved), (1, 1, D("-150.00")))

    def test_merged_by_sections_with_a_choice_for_each_clash(self) -> None:
        slab, kerb = self.item("Slab", typed_rate="10", rate_reason="r"), self.item("Kerb", "m")
        theirs = self.received(
            ("1", "Slab", "m²", "12"),
            ("2", "Kerb", "m", "3"),
            ("3", "Fence", "m", "4"),
            ("4", "Post", "nr", "2"),
        )
        seen = merging.merge_seen(self.actor, self.own(), theirs)
        self.assertEqual(
            (seen.fresh, seen.same, [c.theirs.description for c in seen.clashes]), (2, 0, ["Slab", "Kerb"])
        )  # type: ignore[union-attr]
        self.assertEqual(seen.sections[0].into_title, "Slabs")
        ids = {c.theirs.description: c.theirs.id for c in seen.clashes}  # type: ignore[union-attr]
        with self.assertRaisesRegex(Refusal, "“Kerb” is in both bills otherwise"):
            merging.merge_bills(self.actor, self.own(), theirs, {}, {ids["Slab"]: "sum"})
        merging.merge_bills(self.actor, self.own(), theirs, {}, {ids["Slab"]: "sum", ids["Kerb"]: "theirs"})
        self.assertEqual((Item.get_by_id(slab).quantity, Item.get_by_id(slab).amount), (22, D("220.00")))
        self.assertEqual(
            (Item.get_by_id(kerb).quantity, Item.get_by_id(kerb).typed_reason), (3, "from Theirs")
        )
        self.assertEqual(
            [i.description for i in reading.bill_items(self.actor, 0, 9)], ["Slab", "Kerb", "Fence", "Post"]
        )
        # Once more, nothing is to go anywhere: no section comes of it.
        sections = Section.select().where(Section.bill == self.own()).count()
        merging.merge_bills(self.actor, self.own(), theirs, {}, {ids["Slab"]: "ours"})
        self.assertEqual(Section.select().where(Section.bill == self.own()).count(), sections)
        history.undo(self.actor)
        history.undo(self.actor)
        self.assertEqual(len(reading.bill_items(self.actor, 0, 9)), 2)
        # Into a section of its own instead, nothing meets.
        section = seen.sections[0].id
        again = merging.merge_seen(self.actor, self.own(), theirs, {section: None})
        self.assertEqual(again.sections[0].into, None)
        Bill.update(currency="USD").where(Bill.id == theirs).execute()
        with self.assertRaisesRegex(Refusal, "in EUR, the other in USD"):
            merging.merge_seen(self.actor, self.own(), theirs)

    def test_theirs_taken_for_ours_is_what_theirs_is(self) -> None:
        """One number and words in both, in another unit or of another kind: all of it is taken over."""
        length = self.item("Kerb", "m", number="1", typed_quantity="10 m", typed_rate="5", rate_reason="r")
        sum_ = self.item("Testing", "nr", number="2", typed_quantity="4", typed_rate="25", rate_reason="r")
        theirs = self.received(("1", "Kerb", "nr", "10"), ("2", "Testing", "nr", "1"))
        other = {row.number: row for row in Item.select().join(Section).where(Section.bill == theirs)}
        self.change(other["2"].id, kind="lump_sum", typed_quantity="", typed_amount="100")
        merging.merge_bills(self.actor, self.own(), theirs, {}, {row.id: "theirs" for row in other.values()})
        row = Item.get_by_id(length)
        self.assertEqual((row.unit, row.quantity, row.rate), ("nr", 10, None))
        row = Item.get_by_id(sum_)
        self.assertEqual((row.kind, row.amount), ("lump_sum", D("100.00")))
        self.assertEqual(compared.compared(self.actor, self.own(), theirs).pairs, [])

    def test_reports_add_up_by_whatever_they_are_grouped(self) -> None:
        labour, stone = self.resource("Mason", "h", "40", "labour"), self.resource("Stone", "m²", "11.11")
        let = self.resource("Blasting", "m²", "7", "subcontract")
        rate = self.rate(
            "Paved",
            "m²",
            {"resource": labour, "quantity": "0.3"},
            {"resource": stone},
            {"resource": let},
            added=D("12.5"),
        )
        self.change(self.item(typed_quantity="33.37"), build_up=rate)
        actions.add_item(
            self.actor,
            self.section,
            {
                "kind": "provisional",
                "description": "Risk",
                "unit": "nr",
                "typed_amount": "99.99",
                "typed_reason": "x",
            },
        )
        overheads = reading.bill_outline(self.actor).adjustments[0]
        adjustments.change_adjustment(
            self.actor, overheads.id, overheads.version, {"percent": "7.77", "base": "work"}
        )
        view = report.report(self.actor, GROUPED_BY, adjustments=[overheads.id])
        self.assertEqual([t.by for t in view.tables], list(GROUPED_BY))
        for table in view.tables:
            self.assertEqual(
                (table.amount, table.total),
                (reading.bill_outline(self.actor).items_total, self.total()),
                table.by,
            )
            self.assertEqual(sum(row.total for row in table.rows), table.total, table.by)
        cost = {row.name: row.amount for row in view.tables[GROUPED_BY.index("cost")].rows}
        self.assertEqual((cost["labour"], cost["provisional sum"]), (D("400.44"), D("99.99")))
        # Without subcontract its own money and what was put on it go: 7 of 30.11.
        own = report.report(self.actor, ["cost"], subcontract=False).tables[0]
        self.assertNotIn("subcontract", {row.name for row in own.rows})
        self.assertEqual(own.amount, D("967.47"))
        few = report.most(self.actor, share=0.5)
        self.assertEqual([row.item.description for row in few.items], ["Slab 200 thick, complete"])


class AClientsWorkbook(BillCase):
    def priced(self) -> int:
        """The workbook received, and what can be priced by its words priced."""
        stone = self.resource("Stone", "m³", "33.33")
        rate = self.rate("Concrete", "m³", {"resource": stone})
        self.change(self.item("Concrete C30/37 in ground slabs", "m³"), build_up=rate)
        self.change(self.item("Waterstops 250 wide in joints", "m"), typed_rate="8.20", rate_reason="list")
        return scene.id_of(received.receive_workbook(self.actor, "Tank", DAY, client_bill(), "tank.xlsx"))

    def test_its_columns_and_rows_are_recognised(self) -> None:
        seen = received.seen(client_bill(), "tank.xlsx")
        taken = {sheet.name: sheet for sheet in seen.sheets if sheet.taken}
        self.assertEqual(list(taken), ["Bill 1 Structure", "Bill 2 Pipes and general"])
        sheet = taken["Bill 1 Structure"]
        self.assertEqual(sheet.columns, ["number", "description", "unit", "quantity", "rate", "amount"])
        self.assertEqual((sheet.sections, sheet.items, sheet.words, sheet.totals), (2, 9, 1, 1))
        self.assertEqual([s.name for s in seen.sheets if s.hidden], ["Terms"])
        bill = self.priced()
        items = reading.bill_items(self.actor, 0, 99, bill)
        theirs = [row for row in (*SUBSTRUCTURE, *FINISHES) if row[2]]
        self.assertEqual(
            [(i.number, i.description) for i in items if i.kind != "heading"], [row[:2] for row in theirs]
        )
        self.assertEqual({i.number: i.kind for i in items}["4.02"], "provisional")
        self.assertEqual({i.number: (i.unit, i.quantity) for i in items}["2.05"], ("m²", 187))

    def test_a_credit_keeps_its_sign_and_what_is_odd_is_told(self) -> None:
        out = io.BytesIO()
        book = xlsxwriter.Workbook(out, {"in_memory": True})
        rows = [
            ["Item", "Description", "Unit", "Qty", "Rate", "Amount"], ["1", "Kerb", "m", 10, 5, 50],
            ["2", "Credit for old kerbs", "m", 8, -1.5, -12], ["3", "Gate", "furlong", 1, 20, 30], ["4", "Post", "nr", 2, None, 9],
        ]  # fmt: skip
        sheet = book.add_worksheet("Bill")
        for at, row in enumerate(rows):
            sheet.write_row(at, 0, row)
        book.close()
        (seen,) = received.seen(out.getvalue(), "yard.xlsx").sheets
        self.assertEqual(
            seen.says,
            [
                "Row 4, Gate: Its unit “furlong” isn't known; it counts in nr. Its amount of 30.00 isn't 1.00 × 20.00 = 20.00, which counts.",
                "Row 5, Post: Its amount of 9.00 stands without a rate, so it isn't taken.",
            ],
        )
        bill = scene.id_of(received.receive_workbook(self.actor, "Yard", DAY, out.getvalue(), "yard.xlsx"))
        self.assertEqual([i.amount for i in reading.bill_items(self.actor, 0, 9, bill)], [50, -12, 20, 0])
        self.assertEqual(self.total(bill), 58)
        back = load_workbook(io.BytesIO(received.given_back(self.actor, bill)[1])).worksheets[0]
        self.assertEqual(
            [(back.cell(at, 5).value, back.cell(at, 6).value) for at in (2, 3, 4)],
            [(5, 50), (-1.5, -12), (20, 20)],
        )

    def test_priced_it_is_given_back_with_nothing_else_changed(self) -> None:
        bill = self.priced()
        found = {m.item.description: m for m in matching.matches(self.actor, bill) if m.item}
        self.assertTrue(found["Concrete C30/37 in ground slabs"].sure)
        self.assertEqual(
            [o.description for o in found["Waterstop 250 wide in joints"].offered],
            ["Waterstops 250 wide in joints"],
        )
        taken = {m.item.id: m.offered[0].id for m in found.values() if m.item and m.offered}
        matching.take_matches(self.actor, bill, taken)
        testing = next(i for i in reading.bill_items(self.actor, 0, 99, bill) if i.number == "4.01")
        self.change(testing.id, typed_amount="750")
        self.assertEqual(
            self.total(bill), D("46.8") * D("33.33") + D(74) * D("8.20") + 750 + D("0.004") - D("0.008")
        )
        name, content = received.given_back(self.actor, bill)
        self.assertEqual(name, "tank priced.xlsx")
        before, after = (load_workbook(io.BytesIO(each)) for each in (client_bill(), content))
        self.assertEqual(before.sheetnames, after.sheetnames)
        changed = {}
        for sheet in before:
            other = after[sheet.title]
            self.assertEqual(
                (
                    sheet.sheet_state,
                    sheet.dimensions,
                    sheet.print_area,
                    sheet.freeze_panes,
                    sorted(map(str, sheet.merged_cells.ranges)),
                ),
                (
                    other.sheet_state,
                    other.dimensions,
                    other.print_area,
                    other.freeze_panes,
                    sorted(map(str, other.merged_cells.ranges)),
                ),
            )
            for row in sheet.iter_rows():
                for cell in row:
                    now = other[cell.coordinate]
                    self.assertEqual(cell._style, now._style, cell.coordinate)
                    if cell.value != now.value:
                        changed[sheet.title, cell.coordinate] = now.value
        self.assertEqual(
            changed,
            {
                ("Bill 1 Structure", "E11"): 33.33,
                ("Bill 1 Structure", "E16"): 8.2,
                ("Bill 2 Pipes and general", "E9"): 750,
            },
        )
        book = recalculated(load_workbook(io.BytesIO(content)))
        self.assertAlmostEqual(book["Summary"]["C5"].value, float(self.total(bill)) * 1.05, places=2)
        # What was matched once is known when the bill comes again.
        again = scene.id_of(
            received.receive_workbook(self.actor, "Tank, revised", DAY, client_bill(), "tank 2.xlsx")
        )
        sure = {m.item.description for m in matching.matches(self.actor, again) if m.sure and m.item}
        self.assertIn("Waterstop 250 wide in joints", sure)

    def test_what_isnt_a_bill_is_refused_with_a_sentence(self) -> None:
        def book(*rows: tuple[object, ...], **more: bytes) -> bytes:
            out = io.BytesIO()
            made = xlsxwriter.Workbook(out, {"in_memory": True, "constant_memory": True})
            sheet = made.add_worksheet()
            for at, row in enumerate(rows):
                sheet.write_row(at, 0, row)
            made.close()
            return out.getvalue()

        head = ("Item", "Description", "Unit", "Quantity", "Rate", "Amount")
        many = book(head, *((n, f"Item {n}", "m", 1) for n in range(31_000)))
        with_macros = io.BytesIO(book(head))
        with zipfile.ZipFile(with_macros, "a") as packed:
            packed.writestr("xl/vbaProject.bin", b"x")
        for content, says in (
            (b"", "no XLSX workbook"), (b"\xd0\xcf\x11\xe0 and more", "encrypted"), (b"PK\x03\x04", "no XLSX workbook"),
            (book(), "holds no rows"), (many, "more than 30,000 rows"), (with_macros.getvalue(), "macros, which are kept out"),
        ):  # fmt: skip
            with self.subTest(says), self.assertRaisesRegex(Refusal, says):
                received.seen(content, "x.xlsx")
        with self.assertRaisesRegex(Refusal, "No row of “x.xlsx” is an item"):
            received.receive_workbook(self.actor, "X", DAY, book(("Dear all", "nothing here")), "x.xlsx")
        # A row that can't be read as it stands is taken with what is said of it.
        odd = received.seen(
            book(head, ("1", "=cmd|' /C calc'!A0", "furlong", "lots"), ("2", "-Kerb", "m", 3)), "x.xlsx"
        )
        self.assertEqual(len(odd.sheets[0].says), 1)
        self.assertIn("“lots” is no number", odd.sheets[0].says[0])
        self.assertEqual(Bill.select().where(Bill.project == self.actor.project_id).count(), 1)

    def test_a_formula_in_a_rate_is_left(self) -> None:
        out = io.BytesIO()
        made = xlsxwriter.Workbook(out, {"in_memory": True})
        sheet = made.add_worksheet("B")
        sheet.write_row(0, 0, ("Item", "Description", "Unit", "Quantity", "Rate", "Amount"))
        sheet.write_row(1, 0, (1, "Kerb", "m", 3))
        sheet.write_formula(1, 4, "=2+2", None, 4)
        made.close()
        filled = bill_workbook.fill(out.getvalue(), {"B": {(2, 4): D("9.5"), (2, 5): D("28.50")}})
        cells = load_workbook(io.BytesIO(filled))["B"]
        self.assertEqual((cells["E2"].value, cells["F2"].value), ("=2+2", 28.5))


class AsASpreadsheet(BillCase):
    def test_a_block_is_written_as_one_change(self) -> None:
        stone = self.rate("Stone laid", "m²", {"resource": self.resource("Stone", "m²", "12")})
        rows = [
            {"description": "Paving"}, {"number": "P1", "description": "Stone", "unit": "m2", "typed_quantity": "2*6", "rate": "stone LAID", "typed_amount": "144"},
            {"description": "=1+1", "unit": "m", "typed_quantity": "4", "rate": "2.5"}, {"description": "Survey", "typed_amount": "300"},
        ]  # fmt: skip
        change_items(self.actor, self.section, [ItemEdit(None, 0, row) for row in rows])
        items = reading.bill_items(self.actor, 0, 9)
        self.assertEqual(
            [(i.kind, i.number, i.description, i.unit, i.quantity, i.amount) for i in items],
            [
                ("heading", "", "Paving", "nr", 0, 0), ("measured", "P1", "Stone", "m²", 12, D("144.00")),
                ("measured", "", "=1+1", "m", 4, D("10.00")), ("lump_sum", "", "Survey", "nr", 0, D("300.00")),
            ],
        )  # fmt: skip
        self.assertEqual((items[1].build_up, items[2].rate_reason), (stone, "from a spreadsheet"))
        change_items(self.actor, self.section, [ItemEdit(items[n].id, 1, {"rate": "3"}) for n in (1, 2)])
        self.assertEqual(reading.bill_outline(self.actor).items_total, D("348.00"))
        # A rate that is pasted takes the place of several, and a copy of the project holds.
        composing.add_part(self.actor, items[1].id, stone, "0.5")
        version = Item.get_by_id(items[1].id).version
        change_items(self.actor, self.section, [ItemEdit(items[1].id, version, {"rate": "3"})])
        self.assertEqual(rating.parts(self.actor, items[1].id), [])
        scene.taken_in(self.actor.person_id, scene.file_of(self.actor))
        for at, row, says in (
            (
                1,
                {"description": "X", "unit": "furlong", "typed_quantity": "1"},
                "Row 2 of the block: “furlong” is not a unit",
            ),
            (1, {"description": "X", "unit": "m", "rate": "stone laid"}, "rate per m²"),
            (1, {"description": "X", "unit": "m", "rate": "Moon dust"}, "no rate “Moon dust”"),
        ):
            edits = [ItemEdit(None, 0, rows[0]), ItemEdit(None, 0, row)][: at + 1]
            with self.subTest(says), self.assertRaisesRegex(Refusal, says):
                change_items(self.actor, self.section, edits)
        with self.assertRaises(Refusal):  # a colleague was there first
            change_items(
                self.actor,
                self.section,
                [ItemEdit(items[1].id, 1, {"typed_quantity": "9"}), ItemEdit(items[2].id, 1, {"rate": "9"})],
            )
        for _ in range(4):
            history.undo(self.actor)
        self.assertEqual(reading.bill_items(self.actor, 0, 9), [])
        many = [
            ItemEdit(None, 0, {"description": f"Item {n}", "unit": "m", "typed_quantity": "1"})
            for n in range(1_000)
        ]
        change_items(self.actor, self.section, many)
        self.assertEqual(reading.bill_outline(self.actor).sections[0].holds, 1_000)


class TheExchangeFormat(BillCase):
    def test_a_bill_goes_out_and_comes_in_again(self) -> None:
        inner = scene.id_of(actions.add_section(self.actor, "Edges & <kerbs>", self.section))
        self.item("Slab\twith “signs” & <marks>", typed_rate="12.345", rate_reason="list", note="cured")
        for fields in (
            {"description": "Kerb", "unit": "m", "typed_quantity": "7.25", "typed_reason": "x", "typed_rate": "4", "rate_reason": "x"},
            {"description": "Office", "unit": "week", "kind": "time", "typed_quantity": "3", "typed_reason": "x", "typed_rate": "9", "rate_reason": "x"},
            {"description": "Preamble", "unit": "nr", "kind": "heading"},
            {"description": "Risk", "unit": "nr", "kind": "provisional", "typed_amount": "500", "typed_reason": "x"},
        ):  # fmt: skip
            actions.add_item(self.actor, inner, fields)
        name, content = exchange.exchanged(self.actor)
        self.assertEqual(name, "Bill of quantities.X84")
        root = ElementTree.fromstring(content)
        self.assertEqual(root.tag, "{http://www.gaeb.de/GAEB_DA_XML/DA84/3.2}GAEB")
        self.assertEqual(
            [each.text for each in root.iter(f"{root.tag[:-4]}UP")], ["4.00", "9.00", "500.00", "12.345"]
        )
        back = scene.id_of(received.receive_workbook(self.actor, "Back", DAY, content, name))
        items = reading.bill_items(self.actor, 0, 9, back)
        ours = reading.bill_items(self.actor, 0, 9)
        self.assertEqual(
            [
                (i.description.split(" cured")[0], i.unit, i.quantity, i.rate, i.amount)
                for i in items
                if i.kind != "heading"
            ],
            [
                (" ".join(i.description.split()), i.unit, i.quantity, i.rate, i.amount)
                for i in ours
                if i.kind != "heading"
            ],
        )
        self.assertEqual(
            [i.number for i in items], ["001.0010", "001.001.0010", "001.001.0020", "", "001.001.0040"]
        )
        self.assertEqual(
            [(s.depth, s.title) for s in reading.bill_outline(self.actor, back).sections],
            [(0, "Slabs"), (1, "Edges & <kerbs>")],
        )
        with self.assertRaisesRegex(Refusal, "didn't come in a workbook"):
            received.given_back(self.actor, back)

    def test_what_holds_no_bill_is_refused(self) -> None:
        space = "http://www.gaeb.de/GAEB_DA_XML/DA83/3.2"
        bomb = b'<!DOCTYPE x [<!ENTITY a "GAEB"><!ENTITY b "&a;&a;&a;">]>'
        for content, says in (
            (f'<GAEB xmlns="{space}"><Award>'.encode(), "cut off"),
            (f'<GAEB xmlns="{space}"><Award/></GAEB>'.encode(), "holds no item"),
            (bomb + f'<GAEB xmlns="{space}">&b;</GAEB>'.encode(), "no bill in GAEB"),
            (b'<GAEB xmlns="http://elsewhere.example"/>', "no bill in GAEB"),
        ):  # fmt: skip
            with self.subTest(says), self.assertRaisesRegex(Refusal, says):
                received.seen(content, "x.X83")


class OfAnotherProject(BillCase):
    def test_bills_of_others_are_as_if_they_werent_there(self) -> None:
        other = projects.new_project(self.actor.person_id, "Other", "", "EUR", DAY)
        theirs = reading.own_bill(other.id).id
        for refused in (
            lambda: compared.compared(self.actor, self.own(), theirs),
            lambda: merging.merge_seen(self.actor, self.own(), theirs),
            lambda: matching.matches(self.actor, theirs), lambda: received.given_back(self.actor, theirs),
            lambda: report.report(self.actor, ["section"], theirs),
        ):  # fmt: skip
            with self.assertRaises(Refusal):
                refused()
