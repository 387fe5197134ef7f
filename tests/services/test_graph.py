"""The graph of what depends on what; and a second measurer, a slow one, behind the same protocol as make-ups."""

from __future__ import annotations

import io
import unittest
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from datetime import date
from decimal import Decimal
from graphlib import CycleError
from pathlib import Path
from unittest.mock import patch

from openpyxl import load_workbook
from pypdf import PdfReader

from sandscale.core.findings import Finding
from sandscale.core.measurers.measurer import Measured, Part, QuantityLine, uneven
from sandscale.core.numbers.working import Working
from sandscale.core.refusals import BadEntry, Refusal
from sandscale.services.answers import moved
from sandscale.services.bill import actions as bill
from sandscale.services.bill import adjustments, bills
from sandscale.services.bill import reading as bill_reading
from sandscale.services.issue import documents
from sandscale.services.keeping import checking, graph, graph_page, history, walking, worker
from sandscale.services.keeping.acting import Actor, InUse
from sandscale.services.keeping.recording import action, recording
from sandscale.services.measure import measurers
from sandscale.services.measure import reading as measure_reading
from sandscale.services.measure.actions import dimension_lines, elements
from sandscale.services.projects import actions as projects
from sandscale.store import models
from sandscale.store.models import (
    PROJECT_TABLES,
    BeingWorkedOut,
    Change,
    Element,
    Item,
    Project,
    QuantityPart,
)
from tests import scene

# Foreign keys that no derived figure follows, and why.
EXCUSED = {
    "revision.drawing": "a drawing's number is words", "revision.file": "a file never changes",
    "enquiry_line.enquiry": "what is asked moves no figure", "enquiry_line.resource": "as enquiry_line.enquiry",
    "enquiry_supplier.enquiry": "as enquiry_line.enquiry", "enquiry_supplier.supplier": "as enquiry_line.enquiry",
    "answer.enquiry": "an answer counts once it is taken in as a quote", "answer.supplier": "as answer.enquiry",
    "answer.resource": "as answer.enquiry", "quote.answer": "a quote holds all of it",
    "bill.file": "a file never changes", "bill.revision": "a bill that was kept doesn't move",
    "sheet.follows": "what lay on a former sheet is carried over as it comes",
    "changed_place.sheet": "as sheet.follows",
    "order_line.order": "what is ordered moves no figure", "order_line.resource": "as order_line.order",
    "order_line.quote": "as order_line.order", "delivery.line": "as order_line.order",
    "issued_package.bill": "what went out moves no figure", "issued_package.file": "as issued_package.bill",
    "trial_change.trial": "what is only tried moves no figure", "own_form.file": "a form is filled when it is asked for", "form_cell.form": "as own_form.file",
    "sheet.revision": "a sheet's scale is its own", "element.location": "where an element stands is words",
    "section.parent": "a section's sum is of its own items; what lies in it is added when read",
    "cut_member.element": "the node of the bars leads to the cuttings that elements are in",
    "dimension_line.figure": "a figure knows its element itself",
    "survey.source": "a file never changes", "survey.levels": "levels are kept anew in another file",
    "survey.sheet": "the known points picked off it are kept in metres", "level_decision.typed": "a decision knows its survey itself",
    "earthwork.ground": "an element asks for the surfaces it is laid on when they have been found",
    "formation.surface": "as earthwork.ground", "earth_class.surface": "as earthwork.ground",
    "trench_network.ground": "as earthwork.ground", "route.ground": "as earthwork.ground",
}  # fmt: skip


