"""The measuring desk's services: figures and scales, blocks of lines, gangs and sums, shelves, checks, jobs, people, history."""

from __future__ import annotations

import asyncio
import threading
from datetime import timedelta
from decimal import Decimal
from typing import Any
from unittest.mock import patch

from sandscale.core.refusals import BadEntry, BadFormula, BadShape, Refusal
from sandscale.services.answers import moved
from sandscale.services.bill import actions as bill
from sandscale.services.bill import adjustments
from sandscale.services.bill import reading as bill_reading
from sandscale.services.keeping import checking, history, jobs, worker
from sandscale.services.keeping.acting import Actor, Missing, Stale
from sandscale.services.measure import reading as measure_reading
from sandscale.services.measure.actions import dimension_lines, elements, figures, makeups
from sandscale.services.measure.actions.dimension_lines import LineEdit
from sandscale.services.rates import actions as rates
from sandscale.services.rates import lines as rate_lines
from sandscale.services.rates import reading as rates_reading
from sandscale.services.sheets import actions as sheets
from sandscale.services.sheets import bringing_in
from sandscale.services.sheets import reading as sheets_reading
from sandscale.services.shelves import actions as shelves
from sandscale.store.database import database
from sandscale.store.models import (
    DimensionLine,
    Figure,
    Item,
    Job,
    Membership,
    QuantityLine,
    Quote,
    Sheet,
    now,
)
from tests import scene
from tests.core.test_makeups import SOURCE


def net(element: int, output: str) -> float:
    return float(QuantityLine.get((QuantityLine.element == element) & (QuantityLine.output == output)).net)


def says(actor: Actor) -> list[str]:
    return [check.says for check in checking.checks(actor)]


