"""Trenches from entries to the bill: kinds, nodes, runs, what is wrong with them, and what a change moves."""

from __future__ import annotations

import json
import math
from typing import Any

import numpy as np

from sandscale.core.refusals import Refusal
from sandscale.services.bill import reading as bill_reading
from sandscale.services.ground.actions import billing, surfaces, surveys
from sandscale.services.ground.reading.overview import ground_view
from sandscale.services.ground.trenches import actions, laying, reading
from sandscale.services.keeping import history, walking, worker
from sandscale.services.keeping.acting import Actor, Forbidden, InUse, Missing, Stale
from sandscale.services.measure.actions import elements, figures
from sandscale.services.shelves import actions as shelves
from sandscale.store.models import Element, Figure, Project, TrenchKind, TrenchNode, TrenchRun
from tests import scene
from tests.services.test_ground import GroundCase, flat

SEWER: dict[str, Any] = {
    "name": "Sewer", "pipe": "DN 250", "bore": "250 mm", "wall": "0.02", "bed": "0.15",
    "layers": [
        {"name": "bed", "mark": "underside", "density": "1.9", "extra": "5"},
        {"name": "surround", "mark": "crown", "over": "0.15"},
    ],
    "restored": [{"name": "topsoil", "thickness": "0.2", "overlap": "0.1"}],
}  # fmt: skip
CIRCLE = math.pi / 4 * 0.29**2


class TrenchCase(GroundCase):
    def kind(self, **fields: Any) -> int:
        return scene.id_of(actions.add_kind(self.actor, {**SEWER, **fields}))

    def net(self, ground: int | None = None) -> int:
        """A network of one run of 50 m, 2.00 m deep, in ground at 10."""
        self.sewer = self.kind()
        work = scene.id_of(actions.add_network(self.actor, "T1", "Sewer", self.place, ground))
        for name, east in (("A", "0"), ("B", "50")):
            fields = {"name": name, "east": east, "north": "0"}
            actions.add_node(self.actor, work, fields if ground else {**fields, "ground": "10"})
        run = {"begins": "A", "ends": "B", "invert_begins": "8.17", "invert_ends": "8.17"}
        actions.add_run(self.actor, work, run)
        worker.work_off()
        return work

    def lines(self, work: int) -> dict[str, float]:
        worker.work_off()
        return {line.output: line.net for line in reading.network_view(self.actor, work).lines}

    def row(self, model: type[Any], **named: str) -> Any:
        return next(
            each for each in model.those(model.project, [self.actor.project_id])
            if all(getattr(each, key) == value for key, value in named.items())
        )  # fmt: skip


