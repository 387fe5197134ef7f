"""From a figure on a sheet to an amount in the bill, and the walk back."""

from __future__ import annotations

from decimal import Decimal

from sandscale.core.figures.scale import from_ratio
from sandscale.core.refusals import BadEntry, BadFormula, BadShape, Refusal
from sandscale.services.bars import cuttings
from sandscale.services.bill import actions as bill
from sandscale.services.bill import adjustments
from sandscale.services.bill import reading as bill_reading
from sandscale.services.keeping import walking, worker
from sandscale.services.keeping.acting import Actor, InUse
from sandscale.services.keeping.views import WalkView
from sandscale.services.measure import reading as measure_reading
from sandscale.services.measure.actions import dimension_lines, elements, figures, makeups
from sandscale.services.prices import actions as prices
from sandscale.services.prices import reading as prices_reading
from sandscale.services.projects import actions as projects
from sandscale.services.rates import lines as rate_lines
from sandscale.services.sheets import actions as sheets
from sandscale.store.models import BuildUp, Figure, Item, ItemLink, Project, QuantityLine, Resource, Sheet
from tests import scene
from tests.core.test_makeups import SOURCE

SQUARE = [(100.0, 100.0), (300.0, 100.0), (300.0, 300.0), (100.0, 300.0)]
HOLE = [(150.0, 150.0), (200.0, 150.0), (200.0, 200.0), (150.0, 200.0)]
METRE = 1 / from_ratio(100)  # sheet units at 1:100


def net(element: int, output: str = "net") -> float:
    return float(QuantityLine.get(QuantityLine.element == element, QuantityLine.output == output).net)


class Figures(scene.DatabaseCase):
    def test_a_count_times_its_line_and_an_area_takes_the_place_of_length_and_width(self) -> None:
        actor = scene.project()
        sheet = scene.sheet(actor)
        pad = scene.element(actor)
        line = scene.line(actor, pad, "", "1.80", "1.80", "0.50")
        figures.draw_figure(actor, sheet.id, pad, "count", [(10, 10), (20, 10), (30, 10), (40, 10)], line)
        self.assertAlmostEqual(net(pad, "concrete"), 6.48)
        dimension_lines.change_line(actor, line, 2, {"times": "2/"})
        self.assertAlmostEqual(net(pad, "concrete"), 12.96)
        slab = scene.element(actor, "GS1", "plain-volume")
        scene.area(actor, sheet.id, slab, SQUARE)
        self.assertEqual(net(slab), 0)
        view = measure_reading.element_view(actor, slab)
        self.assertEqual(view.says, ["Line 1: Has no height yet, so it counts nothing."])
        dimension_lines.change_line(actor, view.lines[0].id, 1, {"height": "200mm"})
        self.assertAlmostEqual(net(slab), (200 / METRE) ** 2 * 0.2)
        figures.add_void(actor, sheet.id, slab, HOLE)
        self.assertAlmostEqual(net(slab), ((200 / METRE) ** 2 - (50 / METRE) ** 2) * 0.2)

    def test_a_new_scale_measures_every_figure_again_and_rewrites_none(self) -> None:
        actor = scene.project()
        sheet = scene.sheet(actor)
        slab = scene.element(actor, "GS1", "plain-area")
        made = scene.area(actor, sheet.id, slab, SQUARE)
        before, geometry = net(slab), Figure.get_by_id(made).geometry
        sheets.set_scale_by_ratio(actor, sheet.id, sheet.version, "1:50")
        self.assertAlmostEqual(net(slab), before / 4)
        self.assertEqual(Figure.get_by_id(made).geometry, geometry)

    def test_a_figure_and_its_line_go_together(self) -> None:
        actor = scene.project()
        sheet, slab = scene.sheet(actor), scene.element(actor, "GS1", "plain-area")
        first, second = (
            scene.area(actor, sheet.id, slab, SQUARE),
            scene.area(actor, sheet.id, slab, [(x + 300, y) for x, y in SQUARE]),
        )
        lines = measure_reading.element_view(actor, slab).lines
        figures.delete_figure(actor, first)
        dimension_lines.delete_line(actor, lines[1].id)
        self.assertEqual(
            (measure_reading.element_view(actor, slab).lines, Figure.get_or_none(Figure.id == second)),
            ([], None),
        )

    def test_a_reshaped_figure_moves_the_bill(self) -> None:
        actor = scene.project()
        sheet, slab = scene.sheet(actor), scene.element(actor, "GS1", "plain-area")
        made = scene.area(actor, sheet.id, slab, SQUARE)
        figures.add_void(actor, sheet.id, slab, HOLE)
        with self.assertRaisesRegex(BadShape, "Void 1 lies wholly outside"):
            figures.reshape_figure(actor, made, 2, [(x + 400, y) for x, y in SQUARE], [HOLE])
        figures.reshape_figure(actor, made, 2, [(100, 100), (500, 100), (500, 300), (100, 300)], [HOLE])
        self.assertAlmostEqual(net(slab), (400 * 200 - 50 * 50) / METRE**2)