class Graph(unittest.TestCase):
    def test_every_foreign_key_is_followed_by_an_edge_or_excused(self) -> None:
        nodes = graph.nodes().values()
        followed = {key for node in nodes for edge in node.edges for key in edge.through}
        for model in PROJECT_TABLES:
            for key in model._meta.refs:
                if key.rel_model is Project:
                    continue
                name = f"{model._meta.table_name}.{key.name}"
                self.assertEqual(key in followed, name not in EXCUSED, name)

    def test_every_derived_column_is_given_by_one_node(self) -> None:
        given = [field for node in graph.nodes().values() for field in node.gives]
        self.assertEqual(len(given), len(set(given)))
        names = {(field.model, field.name) for field in given}
        for model in (Project, *PROJECT_TABLES):
            for column in model.derived - {"rows_held", "bytes_held"}:  # counted as rows come and go
                self.assertIn((model, column), names)

    def test_a_node_stands_after_those_it_depends_on_and_rings_are_refused(self) -> None:
        order = list(graph.nodes())
        for node in graph.nodes().values():
            for edge in node.edges:
                if isinstance(edge, graph.After) and edge.node != node.name:
                    self.assertLess(order.index(edge.node), order.index(node.name))
        ring = [
            graph.Node(a, models.Item, (), (graph.After(b),), lambda _project, ids: ids)
            for a, b in (("x", "y"), ("y", "x"))
        ]

        class Stage:
            NODES = ring

        graph.nodes.cache_clear()
        self.addCleanup(graph.nodes.cache_clear)
        with patch.object(graph, "parts", lambda _name: [Stage]), self.assertRaises(CycleError):
            graph.nodes()

    def test_the_page_that_draws_it_is_up_to_date(self) -> None:
        kept = (Path(__file__).parents[2] / "docs" / "graph.md").read_text("utf-8")
        self.assertEqual(kept, graph_page.page())


@dataclass(frozen=True)
class Heaps:
    """What is entered for heaps of earth: how much lies in each, by stage of the work."""

    heaps: tuple[tuple[str, float], ...]
    per_load: float


class HeapMeasurer:
    """Earth in heaps, split by stage; slow, as an earthwork is."""

    key, slow = "heaps", True
    counted = 0

    def measure(self, given: Heaps) -> Measured:
        HeapMeasurer.counted += 1
        whole = sum(size for _, size in given.heaps)
        parts = tuple(Part("stage", stage, size, size) for stage, size in given.heaps)
        earth = QuantityLine(
            "earth",
            "Earth in heaps",
            "m³",
            "earth",
            whole,
            0,
            whole,
            "Earth carted away",
            "Earthwork",
            "",
            parts,
        )
        along = QuantityLine("along", "Fence around", "m", "earth", whole / 2, 0, whole / 2)
        found = (
            (Finding("A heap has nothing in it.", wrong=True),)
            if 0 in (size for _, size in given.heaps)
            else ()
        )
        return Measured((earth, along), "earth", found)

    def working(self, given: Heaps, output: str, name: str) -> Working:
        quantity = next(q for q in self.measure(given).quantities if q.output == output)
        figures = " + ".join(f"{size:g}" for _, size in given.heaps)
        return Working(name, quantity.net, quantity.unit, "sum of the heaps", figures)

    def needs(self, given: Heaps) -> tuple[str, ...]:
        return ()


def heaps_of(rows: Sequence[Element], _lines: measurers.Lines) -> dict[int, Heaps]:
    return {
        e.id: Heaps(tuple((k, float(v)) for k, v in sorted(e.inputs.items())), float(e.source)) for e in rows
    }


@action
def heap(actor: Actor, location: int, mark: str, **sizes: str) -> int:
    with recording(actor, f"Heaps {mark}") as log:
        made = log.insert(
            Element, location=location, mark=mark, measurer="heaps", source="8", inputs=sizes, position=99
        )
    return int(made.id)


@action
def change_heap(actor: Actor, element: int, **sizes: str) -> None:
    with recording(actor, "Heaps changed") as log:
        log.update(Element.get_by_id(element), inputs=sizes)