class TheWholeJob(TrenchCase):
    def test_a_sewer_by_hand(self) -> None:
        work = self.net()
        found = self.lines(work)
        expected = {
            "dug": 0.9 * 2 * 50, "length": 50, "support": 0, "laid_bed": 0.9 * 0.15 * 50,
            "laid_surround": (0.9 * 0.44 - CIRCLE) * 50, "pipe_dn_250": 50, "pipe_volume": CIRCLE * 50,
            "backfill": 0.9 * 1.21 * 50, "restored_topsoil": 1.1 * 50, "restored_topsoil_volume": 11,
            "bed_tonnes": 6.75 * 1.9 * 1.05, "surplus": 90 - 54.45 / 0.9, "surplus_loose": (90 - 60.5) * 1.25,
        }  # fmt: skip
        for output, value in expected.items():
            self.assertAlmostEqual(found[output], value, places=6, msg=output)
        view = reading.network_view(self.actor, work)
        bed = next(line for line in view.lines if line.output == "laid_bed")
        self.assertAlmostEqual(bed.gross, 6.75 * 1.05)
        self.assertEqual((view.says, view.runs[0].says, view.state), ([], [], "fresh"))
        self.assertAlmostEqual(view.runs[0].cover or 0, 2 - 0.15 - 0.29)
        self.assertEqual(ground_view(self.actor).networks[0].length, 50)

    def test_a_layer_with_a_long_name_has_its_numbers(self) -> None:
        work = self.net()
        course = {"name": "Bituminous wearing course, restored", "thickness": "0.1", "density": "2.4"}
        actions.change_kind(self.actor, self.sewer, 1, {"restored": [course]})
        found = [line for line in self.lines(work) if line.startswith("restored_bituminous")]
        self.assertEqual(len(found), 2)
        self.assertEqual(reading.network_view(self.actor, work).state, "fresh")

    def test_a_change_of_width_moves_item_and_note(self) -> None:
        work = self.net()
        billing.into_bill(self.actor, work, "band")
        items = {i.description: i for s in bill_reading.bill_view(self.actor).sections for i in s.items}
        deep = items["Excavate trenches, 1 to 2 m deep"]
        self.assertEqual((str(deep.quantity), len(items)), ("45.0000", 8))
        ref, item = f"quantity:{work}:dug", f"item-quantity:{deep.id}"
        self.assertIn("T1: 1 run, as entered on", walking.walk(self.actor, item).working.source)
        note = walking.walk(self.actor, ref).working.source
        self.assertIn("Sewer: DN 250, bottom by pipe and depth, 0.15 m below the pipe", note)
        actions.change_kind(self.actor, self.sewer, 1, {"width": "1.2"})
        worker.work_off()
        after = next(
            i for s in bill_reading.bill_view(self.actor).sections for i in s.items if i.id == deep.id
        )
        self.assertEqual(str(after.quantity), "60.0000")
        told = walking.walk(self.actor, ref)
        self.assertIn("bottom 1.2 m", told.working.source)
        self.assertIn("bottom 1.2 m", walking.walk(self.actor, item).working.source)
        self.assertRegex(told.working.source, r"1 run, as entered on \d+ \w+ 20\d\d")
        # From the whole to the run, its spans, and its kind.
        (part,) = told.working.parts
        run = walking.walk(self.actor, part.link)
        self.assertAlmostEqual(run.working.value or 0, 120)
        self.assertEqual(sum(span.value or 0 for span in run.working.parts), run.working.value)
        self.assertEqual(run.comes_from[0].name, "Kind “Sewer”")
        self.assertTrue(walking.walk(self.actor, run.comes_from[0].ref).goes_to)
        history.undo(self.actor)
        worker.work_off()
        self.assertAlmostEqual(self.lines(work)["dug"], 90)

    def test_widths_of_ones_own_go_by_the_depth_of_each_run(self) -> None:
        work = self.net()
        widths = [
            {"depth": "1.50", "width": "0.8"},
            {"depth": "2.0", "width": "1.1"},
            {"depth": "", "width": "1.4"},
        ]
        actions.change_kind(self.actor, self.sewer, 1, {"widths": widths, "width": ""})
        self.assertAlmostEqual(self.lines(work)["dug"], 50 * 2 * 1.1)  # 2.00 m deep
        told = walking.walk(self.actor, f"quantity:{work}:dug").working.source
        self.assertIn("bottom 0.8 m to 1.4 m by depth", told)
        for wrong, says in (
            ([{"depth": "2", "width": "1"}, {"depth": "1", "width": "2"}], "go up"),
            ([{"depth": "", "width": "1"}, {"depth": "3", "width": "2"}], "go up"),
            ([{"depth": "2", "width": ""}], "is missing"), ([{"depth": "x", "width": "1"}], "“x”"),
        ):  # fmt: skip
            with self.assertRaisesRegex(Refusal, says):
                actions.change_kind(self.actor, self.sewer, 2, {"widths": wrong})
        # It goes where the kind goes; a width of the bottom takes its place.
        copy = scene.taken_in(self.actor.person_id, scene.file_of(self.actor))
        kept = TrenchKind.get(TrenchKind.project == copy.id).document["widths"]
        self.assertEqual((kept[0]["depth"], kept[0]["width"]), ("1.50", "0.8"))
        actions.change_kind(self.actor, self.sewer, 2, {"width": "1", "widths": []})
        self.assertAlmostEqual(self.lines(work)["dug"], 100)

    def test_every_quantity_is_the_sum_its_working_says(self) -> None:
        work = self.net()
        second = {
            "name": "Main",
            "pipe": "DN 100",
            "bore": "0.1",
            "wall": "0.01",
            "width": "0.6",
            "supported": True,
        }
        main = self.kind(**second)
        actions.add_node(self.actor, work, {"name": "C", "east": "50", "north": "40", "ground": "10.4"})
        actions.add_run(self.actor, work, {"ends": "C", "invert_ends": "8.5", "kind": main, "stage": "2"})
        node = self.row(TrenchNode, name="B")
        actions.change_node(self.actor, node.id, node.version, {"manhole": "1.0 x 0.8"})
        lines = self.lines(work)
        self.assertEqual(lines["manholes"], 1)
        for output, net in lines.items():
            told = walking.walk(self.actor, f"quantity:{work}:{output}").working
            self.assertAlmostEqual(told.value or 0, net, msg=output)
            if told.parts and told.expression.startswith("Σ of the runs"):
                self.assertAlmostEqual(sum(part.value or 0 for part in told.parts), net, places=9, msg=output)
            for part in told.parts:
                if part.link:
                    walk = walking.walk(self.actor, part.link).working
                    self.assertAlmostEqual(walk.value or 0, part.value or 0, msg=f"{output} of {part.name}")
        # Layers of one name count together, whatever the kind; parts add up to the whole.
        element = Element.get_by_id(work)
        for quantity in element.quantities:
            for split in ("kind", "stage", "band"):
                parts = [p.net for p in element.parts if (p.output, p.split) == (quantity.output, split)]
                if parts:
                    self.assertAlmostEqual(sum(parts), quantity.net, msg=f"{quantity.output} by {split}")
        billing.into_bill(self.actor, work, "stage")
        told_items = [i.description for s in bill_reading.bill_view(self.actor).sections for i in s.items]
        self.assertIn("Excavate trenches, 2", told_items)
        self.assertIn("Excavate trenches, in no stage", told_items)

    def test_drawn_over_a_surface_and_laid_at_one_fall(self) -> None:
        self.taken(flat(10, size=60))
        self.kind()
        work = scene.id_of(actions.add_network(self.actor, "T1", "", self.place, self.surface()))
        laying.draw_runs(self.actor, work, [[5, 5], [35, 5], [35, 45]])
        laying.draw_runs(self.actor, work, [[35.02, 5.01], [55, 5]])
        view = reading.network_view(self.actor, work)
        self.assertEqual([(r.begins, r.ends) for r in view.runs], [("N1", "N2"), ("N2", "N3"), ("N2", "N4")])
        worker.work_off()
        self.assertIn("An invert of run N1–N2", reading.network_view(self.actor, work).runs[0].says[0])
        first = [run.id for run in view.runs[:2]]
        laying.grade_runs(self.actor, work, first, "8.50", "8.15")
        worker.work_off()
        view = reading.network_view(self.actor, work)
        self.assertEqual([r.invert_ends for r in view.runs[:2]], ["8.350", "8.150"])
        self.assertEqual([round(r.fall or 0, 6) for r in view.runs[:2]], [0.005, 0.005])
        self.assertEqual((view.ways, view.nodes[0].level), ([first, [view.runs[2].id]], 10))
        long = reading.long_view(self.actor, work, first[1])
        self.assertEqual((long.length, [n.name for n in long.nodes]), (70, ["N1", "N2", "N3"]))
        self.assertEqual(next(round(place[1], 3) for place in long.lines[2].places), 8.5)
        section = reading.section_view(self.actor, work, first[0], 0)
        self.assertEqual((section.ground, section.stations[0], section.stations[-1]), (10, 0, 30))
        self.assertAlmostEqual(section.depth, 1.67)
        areas = {shape.name: shape.area for shape in section.shapes}
        self.assertAlmostEqual(
            sum(a for n, a in areas.items() if n not in ("dug", "topsoil")) + CIRCLE + 0.18, areas["dug"]
        )
        # The ground changed under it, it follows.
        before = self.lines(work)["dug"]
        history.undo(self.actor)
        self.assertLess(self.lines(work)["dug"], before)

    def test_laid_along_a_run_on_a_sheet_and_moved_with_it(self) -> None:
        work = self.net()
        sheet = scene.sheet(self.actor, "100")
        size = 100 * 0.0254 / 72  # m of a sheet's unit
        with self.assertRaisesRegex(Refusal, "It isn't known where S-1, page 1 lies on the ground"):
            figures.draw_figure(self.actor, sheet.id, work, "run", [[100, 100], [600, 100]])
        known = [[100, 100, "50", "0"], [600, 100, f"{50 + 500 * size}", "0"]]
        surveys.add_survey(self.actor, "Grid", sheet.id, known)
        with self.assertRaisesRegex(Refusal, "goes straight from corner to corner"):
            figures.draw_figure(self.actor, sheet.id, work, "run", [[100, 100], [300, 100, 0.4], [500, 300]])
        with self.assertRaisesRegex(Refusal, "not measured by dimension lines"):
            figures.draw_figure(self.actor, sheet.id, work, "loop", [[100, 100], [300, 100], [300, 300]])
        # It goes on from node B, where it begins.
        corners = [[100, 100], [600, 100], [600, 400]]
        priced = scene.priced(self.actor)
        total = Project.get_by_id(self.actor.project_id).bill_total
        saved = figures.draw_figure(self.actor, sheet.id, work, "run", corners)
        self.assertEqual((saved.bill_total, total > 0, len(priced)), (total, True, 5))
        figure = scene.id_of(saved)
        worker.work_off()
        view = reading.network_view(self.actor, work)
        self.assertEqual([(r.begins, r.ends) for r in view.runs], [("A", "B"), ("B", "N3"), ("N3", "N4")])
        self.assertAlmostEqual(view.nodes[3].x or 0, 50 + 500 * size, places=3)
        told = walking.walk(self.actor, f"quantity:{work}:dug")
        self.assertIn((f"figure:{figure}", sheet.id), [(each.ref, each.target) for each in told.comes_from])
        # Its corners moved, its nodes follow; a corner more is a run more, and what was typed of others stays.
        figures.reshape_figure(self.actor, figure, 1, [*corners[:2], [600, 300]], [])
        heights = [abs(n.y or 0) for n in reading.network_view(self.actor, work).nodes]
        np.testing.assert_allclose(heights, [0, 0, 0, 200 * size], atol=1e-3)
        figures.reshape_figure(self.actor, figure, 2, [*corners[:2], [600, 300], [700, 300]], [])
        view = reading.network_view(self.actor, work)
        self.assertEqual([(r.begins, r.ends) for r in view.runs][2:], [("N3", "N4"), ("N4", "N5")])
        with self.assertRaisesRegex(Refusal, "not measured by dimension lines"):
            figures.copy_figure(self.actor, figure, [[10, 10]])
        elements.delete_element(self.actor, work)
        history.undo(self.actor)
        self.assertEqual(len(reading.network_view(self.actor, work).runs), 4)
        copy = scene.taken_in(self.actor.person_id, scene.file_of(self.actor))
        self.assertEqual(Figure.select().where(Figure.project == copy.id).count(), 1)


