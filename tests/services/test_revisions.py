"""Drawings that change: revisions laid over the one before, from the file to the bill's difference; DXF."""

from __future__ import annotations

import io
from decimal import Decimal as D
from typing import Any

import numpy as np
from pypdf import PdfReader, PdfWriter, Transformation
from reportlab.pdfgen.canvas import Canvas

from sandscale.core.refusals import BadEntry, BadShape
from sandscale.demo.drawings import foundation_drawing, road_drawing
from sandscale.formats.page import UnreadableDrawing
from sandscale.services.bill import reading as bill_reading
from sandscale.services.keeping import checking, history, jobs, tidying, worker
from sandscale.services.keeping.acting import Actor, Forbidden, Missing
from sandscale.services.measure.actions import figures
from sandscale.services.sheets import actions as sheets
from sandscale.services.sheets import bringing_in, reading, revised, revisions
from sandscale.services.sheets.views import DrawingView
from sandscale.store.models import (
    Change,
    Drawing,
    Figure,
    Job,
    PageContent,
    Revision,
    Sheet,
    StoredFile,
    Survey,
)
from tests import scene
from tests.formats.test_drawings import picture
from tests.formats.test_dxf_sheet import dxf


class Revised(scene.DatabaseCase):
    """A copy of the demonstration, whose foundation plan comes in revision B."""

    def setUp(self) -> None:
        super().setUp()
        worker.work_off()
        owner = scene.demonstration()
        self.actor = Actor(owner.person_id, scene.taken_in(owner.person_id, scene.file_of(owner)).id, "owner")
        worker.work_off()
        self.drawing = Drawing.get(
            (Drawing.project == self.actor.project_id) & (Drawing.number == "FW-S-101")
        )

    def view(self) -> DrawingView:
        return next(each for each in reading.drawings(self.actor) if each.id == self.drawing.id)

    def revise(self, content: bytes, name: str = "FW-S-101 B.pdf", letter: str = "") -> Job:
        job = bringing_in.ask_to_revise(self.actor, self.drawing.id, name, content, letter)
        worker.work_off()
        return Job.get_by_id(job.id)

    def drawn(self) -> dict[tuple[str, str], Any]:
        """What is drawn on the drawing's sheets, by element and kind."""
        sheets_of = Sheet.select().join(Revision).where(Revision.drawing == self.drawing.id)
        rows = Figure.select().where(Figure.sheet << sheets_of)
        return {(f.element.mark, f.kind, len(str(f.geometry))): f for f in rows}

    def test_a_revision_is_laid_over_carried_over_looked_at_put_right_and_told_in_the_bill(self) -> None:
        old_sheets = [each.id for each in self.view().sheets]
        before, total = self.drawn(), bill_reading.bill_view(self.actor).total
        self.assertEqual(checking.checks(self.actor), [])
        self.assertEqual(self.revise(foundation_drawing("B")).state, "done")

        view = self.view()
        self.assertEqual((view.letter, view.file), ("B", "FW-S-101 B.pdf"))
        self.assertEqual([each.letter for each in view.former], ["A"])
        self.assertEqual([each.id for each in view.former[0].sheets], old_sheets)
        plan, sections = view.sheets
        self.assertEqual((plan.title, plan.scale), ("Foundation plan", "1:100"))
        self.assertEqual((sections.scale, sections.near), ("1:20", 0))
        self.assertEqual(bill_reading.bill_view(self.actor).total, total)  # nothing moved of itself

        changes = revised.changes_of(self.actor, plan.id)
        told = [([w.text for w in p.words_gone], [w.text for w in p.words_came]) for p in changes.places]
        self.assertEqual(told[0], (["Sump", "3600", "×", "2400"], []))
        self.assertEqual(
            [("1800", "PF2"), ("2200", "PF2")], [tuple(sorted(each)) for each in map(set, told[1])]
        )
        self.assertEqual(len(told), 5)  # the sump, two larger footings, one moved, the letter
        self.assertEqual(
            [p.size for p in changes.places], sorted((p.size for p in changes.places), reverse=True)
        )

        # Figures lie where they lay; those near a change wait, and are told of in list, checks and bill.
        after = self.drawn()
        self.assertEqual(
            {k: f.geometry for k, f in after.items()}, {k: f.geometry for k, f in before.items()}
        )
        waiting = {key[0] for key, figure in after.items() if figure.near}
        self.assertEqual(waiting, {"C1", "GS1", "PF1", "PF2", "GB1"} & waiting)
        self.assertLessEqual({"GS1", "PF1", "PF2"}, waiting)
        found = [check for check in checking.checks(self.actor) if check.rule == "drawing changed"]
        self.assertEqual({check.place for check in found}, waiting)
        resting = {
            i.description for s in bill_reading.bill_view(self.actor).sections for i in s.items if i.near
        }
        self.assertTrue(resting)

        # One is kept, the void of the sump is taken off, a moved footing's point put where it is now.
        pf1 = next(f for f in after.values() if f.element.mark == "PF1" and f.kind == "count")
        revisions.look_at_figures(self.actor, [f.id for f in after.values() if f.element.mark != "GS1"])
        slab = next(f for f in after.values() if f.element.mark == "GS1" and f.near)
        figures.reshape_figure(self.actor, slab.id, slab.version, slab.geometry["outline"], [])
        self.assertFalse(Figure.get_by_id(slab.id).near)
        # The cement ordered no longer does: that is all that still looks wrong.
        self.assertEqual({check.rule for check in checking.checks(self.actor)}, {"outgrown order"})
        revision = view.revision
        report = revised.revised(self.actor, revision)
        now = bill_reading.bill_view(self.actor).total
        self.assertEqual((report.before, report.after, report.near), (total, now, 0))
        self.assertTrue(all(item.measured_here for item in report.items))
        self.assertGreater(report.here, 0)
        slab_concrete = next(i for i in report.items if "slab" in i.description.lower() and i.unit == "m³")
        # 3.60 × 2.40 of slab 0.20 thick comes back where the sump was.
        self.assertEqual(slab_concrete.quantity_after - slab_concrete.quantity_before, D("1.73"))
        self.assertEqual(report.elsewhere, 0)

        # The old revision stays to be seen, with what was on it; nothing more is measured on it.
        old = reading.sheet_detail(self.actor, old_sheets[0])
        self.assertEqual((old.followed, old.shapes), ("B", []))
        self.assertIn("PF1", {figure.mark for figure in old.stood})
        with self.assertRaisesRegex(BadShape, "Revision B has taken the place"):
            figures.draw_figure(self.actor, old_sheets[0], pf1.element_id, "count", [[100, 100]])

        # It goes out and comes back with the project, and is undone as one change.
        again = scene.taken_in(self.actor.person_id, scene.file_of(self.actor))
        there = Actor(self.actor.person_id, again.id, "owner")
        worker.work_off()
        twin = next(each for each in reading.drawings(there) if each.number == "FW-S-101")
        told_there = revised.changes_of(there, twin.sheets[0].id)
        self.assertEqual(
            [p.model_dump(exclude={"id", "version"}) for p in told_there.places],
            [p.model_dump(exclude={"id", "version"}) for p in revised.changes_of(self.actor, plan.id).places],
        )
        self.assertEqual(revised.revised(there, twin.revision).here, report.here)
        for _ in range(3):
            history.undo(self.actor)
        self.assertEqual(self.view().letter, "A")
        self.assertEqual(
            {k: f.geometry for k, f in self.drawn().items()}, {k: f.geometry for k, f in before.items()}
        )

    def test_a_revision_that_is_no_revision_changes_nothing(self) -> None:
        entries = Change.select().where(Change.project == self.actor.project_id).count()
        out = io.BytesIO()
        canvas = Canvas(out, (2384, 1684))
        for at in range(60):
            canvas.line(30 * at, 17 * at % 900, 35 * at + 40, 900 - 13 * at)
        canvas.showPage()
        canvas.save()
        job = self.revise(out.getvalue(), "other.pdf")
        self.assertEqual(job.state, "failed")
        self.assertIn("is another drawing than FW-S-101: its lines coincide nowhere", job.said)
        with self.assertRaisesRegex(UnreadableDrawing, "is not a PDF, DXF, PNG, JPEG or TIFF"):
            self.revise(b"\0\1rubbish" * 50, "rubbish.bin")
        jobs_of_two = [
            bringing_in.ask_to_revise(self.actor, self.drawing.id, "B.pdf", foundation_drawing(letter), "")
            for letter in "AB"
        ]
        worker.work_off()
        self.assertEqual([Job.get_by_id(job.id).state for job in jobs_of_two], ["done", "failed"])
        self.assertIn("has a revision B by now", Job.get_by_id(jobs_of_two[1].id).said)
        history.undo(self.actor)
        entries = Change.select().where(Change.project == self.actor.project_id).count()
        with self.assertRaisesRegex(BadEntry, "has a revision A already"):
            self.revise(foundation_drawing("B"), letter="A")
        with self.assertRaises(Forbidden):
            looker = Actor(self.actor.person_id, self.actor.project_id, "viewer")
            bringing_in.ask_to_revise(looker, self.drawing.id, "x.pdf", foundation_drawing(), "")
        self.assertIn("cut off", self.revise(dxf()[:-2000], "cut.dxf").said)
        self.assertEqual(Change.select().where(Change.project == self.actor.project_id).count(), entries)
        tidying.tidy()
        held = StoredFile.select().where(
            (StoredFile.project == self.actor.project_id) & (StoredFile.name == "other.pdf")
        )
        self.assertFalse(held.exists())

    def test_pages_find_their_like_and_one_that_is_gone_keeps_its_figures_to_be_looked_at(self) -> None:
        writer = PdfWriter()
        pages = PdfReader(io.BytesIO(foundation_drawing("B"))).pages
        writer.add_page(pages[1])
        writer.add_blank_page(400, 300)
        out = io.BytesIO()
        writer.write(out)
        old = self.view().sheets
        count = len([f for f in self.drawn().values() if f.sheet_id == old[0].id])
        self.assertEqual(self.revise(out.getvalue()).state, "done")
        first, second = self.view().sheets
        self.assertEqual((first.title, first.scale), ("Sections A and B", "1:20"))
        self.assertEqual((second.title, second.scale), ("", "no scale"))
        left = [f for f in self.drawn().values() if f.sheet_id == old[0].id]
        self.assertEqual((len(left), {f.near for f in left}), (count, {True}))
        told = Change.select().where(Change.project == self.actor.project_id).order_by(Change.id.desc()).get()
        self.assertEqual(told.label, "Revision B of FW-S-101, without page 1 of the one before")
        self.assertEqual(revised.changes_of(self.actor, first.id).left, [1])
        with self.assertRaises(Missing):
            revised.changes_of(self.actor, second.id)

    def test_a_turned_and_moved_revision_carries_figures_to_where_their_lines_went(self) -> None:
        total = bill_reading.bill_view(self.actor).total
        before = {key: f.geometry for key, f in self.drawn().items() if f.sheet.page == 1}
        self.assertEqual(self.revise(turned(foundation_drawing())).state, "done")
        sheet = reading.sheet_detail(self.actor, self.view().sheets[0].id)
        self.assertIn("turned 90°", sheet.lay.words if sheet.lay else "")
        self.assertEqual(revised.changes_of(self.actor, sheet.id).places, [])
        pf1 = next(f for f in sheet.shapes if f.mark == "PF1")
        was = next(geometry for (mark, *_), geometry in before.items() if mark == "PF1")
        for (x, y), (east, north) in zip(was["points"], pf1.points, strict=True):
            self.assertAlmostEqual(1700 - y, east, 1)
            self.assertAlmostEqual(12 + x, north, 1)
        self.assertEqual(bill_reading.bill_view(self.actor).total, total)
        # A road's run goes over with the levels and the two known points it lies on the ground by.
        self.drawing = Drawing.get(
            (Drawing.project == self.actor.project_id) & (Drawing.number == "FW-C-201")
        )
        self.assertEqual(self.revise(turned(road_drawing())).state, "done")
        self.assertEqual(bill_reading.bill_view(self.actor).total, total)
        road = self.view().sheets[0]
        (survey,) = Survey.select().where(Survey.sheet == road.id)
        self.assertEqual([known[2:] for known in survey.known], [[2420.0, 5110.0], [2540.0, 5210.0]])