class FiguresAndScales(scene.DatabaseCase):
    def setUp(self) -> None:
        super().setUp()
        self.actor = scene.project()
        self.sheet = scene.sheet(self.actor)

    def draw(self, element: int, kind: str, points: list[Any]) -> int:
        return scene.id_of(figures.draw_figure(self.actor, self.sheet.id, element, kind, points))

    def again(self) -> Sheet:
        return Sheet.get_by_id(self.sheet.id)

    def test_a_run_measures_a_strip_and_a_closed_one_its_ring(self) -> None:
        strip = scene.element(self.actor, "SF1", "plain-length")
        metre = 1 / float(self.again().metres_per_unit)
        run = self.draw(strip, "run", [[100, 100], [100 + 5 * metre, 100]])
        self.assertAlmostEqual(net(strip, "net"), 5)
        half = self.draw(strip, "run", [[100, 100, 1.0], [100 + 2 * metre, 100]])
        self.assertAlmostEqual(net(strip, "net"), 5 + 3.141592653589793)
        figures.delete_figure(self.actor, half)
        self.draw(
            strip,
            "loop",
            [[100, 100], [100 + 3 * metre, 100], [100 + 3 * metre, 100 + 2 * metre], [100, 100 + 2 * metre]],
        )
        self.assertAlmostEqual(net(strip, "net"), 15)
        figures.reshape_figure(self.actor, run, 1, [[100, 100], [100 + 6 * metre, 100]], [])
        self.assertAlmostEqual(net(strip, "net"), 16)

    def test_a_figure_is_moved_and_repeated_with_its_line(self) -> None:
        column = scene.element(self.actor, "C1", "plain-number")
        figure = self.draw(column, "count", [[100, 100], [120, 100]])
        figures.copy_figure(self.actor, figure, [[50.0, 0.0], [100.0, 0.0]])
        self.assertEqual(net(column, "net"), 6)
        figures.move_figure(self.actor, figure, 1, [0.0, 30.0])
        self.assertEqual(Figure.get_by_id(figure).geometry["points"], [[100, 130], [120, 130]])
        with self.assertRaisesRegex(BadShape, "off the sheet"):
            figures.copy_figure(self.actor, figure, [[1e5, 0.0]])
        history.undo(self.actor)
        history.undo(self.actor)
        self.assertEqual(net(column, "net"), 2)

    def test_a_detail_is_measured_at_its_own_scale_and_a_figure_across_counts_nothing(self) -> None:
        slab = scene.element(self.actor, "S1", "plain-area")
        self.draw(slab, "area", [[100, 100], [200, 100], [200, 200], [100, 200]])
        whole = net(slab, "net")
        sheets.add_scale_area(
            self.actor, self.sheet.id, [(90.0, 90.0), (210.0, 90.0), (210.0, 210.0), (90.0, 210.0)], "1:10"
        )
        ratio = float(self.again().metres_per_unit) / (0.0254 / 72 * 10)
        self.assertAlmostEqual(net(slab, "net"), whole / ratio**2)
        self.draw(slab, "area", [[150, 250], [250, 250], [250, 150], [205, 150]])
        self.assertTrue(any("across the edge of a scale area" in said for said in says(self.actor)))
        with self.assertRaisesRegex(BadShape, "overlaps another scale area"):
            sheets.add_scale_area(
                self.actor, self.sheet.id, [(200.0, 200.0), (300.0, 200.0), (300.0, 300.0)], "20"
            )

    def test_a_new_scale_moves_every_figure_and_says_how_many(self) -> None:
        slab = scene.element(self.actor, "S1", "plain-area")
        self.draw(slab, "area", [[100, 100], [200, 100], [200, 200], [100, 200]])
        before = net(slab, "net")
        done = sheets.set_scale_by_ratio(self.actor, self.sheet.id, self.again().version, "200")
        self.assertIn("1 figure measured anew", done.label)
        self.assertAlmostEqual(
            net(slab, "net"), before * (200 * 0.0254 / 72 / float(self.sheet.metres_per_unit)) ** 2
        )
        sheets.set_scale_stretched(
            self.actor,
            self.sheet.id,
            self.again().version,
            ((0.0, 0.0), (100.0, 0.0)),
            "2",
            ((0.0, 0.0), (0.0, 100.0)),
            "3",
        )
        self.assertAlmostEqual(net(slab, "net"), 6)

    def test_a_second_known_length_is_kept_and_checked(self) -> None:
        metres = 200 * float(self.sheet.metres_per_unit)
        sheets.prove_scale(
            self.actor,
            self.sheet.id,
            self.again().version,
            (100.0, 100.0),
            (300.0, 100.0),
            f"{metres * 1.02:.4f}",
        )
        self.assertTrue(any("too short" in said for said in says(self.actor)))
        sheets.prove_scale(
            self.actor, self.sheet.id, self.again().version, (100.0, 100.0), (300.0, 100.0), f"{metres:.4f}"
        )
        self.assertEqual(says(self.actor), [])
        detail = sheets_reading.sheet_detail(self.actor, self.sheet.id)
        self.assertAlmostEqual(detail.proof.off, 0, places=3)  # type: ignore[union-attr]

    def test_what_the_page_holds_is_read_by_a_job_and_found_by_words(self) -> None:
        for known in (False, True):  # the same file again is known from the first time
            bringing_in.add_drawing(self.actor, "N-1.pdf", scene.pdf(1, (731.0, 517.0)), scene.PRICE_DATE)
            sheet = sheets_reading.drawings(self.actor)[-1].sheets[0].id
            self.assertEqual(
                sheets_reading.sheet_detail(self.actor, sheet).content, "read" if known else "waiting"
            )
            self.assertEqual(sheets_reading.page_lines(self.actor, sheet) == b"", not known)
            worker.work_off()
            self.assertEqual(sheets_reading.sheet_detail(self.actor, sheet).content, "read")
            self.assertEqual(len(sheets_reading.page_lines(self.actor, sheet)), 4 * 16)

    def test_areas_that_overlap_are_among_the_checks(self) -> None:
        slab = scene.element(self.actor, "S1", "plain-area")
        self.draw(slab, "area", [[100, 100], [200, 100], [200, 200], [100, 200]])
        second = self.draw(slab, "area", [[150, 100], [250, 100], [250, 200], [150, 200]])
        self.assertTrue(any("Two areas overlap" in said for said in says(self.actor)))
        figures.delete_figure(self.actor, second)
        self.assertEqual(says(self.actor), [])