class WhatIsWrong(TrenchCase):
    def test_each_is_a_sentence_and_what_can_be_reckoned_is(self) -> None:
        work = self.net()
        kind = self.row(TrenchKind, name="Sewer")
        actions.change_kind(
            self.actor, kind.id, kind.version, {"cover": "1.6", "flattest": "1:200", "steepest": "5 %"}
        )
        for run in (
            {"begins": "B", "ends": "X", "invert_begins": "8", "invert_ends": "8"},
            {"begins": "B", "ends": "C", "invert_begins": "9.9", "invert_ends": "7", "kind": None},
            {"begins": "B", "ends": "D", "invert_begins": "8.2", "invert_ends": "8.3", "kind": kind.id},
            {"begins": "B", "ends": "E", "invert_begins": "9.95", "invert_ends": "9", "kind": kind.id},
            {"begins": "B", "ends": "F", "invert_begins": "8", "invert_ends": "7", "kind": kind.id},
        ):  # fmt: skip
            actions.add_run(self.actor, work, run)
        for name, east, ground in (("C", "60", "10"), ("D", "61", "10"), ("E", "62", "10"), ("F", "70", "")):
            actions.add_node(self.actor, work, {"name": name, "east": east, "north": "0", "ground": ground})
        worker.work_off()
        view = reading.network_view(self.actor, work)
        says = [" ".join(run.says) for run in view.runs]
        for sentence, words in zip(
            says,
            ("1.56 m of cover at 0.00; Sewer asks for 1.60 m", "names node X, which there isn't. It is not counted",
             "of no kind yet", "rises by 0.100 m from B to D", "falls by 7.92 %, steeper than the 5.00 %",
             "ground level at an end of run B–F is not known"),
            strict=True,
        ):  # fmt: skip
            self.assertIn(words, sentence)
        self.assertIn("falls by 0.00 %, flatter than the 0.50 %", says[0])
        self.assertIn("too shallow", says[4])
        self.assertAlmostEqual(view.runs[0].dug or 0, 90)
        self.assertEqual([run.dug is None for run in view.runs], [False, True, True, False, False, True])
        self.assertGreater(self.lines(work)["dug"], 90)

    def test_entries_that_cannot_be_are_refused_and_nothing_is_lost(self) -> None:
        work = self.net()
        for fields in (
            {"name": ""}, {"name": "Sewer"}, {"name": "x", "bore": "wide"}, {"name": "x", "bed": "-1"}, {"name": "x", "bore": ""},
            {"name": "x", "sides": "benched"}, {"name": "x", "sides": "round"}, {"name": "x", "batter": "steep"}, {"name": "x", "more": 1},
            {"name": "x", "layers": [{"name": "a", "mark": "crown"}, {"name": "b", "mark": "underside"}]}, {"name": "x", "layers": "none"},
            {"name": "x", "layers": [{"name": "a", "density": "-1"}]}, {"name": "x", "restored": [{"name": "a", "thickness": "x"}]},
        ):  # fmt: skip
            with self.assertRaises(Refusal, msg=str(fields)) as refused:
                actions.add_kind(self.actor, {**SEWER, **fields})
            self.assertNotRegex(refused.exception.sentence, r"[a-z]\.\d|_")  # no address of a field in it
        node = self.row(TrenchNode, name="A")
        for fields in (
            {"name": "B"}, {"name": ""}, {"east": "here"}, {"ground": "99999"}, {"manhole": "1 x 2 x 3"},
            {"manhole": "-1"}, {"manhole": "0"}, {"base": "x"},
        ):  # fmt: skip
            with self.assertRaises(Refusal, msg=str(fields)):
                actions.change_node(self.actor, node.id, node.version, fields)
        run = self.row(TrenchRun, begins="A")
        for fields in (
            {"invert_begins": "low"}, {"ground": "10"}, {"ground": "5: 1; 3: 1"}, {"kind": 999_999}, {"invert_ends": "1e9"},
        ):  # fmt: skip
            with self.assertRaises(Refusal, msg=str(fields)):
                actions.change_run(self.actor, run.id, run.version, fields)
        for fields in ({"bands": "2; 1"}, {"bulking": "0"}, {"lorry": "-1"}, {"ground": 999_999}):
            with self.assertRaises(Refusal, msg=str(fields)):
                actions.change_network(self.actor, work, 1, fields)
        with self.assertRaises(Refusal):
            laying.draw_runs(self.actor, work, [[3, 3], [3.01, 3]])
        with self.assertRaises(Refusal):
            laying.grade_runs(self.actor, work, [run.id], "x", "1")
        with self.assertRaises(Stale):
            actions.change_run(self.actor, run.id, 99, {"stage": "1"})
        with self.assertRaises(InUse):
            actions.delete_kind(self.actor, self.sewer)
        self.assertEqual(self.row(TrenchRun, begins="A").version, run.version)
        self.assertAlmostEqual(self.lines(work)["dug"], 90)
        drawn = reading.kind_drawn(self.actor, {**SEWER, "bore": "wide"}, 0)
        self.assertEqual((drawn.field, drawn.shapes), ("bore", []))
        self.assertEqual(len(reading.kind_drawn(self.actor, SEWER, 2.0).shapes), 5)

    def test_twin_runs_surfaces_under_trenches_and_runs_of_others(self) -> None:
        """Of two runs from A to B the first lacks an invert: the other keeps its own numbers."""
        self.taken(flat(10, size=60))
        work = self.net(self.surface())
        run = self.row(TrenchRun, begins="A")
        actions.change_run(self.actor, run.id, run.version, {"invert_ends": ""})
        actions.add_run(
            self.actor, work, {"begins": "A", "ends": "B", "invert_begins": "8.17", "invert_ends": "8.17"}
        )
        worker.work_off()
        view = reading.network_view(self.actor, work)
        self.assertEqual([r.dug is None for r in view.runs], [True, False])
        self.assertAlmostEqual(view.runs[1].dug or 0, 90)
        self.assertIn("invert", view.runs[0].says[0])
        told = walking.walk(self.actor, f"trench-run:{work}:0:dug")
        self.assertAlmostEqual(told.working.value or 0, 90)
        self.assertEqual(told.findings, [])
        with self.assertRaises(InUse):
            surfaces.delete_surface(self.actor, self.surface())
        self.assertTrue(walking.walk(self.actor, f"surface:{self.surface()}").goes_to)
        other = scene.id_of(actions.add_network(self.actor, "T2", "", self.place, None))
        with self.assertRaises(Refusal):
            laying.grade_runs(self.actor, other, [run.id], "8", "7")

    def test_only_those_of_the_project_and_only_writers(self) -> None:
        work = self.net()
        stranger = scene.project("Other")
        for reads in (
            lambda a: reading.network_view(a, work), lambda a: reading.kind_view(a, self.sewer),
            lambda a: actions.delete_kind(a, self.sewer), lambda a: actions.add_node(a, work, {}),
            lambda a: laying.draw_runs(a, work, [[0, 0], [9, 9]]), lambda a: reading.section_view(a, work, 1, 0),
        ):  # fmt: skip
            with self.assertRaises(Missing):
                reads(stranger)
        viewer = Actor(self.actor.person_id, self.actor.project_id, "viewer")
        for writes in (
            lambda: actions.add_kind(viewer, {**SEWER, "name": "x"}), lambda: actions.add_run(viewer, work, {}),
            lambda: actions.change_network(viewer, work, 1, {"bands": "1"}), lambda: billing.into_bill(viewer, work),
        ):  # fmt: skip
            with self.assertRaises(Forbidden):
                writes()