def turned(content: bytes) -> bytes:
    """The first page of a drawing, on a paper that stands upright."""
    writer = PdfWriter()
    page = writer.add_page(PdfReader(io.BytesIO(content)).pages[0])
    page.add_transformation(Transformation().rotate(90).translate(1700, 12))
    page.mediabox.upper_right = (1720, 2400)
    page.cropbox.upper_right = (1720, 2400)
    out = io.BytesIO()
    writer.write(out)
    return out.getvalue()


class Pictures(scene.DatabaseCase):
    """What has no lines is laid by the paper, and by hand."""

    def test_a_picture_is_laid_by_two_points_and_everything_on_it_looked_at(self) -> None:
        actor = scene.project()
        made = bringing_in.add_drawing(actor, "scan.png", picture("PNG", dpi=72), scene.PRICE_DATE)
        worker.work_off()
        sheet = reading.drawings(actor)[0].sheets[0]
        sheets.set_scale_by_ratio(actor, sheet.id, sheet.version, "100")
        element = scene.element(actor)
        figures.draw_figure(actor, sheet.id, element, "count", [[20, 20], [30, 40]])
        bringing_in.ask_to_revise(actor, made.id or 0, "scan.png", picture("PNG", dpi=72) + b"\0", "")
        worker.work_off()
        now = reading.sheet_detail(actor, reading.drawings(actor)[0].sheets[0].id)
        self.assertIn("nothing on them tells how", now.lay.words if now.lay else "")
        self.assertEqual([figure.near for figure in now.shapes], [True])
        revisions.lay_by_picks(actor, now.id, now.version, [(0, 0), (40, 0)], [(5, 2), (45, 2)])
        now = reading.sheet_detail(actor, now.id)
        self.assertEqual(now.shapes[0].points, [[25.0, 22.0], [35.0, 42.0]])
        # Twice as large on paper, a run is as long as it was.
        figures.draw_figure(actor, now.id, element, "run", [[10, 10], [40, 10]])
        was = reading.sheet_detail(actor, now.id)
        revisions.lay_by_picks(actor, now.id, now.version, [(0, 0), (10, 0)], [(0, 0), (20, 0)])
        now = reading.sheet_detail(actor, now.id)
        self.assertEqual((now.scale, now.shapes[1].shows), ("1:50", was.shapes[1].shows))
        self.assertNotEqual(now.shapes[1].points, was.shapes[1].points)
        with self.assertRaisesRegex(BadEntry, "too close"):
            revisions.lay_by_picks(actor, now.id, now.version, [(0, 0), (1, 0)], [(5, 2), (45, 2)])