class Lines(scene.DatabaseCase):
    def test_a_block_is_one_change_refused_as_one_and_undone_as_one(self) -> None:
        actor = scene.project()
        element = scene.element(actor, "K1", "plain-volume")
        line = scene.line(actor, element, "", "1", "1", "1")
        block = [
            LineEdit(line, 1, {"length": "2"}),
            *(LineEdit(None, 0, {"length": str(n), "width": "1", "height": "1"}) for n in range(1, 4)),
        ]
        dimension_lines.change_lines(actor, element, block)
        self.assertAlmostEqual(net(element, "net"), 2 + 1 + 2 + 3)
        with self.assertRaises(BadEntry) as refused:
            dimension_lines.change_lines(
                actor, element, [LineEdit(line, 2, {"length": "9"}), LineEdit(None, 0, {"width": "wide"})]
            )
        self.assertEqual(refused.exception.field, "1.width")
        self.assertAlmostEqual(net(element, "net"), 8)
        with self.assertRaises(Stale):
            dimension_lines.change_lines(actor, element, [LineEdit(line, 1, {"length": "5"})])
        history.undo(actor)
        self.assertAlmostEqual(net(element, "net"), 1)

    def test_lines_move_and_are_copied_to_another_element_figures_and_all(self) -> None:
        actor = scene.project()
        one, two = (scene.element(actor, mark, "plain-area") for mark in ("S1", "S2"))
        figure = scene.area(
            actor, scene.sheet(actor).id, one, [(100, 100), (200, 100), (200, 200), (100, 200)]
        )
        scene.line(actor, one, "", "2", "3")
        whole = net(one, "net")
        lines = [line.id for line in DimensionLine.select().where(DimensionLine.element == one)]
        dimension_lines.move_lines(actor, lines, two, copy=True)
        self.assertAlmostEqual(net(two, "net"), whole)
        dimension_lines.move_lines(actor, lines, two, copy=False)
        self.assertAlmostEqual(net(two, "net"), 2 * whole)
        self.assertEqual((net(one, "net"), Figure.get_by_id(figure).element_id), (0, two))
        place = scene.location(actor)
        made = scene.id_of(elements.copy_element(actor, two, place, "S9", figures=True))
        self.assertAlmostEqual(net(made, "net"), 2 * whole)
        bare = scene.id_of(elements.copy_element(actor, two, place, "S10"))
        self.assertAlmostEqual(net(bare, "net"), 12)

    def test_find_and_replace_in_one_element_or_all(self) -> None:
        actor = scene.project()
        elements = [scene.element(actor, mark, "plain-volume") for mark in ("K1", "K2")]
        for element in elements:
            scene.line(actor, element, "2", "1.80", "1", "1", note="Grid A to B")
        self.assertEqual(dimension_lines.replace(actor, elements[0], "length", "1.80", "2").id, 1)
        self.assertEqual([net(element, "net") for element in elements], [4, 3.6])
        self.assertEqual(dimension_lines.replace(actor, None, "note", "grid a", "Axis 1").id, 2)
        self.assertEqual(
            {line.note for line in DimensionLine.select().where(DimensionLine.project == actor.project_id)},
            {"Axis 1 to B"},
        )
        with self.assertRaisesRegex(Refusal, "stands in no width"):
            dimension_lines.replace(actor, None, "width", "7", "8")
        with self.assertRaises(BadEntry):
            dimension_lines.replace(actor, None, "height", "1", "tall")

    def test_a_line_is_put_up_and_down(self) -> None:
        actor = scene.project()
        element = scene.element(actor, "K1", "plain-number")
        ids = [scene.line(actor, element, str(n)) for n in (1, 2, 3)]
        dimension_lines.move_line(actor, ids[2], -2)
        self.assertEqual(
            [line.times for line in measure_reading.element_view(actor, element).lines], ["3", "1", "2"]
        )


