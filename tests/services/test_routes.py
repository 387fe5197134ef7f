"""Routes from entries to the bill: typical sections, what is built where, named quantities, what is wrong."""

from __future__ import annotations

import io
import json
import math
from typing import Any

import numpy as np
from openpyxl import load_workbook

from sandscale.core.ground.route.centreline import LongSection, through
from sandscale.core.numbers.ways import held
from sandscale.core.refusals import Refusal
from sandscale.formats.landxml import Alignment, write_landxml
from sandscale.formats.table import as_csv
from sandscale.reports.works import Chosen
from sandscale.services.bill import reading as bill_reading
from sandscale.services.ground.actions import billing, surfaces, surveys
from sandscale.services.ground.reading.overview import ground_view
from sandscale.services.ground.routes import actions, along, files, papers, reading, typicals
from sandscale.services.ground.whole import whole_view
from sandscale.services.keeping import history, walking, worker
from sandscale.services.keeping.acting import Actor, Forbidden, InUse, Missing, Stale
from sandscale.services.measure.actions import elements, figures
from sandscale.services.projects import actions as projects
from sandscale.services.sheets import actions as sheets
from sandscale.services.shelves import actions as shelves
from sandscale.store.models import Element, RouteChange, RouteStretch, TypicalSection
from tests import scene
from tests.services.test_ground import GroundCase, flat, square
from tests.services.test_issue import recalculated

ROAD: dict[str, Any] = {
    "name": "Road",
    "right": [
        {"name": "Carriageway", "width": "3"}, {"name": "Kerb", "width": "0.2", "step": "0.1", "linear": True},
        {"name": "Verge", "width": "0.8", "step": "-0.1"},
    ],
    "layers": [
        {"name": "Wearing", "thickness": "40 mm", "under": ["Carriageway"]},
        {"name": "Binder", "thickness": "60 mm", "under": ["Carriageway"]},
        {"name": "Base", "thickness": "0.2", "under": ["Carriageway"]},
    ],
    "cut": "1:1", "fill": "1:2", "topsoil": "0.2",
}  # fmt: skip
NAMED = (
    {"name": "Bituminous", "layers": "wearing; Binder", "density": "2.4", "extra": "5"},
    {"name": "Crushed base", "layers": "Base"},
    {"name": "Kerbs", "layers": "Kerb"},
)


class RouteCase(GroundCase):
    def route(self, ground: int | None = None, **document: Any) -> int:
        """A straight route of 100 m, 1 m below flat ground at 100."""
        self.road = scene.id_of(typicals.add_typical(self.actor, {**ROAD, **document}))
        if ground is None:
            self.taken(flat(100, 120, 10))
        surface = self.surface() if ground is None else ground
        work = scene.id_of(actions.add_route(self.actor, "R1", "Road", self.place, surface))
        for east, chainage in (("10", "0"), ("110", "100")):
            self.add(work, "corners", east=east, north="60")
            self.add(work, "levels", chainage=chainage, level="99")
        self.add(work, "changes", chainage="0")
        worker.work_off()
        return work

    def add(self, work: int, part: str, **cells: str) -> int:
        return scene.id_of(actions.add_row(self.actor, work, part, cells))

    def named(self, work: int) -> None:
        for each in NAMED:
            self.add(work, "named", **each)
        worker.work_off()

    def lines(self, work: int) -> dict[str, float]:
        worker.work_off()
        return {line.output: line.net for line in reading.route_view(self.actor, work).lines}