class SecondMeasurer(scene.DatabaseCase):
    def setUp(self) -> None:
        super().setUp()
        known = {**measurers.known(), "heaps": measurers.Entry(HeapMeasurer(), heaps_of)}
        mine = patch.object(measurers, "known", lambda: known)
        mine.start()
        self.addCleanup(mine.stop)
        for module in ("nodes", "proof"):
            other = patch(f"sandscale.services.measure.{module}.known", lambda: known)
            other.start()
            self.addCleanup(other.stop)
        worker.work_off()
        self.actor = scene.project()
        self.heap = heap(self.actor, scene.location(self.actor), "H1", one="100", two="20")

    def item(self, **part: str) -> int:
        section = scene.id_of(bill.add_section(self.actor, "Earth"))
        rate = scene.build_up(self.actor, f"Cart {part}", "m³", [{"resource": self.lorry()}])
        made = scene.id_of(
            bill.add_item(self.actor, section, {"description": "Cart", "unit": "m³", "build_up": rate})
        )
        bill.add_link(self.actor, made, self.heap, "earth", **part)
        return made

    def lorry(self) -> int:
        known = models.Resource.get_or_none(models.Resource.project == self.actor.project_id)
        return int(known.id) if known else scene.resource(self.actor, "Lorry", "plant", "m³", "10")

    def test_it_is_worked_out_by_a_job_and_meanwhile_nothing_old_stands_as_fresh(self) -> None:
        view = measure_reading.element_view(self.actor, self.heap)
        self.assertEqual((view.waiting, view.quantities), (True, []))
        self.assertTrue(
            any(c.rule == "being worked out" and c.severity == "stop" for c in checking.checks(self.actor))
        )
        worker.work_off()
        view = measure_reading.element_view(self.actor, self.heap)
        self.assertEqual((view.waiting, view.quantities[0].net, view.value), (False, 120, 120))
        item = self.item()
        self.assertEqual(scene.total(self.actor), Decimal("1200.00"))
        change_heap(self.actor, self.heap, one="100", two="50")
        outline = bill_reading.bill_outline(self.actor)
        self.assertEqual((outline.resting, outline.total), (Decimal("1200.00"), Decimal("1200.00")))
        self.assertTrue(bill_reading.item_views([item])[0].waiting)
        said = walking.walk(self.actor, f"quantity:{self.heap}:earth").findings
        self.assertIn("is being worked out", said[0])
        known = moved.pulse(self.actor, 0).change
        worker.work_off()
        self.assertEqual(scene.total(self.actor), Decimal("1500.00"))
        # Every tab hears of it, the history tells it, and it isn't anybody's to undo.
        heard = moved.pulse(self.actor, known)
        assert heard.moved is not None
        self.assertEqual((heard.by, heard.label), (None, "H1 worked out"))
        self.assertEqual(
            [(i.id, i.quantity, i.waiting) for i in heard.moved.items], [(item, Decimal(150), False)]
        )
        last = history.history(self.actor, 2**31 - 1, 1)[0]
        self.assertEqual((last.kind, last.moved), ("worked", Decimal("300.00")))
        history.undo(self.actor)
        worker.work_off()
        self.assertEqual(scene.total(self.actor), Decimal("1200.00"))

    def test_what_changed_while_it_was_reckoned_is_not_handed_in(self) -> None:
        change_heap(self.actor, self.heap, one="1")
        HeapMeasurer.counted = 0
        worker.work_off()
        self.assertEqual(HeapMeasurer.counted, 1)  # the first question's job had nothing left to do
        real = HeapMeasurer.measure

        def overtaken(measurer: HeapMeasurer, given: Heaps) -> Measured:
            if given.heaps == (("one", 2.0),):
                change_heap(self.actor, self.heap, one="3")
            return real(measurer, given)

        change_heap(self.actor, self.heap, one="2")
        with patch.object(HeapMeasurer, "measure", overtaken):
            worker.work_off()
        self.assertEqual(measure_reading.element_view(self.actor, self.heap).value, 3)
        self.assertFalse(
            BeingWorkedOut.select().where(BeingWorkedOut.project == self.actor.project_id).exists()
        )
        worked = Change.select().where((Change.project == self.actor.project_id) & (Change.kind == "worked"))
        self.assertEqual(worked.count(), 2)

    def test_what_cannot_be_worked_out_says_so_and_keeps_no_number(self) -> None:
        worker.work_off()
        item = self.item()
        for wrong in (Refusal("The heaps lie apart."), RuntimeError("broken")):
            change_heap(self.actor, self.heap, one=str(len(str(wrong))))
            with patch.object(HeapMeasurer, "measure", side_effect=wrong), self.assertLogs():
                worker.work_off()
            view = measure_reading.element_view(self.actor, self.heap)
            self.assertEqual((view.waiting, view.quantities, Item.get_by_id(item).quantity), (False, [], 0))
            told = "The heaps lie apart." if isinstance(wrong, Refusal) else "could not finish this"
            self.assertIn(told, view.says[0])
            change_heap(self.actor, self.heap, one="5")
            worker.work_off()
            self.assertEqual(Item.get_by_id(item).quantity, 5)

    def test_parts_sum_to_the_whole_and_an_item_draws_on_one(self) -> None:
        worker.work_off()
        one = self.item(split="stage", part="one")
        self.assertEqual(Item.get_by_id(one).quantity, 100)
        with self.assertRaisesRegex(BadEntry, "no part"):
            self.item(split="stage", part="three")
        with self.assertRaisesRegex(BadEntry, "by another split or as a whole"):
            bill.add_link(self.actor, one, self.heap, "earth")
        change_heap(self.actor, self.heap, one="70", two="20")
        worker.work_off()
        self.assertEqual(Item.get_by_id(one).quantity, 70)
        change_heap(self.actor, self.heap, two="20")  # a part that is no more gives nothing
        worker.work_off()
        self.assertEqual(Item.get_by_id(one).quantity, 0)
        rows = QuantityPart.select().where(QuantityPart.element == self.heap)
        self.assertEqual([(row.part, row.net) for row in rows], [("two", 20)])
        whole = QuantityLine(
            "x", "X", "m", "earth", 3, 0, 3, parts=(Part("stage", "a", 1, 1), Part("stage", "b", 1.5, 2))
        )
        self.assertEqual(list(uneven(whole)), ["stage"])

    def test_bill_walk_checks_workbook_and_paper_ask_only_the_protocol(self) -> None:
        change_heap(self.actor, self.heap, one="100", two="0")
        worker.work_off()
        elements.link_to_bill(self.actor, self.heap)
        item = Item.get((Item.project == self.actor.project_id) & (Item.description == "Earth carted away"))
        self.assertEqual((item.quantity, item.section.title), (100, "Earthwork"))
        part = self.item(split="stage", part="one")
        told = walking.walk(self.actor, f"quantity:{self.heap}:earth")
        self.assertEqual((told.working.figures, told.working.value), ("100 + 0", 100))
        self.assertEqual({link.ref for link in told.goes_to}, {f"item-quantity:{i}" for i in (item.id, part)})
        self.assertTrue(any("nothing in it" in check.says for check in checking.checks(self.actor)))
        book = load_workbook(io.BytesIO(documents.bill_workbook(self.actor)[1]))
        cells = [[cell.value for cell in row[:3]] for row in book["Dimensions"].iter_rows()]
        self.assertIn(["Earth in heaps", 100, "m³"], cells)
        self.assertIn(["  stage one", 100, "m³"], cells)
        paper = " ".join(
            p.extract_text() for p in PdfReader(io.BytesIO(documents.dimensions_pdf(self.actor)[1])).pages
        )
        self.assertIn("Earth in heaps", paper)
        # It goes out with the project and comes in again, to be worked out there.
        again = scene.taken_in(self.actor.person_id, scene.file_of(self.actor))
        worker.work_off()
        self.assertEqual(Project.get_by_id(again.id).bill_total, scene.total(self.actor))

    def test_a_line_taken_from_another_result_follows_it(self) -> None:
        worker.work_off()
        kerb = scene.element(self.actor, "K1", "plain-length")
        line = scene.line(self.actor, kerb, "2")
        dimension_lines.take_line(self.actor, line, 1, self.heap, "along")
        self.assertEqual(measure_reading.element_view(self.actor, kerb).value, 120)
        change_heap(self.actor, self.heap, one="10")
        worker.work_off()
        view = measure_reading.element_view(self.actor, kerb)
        self.assertEqual((view.value, view.lines[0].source), (10, "taken from Fence around in H1"))
        self.assertIn(
            f"quantity:{self.heap}:along",
            [link.ref for link in walking.walk(self.actor, f"line:{line}").comes_from],
        )
        other = scene.element(self.actor, "K2", "plain-length")
        second = scene.line(self.actor, other)
        dimension_lines.take_line(self.actor, second, 1, kerb, "net")
        self.assertEqual(measure_reading.element_view(self.actor, other).value, 10)
        with self.assertRaisesRegex(Refusal, "itself taken from"):
            dimension_lines.take_line(self.actor, line, 2, other, "net")
        with self.assertRaisesRegex(BadEntry, "takes a length, an area or a number"):
            dimension_lines.take_line(self.actor, second, 2, self.heap, "earth")
        with self.assertRaisesRegex(InUse, "is taken from"):
            elements.delete_element(self.actor, kerb)