class RatesAndBill(scene.DatabaseCase):
    def test_a_gang_counts_each_in_his_own_group_and_a_percentage_its_group(self) -> None:
        actor = scene.project()
        mason, helper = (
            scene.resource(actor, "Mason", "labour", "h", "34.50"),
            scene.resource(actor, "Labourer", "labour", "h", "27.20"),
        )
        mixer = scene.resource(actor, "Mixer", "plant", "h", "5.00")
        gang = scene.id_of(rates.add_build_up(actor, {"name": "Masons", "kind": "gang"}))
        for resource, number in ((mason, "2"), (helper, "1"), (mixer, "1")):
            rate_lines.add_build_up_line(
                actor, gang, {"resource": resource, "quantity": number, "basis": "unit"}
            )
        wall = scene.id_of(
            rates.add_build_up(actor, {"name": "Wall", "unit": "m²", "output": "1.9", "hours": "1"})
        )
        rate_lines.add_build_up_line(actor, wall, {"nested": gang})
        rate_lines.add_build_up_line(
            actor, wall, {"basis": "percent", "percent_of": "labour", "quantity": "4"}
        )
        view = rates_reading.build_up_view(actor, wall)
        groups = {group.group: group.unit_price for group in view.groups}
        # (2 × 34.50 + 27.20) / 1.9 = 50.63; 5 / 1.9 = 2.63; 4 % of labour 2.03.
        self.assertEqual(
            [f"{groups[name]:.2f}" for name in ("labour", "plant", "sundries")], ["50.63", "2.63", "2.03"]
        )
        self.assertEqual((view.rate, len(view.lines)), (Decimal("55.29"), 2))
        quote = Quote.get(Quote.resource == mason)
        scene.prices.change_quote(actor, quote.id, 1, {"price": Decimal("38.00")})
        self.assertEqual(rates_reading.build_up_view(actor, wall).rate, Decimal("59.12"))

    def test_each_kind_of_item_has_its_own_amount_and_the_bases_are_named(self) -> None:
        actor = scene.project()
        section = scene.id_of(bill.add_section(actor, "Sums"))
        scene.priced(actor)  # 648.00
        for kind, amount in (
            ("provisional", "1000"),
            ("prime_cost", "500"),
            ("lump_sum", "250"),
            ("heading", ""),
            ("rate_only", ""),
        ):
            bill.add_item(
                actor, section, {"kind": kind, "description": kind, "unit": "nr", "typed_amount": amount}
            )
        view = bill_reading.bill_view(actor)
        self.assertEqual((view.items_total, view.set_aside), (Decimal("2398.00"), Decimal("1500.00")))
        with self.assertRaisesRegex(BadEntry, "Only a sum has its amount typed"):
            bill.add_item(actor, section, {"description": "x", "unit": "nr", "typed_amount": "5"})
        for name, percent, base in (
            ("Risk", "10", "work"),
            ("Discount", "-5", "after:Risk"),
            ("Tax", "20", "running"),
        ):
            adjustments.add_adjustment(actor, name, percent, base)
        worked = {a.name: (a.on, a.adds) for a in bill_reading.bill_view(actor).adjustments}
        self.assertEqual(worked["Risk"], (Decimal("898.00"), Decimal("89.80")))
        self.assertEqual(worked["Discount"], (Decimal("2487.80"), Decimal("-124.39")))
        self.assertEqual(worked["Tax"], (Decimal("2363.41"), Decimal("472.68")))
        risk = next(a for a in bill_reading.bill_view(actor).adjustments if a.name == "Risk")
        with self.assertRaisesRegex(Refusal, "Discount is taken on the total after Risk"):
            adjustments.delete_adjustment(actor, risk.id)
        with self.assertRaisesRegex(Refusal, "doesn't stand before it"):
            adjustments.move_adjustment(actor, risk.id, 2)
        adjustments.change_adjustment(actor, risk.id, risk.version, {"name": "Contingency"})
        self.assertIn("after:Contingency", [a.base for a in bill_reading.bill_view(actor).adjustments])

    def test_items_and_sections_are_put_elsewhere(self) -> None:
        actor = scene.project()
        one, two = (scene.id_of(bill.add_section(actor, title)) for title in ("One", "Two"))
        a, b, c = (
            scene.id_of(bill.add_item(actor, one, {"description": words, "unit": "nr"})) for words in "abc"
        )
        bill.move_item(actor, c, one, before=a)
        bill.move_item(actor, b, two)
        bill.move_section(actor, two, None, before=one)
        self.assertEqual(
            [(s.title, [i.description for i in s.items]) for s in bill_reading.bill_view(actor).sections],
            [("Two", ["b"]), ("One", ["c", "a"])],
        )
        bill.move_section(actor, one, two)
        with self.assertRaisesRegex(BadEntry, "can't lie within itself"):
            bill.move_section(actor, two, one)
        self.assertEqual([s.ref for s in bill_reading.bill_view(actor).sections], ["1", "1.1"])


