"""What leaves the house: the workbook recalculated by another program, and the project out and in again."""

from __future__ import annotations

import io
import json
import shutil
import subprocess
import tempfile
from decimal import Decimal
from pathlib import Path
from typing import Any

from openpyxl import Workbook, load_workbook

from sandscale.core.makeups.makeup import built_in
from sandscale.demo import project as demo
from sandscale.formats.project_json import UnreadableProject
from sandscale.services.bill import reading as bill_reading
from sandscale.services.issue import documents as issue
from sandscale.services.keeping import project_file, worker
from sandscale.services.keeping.acting import Actor
from sandscale.services.measure.actions import dimension_lines, elements
from sandscale.services.measure.actions.makeups import add_makeup
from sandscale.services.projects import reading as projects_reading
from sandscale.store.models import DimensionLine, Element, ItemLink, Project, QuantityLine
from tests import scene
from tests.core.test_makeups import SOURCE


def recalculated(book: Workbook) -> Workbook:
    """A workbook worked out anew by LibreOffice; openpyxl keeps no results, so every number is its."""
    with tempfile.TemporaryDirectory() as folder:
        book.save(Path(folder) / "in.xlsx")
        command = [
            "soffice",
            "--headless",
            f"-env:UserInstallation=file://{folder}/profile",
            "--convert-to",
            "xlsx:Calc MS Excel 2007 XML",
            "--outdir",
            f"{folder}/out",
            f"{folder}/in.xlsx",
        ]
        subprocess.run(command, check=True, capture_output=True, timeout=180)
        return load_workbook(Path(folder) / "out" / "in.xlsx", data_only=True)


def bill_rows(book: Workbook) -> dict[str, tuple[Any, ...]]:
    """The rows of the bill by item number, or by words at its foot."""
    return {
        str(row[0] or row[1]): row
        for row in book["Bill"].iter_rows(min_row=5, values_only=True)
        if row[0] or row[1]
    }


class Demonstration(scene.DatabaseCase):
    """The demonstration, loaded once into the tests' database."""

    actor: Actor

    @classmethod
    def setUpClass(cls) -> None:
        super().setUpClass()
        cls.actor = scene.demonstration()

    def workbook(self) -> Workbook:
        return load_workbook(io.BytesIO(issue.bill_workbook(self.actor)[1]))

    def test_the_demonstration_comes_to_its_worked_quantities(self) -> None:
        elements = {
            e.mark: {q.output: q.net for q in e.quantities}
            for e in Element.select().where(Element.project == self.actor.project_id)
        }
        self.assertAlmostEqual(elements["PF2"]["concrete"], 6.48)
        self.assertAlmostEqual(elements["PF1"]["concrete"], 6 * 1.4 * 1.4 * 0.45)
        self.assertAlmostEqual(elements["GS1"]["concrete"], (27.8 * 15.2 - 3.6 * 2.4) * 0.2, places=6)
        self.assertAlmostEqual(elements["GB1"]["concrete"], 2 * (27.0 + 14.4) * 0.4 * 0.6, places=6)
        view = bill_reading.bill_view(self.actor)
        self.assertTrue(all(i.amount for s in view.sections for i in s.items))
        self.assertEqual(view.total, scene.total(self.actor))

    def test_another_program_works_the_workbook_out_to_the_same_bill(self) -> None:
        rows = bill_rows(recalculated(self.workbook()))
        view = bill_reading.bill_view(self.actor)
        for item in (i for s in view.sections for i in s.items):
            row = rows[item.ref]
            expected = (
                [round(item.quantity, 2), item.rate, item.amount]
                if item.kind in ("measured", "time")
                else [item.amount]
            )
            self.assertEqual(
                [round(Decimal(str(v)), 2) for v in row[3:6] if v is not None], expected, item.description
            )
        self.assertAlmostEqual(rows["Total, EUR"][5], float(view.total), places=2)

    def test_a_dimension_changed_in_the_workbook_moves_its_bill_as_it_would_here(self) -> None:
        book = self.workbook()
        sheet = book["Dimensions"]
        heads = {row[0].value: row[0].row for row in sheet.iter_rows() if row[0].value}
        line = next(
            r
            for r in range(heads["PF2, Pad footing"], sheet.max_row)
            if sheet.cell(r, 1).value == "Grid 2/A, 3/A, 2/C, 3/C"
        )
        self.assertEqual(sheet.cell(line, 4).value, 1.8)
        sheet.cell(line, 4).value = 2.0
        rows = bill_rows(recalculated(book))
        row = DimensionLine.get(DimensionLine.project == self.actor.project_id, DimensionLine.width == "1.80")
        try:
            saved = dimension_lines.change_line(self.actor, row.id, row.version, {"width": "2.00"})
            quantities = {
                i.ref: i.quantity for s in bill_reading.bill_view(self.actor).sections for i in s.items
            }
        finally:
            dimension_lines.change_line(
                self.actor, row.id, DimensionLine.get_by_id(row.id).version, {"width": "1.80"}
            )
        for ref, quantity in quantities.items():
            self.assertAlmostEqual(rows[ref][3] or 0, float(quantity), places=6, msg=ref)
        self.assertAlmostEqual(rows["Total, EUR"][5], float(saved.bill_total), places=2)

    def test_every_amount_is_a_formula_and_no_text_is(self) -> None:
        book = self.workbook()
        for row in book["Bill"].iter_rows(min_row=5):
            if row[5].value is not None:
                self.assertTrue(str(row[5].value).startswith("="), row[1].value)
        quantities = [row[3].value for row in book["Bill"].iter_rows(min_row=5) if row[3].value is not None]
        self.assertEqual(
            sum("Dimensions!" in str(q) for q in quantities), len(quantities) - 5
        )  # five are typed, or last as long as the work; sums have none

    def test_the_project_comes_back_equal(self) -> None:
        content = scene.file_of(self.actor)
        other = scene.person()
        again = scene.taken_in(other, content)
        self.assertNotEqual(again.id, self.actor.project_id)
        self.assertEqual(scene.file_of(Actor(other, again.id, "owner")), content)
        worker.work_off()  # earthworks are worked out beside the request
        self.assertEqual(scene.total(Actor(other, again.id, "owner")), scene.total(self.actor))
        self.assertEqual([p.name for p in projects_reading.projects_of(other)], [demo.NAME])