class Lines(scene.DatabaseCase):
    def test_lines_keep_their_order_and_go_in_after_another(self) -> None:
        actor = scene.project()
        element = scene.element(actor, "K1", "plain-length")
        first = scene.line(actor, element, length="1")
        scene.line(actor, element, length="3")
        dimension_lines.add_line(actor, element, {"length": "2"}, after=first)
        self.assertEqual(
            [line.length for line in measure_reading.element_view(actor, element).lines], ["1", "2", "3"]
        )

    def test_ddt_typed_before_the_times_deducts(self) -> None:
        actor = scene.project()
        element = scene.element(actor, "K1", "plain-length")
        scene.line(actor, element, "2", "5")
        scene.line(actor, element, "ddt 3", "1.5")
        self.assertAlmostEqual(net(element), 5.5)

    def test_what_was_typed_is_kept_as_typed(self) -> None:
        actor = scene.project()
        element = scene.element(actor, "K1", "plain-length")
        line = scene.line(actor, element, "2/3/", "17'-8\"")
        kept = measure_reading.element_view(actor, element).lines[0]
        self.assertEqual((kept.id, kept.times, kept.length), (line, "2/3/", "17'-8\""))
        self.assertAlmostEqual(kept.squared, 6 * 5.3848)


class LinesTaken(scene.DatabaseCase):
    def test_a_face_counts_however_it_was_measured(self) -> None:
        actor = scene.project()
        render, wall = scene.element(actor, "R1", "render"), scene.element(actor, "W9", "blockwork")
        upright = scene.line(actor, wall, "2", "5.00", "", "2.80")
        flat = scene.line(actor, render, "1", "4.00", "2.50")
        dimension_lines.move_lines(actor, [upright], render, copy=True)
        dimension_lines.move_lines(actor, [flat], wall, copy=True)
        self.assertAlmostEqual(net(render, "area"), 2 * 5 * 2.8 + 4 * 2.5)
        self.assertAlmostEqual(net(wall, "area"), 2 * 5 * 2.8 + 4 * 2.5)
        # A kerb asks for a length alone: a width and a height stay what they are.
        kerb = scene.element(actor, "K1", "kerb")
        scene.line(actor, kerb, "1", "10.00", "0.30")
        self.assertTrue(measure_reading.element_view(actor, kerb).lines[0].counted)

    def test_who_changed_and_who_deleted_is_named(self) -> None:
        actor = scene.project()
        other, element = scene.member(actor, "editor", "Ilo Marsh"), scene.element(actor)
        line = scene.line(actor, element, "1", "1", "1", "1")
        dimension_lines.change_line(other, line, 1, {"width": "2"})
        with self.assertRaisesRegex(Refusal, "Ilo Marsh changed this dimension line"):
            dimension_lines.change_line(actor, line, 1, {"width": "3"})
        dimension_lines.delete_line(other, line)
        with self.assertRaisesRegex(Refusal, "Ilo Marsh deleted it"):
            dimension_lines.delete_line(actor, line)