class Bills(scene.DatabaseCase):
    def refs(
        self, actor: Actor, bill_id: int | None = None
    ) -> Iterable[tuple[str, Decimal, Decimal | None, Decimal]]:
        view = bill_reading.bill_view(actor, bill_id)
        return [(i.description, i.quantity, i.rate, i.amount) for s in view.sections for i in s.items]

    def test_an_issued_bill_stays_as_it_was_whatever_moves_later(self) -> None:
        actor = scene.project()
        ids = scene.priced(actor)
        adjustments.add_adjustment(actor, "Risk", "3", "items")
        issued = scene.id_of(bills.issue_bill(actor, "Tender", date(2026, 11, 26)))
        was, total = self.refs(actor), scene.total(actor)
        self.assertEqual(self.refs(actor, issued), was)
        dimension_lines.change_line(actor, ids["line"], 1, {"width": "2.40"})
        self.assertNotEqual(scene.total(actor), total)
        view = bill_reading.bill_view(actor, issued)
        self.assertEqual((self.refs(actor, issued), view.total), (was, total))
        for write in (
            lambda: bill.change_section(actor, view.sections[0].id, 1, "Other"),
            lambda: bill.change_item(actor, view.sections[0].items[0].id, 1, {"description": "Other"}),
            lambda: bill.add_item(actor, view.sections[0].id, {"description": "New", "unit": "m"}),
            lambda: bill.delete_item(actor, view.sections[0].items[0].id),
            lambda: adjustments.change_adjustment(actor, view.adjustments[0].id, 1, {"percent": "1"}),
        ):
            with self.assertRaisesRegex(InUse, "was issued"):
                write()
        again = scene.taken_in(actor.person_id, scene.file_of(actor))
        other = Actor(actor.person_id, again.id, "owner")
        copies = [b for b in bill_reading.bills(other) if b.kind == "issued"]
        self.assertEqual((self.refs(other, copies[0].id), copies[0].total), (was, total))

    def test_a_bill_received_keeps_the_clients_numbers_and_leaves_the_own_total_alone(self) -> None:
        actor = scene.project()
        received = scene.id_of(bills.receive_bill(actor, "From the client", date(2026, 11, 20)))
        section = scene.id_of(bill.add_section(actor, "Preliminaries", bill_id=received))
        fields = {
            "number": "A/10",
            "client_text": "Set up site",
            "typed_rate": "250",
            "rate_reason": "client",
            "typed_quantity": "2",
            "typed_reason": "client",
        }
        item = scene.id_of(bill.add_item(actor, section, {"description": "Set up", "unit": "nr", **fields}))
        view = bill_reading.item_views([item])[0]
        self.assertEqual(
            (view.number, view.client_text, view.amount), ("A/10", "Set up site", Decimal("500.00"))
        )
        self.assertEqual(
            (bill_reading.bill_view(actor, received).total, scene.total(actor)), (Decimal("500.00"), 0)
        )
        own = scene.id_of(bill.add_section(actor, "Own"))
        with self.assertRaisesRegex(BadEntry, "another bill"):
            bill.move_item(actor, item, own)


class Detailing(scene.DatabaseCase):
    def test_the_rules_of_the_project_and_of_an_element_reach_its_bars(self) -> None:
        actor = scene.project()
        made, _ = scene.pf2(actor)

        def bars() -> float:
            return next(q.net for q in measure_reading.element_view(actor, made).quantities if q.unit == "kg")

        standard = bars()
        projects.change_project(actor, 1, {"detailing": "two-diameters"})
        by_project = bars()
        self.assertNotEqual(by_project, standard)
        elements.change_element(actor, made, 1, {"detailing": "bs-8666"})
        self.assertEqual(bars(), standard)
        with self.assertRaisesRegex(BadEntry, "no detailing rules"):
            projects.change_project(actor, 2, {"detailing": "unheard-of"})


if __name__ == "__main__":
    unittest.main()