class Shelves(scene.DatabaseCase):
    def test_a_project_sees_that_a_shelf_moved_on_and_what_taking_it_would_move(self) -> None:
        first, second = scene.project(), scene.project()
        shelf = shelves.add_shelf(first.person_id, "Water boards", "").id
        own = scene.id_of(makeups.add_makeup(first, SOURCE))
        makeups.put_on_shelf(first, own, shelf)
        with self.assertRaises(Missing):
            makeups.take_from_shelf(second, shelf, "kerb-bed")
        Membership.create(project=first.project_id, person=second.person_id, role="viewer")  # a colleague now
        shelves.share_shelf(first.person_id, shelf, scene.email_of(second.person_id))
        makeups.take_from_shelf(second, shelf, "kerb-bed")
        element = scene.element(second, "K1", "kerb-bed")
        scene.line(second, element, length="10")
        makeups.change_makeup(first, own, 2, SOURCE.replace("0.3 * m", "0.4 * m"))
        makeups.put_on_shelf(first, own, shelf)
        listed = next(m for m in measure_reading.makeups(second) if m.key == "kerb-bed")
        self.assertEqual((listed.shelf, listed.shelf_number, listed.newer), ("Water boards", 1, 2))
        newest = shelves.shelves_of(second.person_id)[0].documents[0]
        told = makeups.effect(second, listed.own or 0, newest.source)
        self.assertEqual(
            [(q.mark, round(q.before, 3), round(q.after, 3)) for q in told.quantities], [("K1", 0.45, 0.6)]
        )
        self.assertAlmostEqual(net(element, "bed"), 0.45)
        # A table by size stands beside it by itself; what is none is refused.
        spans = 'key = "spans"\nlabel = "Clear spans"\nby = "length"\nrows = [{ from = "0 m", below = "2 m", sets = { depth = "0.2 m" } }]\n'
        shelves.put_there(first.person_id, shelf, "sizes", spans)
        shelves.put_there(second.person_id, shelf, "sizes", spans.replace("0.2 m", "0.3 m"))
        with self.assertRaisesRegex(BadFormula, "can't be read at rows"):
            shelves.put_there(first.person_id, shelf, "sizes", spans.replace("below", "until"))
        stand = [
            (d.kind, d.name, d.number, "0.3" in d.source)
            for d in shelves.shelves_of(first.person_id)[0].documents
        ]
        self.assertEqual(stand, [("make-up", "Kerb bed", 2, False), ("sizes", "Clear spans", 2, True)])
        makeups.take_from_shelf(second, shelf, "kerb-bed")
        self.assertAlmostEqual(net(element, "bed"), 0.6)
        history.undo(second)
        self.assertAlmostEqual(net(element, "bed"), 0.45)

    def test_a_make_up_is_tried_and_a_wrong_bar_mass_in_it_found(self) -> None:
        actor = scene.project()
        barred = SOURCE.replace(
            "[[derived]]",
            '[[inputs]]\nkey = "bar"\nlabel = "Bar"\ndefault = "16"\nchoices = [{label = "16", sets = {mass = "15.8 kg/m"}}]\n\n[[derived]]',
            1,
        )
        tried = makeups.trial(actor, barred, {"thick": "200"}, {"times": "2", "length": "10"})
        self.assertAlmostEqual(tried.quantities[0].net, 1.2)
        self.assertTrue(any("15.8 kg/m is 901% over" in said for said in tried.findings))
        makeups.add_makeup(actor, barred)
        self.assertTrue(any("15.8 kg/m" in said for said in says(actor)))


