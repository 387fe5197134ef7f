"""The change log: what was done, taken back and done again, and two people at one row."""

from __future__ import annotations

import json
import threading
from collections.abc import Callable, Sequence
from decimal import Decimal
from typing import Any

from playhouse.schema_diff import diff_models

from sandscale.core.refusals import Refusal
from sandscale.services.bill import actions as bill
from sandscale.services.keeping import history
from sandscale.services.keeping.acting import Actor, Forbidden, InUse, Missing, Stale
from sandscale.services.measure import reading as measure_reading
from sandscale.services.measure.actions import dimension_lines, elements, figures
from sandscale.services.prices import actions as prices
from sandscale.services.sheets import actions as sheets
from sandscale.services.sheets import reading as sheets_reading
from sandscale.store import models
from sandscale.store.database import database
from sandscale.store.models import Change, ChangeEntry, DimensionLine, Element, Item, ItemLink, QuantityLine
from tests import scene


def document_of(actor: Actor) -> dict[str, Any]:
    """A project as its file has it."""
    found: dict[str, Any] = json.loads(scene.file_of(actor))
    return found


class Tables(scene.DatabaseCase):
    def test_the_migrations_make_the_tables_the_models_describe(self) -> None:
        self.assertFalse(diff_models(database.obj, list(models.ALL_TABLES)))


class Undo(scene.DatabaseCase):
    def test_undo_and_redo_walk_the_whole_project_back_and_forth(self) -> None:
        actor = scene.project()
        states = [document_of(actor)]
        ids = scene.priced(actor)
        sheet = scene.sheet(actor)
        slab = scene.element(actor, "GS1", "plain-area")
        scene.area(actor, sheet.id, slab, [(100, 100), (300, 100), (300, 300), (100, 300)])
        elements.delete_element(actor, ids["element"])
        done = Change.select().where((Change.project == actor.project_id) & (Change.kind == "do")).count()
        totals = [scene.total(actor)]
        states.append(document_of(actor))
        for _ in range(done):
            history.undo(actor)
        with self.assertRaisesRegex(Refusal, "nothing of yours to undo"):
            history.undo(actor)
        self.assertEqual(document_of(actor), states[0])
        self.assertEqual(scene.total(actor), 0)
        for _ in range(done):
            history.redo(actor)
        with self.assertRaisesRegex(Refusal, "nothing to redo"):
            history.redo(actor)
        self.assertEqual(document_of(actor), states[1])
        self.assertEqual(scene.total(actor), totals[0])

    def test_a_deleted_element_comes_back_with_its_lines_figures_links_and_amount(self) -> None:
        actor = scene.project()
        ids = scene.priced(actor)
        before, total = document_of(actor), scene.total(actor)
        self.assertEqual(total, Decimal("648.00"))
        self.assertEqual(elements.delete_element(actor, ids["element"]).bill_total, 0)
        self.assertEqual(QuantityLine.select().where(QuantityLine.element == ids["element"]).count(), 0)
        self.assertEqual(history.undo(actor).bill_total, total)
        self.assertEqual(document_of(actor), before)

    def test_a_new_change_drops_what_could_be_done_again(self) -> None:
        actor = scene.project()
        _, line = scene.pf2(actor)
        dimension_lines.change_line(actor, line, 1, {"width": "2.00"})
        history.undo(actor)
        row = DimensionLine.get_by_id(line)
        dimension_lines.change_line(actor, line, row.version, {"note": "grid B"})
        with self.assertRaisesRegex(Refusal, "nothing to redo"):
            history.redo(actor)
        self.assertEqual(DimensionLine.get_by_id(line).width, "1.80")

    def test_each_person_undoes_their_own_and_never_over_anothers(self) -> None:
        owner = scene.project()
        editor = scene.member(owner, "editor")
        _, line = scene.pf2(owner)
        dimension_lines.change_line(owner, line, 1, {"width": "2.00"})
        dimension_lines.change_line(editor, line, 2, {"width": "2.20"})
        with self.assertRaisesRegex(Refusal, "can't be undone: something it touched was changed since"):
            history.undo(owner)
        self.assertEqual(DimensionLine.get_by_id(line).width, "2.20")
        history.undo(editor)
        history.undo(owner)
        self.assertEqual(DimensionLine.get_by_id(line).width, "1.80")

    def test_an_upload_can_be_undone_and_done_again(self) -> None:
        actor = scene.project()
        scene.sheet(actor, ratio=None)
        before = document_of(actor)
        history.undo(actor)
        self.assertEqual(sheets_reading.drawings(actor), [])
        self.assertEqual(document_of(actor)["tables"]["stored_file"], [])
        history.redo(actor)
        self.assertEqual(document_of(actor), before)


