"""Papers of trenches, routes and the whole job: what each tells is what the screens tell, in metric and in feet."""

from __future__ import annotations

import csv
import io
import re
import zipfile
from typing import Any

import ezdxf
import numpy as np
import pypdfium2 as pdfium
from openpyxl import load_workbook

from sandscale.core.ground.papers import PAPER_PARTS
from sandscale.core.numbers.ways import held
from sandscale.core.refusals import BadEntry
from sandscale.reports.works import Chosen
from sandscale.services.ground import papers
from sandscale.services.ground.routes import actions as route_actions
from sandscale.services.ground.routes import reading as route_reading
from sandscale.services.ground.trenches import actions as trench_actions
from sandscale.services.ground.trenches import reading as trench_reading
from sandscale.services.ground.whole import whole_view
from sandscale.services.keeping import jobs, worker
from sandscale.services.projects import actions as projects
from sandscale.store.models import Project
from tests.services.test_ground import square
from tests.services.test_issue import recalculated
from tests.services.test_routes import RouteCase
from tests.services.test_trenches import SEWER


def words_of(content: bytes) -> list[str]:
    """The words of each page."""
    pages = pdfium.PdfDocument(io.BytesIO(content))
    return [" ".join(page.get_textpage().get_text_bounded().split()) for page in pages]


def number(text: str) -> float:
    return float(text.replace(" ", "").replace("\u00a0", "").replace("\u202f", ""))


class PaperCase(RouteCase):
    def made(self, work: int, kind: Any, **chosen: Any) -> bytes:
        worker.work_off()
        return papers.paper(self.actor, work, kind, Chosen(**chosen), lambda _: None)[1]

    def sewer(self, mark: str = "T1") -> int:
        """Two runs with a manhole between over sloping ground, one of them with its sides supported."""
        kinds = [
            trench_actions.add_kind(self.actor, {**SEWER, "name": f"{name} {mark}", **more})
            for name, more in (
                ("Held", {"supported": True}),
                ("Sloped", {"sides": "battered", "batter": "1:0.5"}),
            )
        ]
        work = trench_actions.add_network(self.actor, mark, "=Sewer", self.place, None).id
        for name, east, ground, more in (
            ("A", "0", "10", {}), ("B", "50", "10.6", {"manhole": "1.0", "wall": "0.15", "base": "0.2", "space": "0.4"}),
            ("C", "80", "11.2", {}),
        ):  # fmt: skip
            trench_actions.add_node(
                self.actor, work, {"name": name, "east": east, "north": "0", "ground": ground, **more}
            )
        for kind, begins, ends, low, high in (
            (kinds[0], "A", "B", "8.2", "8.5"),
            (kinds[1], "B", "C", "8.5", "8.6"),
        ):
            trench_actions.add_run(
                self.actor, work,
                {"begins": begins, "ends": ends, "invert_begins": low, "invert_ends": high, "kind": kind.id},
            )  # fmt: skip
        worker.work_off()
        return int(work)