class Elements(scene.DatabaseCase):
    def test_two_elements_of_one_place_have_two_marks(self) -> None:
        actor = scene.project()
        place = scene.location(actor)
        elements.add_element(actor, place, "PF2", "pad-footing")
        with self.assertRaisesRegex(BadEntry, "already has an element pf2"):
            elements.add_element(actor, place, " pf2 ", "pad-footing")

    def test_an_input_changes_what_depends_on_it_and_empty_goes_back(self) -> None:
        actor = scene.project()
        element, _ = scene.pf2(actor)
        steel = net(element, "bars")
        elements.change_element(actor, element, 1, {"inputs": {"spacing": "200", "bar": "20"}})
        self.assertNotAlmostEqual(net(element, "bars"), steel)
        self.assertAlmostEqual(net(element, "concrete"), 6.48)
        elements.change_element(actor, element, 2, {"inputs": {"spacing": "", "bar": ""}})
        self.assertAlmostEqual(net(element, "bars"), steel)

    def test_another_make_up_keeps_the_inputs_both_ask_for(self) -> None:
        actor = scene.project()
        element = scene.element(actor, "S1", "plain-area", what="Screed", kind="paving")
        elements.change_element(actor, element, 1, {"makeup": "plain-volume"})
        entries = {i.key: i.entry for i in measure_reading.element_view(actor, element).inputs if i.entered}
        self.assertEqual(entries, {"what": "Screed", "kind": "paving"})

    def test_a_make_up_of_the_projects_own_is_proved_used_changed_and_guarded(self) -> None:
        actor = scene.project()
        with self.assertRaisesRegex(BadFormula, "gives a length"):
            makeups.add_makeup(actor, SOURCE.replace("thick * 0.3 * m", "thick"))
        own = scene.id_of(makeups.add_makeup(actor, SOURCE))
        element = scene.element(actor, "K1", "kerb-bed", thick="200")
        scene.line(actor, element, length="10")
        self.assertAlmostEqual(net(element, "bed"), 0.6)
        makeups.change_makeup(actor, own, 1, SOURCE.replace("0.3 * m", "0.4 * m"))
        self.assertAlmostEqual(net(element, "bed"), 0.8)
        with self.assertRaisesRegex(InUse, "K1 has an entry for “thick”"):
            makeups.change_makeup(actor, own, 2, SOURCE.replace("thick", "deep"))
        with self.assertRaisesRegex(InUse, "K1 uses this make-up"):
            makeups.delete_makeup(actor, own)
        with self.assertRaisesRegex(BadFormula, "There is a make-up “kerb-bed” already"):
            makeups.add_makeup(actor, SOURCE)