class EveryMakeUpInAWorkbook(scene.DatabaseCase):
    def test_another_program_works_every_make_up_out_to_the_same_quantities(self) -> None:
        actor = scene.project()
        marks = {}
        for number, makeup in enumerate(built_in().values()):
            element = scene.element(
                actor,
                f"E{number}",
                makeup.key,
                **({"dig_depth": "2.4", "batter": "0.5"} if "dig_depth" in makeup.inputs else {}),
            )
            if makeup.is_allowance:  # counts once, by what it asks
                row = Element.get_by_id(element)
                entered = {"own_hours": "640", "hired_hours": "180", "heavy_hours": "36"}
                elements.change_element(actor, element, row.version, {"inputs": entered})
            for times, deduct in () if makeup.is_allowance else (("2/3", False), ("", False), ("2", True)):
                scene.line(
                    actor,
                    element,
                    times,
                    deduct=deduct,
                    length="0.7" if deduct else "2.3",
                    width="0.4",
                    height="0.35",
                )
            elements.link_to_bill(actor, element) if any(o.item for o, _ in makeup.outputs) else None
            marks[element] = f"E{number}, {makeup.name}"
        sheet = recalculated(load_workbook(io.BytesIO(issue.bill_workbook(actor)[1])))["Dimensions"]
        rows = list(sheet.iter_rows(values_only=True))
        heads = {row[0]: number for number, row in enumerate(rows) if row[0]}
        for element, head in marks.items():
            linked = {link.output for link in ItemLink.select().where(ItemLink.element == element)}
            shown = {built_in()[Element.get_by_id(element).source].document.headline, *linked}
            rows_of = QuantityLine.select().where(QuantityLine.element == element).order_by(QuantityLine.id)
            quantities = [q for q in rows_of if q.output in shown]
            total = next(row for row in rows[heads[head] :] if row[0] == "Total")
            worked = [value for value in total[7:] if value is not None]
            self.assertEqual(len(worked), len(quantities), head)
            for quantity, value in zip(quantities, worked, strict=True):
                self.assertAlmostEqual(
                    float(value), quantity.net, places=6, msg=f"{quantity.label} of {head}"
                )