class TheWholeJob(RouteCase):
    def test_a_road_by_hand(self) -> None:
        work = self.route()
        self.named(work)
        found = self.lines(work)
        # Carriageway 1.10 m deep below stripped ground, kerbs 0.70, verges 0.80, and the batters' triangles.
        cut = 6 * 1.1 + 0.4 * 0.7 + 1.6 * 0.8 + 0.8**2
        expected = {
            "length": 100, "cut": cut * 100, "fill": 0, "topsoil_strip": 0.2 * 10 * 100,
            "named_bituminous": 6 * 0.1 * 100, "named_bituminous_tonnes": 144, "named_crushed_base": 120,
            "named_kerbs": 200, "strip_carriageway": 600, "strip_verge": 160, "top_base": 600,
            "trimmed_formation": 800, "trimmed_slopes": 2 * math.sqrt(2) * 100, "surplus": cut * 100,
            "surplus_loose": cut * 125, "imported": 0,
        }  # fmt: skip
        for output, value in expected.items():
            self.assertAlmostEqual(found[output], value, places=6, msg=output)
        view = reading.route_view(self.actor, work)
        self.assertEqual((view.says, view.state, view.layers), ([], "fresh", ["Wearing", "Binder", "Base"]))
        tonnes = next(line for line in view.lines if line.output == "named_bituminous_tonnes")
        self.assertAlmostEqual(tonnes.gross, 144 * 1.05)
        self.assertEqual(ground_view(self.actor).routes[0].length, 100)
        # What spreads beyond the carriageway leaves room below the verge, which is filled again.
        spread = [*ROAD["layers"][:2], {**ROAD["layers"][2], "spread": "0.5"}]
        typicals.change_typical(self.actor, self.road, 1, {"layers": spread})
        found = self.lines(work)
        # Above the spread base, 0.1 m below the carriageway: under the kerb 0.2 m wide, under the verge 0.3.
        self.assertAlmostEqual(found["fill_beside_layers"], 2 * (0.2 * 0.2 + 0.3 * 0.1) * 100)
        self.assertAlmostEqual(found["cut"], (cut + 2 * (0.2 * 0.4 + 0.3 * 0.3)) * 100)

    def test_a_change_of_thickness_moves_item_and_note(self) -> None:
        work = self.route()
        self.named(work)
        for name, begins, ends, stage in (("Gate", "0", "40", "First"), ("Yard", "40", "100", "")):
            self.add(work, "stretches", name=name, begins=begins, ends=ends, stage=stage)
        worker.work_off()
        billing.into_bill(self.actor, work, "stretch")
        items = self.items()
        self.assertEqual(str(items["Crushed base, Gate"].quantity), "48.0000")
        # By its mass.
        self.assertEqual(str(items["Bituminous, Yard"].quantity), f"{144 * 0.6:.4f}")
        ref = f"quantity:{work}:named_bituminous"
        self.assertIn("Wearing 0.04 m", walking.walk(self.actor, ref).working.source)
        thicker = [{**ROAD["layers"][0], "thickness": "50 mm"}, *ROAD["layers"][1:]]
        typicals.change_typical(self.actor, self.road, 1, {"layers": thicker})
        worker.work_off()
        self.assertEqual(str(self.items()["Bituminous, Yard"].quantity), f"{158.4 * 0.6:.4f}")
        told = walking.walk(self.actor, ref)
        self.assertIn("Wearing 0.05 m", told.working.source)
        self.assertRegex(told.working.source, r"a section every 20 m, as entered on \d+ \w+ 20\d\d")
        self.assertEqual(
            [each.name for each in told.comes_from], ["Typical section “Road”", "Ground, levels"]
        )
        # Each layer, each stretch, each span.
        wearing, binder = told.working.parts
        self.assertAlmostEqual(wearing.value or 0, 30)
        self.assertEqual([part.name for part in binder.parts], ["Gate", "Yard"])
        self.assertEqual(binder.parts[0].parts[0].figures, "(0.360 + 0.360) / 2 × 20.00")
        # What there is at one section, and the typical section it comes from.
        section = walking.walk(self.actor, f"route-section:{work}:1:bituminous")
        self.assertAlmostEqual(section.working.value or 0, 6 * 0.11)
        self.assertEqual(section.goes_to[0].ref, ref)
        cut = walking.walk(self.actor, f"route-section:{work}:1:cut").working
        self.assertAlmostEqual(cut.value or 0, sum(part.value or 0 for part in cut.parts))
        history.undo(self.actor)
        self.assertAlmostEqual(self.lines(work)["named_bituminous"], 60)

    def items(self) -> dict[str, Any]:
        return {i.description: i for s in bill_reading.bill_view(self.actor).sections for i in s.items}

    def test_every_quantity_is_the_sum_its_working_says_by_every_rule(self) -> None:
        work = self.route()
        self.named(work)
        wide = {**ROAD, "name": "Wide", "right": [{**ROAD["right"][0], "width": "4"}, *ROAD["right"][1:]]}
        typicals.add_typical(self.actor, wide)
        second = scene.id_of(actions.add_row(self.actor, work, "changes", {"chainage": "30", "taper": "20"}))
        row = RouteChange.get_by_id(second)
        other = TypicalSection.get(
            TypicalSection.name == "Wide", TypicalSection.project == self.actor.project_id
        )
        actions.change_row(self.actor, "changes", second, row.version, {}, other.id)
        self.add(work, "corners", east="110", north="120")
        corners = reading.route_view(self.actor, work).corners
        actions.change_row(self.actor, "corners", corners[1].id, 1, {"radius": "30", "east": "60"})
        self.add(work, "stretches", name="Bend", begins="33", ends="71.5", stage="2")
        for rule in ("mean area", "prismoidal", "frustum"):
            row = actions.route_of(self.actor, work)
            actions.change_route(self.actor, work, row.version, {"rule": rule, "lorry": "8"})
            lines = self.lines(work)
            self.assertEqual(reading.route_view(self.actor, work).state, "fresh")
            for output, net in lines.items():
                told = walking.walk(self.actor, f"quantity:{work}:{output}").working
                self.assertAlmostEqual(told.value or 0, net, places=6, msg=output)
                if told.expression.startswith("Σ"):
                    self.assertAlmostEqual(self.sum_of(told), net, places=6, msg=f"{output} by {rule}")
            element = Element.get_by_id(work)
            for quantity in element.quantities:
                for split in ("stretch", "stage", "layer"):
                    parts = [p.net for p in element.parts if (p.output, p.split) == (quantity.output, split)]
                    if parts:
                        self.assertAlmostEqual(sum(parts), quantity.net, msg=f"{quantity.output} by {split}")
        # The table by chainage adds up to the same, and each section that is drawn has the areas it tells.
        table = along.table_view(self.actor, work, 0, 400)
        for name, volumes, total in zip(table.names, table.volumes, table.totals, strict=True):
            self.assertAlmostEqual(sum(v or 0 for v in volumes), total, places=4, msg=name)
        self.assertAlmostEqual(table.totals[0], lines["named_bituminous"])
        page = along.sections_view(self.actor, work, 0, 40)
        self.assertEqual([round(s.chainage, 4) for s in page.sections], table.chainages)
        for section in page.sections:
            areas = {name: column[section.at] for name, column in zip(table.names, table.areas, strict=True)}
            for shape in section.shapes:
                drawn = sum(reading.ring_area(ring) for ring in shape.rings)
                self.assertAlmostEqual(drawn, shape.area, places=3, msg=f"{shape.name} at {section.chainage}")
            told = {shape.name: shape.area for shape in section.shapes}
            self.assertAlmostEqual(told["Base"], areas["Crushed base"] or 0, places=5)
            self.assertAlmostEqual(told["cut"], areas["cut"] or 0, places=5)

    def sum_of(self, working: Any) -> float:
        """What the innermost parts add up to."""
        if not working.parts:
            return float(working.value or 0)
        return sum(self.sum_of(part) for part in working.parts)

    def test_drawn_over_the_ground_brought_in_and_along_a_run_on_a_sheet(self) -> None:
        work = self.route()
        actions.draw_centreline(self.actor, work, [[10, 10], [60, 10], [60, 10], [60, 90]])
        for chainage, level in ((130.0, 98.5), (60.0, 99.25), (60.02, 99.5)):
            actions.draw_level(self.actor, work, chainage, level)
        view = reading.route_view(self.actor, work)
        self.assertEqual(len(view.corners), 3)
        chainages = [each.cells["chainage"] for each in view.levels]
        self.assertEqual(chainages, ["0", "60.00", "100", "130.00"])
        self.assertEqual(view.levels[1].cells["level"], "99.500")
        self.assertEqual(self.lines(work)["length"], 130)
        corners = b"Easting;Northing;Radius\n10;60;\n80,5;60;20\n80,5;110;\n"
        files.bring_in(self.actor, work, "corners", "line.csv", corners)
        self.assertAlmostEqual(self.lines(work)["length"], 120.5 - 40 + 10 * math.pi)
        levels = b"chainage,level,vc\n0,99,\n50,98.5,20\n112,99,\n"
        files.bring_in(self.actor, work, "levels", "long.csv", levels)
        long = along.long_view(self.actor, work)
        self.assertEqual([(p.chainage, p.level, p.name) for p in long.points][1], (50, 98.5, "20"))
        self.assertEqual({round(z or 0, 3) for _, z in long.ground}, {100})
        for content, says in (
            (b"1;2\n3;x\n", "Row 2 of “f.csv” isn't an easting and a northing"), (b"", "is empty"),
            (b"1;2\n", "holds 1 row"), (b"\x00\xff\x01\x00", "f.csv"),
        ):  # fmt: skip
            with self.assertRaisesRegex(Refusal, says):
                files.bring_in(self.actor, work, "corners", "f.csv", content)
        with self.assertRaisesRegex(Refusal, "goes back: chainage 5 stands after 9"):
            files.bring_in(self.actor, work, "levels", "f.csv", b"0;1\n9;1\n5;1\n")
        self.assertAlmostEqual(self.lines(work)["length"], 120.5 - 40 + 10 * math.pi)

    def test_along_a_run_measured_on_a_sheet(self) -> None:
        work = self.route()
        sheet = scene.sheet(self.actor, "100")
        size = 100 * 0.0254 / 72  # m of a sheet's unit
        # A quarter of a circle between two straights, on the sheet's own places; not yet on the ground.
        turn = math.tan(math.pi / 8)
        run = [[100, 100], [600, 100, turn], [800, 300], [800, 700]]
        figure = scene.id_of(figures.draw_figure(self.actor, sheet.id, work, "run", run))
        worker.work_off()
        self.assertIn("It isn't known where", reading.route_view(self.actor, work).says[0])
        self.assertEqual(reading.runs_view(self.actor, work), [])
        known = [[100, 100, "30", "30"], [100, 600, "30", f"{30 + 500 * size}"]]
        surveys.add_survey(self.actor, "Grid", sheet.id, known)
        long = (900 + 100 * math.pi) * size
        self.assertAlmostEqual(self.lines(work)["length"], long)
        view = reading.route_view(self.actor, work)
        np.testing.assert_allclose(view.bounds, [30, 30, 30 + 700 * size, 30 + 600 * size])
        self.assertEqual([each.figure for each in reading.runs_view(self.actor, work)], [figure])
        told = walking.walk(self.actor, f"quantity:{work}:cut")
        self.assertIn((f"figure:{figure}", sheet.id), [(each.ref, each.target) for each in told.comes_from])
        # It follows its run and the sheet's known points; another may go along it, and then it stays.
        figures.reshape_figure(self.actor, figure, 1, [[100, 100], [500, 100]], [])
        self.assertAlmostEqual(self.lines(work)["length"], 400 * size)
        other = scene.id_of(actions.add_route(self.actor, "R2", "", self.place, self.surface()))
        actions.change_route(self.actor, other, 1, {"figure": figure})
        with self.assertRaisesRegex(InUse, "Route R2 goes along this run"):
            figures.delete_figure(self.actor, figure)
        with self.assertRaisesRegex(InUse, "Route R2 goes along this run"):
            elements.delete_element(self.actor, work)
        actions.change_route(self.actor, other, 2, {"figure": None})
        figures.delete_figure(self.actor, figure)
        with self.assertRaisesRegex(InUse, "Levels “Grid” are picked off drawing"):
            sheets.delete_drawing(self.actor, sheet.revision.drawing_id)
        self.assertAlmostEqual(self.lines(work)["length"], 100)

    def test_a_landxml_file_and_sections_from_elsewhere(self) -> None:
        work = self.route()
        line = through([(10, 60), (70, 60), (70, 100)], [15], begin=100)
        two = {"A": Alignment(line, LongSection(((100, 99, 0), (200, 98, 0)))), "B": Alignment(line)}
        content = write_landxml({}, two)
        with self.assertRaisesRegex(Refusal, "holds 2 alignments: A, B"):
            files.bring_in(self.actor, work, "corners", "road.xml", content)
        files.bring_in(self.actor, work, "corners", "road.xml", content, "A")
        view = reading.route_view(self.actor, work)
        self.assertEqual(
            (view.from_file, view.begins, view.levels[0].cells["chainage"]), (True, "100", "100")
        )
        change = RouteChange.get(RouteChange.route == view.route)
        self.assertAlmostEqual(self.lines(work)["length"], line.end - 100, msg=change.chainage)
        # Sections given as lines stand in place of what is built: 2 m² of wearing over 20 m, then one is missing.
        rows = ["chainage;layer;offset;level"]
        for at, wearing in ((0, 10.0), (20, 10.0), (40, None)):
            tops = {"wearing": wearing, "base": 9.8, "formation": 9.3}
            rows += [f"{at};{n};{x};{z}" for n, z in tops.items() if z for x in (-5, 5)]
            rows += [f"{at};ground;{x};11" for x in (-5, 5)]
        files.bring_in(self.actor, work, "sections", "s.csv", "\n".join(rows).encode())
        found = self.lines(work)
        view = reading.route_view(self.actor, work)
        self.assertEqual((view.from_top, view.imported), ("wearing; base; formation", 3))
        self.assertAlmostEqual(found["named_wearing"], 2 * 20 + 2 / 2 * 20)
        self.assertAlmostEqual(found["named_base"], 5 * 40)
        self.assertAlmostEqual(found["cut"], 17 * 40)
        self.assertIn("Wearing has no area at chainage 40.", view.says)
        drawn = along.sections_view(self.actor, work, 0, 9).sections
        self.assertEqual(
            [(s.name, round(s.area, 6)) for s in drawn[0].shapes][:2],
            [("cut", 17), ("wearing", 2)],
        )
        files.drop_sections(self.actor, work)
        self.assertEqual(reading.route_view(self.actor, work).imported, 0)