class Log(scene.DatabaseCase):
    def test_every_write_says_what_was_what_is_and_what_it_did_to_the_bill(self) -> None:
        actor = scene.project()
        ids = scene.priced(actor)
        dimension_lines.change_line(actor, ids["line"], 1, {"width": "2.00"})
        change = Change.select().where(Change.project == actor.project_id).order_by(Change.id.desc()).get()
        self.assertEqual(
            (change.label, change.bill_before, change.bill_after),
            ("PF2: width 1.80 → 2.00", Decimal("648.00"), Decimal("720.00")),
        )
        entry = ChangeEntry.get(ChangeEntry.change == change.id)
        self.assertEqual(
            (entry.table_name, entry.row_id, entry.before["width"], entry.after["width"]),
            ("dimension_line", ids["line"], "1.80", "2.00"),
        )
        self.assertEqual(history.history(actor)[0].moved, Decimal("72.00"))

    def test_a_write_that_changes_nothing_leaves_no_trace(self) -> None:
        actor = scene.project()
        _, line = scene.pf2(actor)
        before = Change.select().count()
        self.assertIsNone(dimension_lines.change_line(actor, line, 1, {"width": "1.80"}).change)
        self.assertEqual((Change.select().count(), DimensionLine.get_by_id(line).version), (before, 1))

    def test_a_refused_write_leaves_nothing_behind(self) -> None:
        actor = scene.project()
        ids = scene.priced(actor)
        before, changes = document_of(actor), Change.select().count()
        for act in (
            lambda: bill.add_link(actor, ids["item"], ids["element"], "bars"),
            lambda: dimension_lines.add_line(actor, ids["element"], {"length": "3m²"}),
            lambda: prices.delete_resource(actor, ids["resource"]),
            lambda: bill.change_item(actor, ids["item"], 2, {"unit": "m²"}),
        ):
            with self.assertRaises(Refusal):
                act()
        self.assertEqual((document_of(actor), Change.select().count()), (before, changes))


class TwoPeople(scene.DatabaseCase):
    def test_a_stale_write_is_answered_with_both_values(self) -> None:
        owner = scene.project()
        editor = scene.member(owner, "editor")
        _, line = scene.pf2(owner)
        dimension_lines.change_line(editor, line, 1, {"width": "2.00"})
        with self.assertRaises(Stale) as stale:
            dimension_lines.change_line(owner, line, 1, {"width": "2.40"})
        self.assertEqual(
            (stale.exception.yours, stale.exception.theirs, stale.exception.version),
            ({"width": "2.40"}, {"width": "2.00"}, 2),
        )
        dimension_lines.change_line(owner, line, 2, {"width": "2.40"})
        self.assertEqual(DimensionLine.get_by_id(line).width, "2.40")

    def test_the_same_value_twice_is_no_clash(self) -> None:
        owner = scene.project()
        _, line = scene.pf2(owner)
        dimension_lines.change_line(owner, line, 1, {"width": "2.00"})
        dimension_lines.change_line(owner, line, 1, {"width": "2.00"})

    def test_two_inputs_of_one_element_do_not_clash_but_one_does(self) -> None:
        owner = scene.project()
        element, line = scene.pf2(owner)
        elements.change_element(owner, element, 1, {"inputs": {"cover": "40"}})
        elements.change_element(owner, element, 1, {"inputs": {"leg": "300"}})
        with self.assertRaises(Stale) as stale:
            elements.change_element(owner, element, 2, {"inputs": {"leg": "320"}, "description": "Pad"})
        self.assertEqual(
            (stale.exception.yours, stale.exception.theirs),
            ({"inputs": {"leg": "320"}}, {"inputs": {"leg": "300"}}),
        )
        self.assertEqual(Element.get_by_id(element).inputs, {"cover": "40", "leg": "300"})
        dimension_lines.change_line(owner, line, 1, {"width": "2.00"})
        dimension_lines.change_line(owner, line, 1, {"length": "2.00"})
        with self.assertRaises(Stale):
            dimension_lines.change_line(owner, line, 1, {"length": "2.10"})

    def test_writes_at_the_same_moment_follow_one_another(self) -> None:
        actor = scene.project()
        ids = scene.priced(actor)
        refused: list[BaseException] = []

        def add() -> None:
            try:
                with database.connection_context():
                    for _ in range(5):
                        dimension_lines.add_line(
                            actor, ids["element"], {"times": "1", "length": "1", "width": "1", "height": "1"}
                        )
            except BaseException as error:
                refused.append(error)

        self.together([add] * 4)
        self.assertEqual(refused, [])
        self.assertEqual(scene.total(actor), Decimal("648.00") + 20 * 100)
        self.assertEqual(Item.get_by_id(ids["item"]).quantity, Decimal("26.48"))

    def test_two_inputs_entered_at_the_same_moment_are_both_kept(self) -> None:
        actor = scene.project()
        element, _ = scene.pf2(actor)
        entries = {
            "cover": "40",
            "leg": "300",
            "spacing": "200",
            "blinding": "75",
            "projection": "150",
            "cut_step": "50",
        }

        def enter(key: str) -> Callable[[], None]:
            def entering() -> None:
                with database.connection_context():
                    elements.change_element(actor, element, 1, {"inputs": {key: entries[key]}})

            return entering

        self.together([enter(key) for key in entries])
        self.assertEqual(Element.get_by_id(element).inputs, entries)

    def together(self, acts: Sequence[Callable[[], None]]) -> None:
        threads = [threading.Thread(target=act) for act in acts]
        for thread in threads:
            thread.start()
        for thread in threads:
            thread.join()