class TextInWorkbooks(scene.DatabaseCase):
    def test_words_that_look_like_formulas_stay_words(self) -> None:
        actor = scene.project('=HYPERLINK("http://x","y")')
        element = scene.element(actor, "=1+1", "plain-number", what="=cmd|'/c calc'!A1", part="+S")
        scene.line(actor, element, "3", note="@SUM(A1)")
        elements.link_to_bill(actor, element)
        book = load_workbook(io.BytesIO(issue.bill_workbook(actor)[1]))
        found = {
            cell.value: cell.data_type
            for name in ("Bill", "Dimensions")
            for row in book[name].iter_rows()
            for cell in row
        }
        for words in ("=cmd|'/c calc'!A1", '=HYPERLINK("http://x","y")', "@SUM(A1)", "+S"):
            self.assertEqual(found[words], "s", words)

    def test_a_file_name_holds_nothing_a_path_could(self) -> None:
        actor = scene.project("../../etc/passwd: a/b")
        self.assertRegex(issue.bill_workbook(actor)[0], r"^[\w .-]+$")
        self.assertFalse(shutil.os.sep in project_file.write(actor, io.BytesIO()))


class ProjectFiles(scene.DatabaseCase):
    def document(self) -> tuple[int, dict[str, Any]]:
        actor = scene.project()
        scene.priced(actor)
        sheet = scene.sheet(actor)
        slab = scene.element(actor, "GS1", "plain-area")
        scene.area(actor, sheet.id, slab, [(100, 100), (300, 100), (300, 300), (100, 300)])
        add_makeup(actor, SOURCE)
        return actor.person_id, json.loads(scene.file_of(actor))

    def test_a_file_that_does_not_hold_is_refused_where_it_fails_and_leaves_nothing(self) -> None:
        owner, good = self.document()
        projects_before = Project.select().count()

        def broken(table: str, column: str, value: Any) -> bytes:
            hurt = json.loads(json.dumps(good))
            hurt["tables"][table][0][column] = value
            return json.dumps(hurt).encode()

        for content, said in (
            (b"", "is not JSON"),
            (b"[" * 100_000, "it is not one object"),
            (b"{}", "is not a project of Sand Scale"),
            (
                json.dumps({**good, "version": 99}).encode(),
                "is not a project of Sand Scale: its version is 99",
            ),
            (
                json.dumps({**good, "tables": {**good["tables"], "person": []}}).encode(),
                "The table “person” is unknown",
            ),
            (
                json.dumps(
                    {**good, "tables": {k: v for k, v in good["tables"].items() if k != "adjustment"}}
                ).encode(),
                "lacks the table “adjustment”",
            ),
            (
                json.dumps({**good, "project": {**good["project"], "bill_total": "9"}}).encode(),
                "has an unknown “bill_total”",
            ),
            (broken("element", "location", 99), "refers to row 99 of “location”, which isn't there"),
            (broken("element", "location", "1; DROP TABLE item"), "wrong kind or size in “location”"),
            (broken("element", "source", "unheard-of"), "There is no make-up “unheard-of”"),
            (broken("element", "inputs", {"cover": "wide"}), "can't be read as cover"),
            (broken("dimension_line", "length", "3m²"), "is an area"),
            (
                broken("dimension_line", "deduct", "perhaps"),
                "holds a value of the wrong kind or size in “deduct”",
            ),
            (broken("element", "mark", "a\x00b"), "holds a value of the wrong kind or size in “mark”"),
            (broken("element", "mark", 5), "holds a value of the wrong kind or size in “mark”"),
            (
                broken("figure", "geometry", {"outline": [[0, 0], [10, 10], [10, 0], [0, 10]], "voids": []}),
                "crosses itself",
            ),
            (broken("figure", "geometry", {"outline": "x"}), "holds a value of the wrong kind"),
            (broken("stored_file", "content", "bm90IGEgcGRm"), "is not the file it was"),
            (broken("stored_file", "content", "***"), "holds a value that can't be read"),
            (broken("stored_file", "sha256", "0" * 64), "is not the file it was"),
            (broken("quote", "price", "-5"), "Row 1 of “quote” doesn't hold"),
            (broken("quote", "quoted_on", "someday"), "holds a value that can't be read"),
            (broken("own_make_up", "source", SOURCE.replace("thick * 0.3 * m", "section")), "in a loop"),
            (broken("build_up_line", "quantity", "lots"), "can't be read"),
            (broken("item_link", "factor", "1m"), "is a length"),
        ):
            with self.subTest(said), self.assertRaises(UnreadableProject) as refused:
                scene.taken_in(owner, content)
            self.assertIn(said, refused.exception.sentence)
        self.assertEqual(Project.select().count(), projects_before)

    def test_the_good_one_still_holds(self) -> None:
        owner, good = self.document()
        again = scene.taken_in(owner, json.dumps(good).encode())
        self.assertEqual(json.loads(scene.file_of(Actor(owner, again.id, "owner"))), good)
