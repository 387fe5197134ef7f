"""The ground through the services: from a surveyor's file with faults to proven volumes in the bill."""

from __future__ import annotations

import io
import json
import zipfile
from datetime import date
from unittest.mock import patch

import numpy as np
from openpyxl import load_workbook
from pypdf import PdfReader

from sandscale.core.ground.earthwork import NO_STAGE
from sandscale.core.numbers.ways import held
from sandscale.core.refusals import BadEntry, BadShape, Refusal
from sandscale.formats import dxf, geojson, landxml
from sandscale.formats.levels_in import How
from sandscale.services.bill import reading as bill_reading
from sandscale.services.ground import feed, proof_package
from sandscale.services.ground.actions import billing, earthworks, surfaces, surveys
from sandscale.services.ground.reading import earthworks as earth_reading
from sandscale.services.ground.reading import levels as level_reading
from sandscale.services.ground.reading import surfaces as surface_reading
from sandscale.services.ground.reading.overview import ground_view
from sandscale.services.keeping import checking, history, jobs, worker
from sandscale.services.keeping.acting import Actor, Forbidden, InUse, Missing, Stale
from sandscale.services.keeping.walking import walk
from sandscale.services.measure import reading as measure_reading
from sandscale.services.measure.actions import dimension_lines, elements
from sandscale.services.projects import actions as projects
from sandscale.services.sheets import actions as sheets
from sandscale.settings import SURVEY_FEED
from sandscale.store.models import (
    BeingWorkedOut,
    EarthClass,
    Earthwork,
    Element,
    Formation,
    GroundLine,
    Sheet,
    Survey,
)
from tests import scene
from tests.cases.test_ground_job import survey_file
from tests.served import survey_feed_offered
from tests.services.test_issue import recalculated

PLATFORM = [[512_320, 5_401_724], [512_360, 5_401_724], [512_360, 5_401_744], [512_320, 5_401_744]]


def flat(level: float, size: int = 40, step: int = 5, hump: float = 0.0) -> bytes:
    """Levels on a square grid, all alike but for a hump in the middle."""
    rows = [
        f"{x};{y};{level + (hump if x == y == size // 2 else 0):.3f}"
        for x in range(0, size + 1, step)
        for y in range(0, size + 1, step)
    ]
    return "\n".join(["E;N;Z", *rows]).encode()


def square(low: float, high: float) -> list[list[float]]:
    return [[low, low], [high, low], [high, high], [low, high]]


class GroundCase(scene.DatabaseCase):
    def setUp(self) -> None:
        super().setUp()
        self.actor = scene.project()
        self.place = scene.location(self.actor)

    def taken(self, content: bytes, name: str = "levels.csv", how: How | None = None, **units: str) -> int:
        """Levels taken in and looked through; gives the survey."""
        survey = scene.id_of(surveys.take_in(self.actor, name, content, how or How(), **units))  # type: ignore[arg-type]
        worker.work_off()
        return survey

    def surface(self, name: str = "") -> int:
        found = ground_view(self.actor).surfaces
        return next(each.id for each in found if not name or each.name == name)

    def dug(self, *formations: dict[str, object], mark: str = "E1", **fields: object) -> int:
        """An earthwork over the first surface, worked out; gives its element."""
        work = scene.id_of(earthworks.add_earthwork(self.actor, mark, "Platform", self.place, self.surface()))
        for each in formations:
            earthworks.add_formation(self.actor, work, dict(each))
        if fields:
            earthworks.change_earthwork(self.actor, work, 1, dict(fields))
        worker.work_off()
        return work

    def seen(self, work: int) -> earth_reading.EarthworkView:
        worker.work_off()
        return earth_reading.earthwork_view(self.actor, work)

    def share(self, work: int, name: str) -> float:
        return next(s.volume for s in self.seen(work).shares if s.name == name)