class Access(scene.DatabaseCase):
    def test_a_row_of_another_project_is_not_there(self) -> None:
        mine, theirs = scene.project(), scene.project()
        ids, sheet = scene.priced(theirs), scene.sheet(theirs)
        own = scene.element(mine)
        for act in (
            lambda: dimension_lines.change_line(mine, ids["line"], 1, {"width": "9"}),
            lambda: measure_reading.element_view(mine, ids["element"]),
            lambda: sheets_reading.sheet_detail(mine, sheet.id),
            lambda: sheets_reading.tile(mine, sheet.id, 2, 0, 0),
            lambda: figures.draw_figure(mine, sheet.id, own, "count", [(5, 5)]),
            lambda: bill.add_link(mine, ids["item"], own, "concrete"),
            lambda: prices.add_quote(mine, ids["resource"], {}),
        ):
            with self.assertRaises(Missing):
                act()

    def test_a_viewer_may_look_and_not_write(self) -> None:
        owner = scene.project()
        viewer = scene.member(owner, "viewer")
        element, line = scene.pf2(owner)
        self.assertEqual(measure_reading.element_view(viewer, element).mark, "PF2")
        with self.assertRaisesRegex(Forbidden, "You can look at this project"):
            dimension_lines.change_line(viewer, line, 1, {"width": "9"})
        with self.assertRaises(Forbidden):
            history.undo(viewer)

    def test_what_is_in_use_is_not_deleted(self) -> None:
        actor = scene.project()
        ids = scene.priced(actor)
        sheet = scene.sheet(actor)
        figures.draw_figure(actor, sheet.id, ids["element"], "count", [(5, 5)])
        place = Element.get_by_id(ids["element"]).location_id
        section = Item.get_by_id(ids["item"]).section_id
        for act, said in (
            (
                lambda: prices.delete_resource(actor, ids["resource"]),
                "Ready concrete is used in “Concrete in footings”.",
            ),
            (
                lambda: sheets.delete_drawing(actor, sheet.revision.drawing_id),
                "PF2 is measured on drawing S-1.",
            ),
            (lambda: elements.delete_location(actor, place), "holds 1 element."),
            (lambda: bill.delete_section(actor, section), "is not empty."),
            (
                lambda: elements.change_element(actor, ids["element"], 1, {"makeup": "plain-volume"}),
                "The bill draws on “",
            ),
        ):
            with self.assertRaises(InUse) as refused:
                act()
            self.assertIn(said, refused.exception.sentence)
        self.assertEqual(ItemLink.select().where(ItemLink.element == ids["element"]).count(), 4)
