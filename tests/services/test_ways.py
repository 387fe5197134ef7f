"""A project in US customary, and one that writes its numbers with a comma: the same amounts, said otherwise."""

from __future__ import annotations

import io
from collections.abc import Sequence
from datetime import date
from decimal import Decimal as D
from typing import Any

import pypdfium2
from openpyxl import Workbook, load_workbook

from sandscale.core.numbers.ways import held
from sandscale.core.numbers.written import listed
from sandscale.formats.enquiry_csv import write_enquiry
from sandscale.services.bars import actions as bar_actions
from sandscale.services.bars import cuttings
from sandscale.services.bars import documents as bars_documents
from sandscale.services.bars import reading as bars
from sandscale.services.bars import taking_in as bars_in
from sandscale.services.bill import reading as bill_reading
from sandscale.services.bill import received
from sandscale.services.issue import documents as issue
from sandscale.services.keeping import worker
from sandscale.services.keeping.acting import Actor
from sandscale.services.keeping.walking import walk
from sandscale.services.measure import reading as measure
from sandscale.services.measure.actions import dimension_lines
from sandscale.services.prices import taking_in
from sandscale.services.projects import actions as projects
from sandscale.services.rates import actions as rates
from sandscale.services.rates import size_tables
from sandscale.services.rates import sizes as reference_sizes
from sandscale.store.models import DimensionLine, Element, Project, Quote, ReferenceSize, TypedBar
from tests import scene
from tests.services.test_issue import bill_rows, recalculated


def words_of(pdf: bytes) -> str:
    return "\n".join(page.get_textpage().get_text_range() for page in pypdfium2.PdfDocument(pdf))


def workbook(*rows: Sequence[str | float]) -> bytes:
    book, out = Workbook(), io.BytesIO()
    for row in rows:
        book.active.append(row)
    book.save(out)
    return out.getvalue()