class TheWholeJob(GroundCase):
    def test_from_a_survey_with_faults_to_items_that_follow_it(self) -> None:
        survey = self.taken(survey_file(), "terrace.csv")
        view = level_reading.survey_view(self.actor, survey)
        self.assertEqual((view.number, view.used, view.undecided), (222, 221, 1))
        self.assertEqual(
            {d.kind: (d.number, d.undecided) for d in view.doubts}, {"duplicate": (1, 0), "spike": (1, 1)}
        )
        self.assertEqual(view.said, ["Row 224 “x” is no number for east; it is left out."])
        self.assertIn("levels: out of line", {c.rule for c in checking.checks(self.actor)})
        page = level_reading.level_page(self.actor, survey, 0, 50, "doubt")
        self.assertEqual(
            [(each.row, each.level, each.used) for each in page.levels],
            [(61, 3.0, True), (223, 101.5, False)],
        )

        # The level that lost its hundreds is put right in its row: the surface and all that rests on it follow.
        surveys.decide(self.actor, survey, "spike", "put right", [59], "103")
        worker.work_off()
        view = level_reading.survey_view(self.actor, survey)
        self.assertEqual((view.undecided, view.told), (0, ["Out of line: 1 put right."]))
        ground = ground_view(self.actor).surfaces[0]
        self.assertEqual((ground.lowest, ground.highest, ground.state), (100, 103, "fresh"))

        work = self.dug({"level": "101", "outline": PLATFORM, "cut_batter": "1:1", "fill_batter": "1:2"})
        made = self.seen(work)
        self.assertEqual((made.says, made.state), ([], "fresh"))
        exact = made.methods[0]
        self.assertAlmostEqual(made.floor or 0, 800)
        earthworks.add_class(self.actor, work, {"name": "Topsoil", "depth": "0.15"})
        made = self.seen(work)
        shares = {s.name: s for s in made.shares}
        self.assertAlmostEqual(
            shares["Topsoil"].volume,
            0.15 * shares["Topsoil"].area,
            delta=0.15 * 0.01 * shares["Topsoil"].area,
        )
        self.assertLess(made.methods[0].cut, exact.cut)  # what is stripped isn't dug again
        self.assertGreater(made.methods[0].fill, exact.fill)

        billing.into_bill(self.actor, work, "band")
        words = [item.description for s in bill_reading.bill_view(self.actor).sections for item in s.items]
        self.assertIn("Excavate to formation, ordinary material, 0 to 1 m deep", words)
        self.assertIn("Strip Topsoil and set aside", words)
        before = {
            i.description: i.quantity for s in bill_reading.bill_view(self.actor).sections for i in s.items
        }
        bands = sum(q for words, q in before.items() if words.startswith("Excavate to formation, ordinary"))
        self.assertAlmostEqual(float(bands), shares["Ordinary digging"].volume, delta=0.02)

        # A level changed: meanwhile the bill says how much rests on it, then its items follow.
        formation = Formation.get(Formation.project == self.actor.project_id)
        earthworks.change_formation(self.actor, formation.id, formation.version, {"level": "100.50"})
        self.assertEqual(earth_reading.earthwork_view(self.actor, work).state, "working")
        self.assertIn("being worked out", {c.rule for c in checking.checks(self.actor)})
        worker.work_off()
        after = {
            i.description: i.quantity for s in bill_reading.bill_view(self.actor).sections for i in s.items
        }
        dug = "Excavate to formation, ordinary material, 1 to 2 m deep"
        self.assertGreater(after[dug], before[dug])
        self.assertLess(
            after["Fill to formation, compacted in layers"], before["Fill to formation, compacted in layers"]
        )
        self.assertNotIn("being worked out", {c.rule for c in checking.checks(self.actor)})

        # Undone, what was kept is right again and nothing is left to do; undoing goes back to the file as it came.
        history.undo(self.actor)
        worker.work_off()
        again = {
            i.description: i.quantity for s in bill_reading.bill_view(self.actor).sections for i in s.items
        }
        self.assertEqual(again, before)
        self.assertFalse(
            BeingWorkedOut.select().where(BeingWorkedOut.project == self.actor.project_id).exists()
        )

    def test_every_number_walks_from_the_bill_to_the_file(self) -> None:
        survey = self.taken(survey_file(), "terrace.csv")
        work = self.dug({"level": "101", "outline": PLATFORM, "name": "Yard"}, spacing="5")
        billing.into_bill(self.actor, work)
        cut = walk(self.actor, f"quantity:{work}:cut")
        self.assertAlmostEqual(cut.working.value or 0, self.share(work, "Ordinary digging"))
        self.assertEqual([each.name for each in cut.comes_from], ["Ground, terrace", "Yard"])
        self.assertTrue(cut.goes_to[0].name.endswith("Excavate to formation, ordinary material"))
        item = walk(self.actor, cut.goes_to[0].ref)
        self.assertIn(f"quantity:{work}:cut", [link.ref for link in item.comes_from])
        surface = walk(self.actor, cut.comes_from[0].ref)
        self.assertAlmostEqual(surface.working.value or 0, 80 * 72)
        self.assertEqual([link.ref for link in surface.comes_from], [f"survey:{survey}"])
        levels = walk(self.actor, f"survey:{survey}")
        self.assertEqual(
            (levels.working.value, levels.working.figures, levels.working.source),
            (221, "222 − 1", "file terrace.csv"),
        )
        self.assertEqual(walk(self.actor, cut.comes_from[1].ref).working.value, 101)
        # A section's area is the sum of its trapezia, and a square's volume that of its three numbers.
        rows = earth_reading.rows_view(self.actor, work)
        at = len(rows.rows) // 2
        row = walk(self.actor, f"earth-row:{work}:{at}").working
        trapezia = [part for part in row.parts if " to " in part.name and part.expression.startswith("(h1")]
        self.assertAlmostEqual(sum(part.value or 0 for part in trapezia), row.value or 0)
        self.assertAlmostEqual(row.value or 0, rows.rows[at].cut)
        block = earth_reading.blocks_view(self.actor, work).blocks[3]
        told = walk(self.actor, f"earth-block:{work}:3").working
        self.assertAlmostEqual(told.value or 0, abs(block.ground - block.formation) * block.area, places=6)
        for lost in (
            f"earth-row:{work}:999",
            f"earth-block:{work}:9999",
            "surface:999999",
            f"earth-row:{work}:x",
        ):
            with self.assertRaises(Missing):
                walk(self.actor, lost)

    def test_the_proof_holds_its_numbers_in_three_formats_and_the_workbook_reckons_them_again(self) -> None:
        survey = self.taken(survey_file(), "terrace.csv")
        surveys.decide(self.actor, survey, "spike", "leave out")
        work = self.dug(
            {"level": "101", "outline": PLATFORM, "cut_batter": "1:1", "fill_batter": "1:2"},
            spacing="6", rule="prismoidal", method="grid sections",
        )  # fmt: skip
        job = jobs.ask_for(self.actor, proof_package.KIND, {"element": work, "per_page": 3})
        worker.work_off()
        self.assertEqual(
            (jobs.view(self.actor, job.id).state, jobs.view(self.actor, job.id).said), ("done", "")
        )
        name, content = jobs.result(self.actor, job.id)
        self.assertTrue(name.endswith("E1 Platform.zip"))
        files = zipfile.ZipFile(io.BytesIO(content))
        by_kind = {each.rsplit(".", 1)[-1]: files.read(each) for each in files.namelist()}
        made = self.seen(work)
        methods = {m.name: m for m in made.methods}

        book = recalculated(load_workbook(io.BytesIO(by_kind["xlsx"])))
        told = {row[0]: row[1:3] for row in book["Summary"].iter_rows(values_only=True) if row[0]}
        for words, method in (
            ("Squares", "square grid"), ("Sections along a grid", "grid sections"), ("Prisms between the surfaces", "exact"),
        ):  # fmt: skip
            self.assertAlmostEqual(told[words][0], methods[method].cut, places=6, msg=words)
            self.assertAlmostEqual(told[words][1], methods[method].fill, places=6, msg=words)
        formulas = load_workbook(io.BytesIO(by_kind["xlsx"]))
        self.assertTrue(str(formulas["Volumes"]["D3"].value).startswith("=("))
        self.assertTrue(
            any("decided" in str(row[0]) for row in formulas["Summary"].iter_rows(values_only=True))
        )

        paper = PdfReader(io.BytesIO(by_kind["pdf"]))
        text = " ".join("\n".join(page.extract_text() for page in paper.pages).split())
        rows = earth_reading.rows_view(self.actor, work)
        for words in (
            "Level plan with squares and volumes", "Area sheet", "Volume sheet, cut", "Out of line: all 1 left out.",
            f"Row {len(rows.rows)}", "billed", "sections along a grid",
        ):  # fmt: skip
            self.assertIn(words, text)
        with_sections = [page for page in paper.pages if "Sections, lengths" in page.extract_text()]
        drawn = sum(np.ptp(s.ends, axis=0).any() for s in rows.rows)
        self.assertIn(len(with_sections), {-(-len(rows.rows) // 3), -(-int(drawn) // 3)})

        drawing = dxf.read_levels(by_kind["dxf"], "proof.dxf")
        self.assertIn("zero line", drawing.layers)
        self.assertGreaterEqual(
            drawing.layers["squares"], len(earth_reading.blocks_view(self.actor, work).blocks)
        )

        # What it holds is chosen.
        few = proof_package.package(self.actor, work, ["findings", "squares"], 4, lambda _: None)[1]
        names = {n.rsplit(".", 1)[-1]: n for n in zipfile.ZipFile(io.BytesIO(few)).namelist()}
        book = load_workbook(io.BytesIO(zipfile.ZipFile(io.BytesIO(few)).read(names["xlsx"])))
        self.assertEqual(book.sheetnames, ["Summary", "Squares"])

    def test_in_feet_and_cubic_yards(self) -> None:
        projects.change_project(self.actor, 1, {"unit_system": "us"})
        with held("us"):
            self.taken(flat(100), unit="ft", level_unit="ft")
            outline = [[str(x), str(y)] for x, y in square(10, 30)]  # typed, in feet
            work = self.dug({"level": "97", "outline": outline}, bands="1; 2", lorry="10")
            quantity = {q.output: q for q in Element.get_by_id(work).quantities}
            self.assertEqual((quantity["cut"].unit, quantity["floor"].unit), ("yd³", "ft²"))
            self.assertAlmostEqual(quantity["floor"].net, 400)
            self.assertAlmostEqual(quantity["cut"].net, 400 * 3 / 27)
            self.assertEqual(quantity["loads_away"].net, 6)
            view = self.seen(work)
            self.assertEqual((view.formations[0].level, view.lorry), ("97", "10"))
            told = walk(self.actor, f"quantity:{work}:carted_loose").working
            self.assertEqual((round(told.value or 0, 4), told.unit), (round(400 * 3 / 27 * 1.25, 4), "yd³"))
            book = zipfile.ZipFile(
                io.BytesIO(proof_package.package(self.actor, work, [], 4, lambda _: None)[1])
            )
            sheet = load_workbook(
                io.BytesIO(book.read(next(n for n in book.namelist() if n.endswith("xlsx"))))
            )
            self.assertTrue(str(sheet["Squares"]["G2"].value).endswith("/27"))

    def test_formation_areas_feed_dimension_lines(self) -> None:
        self.taken(flat(10))
        work = self.dug({"level": "9", "outline": square(10, 30)})
        membrane = scene.element(self.actor, "M1", "plain-area")
        line = scene.line(self.actor, membrane)
        dimension_lines.take_line(self.actor, line, 1, work, "floor")
        self.assertAlmostEqual(next(iter(Element.get_by_id(membrane).quantities)).net, 400)
        formation = Formation.get(Formation.project == self.actor.project_id)
        earthworks.change_formation(self.actor, formation.id, 1, {"outline": square(10, 20)})
        worker.work_off()
        self.assertAlmostEqual(next(iter(Element.get_by_id(membrane).quantities)).net, 100)


class Volumes(GroundCase):
    def test_flat_ground_by_every_method_and_what_becomes_of_it(self) -> None:
        self.taken(flat(10))
        work = self.dug(
            {"level": "9", "outline": square(10, 30)}, spacing="5", lorry="12", bulking="1.3", bands="0.5; 2"
        )
        made = self.seen(work)
        for method in made.methods:
            self.assertAlmostEqual(method.cut, 400, places=6, msg=method.name)
            self.assertAlmostEqual(method.fill, 0, places=6)
        own = made.shares[-1]
        self.assertEqual(
            [(b.name, round(b.value, 6)) for b in own.bands], [("0 to 0.5 m", 200), ("0.5 to 2 m", 200)]
        )
        self.assertAlmostEqual(made.haul["exported_loose"], 520)
        self.assertEqual(made.haul["export_loads"], 44)
        self.assertAlmostEqual(earth_reading.balance_view(self.actor, work).level, 10, places=4)

    def test_classes_are_dug_in_order_and_add_up(self) -> None:
        self.taken(flat(10))
        work = self.dug({"level": "8", "outline": square(10, 30)})
        for name, depth, taken in (
            ("Topsoil", "0.2", "stripped"),
            ("Rock", "0.5", "dug"),
            ("Soft", "0.3", "below formation"),
        ):
            earthworks.add_class(self.actor, work, {"name": name, "depth": depth, "taken": taken})
        self.assertEqual(
            {s.name: round(s.volume, 6) for s in self.seen(work).shares},
            {"Topsoil": 80, "Rock": 200, "Ordinary digging": 520, "Soft": 120},
        )
        self.assertAlmostEqual(self.seen(work).haul["reused"], 120 / 0.9)  # what was soft is filled up again
        # An outline holds it there; a bottom of its own takes the place of a thickness.
        rock = EarthClass.get((EarthClass.project == self.actor.project_id) & (EarthClass.name == "Rock"))
        earthworks.change_class(self.actor, rock.id, 1, {"outline": square(10, 20)})
        self.assertAlmostEqual(self.share(work, "Rock"), 50)
        self.taken(flat(9), "rock.csv")
        earthworks.change_class(self.actor, rock.id, 2, {"surface": self.surface("rock"), "outline": []})
        self.assertAlmostEqual(self.share(work, "Rock"), 0.8 * 400)
        with self.assertRaises(InUse):
            surfaces.delete_surface(self.actor, self.surface("rock"))

    def test_what_is_stripped_on_the_batter_of_a_cutting_is_not_filled_again(self) -> None:
        self.taken(flat(100))
        work = self.dug({"level": "97", "outline": square(15, 25), "cut_batter": "1:1"})
        earthworks.add_class(self.actor, work, {"name": "Topsoil", "depth": "0.3"})
        made = self.seen(work)
        self.assertAlmostEqual(made.fill or 0, 0)
        whole = 3 / 6 * (100 + 4 * 13**2 + 16**2)  # the prismoid of the pit
        self.assertLess(abs(sum(s.volume for s in made.shares) - whole), 4)  # mitres are square, not round

    def test_stages_and_what_lies_in_none(self) -> None:
        self.taken(flat(10))
        work = self.dug({"level": "9", "outline": square(10, 30)})
        for name, low, high in (("West", 10, 18), ("East", 18, 26)):
            ring = [[low, 0], [high, 0], [high, 40], [low, 40]]
            earthworks.add_stage(self.actor, work, {"name": name, "outline": ring})
        made = self.seen(work)
        stages = {s.name: round(s.value, 6) for s in made.shares[-1].stages}
        self.assertEqual(stages, {"West": 160, "East": 160, NO_STAGE: 80})
        self.assertEqual(made.says, ["80.00 m² lie in no stage."])
        billing.into_bill(self.actor, work, "stage")
        words = {
            i.description: float(i.quantity)
            for s in bill_reading.bill_view(self.actor).sections
            for i in s.items
        }
        self.assertEqual(words["Excavate to formation, ordinary material, West"], 160)

    def test_the_method_that_is_billed_moves_quantities_and_their_parts(self) -> None:
        self.taken(flat(10, hump=2))
        work = self.dug({"level": "9", "outline": square(8, 33)}, spacing="7", bands="1; 4")
        exact = self.share(work, "Ordinary digging")
        version = Earthwork.get(Earthwork.element == work).version
        earthworks.change_earthwork(self.actor, work, version, {"method": "square grid"})
        made = self.seen(work)
        squares = next(m for m in made.methods if m.name == "square grid")
        self.assertNotAlmostEqual(squares.cut, exact, places=2)
        self.assertAlmostEqual(self.share(work, "Ordinary digging"), squares.cut)
        self.assertAlmostEqual(sum(b.value for b in made.shares[-1].bands), squares.cut)
        told = walk(self.actor, f"quantity:{work}:cut").working
        self.assertEqual(told.source, "billed by squares")
        self.assertTrue(told.expression.startswith("exact × cut by squares"))
        label = next(q.label for q in Element.get_by_id(work).quantities if q.output == "cut")
        self.assertEqual(label, "Ordinary digging, by squares")

    def test_several_formations_a_plane_and_a_surface(self) -> None:
        self.taken(flat(10))
        self.taken(flat(8), "below.csv")
        plane = {"level": "9", "at": [10, 10], "grade_east": "10%", "outline": square(10, 20)}
        under = {"surface": self.surface("below"), "outline": square(15, 25)}
        work = self.dug(plane, under)
        # The plane rises from 9 to 10 over the first square; the second counts where the first doesn't lie.
        self.assertAlmostEqual(self.share(work, "Ordinary digging"), 100 * 0.5 + (100 - 25) * 2)
        slope = next(f for f in self.seen(work).formations if f.surface is None)
        earthworks.change_formation(
            self.actor, slope.id, slope.version, {"grade_east": "1:10", "grade_north": "-2 %"}
        )
        self.assertEqual(self.seen(work).says, [])

    def test_a_section_across_any_line_and_levels_on_the_way(self) -> None:
        self.taken(flat(10))
        work = self.dug({"level": "9", "outline": square(10, 30)})
        section = earth_reading.across_view(self.actor, work, [[0, 20], [40, 20]])
        self.assertAlmostEqual(section.cut, 20, delta=0.3)
        ground = next(line for line in section.lines if line.key == "ground")
        self.assertEqual({round(level, 9) for level in ground.levels if level is not None}, {10.0})
        self.assertEqual(surface_reading.level_at(self.actor, self.surface(), 20, 20), 10)
        self.assertIsNone(surface_reading.level_at(self.actor, self.surface(), 90, 20))
        profile = surface_reading.profile_view(self.actor, self.surface(), [[-5, 20], [20, 20]])
        self.assertEqual((profile.levels[0], profile.levels[-1]), (None, 10))


class LevelsDecided(GroundCase):
    def test_by_place_by_kind_and_taken_back(self) -> None:
        rows = flat(10).decode().splitlines()
        rows[40] = rows[40][:-6] + "13.500"
        rows += [f"{rows[5].rsplit(';', 1)[0]};11.000", rows[8], "7;7;", "3;3;0"]
        survey = self.taken("\n".join(rows).encode())
        view = level_reading.survey_view(self.actor, survey)
        found = {d.kind: d.number for d in view.doubts}
        self.assertEqual(
            {k: found[k] for k in ("missing", "zero", "duplicate", "conflict")},
            {"missing": 1, "zero": 1, "duplicate": 1, "conflict": 1},
        )
        self.assertEqual(view.undecided, sum(d.undecided for d in view.doubts))
        # Of two levels at one place the one that is kept counts.
        conflict = level_reading.level_page(self.actor, survey, 0, 10, "conflict").levels[0]
        self.assertFalse(conflict.used)
        surveys.decide(self.actor, survey, "conflict", "keep", [conflict.at])
        for kind in ("zero", "spike", "missing"):
            surveys.decide(self.actor, survey, kind, "leave out")
        worker.work_off()
        view = level_reading.survey_view(self.actor, survey)
        self.assertEqual(view.undecided, 0)
        self.assertIn("Two levels at one place: 1 kept.", view.told)
        self.assertTrue(level_reading.level_page(self.actor, survey, conflict.at, 1).levels[0].used)
        self.assertEqual(ground_view(self.actor).surfaces[0].highest, 11)
        surveys.undecide(self.actor, survey, "zero")
        worker.work_off()
        self.assertGreater(level_reading.survey_view(self.actor, survey).undecided, 0)
        for does, level in (("put right", ""), ("put right", "x"), ("burn", "")):
            with self.assertRaises(BadEntry):
                surveys.decide(self.actor, survey, "spike", does, [1], level)

    def test_units_and_columns_put_right_afterwards(self) -> None:
        feet = "\n".join(
            f"{x},{y},{z * 3.28084:.3f}" for x, y, z in ((0, 0, 10), (30, 0, 11), (30, 20, 12), (0, 20, 11))
        )
        survey = self.taken(feet.encode(), "feet.csv")
        self.assertAlmostEqual(ground_view(self.actor).surfaces[0].highest or 0, 39.37, places=2)
        surveys.change_survey(self.actor, survey, 1, {"level_unit": "ft", "swapped": True})
        worker.work_off()
        self.assertAlmostEqual(ground_view(self.actor).surfaces[0].highest or 0, 12, places=3)
        self.assertEqual(level_reading.survey_view(self.actor, survey).bounds, [0, 0, 20, 30])
        with self.assertRaises(Stale):
            surveys.change_survey(self.actor, survey, 1, {"level_unit": "in"})
        with self.assertRaises(BadEntry):
            surveys.change_survey(self.actor, survey, 2, {"unit": "furlong"})

    def test_typed_levels_are_kept_as_typed_and_looked_through(self) -> None:
        survey = scene.id_of(surveys.add_survey(self.actor, "Trial holes"))
        for east, north, level in (
            ("0", "0", "10"),
            ("20", "0", "10.5"),
            ("20", "15+5", "11"),
            ("0", "20", "10½"),
        ):
            surveys.add_level(self.actor, survey, {"east": east, "north": north, "level": level})
        worker.work_off()
        page = level_reading.level_page(self.actor, survey, 0, 10)
        self.assertEqual([each.level for each in page.levels], [10, 10.5, 11, 10.5])
        self.assertEqual(page.levels[2].entries, ["20", "15+5", "11"])
        self.assertEqual(ground_view(self.actor).surfaces[0].number, 4)
        surveys.change_level(self.actor, page.levels[0].id or 0, 1, {"level": "9"})
        worker.work_off()
        self.assertEqual(ground_view(self.actor).surfaces[0].lowest, 9)
        # One that looks wrong is left out by itself, and typed over where it is put right.
        surveys.decide(self.actor, survey, "", "leave out", [3])
        surveys.decide(self.actor, survey, "", "put right", [1], "10.8")
        worker.work_off()
        self.assertEqual(ground_view(self.actor).surveys[0].used, 3)
        self.assertEqual(level_reading.level_page(self.actor, survey, 1, 1).levels[0].entries[2], "10.8")
        for field, text in (("level", "x"), ("east", "1e12"), ("level", "99999")):
            with self.assertRaises(BadEntry):
                surveys.add_level(self.actor, survey, {field: text})
        surveys.delete_level(self.actor, page.levels[3].id or 0)
        worker.work_off()
        self.assertEqual(ground_view(self.actor).surveys[0].number, 3)
        with self.assertRaises(Refusal):
            surveys.add_level(self.actor, self.taken(flat(1)), {"level": "1"})

    def test_picked_off_a_sheet_by_two_known_points(self) -> None:
        sheet = scene.sheet(self.actor)
        sheets.set_scale_by_ratio(self.actor, sheet.id, sheet.version, "1:500")
        unit = Sheet.get_by_id(sheet.id).metres_per_unit
        survey = scene.id_of(surveys.add_survey(self.actor, "Plan", sheet.id))
        # The sheet's x runs north: a quarter turn.
        north = 1000 + 200 * unit
        for wrong in (
            ((100, 100, "5", "1000"), (100, 100, "5", "1100")),
            ((100, 100, "5", "1000"), (300, 100, "5", "1300")),
        ):
            with self.assertRaises(BadEntry):
                surveys.change_survey(self.actor, survey, 1, {"known": wrong})
        surveys.change_survey(
            self.actor, survey, 1, {"known": [(100, 100, "5", "1000"), (300, 100, "5", f"{north:.4f}")]}
        )
        surveys.add_level(self.actor, survey, {"x": 200.0, "y": 100.0, "level": "12"})
        surveys.add_level(self.actor, survey, {"x": 100.0, "y": 200.0, "level": "13"})
        surveys.add_contour(self.actor, survey, [[120, 120], [200, 150], [260, 120]], "12.5")
        worker.work_off()
        first, second = level_reading.level_page(self.actor, survey, 0, 5).levels
        self.assertAlmostEqual(first.north or 0, 1000 + 100 * unit, places=3)
        self.assertAlmostEqual(first.east or 0, 5, places=3)
        self.assertAlmostEqual(second.east or 0, 5 - 100 * unit, places=3)
        view = level_reading.survey_view(self.actor, survey)
        self.assertEqual(
            (view.picked, [c.level for c in view.contours]), ([[200, 100], [100, 200]], ["12.5"])
        )
        self.assertEqual(ground_view(self.actor).surfaces[0].number, 5)
        with self.assertRaises(BadEntry):
            surveys.add_contour(self.actor, survey, [[1, 1]], "12")


class Surfaces(GroundCase):
    def test_lines_bound_it_and_hold_it_and_it_goes_out_and_comes_back(self) -> None:
        self.taken(flat(10, hump=3))
        surface = self.surface()
        surfaces.add_line(self.actor, surface, "boundary", square(5, 35))
        surfaces.add_line(self.actor, surface, "hole", square(10, 15))
        surfaces.add_line(self.actor, surface, "breakline", [[6, 32, 10.5], [34, 32, 10.5]])
        worker.work_off()
        view = surface_reading.surface_view(self.actor, surface)
        self.assertAlmostEqual(view.plan_area or 0, 900 - 25)
        self.assertAlmostEqual(surface_reading.level_at(self.actor, surface, 20.5, 32) or 0, 10.5)
        self.assertIsNone(surface_reading.level_at(self.actor, surface, 12, 12))
        for kind, read in (("dxf", dxf.read_levels), ("geojson", geojson.read_levels)):
            name, content = surface_reading.surface_file(self.actor, surface, kind)
            faces = read(content, name).faces  # type: ignore[operator]
            self.assertEqual(len(faces), view.triangles)
        name, content = surface_reading.surface_file(self.actor, surface, "landxml")
        self.assertAlmostEqual(
            next(iter(landxml.read_landxml(content, name).surfaces.values())).plan_area, 875
        )
        # Taken in again from LandXML it keeps its triangles.
        self.taken(content, "again.xml")
        again = ground_view(self.actor).surfaces[-1]
        self.assertEqual((again.lowest, again.highest), (view.lowest, view.highest))
        self.assertAlmostEqual(surface_reading.surface_view(self.actor, again.id).plan_area or 0, 875)
        lines = list(GroundLine.select().where(GroundLine.surface == surface).order_by(GroundLine.id))
        surfaces.change_line(self.actor, lines[0].id, 1, square(0, 40))
        surfaces.delete_line(self.actor, lines[1].id)
        worker.work_off()
        self.assertAlmostEqual(surface_reading.surface_view(self.actor, surface).plan_area or 0, 1600)
        for kind, corners, refusal in (
            ("boundary", [[0, 0], [10, 10], [10, 0], [0, 10]], BadShape), ("breakline", [[0, 0], [5, 5, 1]], BadEntry),
            ("wall", square(0, 1), BadEntry), ("hole", [["x", 1], [2, 2], [3, 1]], BadEntry), ("hole", [[0, 0], [1, 1]], BadShape),
            ("boundary", [[1e9, 0], [0, 1], [1, 1]], BadEntry),
        ):  # fmt: skip
            with self.assertRaises(refusal, msg=str(corners)):
                surfaces.add_line(self.actor, surface, kind, corners)

    def test_through_several_surveys_where_the_earlier_counts(self) -> None:
        first = self.taken(flat(10))
        second = self.taken(flat(11, size=20), "later.csv")
        both = scene.id_of(surfaces.add_surface(self.actor, "Both", [first, second]))
        worker.work_off()
        view = surface_reading.surface_view(self.actor, both)
        self.assertEqual((view.lowest, view.highest), (10, 10))
        self.assertIn(
            "Where two surveys have a level at one place, 25 differ; the earlier survey's counts.",
            view.findings,
        )
        surfaces.change_surface(self.actor, both, 1, {"name": "Later only", "surveys": [second]})
        worker.work_off()
        self.assertEqual(surface_reading.surface_view(self.actor, both).lowest, 11)
        for surveys_ in ([], [999_999]):
            with self.assertRaises(Refusal):
                surfaces.add_surface(self.actor, "None", surveys_)
        surveys.delete_survey(self.actor, second)
        self.assertEqual([s.name for s in ground_view(self.actor).surfaces], ["levels"])

    def test_what_is_seen_of_it(self) -> None:
        self.taken(flat(10, hump=3))
        surface = self.surface()
        png = surface_reading.relief_png(self.actor, surface)
        self.assertEqual(png[:8], b"\x89PNG\r\n\x1a\n")
        found = surface_reading.contours_view(self.actor, surface, 1)
        self.assertEqual([c.level for c in found.contours], [11, 12, 13][: len(found.contours)])
        near = surface_reading.near_view(self.actor, surface, (0, 0, 9, 9))
        self.assertFalse(near.many)
        self.assertLess(len(near.triangles), surface_reading.surface_view(self.actor, surface).triangles)
        with self.assertRaises(BadEntry):
            surface_reading.contours_view(self.actor, surface, 0.0001)
        self.assertEqual([surface_reading.fitting(rise) for rise in (0.1, 6, 24, 300)], [0.01, 0.25, 1, 25])


class BadInput(GroundCase):
    def refused(self, content: bytes, name: str = "levels.csv", how: How | None = None) -> str:
        with self.assertRaises(Refusal) as caught:
            surveys.take_in(self.actor, name, content, how or How())
        self.assertFalse(Survey.select().where(Survey.project == self.actor.project_id).exists())
        return caught.exception.sentence

    def test_files_that_hold_no_levels_say_so(self) -> None:
        self.assertIn("is empty", self.refused(b""))
        self.assertIn("is empty", self.refused(b"  \n \n"))
        self.assertIn("No column is", self.refused(b"name,what\na,b\n"))
        self.assertIn("is empty", self.refused(b"\xef\xbb\xbf"))
        self.assertTrue(self.refused(b"PK\x03\x04 nothing", "x.xlsx"))
        self.assertTrue(self.refused(b"0\nSECTION\n2\nENTITIES\n0\nENDSEC\n0\nEOF\n", "x.dxf"))
        self.assertTrue(self.refused(b"<LandXML/>", "x.xml"))
        self.assertTrue(self.refused(b'{"type": "FeatureCollection", "features": []}', "x.geojson"))

    def test_what_cannot_be_laid_says_why_and_loses_nothing(self) -> None:
        self.taken(b"0;0;1\n1;1;2\n", "two.csv")
        self.assertEqual(
            ground_view(self.actor).surfaces[0].says, "A surface needs at least three levels; there are 2."
        )
        self.taken(flat(10), "good.csv")
        good = self.surface("good")
        surfaces.add_line(self.actor, good, "boundary", square(500, 600))
        worker.work_off()
        self.assertIn("holds none of the surface", surface_reading.surface_view(self.actor, good).says)
        history.undo(self.actor)
        worker.work_off()
        work = scene.id_of(earthworks.add_earthwork(self.actor, "E1", "", self.place, good))
        self.assertEqual(
            self.seen(work).says, ["What the ground is brought to isn't said yet. Add a formation."]
        )
        earthworks.add_formation(self.actor, work, {"outline": square(10, 20)})
        self.assertEqual(self.seen(work).says, ["Formation 1 has no level. Type its level."])
        row = Formation.get(Formation.project == self.actor.project_id)
        earthworks.change_formation(self.actor, row.id, 1, {"level": "9", "outline": square(500, 520)})
        self.assertIn("outside the ground", self.seen(work).says[0])
        earthworks.change_formation(self.actor, row.id, 2, {"outline": square(30, 50)})
        made = self.seen(work)
        self.assertEqual(
            made.says, ["300.00 m² of the platform lie where there are no ground levels and are not counted."]
        )
        self.assertAlmostEqual(made.cut or 0, 100)
        # A grid that makes a million squares: that method says so, the others stand.
        version = Earthwork.get(Earthwork.element == work).version
        earthworks.change_earthwork(self.actor, work, version, {"spacing": "0.005"})
        told = {m.name: m.says for m in self.seen(work).methods}
        self.assertIn("more than 1,000,000 cells", told["square grid"])
        self.assertEqual((told["exact"], told["contour areas"]), ("", ""))
        version += 1
        for fields in (
            {"spacing": "0"}, {"interval": "0"}, {"spacing": "-2"}, {"bands": "2; 1"}, {"bands": "x"}, {"method": "guess"},
            {"bulking": "0"}, {"lorry": "-1"}, {"angle": "north"}, {"ground": 999_999},
        ):  # fmt: skip
            with self.assertRaises(Refusal, msg=str(fields)):
                earthworks.change_earthwork(self.actor, work, version, fields)
        for fields in (
            {"outline": [[0, 0], [9, 9], [9, 0], [0, 9]]}, {"cut_batter": "steep"}, {"cut_batter": "0:1"}, {"level": "high"},
            {"grade_east": "1:0"}, {"grade_north": "up"}, {"outline": [[0, 0], [1, 1]]}, {"fill_bench_height": "x"},
        ):  # fmt: skip
            with self.assertRaises(Refusal, msg=str(fields)):
                earthworks.change_formation(self.actor, row.id, 3, fields)
        for fields in ({"name": ""}, {"name": "Clay", "depth": "-1"}, {"name": "Clay", "depth": "deep"}):
            with self.assertRaises(Refusal, msg=str(fields)):
                earthworks.add_class(self.actor, work, fields)
        with self.assertRaises(BadEntry):
            earthworks.add_stage(self.actor, work, {"name": "One"})
        self.assertEqual(Formation.get_by_id(row.id).version, 3)

    def test_only_those_of_the_project_and_only_writers(self) -> None:
        survey = self.taken(flat(10))
        work = self.dug({"level": "9"})
        stranger = scene.project("Other")
        for reads in (
            lambda a: level_reading.survey_view(a, survey), lambda a: surface_reading.relief_png(a, self.surface()),
            lambda a: earth_reading.earthwork_view(a, work), lambda a: earth_reading.map_view(a, work),
            lambda a: surveys.delete_survey(a, survey), lambda a: earthworks.add_class(a, work, {"name": "x"}),
        ):  # fmt: skip
            with self.assertRaises(Missing):
                reads(stranger)
        viewer = Actor(self.actor.person_id, self.actor.project_id, "viewer")
        self.assertTrue(earth_reading.map_view(viewer, work).cut)
        for writes in (
            lambda: surveys.take_in(viewer, "x.csv", flat(1), How()), lambda: surveys.decide(viewer, survey, "spike", "keep"),
            lambda: earthworks.add_formation(viewer, work, {}), lambda: billing.into_bill(viewer, work),
            lambda: surveys.read_file(viewer, "x.csv", flat(1), How()),
        ):  # fmt: skip
            with self.assertRaises(Forbidden):
                writes()

    def test_an_element_that_is_an_earthwork_is_copied_and_deleted_whole(self) -> None:
        self.taken(flat(10))
        work = self.dug({"level": "9", "outline": square(10, 30)})
        earthworks.add_class(self.actor, work, {"name": "Topsoil", "depth": "0.1"})
        copy = scene.id_of(elements.copy_element(self.actor, work, self.place, "E2"))
        self.assertAlmostEqual(self.share(copy, "Topsoil"), 40)
        elements.delete_element(self.actor, work)
        worker.work_off()
        self.assertEqual([e.mark for e in ground_view(self.actor).earthworks], ["E2"])
        history.undo(self.actor)
        self.assertAlmostEqual(self.share(work, "Topsoil"), 40)
        file = json.loads(scene.file_of(self.actor))
        self.assertEqual(len(file["tables"]["earth_class"]), 2)
        again = scene.taken_in(scene.person(), json.dumps(file).encode())
        worker.work_off()
        other = Element.get((Element.project == again.id) & (Element.mark == "E1"))
        self.assertEqual(
            sorted((q.output, round(q.net, 9)) for q in other.quantities),
            sorted((q.output, round(q.net, 9)) for q in Element.get_by_id(work).quantities),
        )
        self.assertTrue(measure_reading.element_view(self.actor, work).quantities)


class TheFeed(GroundCase):
    def test_what_an_instrument_sent_is_listed_seen_and_taken_in(self) -> None:
        self.assertEqual(feed.deliveries(self.actor), [])
        with survey_feed_offered() as address, patch.dict("os.environ", {SURVEY_FEED: address}):
            sent = feed.deliveries(self.actor)
            self.assertEqual(
                [each.name for each in sent], ["stockpile-003.csv", "stockpile-002.csv", "stockpile-001.csv"]
            )
            self.assertEqual(sent[0].made.date().year, date.today().year)
            good = feed.read_delivery(self.actor, sent[1].name, How())
            self.assertEqual(level_reading.seen_view(good, How()).ground, 81)
            survey = scene.id_of(feed.take_delivery(self.actor, sent[0].name, How(), "m", "m", surface=True))
            worker.work_off()
            view = level_reading.survey_view(self.actor, survey)
            self.assertEqual(view.origin, "feed")
            self.assertLessEqual({"missing", "duplicate", "spike"}, {d.kind for d in view.doubts})
            for name in ("../secret", "nothing.csv", ""):
                with self.assertRaises(Refusal):
                    feed.read_delivery(self.actor, name, How())
        with (
            patch.dict("os.environ", {SURVEY_FEED: "http://127.0.0.1:1"}),
            self.assertRaises(Refusal) as caught,
        ):
            feed.deliveries(self.actor)
        self.assertEqual(caught.exception.sentence, "The survey feed can't be reached.")