class OfTrenches(PaperCase):
    def test_the_workbook_recalculates_every_quantity_span_by_span(self) -> None:
        for system in ("metric", "us"):
            project = Project.get_by_id(self.actor.project_id)
            projects.change_project(self.actor, project.version, {"unit_system": system})
            with held(system):
                work = self.sewer(system[:2])
                book = recalculated(load_workbook(io.BytesIO(self.made(work, "xlsx"))))
                told = {r[0].value: r for r in book["Summary"].iter_rows(min_row=3) if r[0].value}
                lines = trench_reading.network_view(self.actor, work).lines
                live = load_workbook(io.BytesIO(self.made(work, "xlsx")))
                linked = 0
                for line in lines:
                    if not line.net:
                        continue
                    self.assertAlmostEqual(told[line.label][2].value, line.net, places=6, msg=line.label)
                    self.assertEqual(told[line.label][1].value, line.unit)
                    linked += str(live["Summary"].cell(told[line.label][0].row, 3).value).startswith("='")
                self.assertGreaterEqual(linked, 10)
                self.assertIn("/27" if system == "us" else "*", live["Trenches dug"]["G4"].value)

    def test_the_pdf_tells_every_quantity_and_what_was_chosen(self) -> None:
        work = self.sewer()
        pages = words_of(self.made(work, "pdf"))
        whole = " ".join(pages)
        for line in trench_reading.network_view(self.actor, work).lines:
            if line.net:
                self.assertIn(line.label, whole)
        self.assertIn("Long section A to C", whole)
        # A section at each end of each run, and every ten metres between.
        drawn = re.findall(r"(A–B|B–C) at ([\d.]+) m", whole)
        self.assertEqual([float(at) for run, at in drawn if run == "A–B"], [0, 10, 20, 30, 40, 48.95])
        rest = words_of(
            self.made(work, "pdf", parts=frozenset({"tables"}), names=("Backfill",), together=True)
        )
        self.assertIn("Quantities by run", rest[0])
        self.assertNotIn("Long section", " ".join(rest))
        for part in PAPER_PARTS:
            self.assertLess(len(words_of(self.made(work, "pdf", parts=frozenset({part})))), len(pages), part)

    def test_every_span_stands_in_the_csv_and_every_section_in_the_drawing(self) -> None:
        work = self.sewer()
        rows = list(csv.DictReader(io.StringIO(self.made(work, "csv").decode("utf-8-sig"))))
        sums = dict[str, float]()
        for row in rows:
            sums[row["Quantity"]] = sums.get(row["Quantity"], 0.0) + float(row["between"])
        nets = {line.label: line.net for line in trench_reading.network_view(self.actor, work).lines}
        self.assertGreaterEqual(len(sums), 10)
        for label, value in sums.items():
            self.assertAlmostEqual(value, nets[label], places=4, msg=label)
        package = zipfile.ZipFile(io.BytesIO(self.made(work, "zip")))
        self.assertEqual(sorted(n.rsplit(".")[-1] for n in package.namelist()), ["csv", "dxf", "pdf", "xlsx"])
        name = next(n for n in package.namelist() if n.endswith("dxf"))
        drawing = ezdxf.read(io.StringIO(package.read(name).decode()))
        rings = [np.array(e.get_points("xy")) for e in drawing.modelspace() if e.dxf.layer == "section dug"]
        areas = [
            abs(np.sum(r[:, 0] * np.roll(r[:, 1], 1) - r[:, 1] * np.roll(r[:, 0], 1))) / 2 for r in rings
        ]
        seen = [
            next(shape.area for shape in trench_reading.section_view(self.actor, work, run.id, 0).shapes)
            for run in trench_reading.network_view(self.actor, work).runs
        ]
        for area in seen:
            self.assertTrue(any(abs(area - each) < 1e-3 for each in areas), area)