class OutOfIt(RouteCase):
    def test_the_workbook_recalculates_to_the_same_by_every_rule_in_a_bend(self) -> None:
        work = self.route()
        self.named(work)
        self.add(work, "corners", east="110", north="120")
        corners = reading.route_view(self.actor, work).corners
        actions.change_row(self.actor, "corners", corners[1].id, 1, {"radius": "30", "east": "60"})
        self.add(work, "stretches", name="=Bend", begins="33", ends="71.5")
        for rule in ("mean area", "prismoidal", "frustum"):
            row = actions.route_of(self.actor, work)
            actions.change_route(self.actor, work, row.version, {"rule": rule})
            lines = self.lines(work)
            content = papers.workbook(self.actor, work, Chosen())
            book = recalculated(load_workbook(io.BytesIO(content)))
            told = {r[0].value: r for r in book["Summary"].iter_rows(min_row=5) if r[0].value}
            self.assertAlmostEqual(told["Bituminous"][2].value, lines["named_bituminous"], places=6, msg=rule)
            self.assertAlmostEqual(told["Bituminous"][4].value, lines["named_bituminous_tonnes"], places=6)
            for label, output in (("Kerbs", "named_kerbs"), ("cut", "cut"), ("fill", "fill")):
                self.assertAlmostEqual(
                    told[label][2].value, lines[output], places=6, msg=f"{label} by {rule}"
                )
        formulas = load_workbook(io.BytesIO(content))
        self.assertIn("SQRT", formulas["Bituminous"]["D6"].value)
        self.assertEqual(formulas["Summary"]["C5"].value[:2], "='")
        chosen = load_workbook(io.BytesIO(papers.workbook(self.actor, work, Chosen(names=("Kerbs",)))))
        self.assertEqual(chosen.sheetnames, ["Summary", "Kerbs"])
        table = as_csv(papers.table_of(self.actor, work, Chosen(names=("Kerbs", "cut"))).rows())
        rows = table.decode("utf-8-sig").splitlines()
        self.assertEqual(rows[0], "chainage m,Kerbs nr,Kerbs m,cut m²,cut m³")
        self.assertAlmostEqual(sum(float(r.split(",")[2]) for r in rows[1:]), lines["named_kerbs"], places=4)

    def test_earthworks_trenches_and_routes_summed_as_one_job(self) -> None:
        work = self.route()
        self.add(work, "stretches", name="Gate", begins="0", ends="40", stage="First")
        pit = self.dug({"level": "98", "outline": square(20, 40)}, mark="E1")
        found = self.lines(work)
        own = self.seen(pit)
        whole = {row.name: row for row in whole_view(self.actor, "work").rows}
        cut = whole["Excavate to formation, ordinary material"]
        self.assertEqual(whole_view(self.actor, "work").heads, ["R1", "E1"])
        self.assertAlmostEqual(cut.values[0], found["cut"])
        self.assertAlmostEqual(cut.values[1], own.methods[0].cut)
        self.assertAlmostEqual(cut.whole, sum(cut.values))
        self.assertEqual(cut.refs, [f"quantity:{work}:cut", f"quantity:{pit}:cut"])
        for by, heads in (("stage", ["First", ""]), ("stretch", ["R1 Gate", ""])):
            view = whole_view(self.actor, by)  # type: ignore[arg-type]
            self.assertEqual(view.heads, heads)
            row = next(row for row in view.rows if row.name == cut.name)
            self.assertAlmostEqual(row.values[0], found["cut"] * 0.4)
            self.assertAlmostEqual(row.whole, cut.whole)
        self.assertEqual(whole_view(scene.project("Other"), "work").rows, [])