class KeptElsewhere(TrenchCase):
    def test_renamed_copied_deleted_and_taken_in_again(self) -> None:
        work = self.net()
        node = self.row(TrenchNode, name="A")
        actions.change_node(self.actor, node.id, node.version, {"name": "MH1"})
        self.assertEqual(self.row(TrenchRun, ends="B").begins, "MH1")
        copy = scene.id_of(elements.copy_element(self.actor, work, self.place, "T2"))
        self.assertAlmostEqual(self.lines(copy)["dug"], 90)
        again = scene.taken_in(scene.person(), scene.file_of(self.actor))
        worker.work_off()
        for mark in ("T1", "T2"):
            other = Element.get((Element.project == again.id) & (Element.mark == mark))
            mine = sorted((q.output, round(q.net, 9)) for q in Element.get_by_id(work).quantities)
            self.assertEqual(sorted((q.output, round(q.net, 9)) for q in other.quantities), mine)
        elements.delete_element(self.actor, work)
        self.assertEqual([n.mark for n in ground_view(self.actor).networks], ["T2"])
        history.undo(self.actor)
        self.assertAlmostEqual(self.lines(work)["dug"], 90)
        actions.delete_node(self.actor, reading.network_view(self.actor, work).nodes[1].id)
        worker.work_off()
        self.assertIn("It has no runs yet.", reading.network_view(self.actor, work).says[0])

    def test_kinds_stand_on_shelves(self) -> None:
        kind = self.kind()
        shelf = shelves.add_shelf(self.actor.person_id, "Water company", "").id
        actions.put_kind_on_shelf(self.actor, kind, shelf)
        other = scene.project("Second")
        with self.assertRaises(Missing):
            actions.take_kind_from_shelf(other, shelf, "sewer")
        row = TrenchKind.get_by_id(kind)
        actions.change_kind(self.actor, kind, row.version, {"bed": "0.3"})
        taken = scene.id_of(actions.take_kind_from_shelf(self.actor, shelf, "sewer"))
        self.assertEqual(TrenchKind.get_by_id(taken).document["bed"], "0.15")
        with self.assertRaises(Refusal):
            shelves.put(self.actor.person_id, shelf, "trench", json.dumps({"name": "x", "bed": "deep"}))