class OfRoutes(PaperCase):
    def test_the_pdf_tells_the_tables_of_the_screen_split_or_side_by_side(self) -> None:
        work = self.route()
        self.named(work)
        self.add(work, "stretches", name="Gate", begins="0", ends="40", stage="First")
        row = route_actions.route_of(self.actor, work)
        route_actions.change_route(self.actor, work, row.version, {"interval": "1"})
        pages = words_of(self.made(work, "pdf"))
        whole, lines = " ".join(pages), self.lines(work)
        self.assertIn("Bituminous, m³", whole)
        self.assertIn("Gate, stretch", whole)
        totals = [number(each) for each in re.findall(r"whole ([\d\s]+\.\d\d)", whole)]
        self.assertIn(round(lines["cut"], 2), totals)
        self.assertIn(round(lines["named_bituminous"], 2), totals)
        # A long table goes on, page after page, each row once.
        own = words_of(self.made(work, "pdf", parts=frozenset({"tables"}), names=("cut",)))
        chainages = route_reading.route_view(self.actor, work).chainages
        self.assertGreater(len(chainages), 80)
        for chainage in chainages:
            self.assertRegex(" ".join(own), rf"(?<![\d.]){chainage:.2f} \d+\.\d{{3}}")
        self.assertNotIn("Bituminous, m³", " ".join(own))
        # Side by side, columns that don't fit stand in another part, with their chainages.
        beside = words_of(self.made(work, "pdf", parts=frozenset({"tables"}), together=True))
        self.assertIn("part 2 of", " ".join(beside))
        for part in ("Long section along the centreline", "Mass haul", "Plan, 1:"):
            self.assertIn(part, whole)
        eight = words_of(self.made(work, "pdf", parts=frozenset({"sections"}), per_page=8))
        drawn = [len(re.findall(r"At [\d.]+ m ", page)) for page in eight]
        self.assertEqual((max(drawn), sum(drawn)), (8, len(chainages)))
        # Nothing chosen but its quantities; a name that isn't there any more.
        job = jobs.ask_for(self.actor, papers.KIND, {"element": work, "parts": [], "file": "pdf"})
        worker.work_off()
        bare = words_of(jobs.result(self.actor, job.id)[1])
        self.assertEqual(len(bare), len(words_of(self.made(work, "pdf", parts=frozenset()))))
        self.assertNotIn("Plan, 1:", " ".join(bare))
        with self.assertRaisesRegex(BadEntry, "none of the quantities chosen"):
            self.made(work, "csv", names=("Gold",))

    def test_nothing_runs_off_the_page_whatever_it_is_called(self) -> None:
        long = "Bituminous courses of the carriageway, of both its lay-bys and of the turning head"[:60]
        work = self.route()
        self.named(work)
        named = route_reading.route_view(self.actor, work).named[0]
        route_actions.change_row(self.actor, "named", named.id, named.version, {"name": long})
        for together in (False, True):
            for page in pdfium.PdfDocument(io.BytesIO(self.made(work, "pdf", together=together))):
                text, (wide, high) = page.get_textpage(), page.get_size()
                for at in range(text.count_rects()):
                    left, bottom, right, top = text.get_rect(at)
                    told = text.get_text_bounded(left, bottom, right, top)
                    self.assertTrue(
                        left >= 20 and right <= wide - 20 and bottom > 10 and top < high - 10, told
                    )


class OfTheWholeJob(PaperCase):
    def test_it_tells_what_the_screen_sums(self) -> None:
        with self.assertRaisesRegex(BadEntry, "comes to anything yet"):
            papers.paper_of_whole(self.actor, "work", "pdf", lambda _: None)
        self.route()
        pit = self.dug({"level": "98", "outline": square(20, 40)}, mark="E1")
        worker.work_off()
        with self.assertRaisesRegex(BadEntry, "neither a trench nor a route"):
            papers.paper(self.actor, pit, "pdf", Chosen(), lambda _: None)
        seen = whole_view(self.actor, "work")
        book = recalculated(
            load_workbook(io.BytesIO(papers.paper_of_whole(self.actor, "work", "xlsx", lambda _: None)[1]))
        )
        told = {row[0]: row for row in book["Whole job"].iter_rows(min_row=4, values_only=True) if row[0]}
        job = jobs.ask_for(self.actor, papers.KIND, {"by": "work", "file": "pdf"})
        worker.work_off()
        self.assertEqual(jobs.view(self.actor, job.id).said, "")
        words = " ".join(words_of(jobs.result(self.actor, job.id)[1]))
        for row in seen.rows:
            self.assertAlmostEqual(told[row.name][-1], row.whole, places=6)
            self.assertIn(row.name, words)
        with self.assertRaisesRegex(BadEntry, "PDF, XLSX or CSV"):
            papers.paper_of_whole(self.actor, "work", "dxf", lambda _: None)