class Layered(scene.DatabaseCase):
    """A DXF as a sheet."""

    def bring_in(self, actor: Actor, content: bytes, name: str = "C-3.dxf") -> Job:
        job = bringing_in.ask_to_bring_in(actor, name, content)
        worker.work_off()
        return Job.get_by_id(job.id)

    def test_a_dxf_is_a_sheet_with_its_scale_its_layers_hidden_and_shown_searched_and_measured(self) -> None:
        actor = scene.project()
        self.assertEqual(self.bring_in(actor, dxf()).state, "done")
        (drawing,) = reading.drawings(actor)
        (sheet,) = drawing.sheets
        self.assertEqual((drawing.number, drawing.letter, sheet.scale), ("C-3", "A", "1:5"))
        detail = reading.sheet_detail(actor, sheet.id)
        self.assertEqual(
            {layer.name: layer.shown for layer in detail.layers}, {"walls": True, "notes": True, "old": False}
        )
        every = len(reading.page_lines(actor, sheet.id))
        self.assertEqual([w.text for w in reading.page_words(actor, sheet.id, "wall")], ["WALL"])
        shown = reading.tile(actor, sheet.id, 2, 0, 0)
        sheets.show_layers(actor, sheet.id, ["walls", "notes"], shown=False)
        after = reading.sheet_detail(actor, sheet.id)
        self.assertNotEqual(after.tile_key, detail.tile_key)
        self.assertLess(len(reading.page_lines(actor, sheet.id)), every)
        self.assertEqual(reading.page_words(actor, sheet.id, "wall"), [])
        self.assertNotEqual(reading.tile(actor, sheet.id, 2, 0, 0), shown)
        with self.assertRaisesRegex(BadEntry, "has no layer “roof”"):
            sheets.show_layers(actor, sheet.id, ["roof"], shown=True)
        history.undo(actor)
        self.assertEqual(reading.tile(actor, sheet.id, 2, 0, 0), shown)
        sheets.show_layers(actor, sheet.id, ["old"], shown=True)
        self.assertIn(b"PNG", reading.tile(actor, sheet.id, 2, 0, 0)[:4])  # with no layer hidden too
        history.undo(actor)

        # A wall of 5 m and its sheet on paper; and the same after the project went out and came back.
        element = scene.element(actor, "W1", "strip-footing")
        lines = reading.page_lines(actor, sheet.id)
        (x1, y1, x2, y2) = max(
            np.frombuffer(lines, np.float32).reshape(-1, 4).tolist(), key=lambda s: abs(s[0] - s[2])
        )
        figures.draw_figure(actor, sheet.id, element, "run", [[x1, y1], [x2, y2]])
        self.assertEqual(reading.sheet_detail(actor, sheet.id).shapes[0].shows, "5.00 m")
        job = jobs.ask_for(actor, "sheet_pdf", {"sheet": sheet.id})
        worker.work_off()
        self.assertIn(b"%PDF", jobs.result(actor, job.id)[1][:8])
        again = scene.taken_in(actor.person_id, scene.file_of(actor))
        there = Actor(actor.person_id, again.id, "owner")
        twin = reading.drawings(there)[0].sheets[0]
        self.assertEqual(reading.sheet_detail(there, twin.id).content, "read")  # it was read once already
        PageContent.delete().where(PageContent.file == Sheet.get_by_id(twin.id).revision.file).execute()
        jobs.begin_for_all(
            again.id, "page_content", {"file": Sheet.get_by_id(twin.id).revision.file_id, "page": 1}
        )
        worker.work_off()
        self.assertEqual(reading.tile(there, twin.id, 2, 0, 0), shown)

    def test_a_revision_in_dxf_is_compared_on_what_is_shown(self) -> None:
        actor = scene.project()
        self.bring_in(actor, dxf())
        drawing = reading.drawings(actor)[0]
        job = bringing_in.ask_to_revise(actor, drawing.id, "C-3.dxf", dxf(door=True, old=9), "")
        worker.work_off()
        self.assertEqual(Job.get_by_id(job.id).said, "")
        (sheet,) = reading.drawings(actor)[0].sheets
        (place,) = revised.changes_of(
            actor, sheet.id
        ).places  # the door; what is on the hidden layer is not told
        self.assertEqual(([w.text for w in place.words_came], place.words_gone), (["DOOR"], []))

    def test_what_is_no_whole_dxf_is_told_and_leaves_nothing(self) -> None:
        actor = scene.project()
        for content, says in (
            (dxf()[:-3000], "ends in the middle: it was cut off"),
            (dxf(empty=True), "has nothing in its model space. What it has is on its paper Layout1"),
            (
                b"  0\nSECTION\n  2\nENTITIES\n  0\nLINE\n 10\nx\n" + b"\0" * 400 + b"EOF\n",
                "is broken or no DXF",
            ),
        ):
            job = self.bring_in(actor, content)
            self.assertEqual(job.state, "failed")
            self.assertIn(says, job.said)
        with self.assertRaisesRegex(UnreadableDrawing, "is no DXF"):
            bringing_in.ask_to_bring_in(actor, "x.dxf", b"\0\1\2" * 100)
        with self.assertRaisesRegex(UnreadableDrawing, "is a DXF under another name"):
            bringing_in.add_drawing(actor, "plan.txt", dxf(), scene.PRICE_DATE)
        self.assertEqual(reading.drawings(actor), [])
        tidying.tidy()
        self.assertFalse(StoredFile.select().where(StoredFile.project == actor.project_id).exists())