class Ways(scene.DatabaseCase):
    """A copy of the demonstration for each test."""

    content: bytes

    @classmethod
    def setUpClass(cls) -> None:
        super().setUpClass()
        cls.content = scene.file_of(scene.demonstration())

    def setUp(self) -> None:
        super().setUp()
        person = scene.person()
        self.actor = Actor(person, scene.taken_in(person, self.content).id, "owner")

    def settle(self, **fields: str) -> None:
        version = Project.get_by_id(self.actor.project_id).version
        projects.change_project(self.actor, version, dict(fields))

    def items(self) -> list[tuple[Any, ...]]:
        sections = bill_reading.bill_view(self.actor).sections
        return [(i.ref, i.unit, i.quantity, i.rate, i.amount) for s in sections for i in s.items]

    def element(self, mark: str) -> int:
        return int(Element.get(Element.project == self.actor.project_id, Element.mark == mark).id)

    def test_another_unit_system_moves_no_item_and_goes_back_to_the_same_file(self) -> None:
        before = self.items()
        self.settle(unit_system="us")
        self.assertEqual(self.items(), before)
        with held("us"):
            view = measure.element_view(self.actor, self.element("PF2"))
            self.assertEqual((round(view.value or 0, 6), view.unit), (round(6.48 / 0.9144**3, 6), "yd³"))
            self.assertEqual(view.lines[0].length, "1.80 m")
            slab = measure.element_view(self.actor, self.element("GS1"))
            self.assertRegex(slab.lines[0].figure_shows, r"^4\u00a0\d{3}\.\d\d ft², ddt 93\.00$")
            figure = walk(self.actor, f"figure:{slab.lines[0].figure}")
            self.assertEqual((figure.working.unit, figure.comes_from[0].value), ("ft²", "1:100"))
            book = load_workbook(io.BytesIO(issue.bill_workbook(self.actor)[1]))
            paper = words_of(issue.dimensions_pdf(self.actor, lambda _share: None)[1])
        self.assertIn("Length ft", paper)
        heads = [str(cell.value) for row in book["Dimensions"].iter_rows() for cell in row]
        self.assertIn("Length ft", heads)
        self.assertIn("Concrete yd³", heads)
        # LibreOffice works the live formulas out, in feet, to the same bill.
        rows = bill_rows(recalculated(book))
        for ref, _, quantity, _, amount in before:
            if rows[ref][3] is not None:
                self.assertAlmostEqual(float(rows[ref][3]), float(quantity), places=2, msg=ref)
            self.assertAlmostEqual(float(rows[ref][5]), float(amount), places=2, msg=ref)
        self.settle(unit_system="metric")
        self.assertEqual(scene.file_of(self.actor), self.content)

    def test_what_is_typed_into_a_us_project_is_in_feet_and_billed_in_yards(self) -> None:
        self.settle(unit_system="us")
        element = scene.element(self.actor, "S9", "plain-volume", what="Slab on grade")
        line = scene.id_of(
            dimension_lines.add_line(self.actor, element, {"length": "24", "width": "16", "height": "6in"})
        )
        with held("us"):
            shown = measure.element_view(self.actor, element).lines[0]
        self.assertEqual((shown.length, shown.height, round(shown.squared, 4)), ("24", "6in", 7.1111))
        self.assertEqual(DimensionLine.get_by_id(line).length, "24 ft")
        dimension_lines.replace(self.actor, element, "length", "24.0", "30")
        self.assertEqual(DimensionLine.get_by_id(line).length, "30 ft")

    def test_bars_of_a_us_project_are_told_in_feet_inches_and_pounds_and_weigh_the_same(self) -> None:
        worker.work_off()
        before = [
            (b.member, b.mark, round(b.cut, 9), round(b.mass, 9)) for b in bars.bar_views(self.actor, 0, 100)
        ]
        metric = words_of(bars_documents.bars_pdf(self.actor, lambda _share: None)[1])
        self.assertIn("4 × 12 m; 48.00 m for 43.75 m", metric)
        self.assertIn("10.835", metric)
        self.settle(unit_system="us")
        worker.work_off()
        with held("us"):
            paper = words_of(bars_documents.bars_pdf(self.actor, lambda _share: None)[1])
            cutting = cuttings.cutting_views(self.actor)[0]
            buy = walk(self.actor, f"to-buy:{cutting.id}:6")
            bar = next(b for b in bars.bar_views(self.actor, 0, 100) if (b.member, b.mark) == ("VC1", "01"))
        self.assertEqual(
            [
                (b.member, b.mark, round(b.cut, 9), round(b.mass, 9))
                for b in bars.bar_views(self.actor, 0, 100)
            ],
            before,
        )
        for told in (
            "Length ft",
            "Cut from each bar, in ft",
            "4 × 39.37 ft; 157.48 ft for 143.54 ft",
            "19 × 2.051",
        ):
            self.assertIn(told, paper)
        self.assertNotRegex(paper, r"\d m[ ;,.]")
        # 10 834.9 kg are 23 886.9 lb, which are 11.943 short tons.
        self.assertRegex(paper, r"23.886\.\d")
        self.assertIn("11.943", paper)
        self.assertIn("157.48 ft for 143.54 ft", buy.working.figures)
        self.assertEqual((buy.comes_from[0].value, buy.comes_from[0].unit), ("70 × 2.051", "ft"))
        # Typed in inches, a leg is kept so; what it comes to is on the way of the rules, in steps of 25 mm.
        typed = TypedBar.get((TypedBar.project == self.actor.project_id) & (TypedBar.mark == "01"))
        with held("us"):
            bar_actions.change_bar(self.actor, typed.id, typed.version, {"legs": {"A": "12", "C": "1'-0\""}})
        self.assertEqual(TypedBar.get_by_id(typed.id).legs["A"], "12 in")
        again = next(b for b in bars.bar_views(self.actor, 0, 100) if b.id == bar.id)
        self.assertEqual([round(leg.size, 1) for leg in again.legs], [304.8, 2900.0, 304.8])

    def test_a_decimal_comma_holds_on_screens_in_paper_and_for_what_is_pasted(self) -> None:
        total = scene.total(self.actor)
        self.settle(numbers="1.234,5")
        self.assertEqual(scene.total(self.actor), total)
        element = self.element("PF2")
        pasted = [
            {"length": "1.234,5", "width": "0,25", "height": "1"},
            {"length": "1.234", "width": "2.5", "height": "½"},
        ]
        edits = [dimension_lines.LineEdit(None, 0, fields) for fields in pasted]
        dimension_lines.change_lines(self.actor, element, edits)
        with held("metric", "1.234,5"):
            lines = measure.element_view(self.actor, element).lines
            paper = words_of(issue.bill_pdf(self.actor, lambda _share: None)[1])
        self.assertEqual([(x.length, x.width, x.squared) for x in lines[1:]],
                         [("1234,5", "0,25", 308.625), ("1234", "2,5", 1542.5)])  # fmt: skip
        self.assertEqual(lines[0].length, "1,80")
        self.assertRegex(paper, r"\d{1,3}\.\d{3},\d\d")
        self.assertNotRegex(paper, r"\d,\d{3}\.\d\d")

    def test_a_schedule_in_mm_is_read_in_mm_where_inches_are_typed(self) -> None:
        self.settle(unit_system="us")
        with held("us"):
            content = bars_documents.bars_csv_file(self.actor)[1]
            first = bars_in.read(self.actor, content, "bars.csv").rows[0]
        self.assertEqual(
            [first.fields[name] for name in ("length", "A", "B")], ["1.95 m", "350 mm", "1300 mm"]
        )

    def test_files_hold_numbers_as_the_project_writes_them_and_read_back_as_they_were(self) -> None:
        """1.125 in a worksheet is a number and no text: it doesn't become a thousand and more."""
        self.settle(numbers="1.234,5")
        head = {"name": "Walls", "unit": "m²", "kind": "reference", "sized_in": "mm"}
        table, twin = (
            scene.id_of(rates.add_build_up(self.actor, {**head, "name": name})) for name in ("Walls", "Twin")
        )
        reference_sizes.add_size(
            self.actor, table, {"size": "150", "labour": D("1.125"), "whole": D("1234.567")}
        )
        with held("metric", "1.234,5"):
            for form in ("csv", "xlsx"):
                name, content = size_tables.sizes_file(self.actor, table, form)  # type: ignore[arg-type]
                if form == "csv":
                    self.assertEqual(content.decode("utf-8-sig").splitlines()[1], "150;1,125;;;1234,567")
                back = size_tables.read_sizes(self.actor, twin, content, name)
                self.assertEqual((back.wrong, back.rows[0].fields["labour"]), (0, "1,125"))
                size_tables.add_sizes(self.actor, twin, [row.fields for row in back.rows])
                (kept,) = ReferenceSize.select().where(ReferenceSize.build_up == twin)
                self.assertEqual((kept.labour, kept.whole), (D("1.125"), D("1234.567")))
                reference_sizes.delete_size(self.actor, kept.id)
            book = workbook(
                ["Resource", "Supplier", "Price", "Unit", "Date"], ["Grit", "Tern", 1.125, "m³", "2026-11-02"]
            )
            taking_in.add_quotes(
                self.actor, [row.fields for row in taking_in.read(self.actor, book, "q.xlsx").rows]
            )
            self.assertEqual(
                Quote.get(Quote.supplier == "Tern", Quote.project == self.actor.project_id).price, D("1.125")
            )
            book = workbook(["No", "Description", "Unit", "Qty", "Rate"], ["1", "Kerb", "m", 12.125, 1.234])
            bill = scene.id_of(
                received.receive_workbook(self.actor, "Yard", date(2026, 11, 2), book, "y.xlsx")
            )
            (item,) = bill_reading.bill_items(self.actor, 0, 9, bill)
            self.assertEqual((item.quantity, item.rate), (D("12.13"), D("1.234")))
            content = bars_documents.bars_csv_file(self.actor)[1]
            told = [(bar.mark, bar.cut) for bar in bars.bar_views(self.actor, 0, 100)]
            self.assertIn(";2,35;", content.decode("utf-8-sig"))
            read = bars_in.read(self.actor, content, "bars.csv").rows
            self.assertEqual(
                [
                    (row.fields["mark"], float(listed(row.fields["length"].removesuffix(" m"), "length")))
                    for row in read
                ],
                [(mark, round(cut, 3)) for mark, cut in told],
            )
            letter = write_enquiry([(1, "Sand", "m³", D("1234.50"))], date(2026, 11, 2), None).decode(
                "utf-8-sig"
            )
        self.assertEqual(letter.splitlines()[1], "1;Sand;m³;1234,5;2026-11-02;")