class WhatIsWrong(RouteCase):
    def test_each_is_a_sentence_with_its_chainage_and_what_can_be_reckoned_is(self) -> None:
        work = self.route()
        self.named(work)
        self.add(work, "named", name="Footway slabs", layers="Slabs")
        self.add(work, "named", name="Verges", layers="Verge; Base")
        self.add(work, "named", name="Granite")
        for name, begins, ends in (("A", "0", "60"), ("B", "50", "140"), ("C", "30", "20")):
            self.add(work, "stretches", name=name, begins=begins, ends=ends)
        self.add(work, "corners", east="160", north="60")
        narrow = [{**ROAD["layers"][0], "under": ["Carriageway"]}]
        bare = scene.id_of(typicals.add_typical(self.actor, {**ROAD, "name": "Bare", "layers": narrow}))
        second = self.add(work, "changes", chainage="80")
        actions.change_row(self.actor, "changes", second, 1, {}, bare)
        found = self.lines(work)
        view = reading.route_view(self.actor, work)
        rows = {row.cells.get("name"): row.says for row in (*view.named, *view.stretches)}
        self.assertIn("nothing of the route is so named: 0.00 to 100.00", rows["Footway slabs"])
        self.assertIn("Verges gathers strips, which Base is none of", rows["Verges"])
        self.assertIn("Granite counts nothing: 0.00 to 100.00", rows["Granite"])
        self.assertIn("overlap from 50.00 to 60.00", rows["B"])
        self.assertIn("lies outside the route, which goes from 0.00 to 100.00", rows["B"])
        self.assertIn("Stretch C, 30.00 to 20.00, ends where it begins", rows["C"])
        says = " ".join(view.says)
        for sentence in (
            "The long section is given from 0 to 100 only", "Base has no area at chainages 100 to 150.",
            "The ground isn't known over the whole width at chainages 120.00 to 150.00",
        ):  # fmt: skip
            self.assertIn(sentence.replace("100 to 150", "80 to 100"), says)
        self.assertAlmostEqual(found["named_verges"], 160)
        self.assertAlmostEqual(found["cut"] + 0, found["cut"])

    def test_what_lacks_is_asked_for(self) -> None:
        self.taken(flat(100, 120, 10))
        typicals.add_typical(self.actor, ROAD)
        work = scene.id_of(actions.add_route(self.actor, "R1", "", self.place, None))

        def says() -> str:
            worker.work_off()
            return reading.route_view(self.actor, work).says[0]

        self.assertIn("It has no centreline yet.", says())
        for east in ("10", "60", "110"):
            self.add(work, "corners", east=east, north="60")
        self.assertIn("It has no long section yet.", says())
        for chainage, level in (("50", "99"), ("0", "99")):
            self.add(work, "levels", chainage=chainage, level=level)
        self.assertIn("goes back: chainage 0.00 stands after 50.00", says())
        levels = reading.route_view(self.actor, work).levels
        actions.change_row(self.actor, "levels", levels[0].id, 1, {"chainage": "-10"})
        self.assertIn("It has no typical section yet.", says())
        first = self.add(work, "changes", chainage="0")
        self.assertIn("It has no ground yet.", says())
        actions.change_route(self.actor, work, 1, {"ground": self.surface()})
        corners = reading.route_view(self.actor, work).corners
        actions.change_row(self.actor, "corners", corners[1].id, 1, {"north": "90", "radius": "400"})
        self.assertIn("don't fit on it", says())
        actions.change_row(self.actor, "corners", corners[1].id, 2, {"radius": "40"})
        worker.work_off()
        self.assertEqual(reading.route_view(self.actor, work).state, "fresh")
        self.add(work, "changes", chainage="0")
        self.assertIn("Two typical sections begin at chainage 0.00", says())
        actions.delete_row(self.actor, "changes", first)

    def test_entries_that_cannot_be_are_refused_and_nothing_is_lost(self) -> None:
        work = self.route()
        self.named(work)
        before = self.lines(work)
        for given, says in (
            ({**ROAD, "name": "road"}, "There is a typical section “road” already."), ({"name": ""}, "can't be read at name"),
            ({"name": "x", "right": [{"name": "a"}]}, "has no width"),
            ({"name": "x", "right": [{"name": "a", "width": "1"}] * 2}, "Two strips on the right are named “a”"),
            ({"name": "x", "right": ROAD["right"], "layers": [*ROAD["layers"], ROAD["layers"][0]]}, "have one name"),
            ({"name": "x", "right": ROAD["right"], "layers": [{"name": "L", "under": ["Path"]}]}, "lies under Path"),
            ({"name": "x", "right": ROAD["right"], "cut": "steep"}, "steep"), ({"name": "x", "odd": 1}, "at odd"),
        ):  # fmt: skip
            with self.assertRaisesRegex(Refusal, says):
                typicals.add_typical(self.actor, given)
        for part, cells, says in (
            ("named", {"name": "kerbs"}, "already"), ("named", {"layers": "Base; Base"}, "Base is named twice"),
            ("named", {"density": "-1"}, "-1"), ("levels", {"level": "99999"}, "can't be"),
            ("corners", {"radius": "-5"}, "-5"), ("corners", {"east": "far"}, "far"), ("stretches", {"odd": "1"}, "odd"),
            ("levels", {"chainage": "1e30"}, "1e30|can't"),
        ):  # fmt: skip
            with self.assertRaisesRegex(Refusal, says):
                self.add(work, part, **cells)
        for fields, says in (
            ({"interval": "0"}, "more than 0 m apart"), ({"bulking": "0"}, "above zero"), ({"rule": "odd"}, "rule"),
            ({"interval": "0.0001"}, "kept"), ({"from_top": "a; a"}, "a stands twice"), ({"begins": "1e12"}, "can't"),
        ):  # fmt: skip
            row = actions.route_of(self.actor, work)
            if says == "kept":  # it can be typed, and is told once it is worked out
                actions.change_route(self.actor, work, row.version, fields)
                worker.work_off()
                self.assertIn("can't be made here", reading.route_view(self.actor, work).says[0])
                history.undo(self.actor)
                continue
            with self.assertRaisesRegex(Refusal, says):
                actions.change_route(self.actor, work, row.version, fields)
        with self.assertRaises(Stale):
            actions.change_route(self.actor, work, 0, {"interval": "5"})
        with self.assertRaisesRegex(InUse, "Route R1 is built like “Road” from chainage 0"):
            typicals.delete_typical(self.actor, self.road)
        with self.assertRaisesRegex(InUse, "is used by R1"):
            surfaces.delete_surface(self.actor, self.surface())
        with self.assertRaises(Missing):
            self.add(work, "odd")
        self.assertEqual(self.lines(work), before)

    def test_names_that_read_alike_or_are_long_keep_numbers_of_their_own(self) -> None:
        long = "Bituminous binder course, upper layer"
        strips = [{"name": "Lane-1", "width": "2"}, {"name": "Lane 1", "width": "1"}]
        names = (long, f"{long} and lower", "Sub-base", "Sub base")
        layers = [
            {"name": n, "thickness": f"0.{at}", "under": ["Lane-1"]} for at, n in enumerate(names, start=1)
        ]
        work = self.route(right=strips, layers=layers)
        for name in names:
            self.add(work, "named", name=name, density="2")
        worker.work_off()
        lines = {line.label: line for line in reading.route_view(self.actor, work).lines}
        for at, name in enumerate(names, start=1):
            line = lines[f"{name}, by mass"]
            self.assertAlmostEqual(line.net, 4 * at / 10 * 100 * 2)
            told = walking.walk(self.actor, f"quantity:{work}:{line.output}").working
            self.assertAlmostEqual(told.value or 0, line.net)
        self.assertAlmostEqual(lines["Lane 1, its surface"].net, 200)
        table = along.table_view(self.actor, work, 0, 9)
        for key, name, areas in zip(table.keys, table.names, table.areas, strict=True):
            section = walking.walk(self.actor, f"route-section:{work}:1:{key}").working
            self.assertAlmostEqual(section.value or 0, areas[1] or 0, places=5, msg=name)
        with self.assertRaisesRegex(Refusal, "can't be called “Fill”"):
            typicals.change_typical(self.actor, self.road, 1, {"layers": [{**layers[0], "name": "Fill"}]})
        with self.assertRaisesRegex(Refusal, "needs a name"):
            self.add(work, "named", layers="Sub-base")

    def test_what_is_drawn_or_brought_in_is_in_metres_whatever_the_projects_units(self) -> None:
        work = self.route()
        self.named(work)
        shelf = shelves.add_shelf(self.actor.person_id, "Authority", "").id
        typicals.put_typical_on_shelf(self.actor, self.road, shelf)
        typicals.put_names_on_shelf(self.actor, work, shelf, "Authority")
        projects.change_project(self.actor, 1, {"unit_system": "us"})
        with held("us"):
            actions.draw_centreline(self.actor, work, [[10, 60], [70, 60]])
            actions.draw_level(self.actor, work, 60.0, 99.0)
            typicals.take_typical_from_shelf(self.actor, shelf, "road")
            typicals.match_names(self.actor, work, shelf, "authority")
            worker.work_off()
            view = reading.route_view(self.actor, work)
            self.assertAlmostEqual(view.length or 0, 60)
            cut = next(line for line in view.lines if line.output == "cut")
            self.assertEqual(cut.unit, "yd³")
            self.assertAlmostEqual(cut.net, 8.8 * 60 / 0.9144**3)
            for part, content, says in (
                ("levels", b"0;99999\n9;1\n", "Level 99999 can't be"),
                ("corners", b"0;0;\n9;1;-5\n18;9;\n", "Radius -5 can't be"),
            ):
                with self.assertRaisesRegex(Refusal, says):
                    files.bring_in(self.actor, work, part, "f.csv", content)
        again = scene.taken_in(scene.person(), scene.file_of(self.actor))
        worker.work_off()
        other = Element.get((Element.project == again.id) & (Element.mark == "R1"))
        self.assertAlmostEqual({q.output: q.net for q in other.quantities}["cut"], cut.net)

    def test_only_those_of_the_project_and_only_writers(self) -> None:
        work = self.route()
        stranger = scene.project("Other")
        row = RouteStretch.get_by_id(self.add(work, "stretches", name="a", begins="0", ends="9"))
        for reads in (
            lambda a: reading.route_view(a, work), lambda a: reading.typical_view(a, self.road),
            lambda a: along.sections_view(a, work, 0, 4), lambda a: along.table_view(a, work, 0, 4),
            lambda a: along.long_view(a, work), lambda a: along.haul_view(a, work), lambda a: reading.plan_view(a, work),
            lambda a: actions.add_row(a, work, "corners", {}), lambda a: actions.delete_row(a, "stretches", row.id),
            lambda a: typicals.delete_typical(a, self.road), lambda a: files.drop_sections(a, work),
            lambda a: actions.change_row(a, "stretches", row.id, 1, {"name": "b"}),
        ):  # fmt: skip
            with self.assertRaises(Missing):
                reads(stranger)
        viewer = Actor(self.actor.person_id, self.actor.project_id, "viewer")
        for writes in (
            lambda: typicals.add_typical(viewer, {**ROAD, "name": "x"}), lambda: actions.add_row(viewer, work, "levels", {}),
            lambda: actions.draw_centreline(viewer, work, [[0, 0], [9, 9]]), lambda: actions.draw_level(viewer, work, 1, 1),
            lambda: files.bring_in(viewer, work, "corners", "f", b"1;1"), lambda: billing.into_bill(viewer, work),
        ):  # fmt: skip
            with self.assertRaises(Forbidden):
                writes()