class IntoTheBill(scene.DatabaseCase):
    def test_one_action_makes_the_items_and_the_next_element_joins_them(self) -> None:
        actor = scene.project()
        one, _ = scene.pf2(actor)
        two, _ = scene.pf2(actor)
        with self.assertRaisesRegex(Refusal, "has no quantities yet"):
            elements.link_to_bill(actor, scene.element(actor, "PF9"))
        elements.link_to_bill(actor, one)
        items = [
            (i.description, i.unit, i.quantity)
            for s in bill_reading.bill_view(actor).sections
            for i in s.items
        ]
        self.assertEqual(
            items,
            [
                ("Concrete C30/37 in pad footings", "m³", Decimal("6.48")),
                ("Blinding concrete 50 thick below foundations", "m³", Decimal("0.80")),
                ("Formwork to sides of pad footings", "m²", Decimal("14.40")),
                ("Bars 16 mm, high yield, bent, in footings", "kg", Decimal("386")),
            ],
        )
        elements.link_to_bill(actor, two)
        elements.link_to_bill(actor, two)
        doubled = [i.quantity for s in bill_reading.bill_view(actor).sections for i in s.items]
        self.assertEqual(doubled, [Decimal("12.96"), Decimal("1.60"), Decimal("28.80"), Decimal("771")])
        self.assertEqual(ItemLink.select().where(ItemLink.project == actor.project_id).count(), 8)

    def test_a_quantity_without_words_of_a_bill_item_is_billed_when_asked(self) -> None:
        actor = scene.project()
        lintels = scene.element(actor, "L1", "lintel")
        scene.line(actor, lintels, times="4", length="1.2")
        elements.link_to_bill(actor, lintels, "number")
        elements.link_to_bill(actor, lintels, "number")
        ((item,),) = [s.items for s in bill_reading.bill_view(actor).sections]
        self.assertEqual((item.description, item.unit, item.quantity), ("Lintels, L1", "nr", Decimal(4)))

    def test_a_change_moves_only_what_depends_on_it_all_the_way_to_the_total(self) -> None:
        actor = scene.project()
        ids = scene.priced(actor)
        self.assertEqual(scene.total(actor), Decimal("648.00"))
        self.assertEqual(
            dimension_lines.change_line(actor, ids["line"], 1, {"width": "2.00"}).bill_total,
            Decimal("720.00"),
        )
        quote = Resource.get_by_id(ids["resource"]).quotes.get()
        self.assertEqual(
            prices.change_quote(actor, quote.id, 1, {"price": Decimal("110.00")}).bill_total,
            Decimal("792.00"),
        )
        first, second = bill_reading.bill_view(actor).adjustments
        adjustments.change_adjustment(actor, first.id, 1, {"percent": "10"})
        self.assertEqual(
            adjustments.change_adjustment(actor, second.id, 1, {"percent": "5 %"}).bill_total,
            Decimal("914.76"),
        )

    def test_a_mix_inside_a_rate_moves_the_items_that_draw_on_it(self) -> None:
        actor = scene.project()
        ids = scene.priced(actor)
        cement = scene.resource(actor, "Cement", "material", "kg", "0.20")
        mix = scene.build_up(actor, "Mix", "m³", [{"resource": cement, "quantity": "300"}])
        placed = scene.build_up(
            actor, "Placed", "m³", [{"nested": mix, "quantity": "1", "allowance": Decimal(5)}]
        )
        item = Item.get_by_id(ids["item"])
        bill.change_item(actor, item.id, item.version, {"build_up": placed})
        self.assertEqual(
            (BuildUp.get_by_id(placed).rate, scene.total(actor)), (Decimal("63.00"), Decimal("408.24"))
        )
        quote = Resource.get_by_id(cement).quotes.get()
        prices.change_quote(actor, quote.id, 1, {"price": Decimal("0.25")})
        self.assertEqual(
            (BuildUp.get_by_id(placed).rate, scene.total(actor)), (Decimal("78.75"), Decimal("510.30"))
        )
        with self.assertRaisesRegex(BadEntry, "Mix → Placed → Mix"):
            rate_lines.add_build_up_line(actor, mix, {"nested": placed, "quantity": "1"})

    def test_the_price_date_and_the_rounding_are_the_projects(self) -> None:
        actor = scene.project()
        ids = scene.priced(actor)
        project = Project.get_by_id(actor.project_id)
        projects.change_project(actor, project.version, {"rounding": {"m³": 1}})
        self.assertEqual(
            (Item.get_by_id(ids["item"]).quantity, scene.total(actor)), (Decimal("6.5"), Decimal("650.00"))
        )
        before_any_quote = scene.PRICE_DATE.replace(year=2020)
        projects.change_project(actor, project.version + 1, {"price_date": before_any_quote})
        self.assertEqual(scene.total(actor), 0)
        self.assertEqual(prices_reading.resources(actor)[0].findings, ["Has no quote valid on 02 Nov 2020."])

    def test_a_typed_quantity_needs_its_reason_and_a_rate_its_unit(self) -> None:
        actor = scene.project()
        ids = scene.priced(actor)
        section = scene.id_of(bill.add_section(actor, "Preliminaries"))
        with self.assertRaisesRegex(BadEntry, "A typed quantity needs its reason"):
            bill.add_item(actor, section, {"description": "Pits", "unit": "nr", "typed_quantity": "3"})
        item = scene.id_of(
            bill.add_item(
                actor,
                section,
                {"description": "Pits", "unit": "nr", "typed_quantity": "1+2", "typed_reason": "clause 2.14"},
            )
        )
        self.assertEqual(Item.get_by_id(item).quantity, 3)
        with self.assertRaisesRegex(BadEntry, "is a rate per m³; this item is in nr"):
            bill.change_item(actor, item, 1, {"build_up": ids["rate"]})

    def test_sections_nest_and_sum(self) -> None:
        actor = scene.project()
        ids = scene.priced(actor)
        outer = bill_reading.bill_view(actor).sections[0].id
        inner = scene.id_of(bill.add_section(actor, "Pads", outer))
        bill.change_item(actor, ids["item"], Item.get_by_id(ids["item"]).version, {"section": inner})
        view = {s.ref: s for s in bill_reading.bill_view(actor).sections}
        self.assertEqual(
            (view["1"].total, view["1.1"].total, view["1.1"].depth), (Decimal("648.00"), Decimal("648.00"), 1)
        )
        self.assertEqual(view["1.1"].items[0].ref, "1.1.1")