class Checks(scene.DatabaseCase):
    def test_what_looks_wrong_is_told_with_where(self) -> None:
        actor = scene.project()
        ids = scene.priced(actor)
        before = says(actor)
        section = Item.get_by_id(ids["item"]).section_id
        bill.add_item(actor, section, {"description": "Unpriced", "unit": "m²"})
        elements.change_element(
            actor, ids["element"], 1, {"inputs": {"bar": "10", "spacing": "300", "waste_concrete": "30"}}
        )
        found = {check.rule: check for check in checking.checks(actor) if check.says not in before}
        self.assertEqual(
            {"item without a quantity", "item without a rate", "measure", "waste out of band"}, set(found)
        )
        self.assertIn("kg/m³ is less than", found["measure"].says)
        self.assertEqual(found["waste out of band"].numbers, [30, 0, 12.5])
        self.assertEqual(
            (found["waste out of band"].stage, found["waste out of band"].target), ("measure", ids["element"])
        )
        self.assertEqual(checking.checks(actor)[0].severity, "stop")

    def test_a_stale_and_an_outlying_quote(self) -> None:
        actor = scene.project()
        resource = scene.resource(actor, "Cement", "material", "kg", "0.20")
        for price in ("0.21", "0.40"):
            scene.prices.add_quote(
                actor, resource, {"supplier": "B", "price": Decimal(price), "quoted_on": scene.PRICE_DATE}
            )
        (found,) = checking.checks(actor)
        self.assertIn("more than 25 % from the median", found.says)
        self.assertEqual((found.code, found.ref), ("quote-outlying", f"resource:{resource}"))
        self.assertEqual(found.numbers, [0.4, 0.21])

    def test_what_makes_a_figure_wrong_stops_the_bill_and_what_may_be_right_does_not(self) -> None:
        actor = scene.project()
        ids, sheet = scene.priced(actor), scene.sheet(actor)
        slab = scene.element(actor, "GS1", "plain-area")
        square = [(100, 100), (300, 100), (300, 300), (100, 300)]
        figure = scene.area(actor, sheet.id, slab, square)
        line = DimensionLine.get(DimensionLine.figure == figure)
        wall = scene.element(actor, "W1", "plain-area")
        scene.line(actor, wall, "", "2.00", "1.00")

        def severities(words: str) -> list[str]:
            return [check.severity for check in checking.checks(actor) if words in check.says]

        def laid(geometry: dict[str, Any]) -> None:
            """A shape that came from elsewhere than the desk, and its line worked out again."""
            Figure.update(geometry=geometry).where(Figure.id == figure).execute()
            now = DimensionLine.get_by_id(line.id)
            dimension_lines.change_line(
                actor, line.id, now.version, {"height": "0.2" if now.height != "0.2" else "0.3"}
            )

        good = Figure.get_by_id(figure).geometry
        scene.line(actor, wall, "", "3.00", "1.00", deduct=True)
        self.assertEqual(severities("more is deducted than measured"), ["stop"])
        scene.line(actor, ids["element"], "1", "1.80")
        self.assertEqual(severities("so it counts nothing"), ["stop"])
        elements.change_element(actor, ids["element"], 1, {"inputs": {"bar": "10", "spacing": "300"}})
        self.assertEqual(severities("kg/m³ is less than"), ["look"])
        laid({**good, "outline": [[100, 100], [300, 300], [300, 100], [100, 300]]})
        self.assertEqual(severities("crosses itself"), ["stop"])
        laid({**good, "outline": [[100, 100], [5000, 100], [300, 300]]})
        self.assertEqual(severities("lies off the sheet"), ["stop"])
        laid(good)
        scene.area(actor, sheet.id, slab, [(200, 200), (400, 200), (400, 400), (200, 400)])
        self.assertEqual(severities("Two areas overlap"), ["stop"])
        Sheet.update(metres_per_unit=None).where(Sheet.id == sheet.id).execute()
        self.assertEqual(severities("it has no scale"), ["stop"])
        bare = scene.id_of(
            scene.prices.add_resource(
                actor, {"name": "Sharp sand", "kind": "material", "unit": "t", "basis": "latest"}
            )
        )
        self.assertEqual(severities("Sharp sand: has no quote"), ["look"])
        rate_lines.add_build_up_line(actor, ids["rate"], {"resource": bare})
        self.assertEqual(severities("Sharp sand: has no quote"), ["stop"])