class KeptElsewhere(RouteCase):
    def test_copied_deleted_and_taken_in_again(self) -> None:
        work = self.route()
        self.named(work)
        self.add(work, "stretches", name="a", begins="0", ends="50", stage="1")
        before = self.lines(work)
        copy = scene.id_of(elements.copy_element(self.actor, work, self.place, "R2"))
        self.assertEqual(self.lines(copy), before)
        again = scene.taken_in(scene.person(), scene.file_of(self.actor))
        worker.work_off()
        for mark in ("R1", "R2"):
            other = Element.get((Element.project == again.id) & (Element.mark == mark))
            self.assertEqual({q.output: q.net for q in other.quantities}, before)
        elements.delete_element(self.actor, work)
        self.assertEqual([r.mark for r in ground_view(self.actor).routes], ["R2"])
        history.undo(self.actor)
        self.assertEqual(self.lines(work), before)

    def test_typical_sections_and_lists_of_names_stand_on_shelves(self) -> None:
        work = self.route()
        shelf = shelves.add_shelf(self.actor.person_id, "Road authority", "").id
        typicals.put_typical_on_shelf(self.actor, self.road, shelf)
        with self.assertRaisesRegex(Refusal, "needs a name of its own"):
            typicals.put_names_on_shelf(self.actor, work, shelf, "Authority")
        self.named(work)
        typicals.put_names_on_shelf(self.actor, work, shelf, "Authority")
        other = scene.project("Second")
        with self.assertRaises(Missing):
            typicals.take_typical_from_shelf(other, shelf, "road")
        row = TypicalSection.get_by_id(self.road)
        typicals.change_typical(self.actor, self.road, row.version, {"topsoil": "0.3"})
        taken = scene.id_of(typicals.take_typical_from_shelf(self.actor, shelf, "road"))
        self.assertEqual(TypicalSection.get_by_id(taken).document["topsoil"], "0.2")
        # Matched by name to a new route in one action.
        copy = scene.id_of(actions.add_route(self.actor, "R2", "", self.place, self.surface()))
        typicals.match_names(self.actor, copy, shelf, "authority")
        names = [row.cells["name"] for row in reading.route_view(self.actor, copy).named]
        self.assertEqual(names, ["Bituminous", "Crushed base", "Kerbs"])
        for kind, source in (
            ("typical section", {"name": "x"}),
            ("names", {"name": "x", "named": [{"name": ""}]}),
        ):
            with self.assertRaises(Refusal):
                shelves.put(self.actor.person_id, shelf, kind, json.dumps(source))  # type: ignore[arg-type]
