"""What an answer says moved is all that moved: a screen that puts it in place shows what reading all again would."""

from __future__ import annotations

from datetime import timedelta
from typing import Any
from unittest.mock import patch

from sandscale.services.answers import moved
from sandscale.services.answers.views import Moved
from sandscale.services.bill import reading as bill_reading
from sandscale.services.bill.views import Foot
from sandscale.services.keeping import worker
from sandscale.services.keeping.acting import Actor
from sandscale.services.measure import reading as measure_reading
from sandscale.services.measure.actions import dimension_lines
from sandscale.services.prices import reading as prices_reading
from sandscale.services.projects import actions as projects
from sandscale.services.rates import reading as rates_reading
from sandscale.services.sheets import reading as sheets_reading
from sandscale.store.models import Change, Element, Project, Sheet, now
from tests import scene
from tests.services.test_any_order import Walk


class Screens:
    """Everything open at once, kept as the interface keeps it: put in place what is told, read again what is named."""

    def __init__(self, actor: Actor, sheet: int) -> None:
        self.actor, self.sheet = actor, sheet
        self.known = moved.pulse(actor, 0).change
        self.kept = self.read()
        self.again = 0

    def read(self) -> dict[str, Any]:
        actor = self.actor
        rows = measure_reading.elements(actor).elements
        outline = bill_reading.bill_outline(actor).model_dump()
        sections = {each["id"]: each for each in outline.pop("sections")}
        return {
            "elements": {e.id: e.model_dump() for e in rows},
            "open": {e.id: measure_reading.element_view(actor, e.id).model_dump() for e in rows},
            "items": {i.id: i.model_dump() for i in bill_reading.bill_items(actor, 0, 400)},
            "sections": sections,
            "foot": {name: outline[name] for name in Foot.model_fields},
            "resources": {r.id: r.model_dump() for r in prices_reading.resources(actor)},
            "build_ups": {b.id: b.model_dump() for b in rates_reading.build_ups(actor)},
            "shapes": {s.id: s.model_dump() for s in sheets_reading.sheet_detail(actor, self.sheet).shapes},
        }

    def hear(self) -> None:
        """Put in place what moved since the last time."""
        with patch.object(moved, "WRITER_TELLS_WITHIN", timedelta(0)):
            told = moved.pulse(self.actor, self.known).moved
        if told is None:
            return
        self.known = told.change
        fresh = self.read()
        tables = {row.table for row in told.rows}
        if "all" in told.again:
            self.again += 1
            self.kept = fresh
            return
        self.read_again(told, tables, fresh)
        self.elements(told, fresh)
        for name, rows in (("items", told.items), ("sections", told.sections)):
            self.put(name, rows)
        self.put("resources", told.resources)
        self.put("build_ups", told.build_ups)
        if told.foot:
            self.kept["foot"] = told.foot.model_dump()
        if self.sheet not in told.sheets and "figures" not in told.again:
            self.put("shapes", [f for f in told.figures if f.sheet == self.sheet], new=True)
            for gone in told.figures_gone:
                self.kept["shapes"].pop(gone.id, None)

    def read_again(self, told: Moved, tables: set[str], fresh: dict[str, Any]) -> None:
        named = {
            "elements": told.order or "elements" in told.again,
            "open": told.outline or "elements" in told.again,
            "items": told.outline or "items" in told.again,
            "sections": told.outline, "foot": told.outline,
            "resources": "resource" in tables or "resources" in told.again,
            "build_ups": "build_up" in tables or "build-ups" in told.again,
            "shapes": self.sheet in told.sheets or "figures" in told.again,
        }  # fmt: skip
        for name, wanted in named.items():
            if wanted:
                self.kept[name] = fresh[name]

    def elements(self, told: Moved, fresh: dict[str, Any]) -> None:
        briefs = list(next(iter(fresh["elements"].values()), {}))
        for element in told.elements:
            view = element.model_dump()
            if element.id in self.kept["elements"]:
                self.kept["elements"][element.id] = {name: view[name] for name in briefs}
            if element.whole:
                self.kept["open"][element.id] = fresh["open"][element.id]
            elif element.id in self.kept["open"]:
                self.kept["open"][element.id] = self.with_lines(self.kept["open"][element.id], view)
        for row in told.rows:
            if row.table == "element" and row.gone:
                self.kept["open"].pop(row.id, None)

    def with_lines(self, was: dict[str, Any], view: dict[str, Any]) -> dict[str, Any]:
        said = view.pop("line_says")
        gone, lines = view.pop("gone"), {line["id"]: line for line in view.pop("lines")}
        view.pop("whole")
        if view["inputs"] is None:
            view.pop("inputs")
        left = [line for line in was["lines"] if line["id"] not in gone and line["id"] not in lines]
        every = sorted([*left, *lines.values()], key=lambda line: (line["position"], line["id"]))
        return {**was, **view, "lines": [{**line, "findings": said.get(line["id"], [])} for line in every]}

    def put(self, name: str, rows: list[Any], *, new: bool = False) -> None:
        for row in rows:
            if new or row.id in self.kept[name]:
                self.kept[name][row.id] = row.model_dump()