class JobsOfTheQueue(scene.DatabaseCase):
    def test_a_job_is_done_once_its_file_is_its_owners_and_it_can_be_stopped(self) -> None:
        actor = scene.project()
        scene.priced(actor)
        job = jobs.begin(actor, "bill_pdf")
        stopped = jobs.begin(actor, "bill_xlsx")
        jobs.stop(actor, stopped.id)
        worker.work_off()
        self.assertEqual(
            (jobs.view(actor, job.id).state, jobs.view(actor, stopped.id).state), ("done", "stopped")
        )
        name, content = jobs.result(actor, job.id)
        self.assertTrue(name.endswith("bill.pdf") and content.startswith(b"%PDF"))
        with self.assertRaises(Missing):
            jobs.view(scene.member(actor, "editor"), job.id)

    def lost(self, job: int) -> None:
        """Leave a job as a worker does that dies with it."""
        begun = "INSERT INTO procrastinate_workers (last_heartbeat) VALUES (now() - interval '1 hour') RETURNING id"
        (dead,) = database.execute_sql(begun).fetchone()
        taken = "UPDATE procrastinate_jobs SET status = 'doing', worker_id = %s WHERE args ->> 'job_id' = %s"
        database.execute_sql(taken, (dead, str(job)))
        Job.update(state="running", tries=Job.tries + 1).where(Job.id == job).execute()

        async def rescue() -> None:
            queue = worker.queue()
            async with queue.open_async():
                await worker.rescue(queue.job_manager, 20)

        asyncio.run(rescue())

    def queued(self, job: int) -> list[str]:
        rows = "SELECT status::text FROM procrastinate_jobs WHERE args ->> 'job_id' = %s"
        return [status for (status,) in database.execute_sql(rows, (str(job),)).fetchall()]

    def test_a_job_whose_worker_died_is_tried_again_a_set_number_of_times_and_then_told(self) -> None:
        actor = scene.project()
        worker.work_off()
        job, other = (jobs.begin(actor, "bill_pdf").id for _ in range(2))
        for tried in range(1, jobs.MOST_TRIES):
            self.lost(job)
            self.assertEqual((Job.get_by_id(job).tries, self.queued(job)), (tried, ["todo"]))
        self.lost(job)
        self.assertEqual((jobs.view(actor, job).state, self.queued(job)), ("failed", []))
        self.assertIn("each of the 3 times", jobs.view(actor, job).said)
        self.lost(other)
        worker.work_off()
        self.assertEqual((jobs.view(actor, other).state, self.queued(other)), ("done", []))

    def test_two_never_work_on_one_job_and_the_second_leaves_it_in_the_queue(self) -> None:
        actor = scene.project()
        job = jobs.begin(actor, "bill_pdf").id
        worker.work_off()
        again = jobs.begin(actor, "bill_pdf").id
        database.execute_sql("DELETE FROM procrastinate_jobs WHERE args ->> 'job_id' = %s", (str(again),))
        at_it, go_on, begun = threading.Event(), threading.Event(), []

        def slow(_job: Job, _progress: jobs.Progress) -> jobs.Outcome:
            begun.append(1)
            at_it.set()
            go_on.wait(20)
            return "once.pdf", b"once"

        def first() -> None:
            jobs.do(again)
            database.close()

        with patch.dict(jobs.kinds(), {"bill_pdf": slow}):
            one = threading.Thread(target=first)
            one.start()
            at_it.wait(20)
            jobs.do(again)
            self.assertEqual((len(begun), Job.get_by_id(again).tries, self.queued(again)), (1, 1, ["todo"]))
            self.assertTrue(jobs.lost(again))  # though thought dead, it isn't taken from who is at it
            go_on.set()
            one.join()
            jobs.do(again)
        self.assertEqual((len(begun), Job.get_by_id(again).state), (1, "done"))
        self.assertEqual(jobs.view(actor, job).state, "done")
        # A job whose place in the queue went is given one; one that was tried often enough is told.
        lost = jobs.begin(actor, "bill_pdf").id
        Job.update(tries=jobs.MOST_TRIES, made=now() - timedelta(minutes=2)).where(Job.id == lost).execute()
        database.execute_sql("DELETE FROM procrastinate_jobs WHERE args ->> 'job_id' = %s", (str(lost),))
        jobs.put_back()
        self.assertEqual(self.queued(lost), ["todo"])
        worker.work_off()
        self.assertEqual(Job.get_by_id(lost).state, "failed")

    def test_one_persons_jobs_stand_behind_the_turns_of_others_and_are_bounded(self) -> None:
        worker.work_off()
        busy, other = scene.project(), scene.project()
        asked = [jobs.ask_for(busy, "bill_pdf").id for _ in range(jobs.MOST_OF_A_PERSON)]
        with self.assertRaisesRegex(jobs.TooMany, "You wait for 20 files already"):
            jobs.ask_for(busy, "bill_pdf")
        late = [jobs.ask_for(other, "bill_pdf").id for _ in range(2)]
        done: list[int] = []

        def quick(job: Job, _progress: jobs.Progress) -> jobs.Outcome:
            done.append(job.id)
            return None

        with patch.dict(jobs.kinds(), {"bill_pdf": quick}):
            worker.work_off()
        self.assertEqual(done[:5], [asked[0], late[0], asked[1], late[1], asked[2]])
        self.assertEqual(len(done), jobs.MOST_OF_A_PERSON + 2)

    def test_a_job_begun_in_an_action_that_fails_was_never_begun(self) -> None:
        actor = scene.project()
        with self.assertRaises(RuntimeError), database.atomic():
            job = jobs.begin(actor, "bill_pdf").id
            raise RuntimeError
        self.assertEqual(self.queued(job), [])

    def test_a_try_that_was_thought_dead_hands_nothing_in(self) -> None:
        actor = scene.project()
        job = jobs.begin(actor, "bill_pdf").id

        def slow(_job: Job, progress: jobs.Progress) -> jobs.Outcome:
            Job.update(tries=Job.tries + 1).where(Job.id == job).execute()  # another has taken it up
            progress(0.5)
            return "late.pdf", b"late"

        with patch.dict(jobs.kinds(), {"bill_pdf": slow}):
            jobs.do(job)
        self.assertEqual((jobs.view(actor, job).state, Job.get_by_id(job).result), ("running", None))

    def test_a_job_that_is_refused_says_why(self) -> None:
        actor = scene.project()
        job = jobs.begin(actor, "sheet_pdf", {"sheet": 999_999})
        worker.work_off()
        self.assertEqual(jobs.view(actor, job.id).state, "failed")
        self.assertIn("not in this project", jobs.view(actor, job.id).said)


class History(scene.DatabaseCase):
    def test_the_history_of_a_number_tells_who_and_from_what_to_what(self) -> None:
        owner = scene.project()
        editor = scene.member(owner, "editor")
        element, line = scene.pf2(owner)
        dimension_lines.change_line(editor, line, 1, {"width": "2.00"})
        steps = history.history_of(owner, f"line:{line}")
        self.assertEqual((steps[0].field, steps[0].before, steps[0].after), ("width", "1.80", "2.00"))
        self.assertTrue(
            any(step.field == "width" for step in history.history_of(owner, f"quantity:{element}:concrete"))
        )
        self.assertEqual(moved.pulse(owner, 0).by, editor.person_id)
        with self.assertRaises(Missing):
            history.history_of(owner, "bill")