class Walk(scene.DatabaseCase):
    """Every number can be walked, from the bill back to the sheet and the quote, and forward again."""

    def step(self, actor: Actor, view: WalkView, way: str, kind: str) -> WalkView:
        links = view.comes_from if way == "back" else view.goes_to
        link = next(link for link in links if link.ref.startswith(f"{kind}:") or link.ref == kind)
        return walking.walk(actor, link.ref)

    def test_from_the_total_to_the_count_on_the_sheet_and_back(self) -> None:
        actor = scene.project()
        ids = scene.priced(actor)
        sheet = Sheet.get_by_id(scene.sheet(actor).id)
        line = ids["line"]
        dimension_lines.change_line(actor, line, 1, {"times": ""})
        figures.draw_figure(
            actor, sheet.id, ids["element"], "count", [(10, 10), (20, 10), (30, 10), (40, 10)], line
        )
        view = walking.walk(actor, "bill")
        self.assertEqual((view.working.value, view.working.figures), (648.0, "648.00 + 0.00 + 0.00"))
        path = []
        for kind in ("section", "item", "item-quantity", "quantity", "figure"):
            view = self.step(actor, view, "back", kind)
            path.append((view.working.value, view.working.figures))
        self.assertEqual(
            path,
            [
                (648.0, "648.00 + 0.00"),
                (648.0, "6.48 × 100.00"),
                (6.48, "6.48"),
                (6.48, "4 × 1.80 × 1.80 × 0.50"),
                (4.0, "4"),
            ],
        )
        self.assertEqual(view.comes_from[0].stage, "sheets")
        for kind in ("line", "quantity", "item-quantity", "item", "bill"):
            view = self.step(actor, view, "forward", kind)
        self.assertEqual(view.working.value, 648.0)

    def test_from_an_amount_to_the_dated_quote(self) -> None:
        actor = scene.project()
        ids = scene.priced(actor)
        view = walking.walk(actor, f"item:{ids['item']}")
        for kind in ("build-up", "resource", "quote"):
            view = self.step(actor, view, "back", kind)
            self.assertEqual(view.working.value, 100.0)
        self.assertIn("01 Oct 2026", view.working.source)
        for kind in ("resource", "build-up", "item"):
            view = self.step(actor, view, "forward", kind)
        self.assertEqual(view.ref, f"item:{ids['item']}")

    def test_every_reference_of_a_project_walks_and_every_link_leads_on(self) -> None:
        actor = scene.project()
        ids = scene.priced(actor)
        sheet, slab = scene.sheet(actor), scene.element(actor, "GS1", "plain-area")
        scene.area(actor, sheet.id, slab, SQUARE)
        figures.add_void(actor, sheet.id, slab, HOLE)
        elements.link_to_bill(actor, slab)
        cuttings.add_cutting(actor, "All bars")
        worker.work_off()
        seen: set[str] = set()
        ahead = [
            "bill",
            f"line:{ids['line']}",
            *(f"build-up-line:{line.id}" for line in BuildUp.get_by_id(ids["rate"]).lines),
        ]
        while ahead:
            ref = ahead.pop()
            if ref in seen:
                continue
            seen.add(ref)
            view = walking.walk(actor, ref)
            self.assertEqual(view.ref, ref)
            self.assertTrue(view.working.name)
            ahead += [link.ref for link in (*view.comes_from, *view.goes_to)]
        kinds = {ref.split(":")[0] for ref in seen}
        self.assertEqual(
            kinds,
            {
                "bill",
                "section",
                "item",
                "item-quantity",
                "quantity",
                "line",
                "figure",
                "bar",
                "to-buy",
                "build-up",
                "build-up-line",
                "resource",
                "quote",
            },
        )

    def test_an_area_shows_its_voids(self) -> None:
        actor = scene.project()
        sheet, slab = scene.sheet(actor), scene.element(actor, "GS1", "plain-area")
        made = scene.area(actor, sheet.id, slab, SQUARE)
        figures.add_void(actor, sheet.id, slab, HOLE)
        view = walking.walk(actor, f"figure:{made}")
        self.assertEqual(
            (view.working.expression, [p.name for p in view.working.parts]),
            ("outline − void", ["Outline", "Void 1, ddt", "Scale it is measured at, one to"]),
        )
        self.assertAlmostEqual(view.working.value, (200**2 - 50**2) / METRE**2)