class WhatMoved(scene.DatabaseCase):
    def test_screens_that_hear_what_moved_show_what_reading_all_again_would(self) -> None:
        for seed in (3, 8):
            walk = Walk(seed)
            screens = Screens(walk.actor, walk.sheet)
            told_each = screens.known
            for step in range(30):
                walk.step()
                # Each change is told as it is written, and put together for whoever listens now and then.
                with patch.object(moved, "WRITER_TELLS_WITHIN", timedelta(0)):
                    told_each = moved.pulse(walk.actor, told_each).change
                if step % 4 == 1:
                    continue
                screens.hear()
                fresh = screens.read()
                for name in fresh:
                    with self.subTest(seed=seed, step=step, last=walk.last, what=name):
                        self.assertEqual(screens.kept[name], fresh[name])
            self.assertLess(screens.again, 10)  # most are told, not read again

    def test_one_cell_tells_one_element_one_item_and_their_sums(self) -> None:
        actor = scene.project()
        ids = scene.priced(actor)
        worker.work_off()
        saved = dimension_lines.change_line(actor, ids["line"], 1, {"width": "2.00"})
        answer = moved.answered(actor, saved)
        told = answer.moved
        self.assertEqual(
            ([e.id for e in told.elements], [i.id for i in told.items][:1]), ([ids["element"]], [ids["item"]])
        )
        self.assertEqual(
            ([line.id for line in told.elements[0].lines], told.elements[0].whole), ([ids["line"]], False)
        )
        assert told.foot is not None
        self.assertEqual((told.foot.total, answer.bill_total), (scene.total(actor), scene.total(actor)))
        self.assertFalse(told.order or told.outline or told.again)
        self.assertLess(len(answer.model_dump_json()), 6_000)
        # A colleague who knew of the change before is told the same, and nothing is read again for it.
        with patch.object(moved, "since", side_effect=AssertionError):
            self.assertEqual(moved.pulse(actor, (saved.change or 0) - 1).moved, told)
        # What is written this moment is told by its writer's own answer first.
        change = dimension_lines.change_line(actor, ids["line"], 2, {"width": "2.10"})
        heard = moved.pulse(actor, saved.change or 0)
        self.assertEqual((heard.moved, heard.change), (None, saved.change))
        moved.answered(actor, change)
        heard = moved.pulse(actor, (saved.change or 0) - 1)
        assert heard.moved is not None
        self.assertEqual((heard.change, heard.moved.foot.total), (change.change, scene.total(actor)))  # type: ignore[union-attr]
        # Should the writer's server die before it tells, it is told without it after a moment.
        late = dimension_lines.change_line(actor, ids["line"], 3, {"width": "2.20"})
        Change.update(at=now() - timedelta(seconds=5)).where(Change.id == late.change).execute()
        self.assertEqual(moved.pulse(actor, change.change or 0).change, late.change)

    def test_what_moves_everywhere_is_read_again_instead_of_told(self) -> None:
        actor = scene.project()
        scene.priced(actor)
        version = Project.get_by_id(actor.project_id).version
        saved = projects.change_project(actor, version, {"rounding": {"m³": 0}})
        self.assertEqual(moved.answered(actor, saved).moved.again, ["all"])
        sheet = scene.sheet(actor)
        self.assertEqual(Sheet.get_by_id(sheet.id).id, sheet.id)
        for number in range(moved.MOST_ELEMENTS + 1):
            element = scene.element(actor, f"A{number}", "plain-area")
            scene.area(actor, sheet.id, element, [(100, 100), (200, 100), (200, 200)])
        from sandscale.services.sheets import actions as sheets

        drawn = Sheet.get_by_id(sheet.id)
        told = moved.answered(actor, sheets.set_scale_by_ratio(actor, drawn.id, drawn.version, "50")).moved
        self.assertIn("elements", told.again)
        self.assertEqual((told.elements, told.sheets), ([], [sheet.id]))
        self.assertEqual(
            Element.select().where(Element.project == actor.project_id).count(), moved.MOST_ELEMENTS + 2
        )
