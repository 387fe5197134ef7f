"""Hands that are faster than the eye: what is picked, pasted, replaced or drawn writes what was meant, and the keyboard has a place afterwards."""

from __future__ import annotations

import re

from playwright.sync_api import expect

from sandscale.services.measure.actions import dimension_lines, elements
from sandscale.services.projects import actions as projects
from sandscale.services.rates import lines as rate_lines
from sandscale.services.rates.reading import build_up_view
from sandscale.services.sheets import bringing_in
from sandscale.store.models import (
    BuildUp,
    BuildUpLine,
    Change,
    DimensionLine,
    Element,
    Figure,
    Item,
    Location,
    Project,
    Resource,
    Revision,
    Section,
    Sheet,
)
from tests import scene
from tests.browser.desk import DemoCase, SheetOnScreen, cell, choose, make_up, saved, type_row

BILL = "Bill of quantities"


class Tables(DemoCase):
    def written(self) -> int:
        return Change.select().where(Change.project == self.project.id).count()

    def test_a_pick_writes_nothing_until_it_is_taken(self) -> None:
        page, rate = self.go("/bill"), cell(self.page, BILL, "Concrete C30/37 in pad footings", 4)
        expect(rate).to_have_text("189.41")
        before = self.written()
        for keys in (("F2", "b", "ArrowDown", "Escape"), ("b", "ArrowDown", "ArrowDown", "Escape")):
            rate.click()
            for key in keys:
                page.keyboard.press(key)
            expect(page.get_by_role("grid", name=BILL)).to_be_focused()
            expect(rate).to_have_text("189.41")
        rate.click()
        page.keyboard.press("F2")
        page.keyboard.type("Blind")
        cell(page, BILL, "Concrete C30/37 in ground beams", 3).click()  # goes elsewhere: the list is left
        expect(rate).to_have_text("189.41")
        self.assertEqual(self.written(), before)
        # Tab takes what is in view, and goes on.
        rate.click()
        page.keyboard.type("Blinding placed")
        expect(page.locator(".n-base-select-option--pending")).to_contain_text("Blinding placed")
        page.keyboard.press("Tab")
        expect(rate).to_have_text("158.94")
        expect(cell(page, BILL, "Concrete C30/37 in pad footings", 6)).to_have_class(re.compile("active"))
        saved(page)
        self.assertEqual(self.written(), before + 1)

    def test_a_formula_by_output_stands_whole_and_lines_keep_the_order_they_are_put_in(self) -> None:
        rate = self.own(BuildUp, name="Concrete C30/37, mixed on site")
        page = self.go(f"/rates/{rate}")
        table = "Build-up of Concrete C30/37, mixed on site"
        line = next(
            each for each in BuildUp.get_by_id(rate).lines if each.basis == "output" and each.resource_id
        )
        cell(page, table, line.resource.name, 2).click()
        type_row(page, "2*3")
        saved(page)
        expect(cell(page, table, line.resource.name, 2)).to_have_text("6.00")
        worked = next(each for each in build_up_view(self.actor, rate).lines if each.id == line.id)
        expect(cell(page, table, line.resource.name, 10)).to_have_text(f"{6 * worked.price:.2f}")
        page.get_by_role("button", name="Copy", exact=True).click()
        expect(page.get_by_label("Name of the rate")).to_have_value("Concrete C30/37, mixed on site, copy")
        twin = BuildUp.get(BuildUp.name == "Concrete C30/37, mixed on site, copy")
        self.assertEqual(
            [(a.resource_id, a.nested_id, a.quantity) for a in twin.lines.order_by(BuildUpLine.position)],
            [
                (a.resource_id, a.nested_id, a.quantity)
                for a in BuildUp.get_by_id(rate).lines.order_by(BuildUpLine.position)
            ],
        )
        group = [a for a in twin.lines.order_by(BuildUpLine.position) if a.group == "labour"]
        if len(group) == 1:
            rate_lines.add_build_up_line(
                self.actor, twin.id, {"resource": group[0].resource_id or line.resource_id, "group": "labour"}
            )
            group = [a for a in twin.lines.order_by(BuildUpLine.position) if a.group == "labour"]
        rate_lines.move_build_up_line(self.actor, group[1].id, -1)
        self.assertEqual(
            [a.id for a in twin.lines.order_by(BuildUpLine.position) if a.group == "labour"][:2],
            [group[1].id, group[0].id],
        )
        choose(page, "Unit of the rate", "m²")
        saved(page)
        self.assertEqual(BuildUp.get_by_id(twin.id).unit, "m²")

    def test_lengths_and_squares_are_summed_apart(self) -> None:
        page = self.go(f"/measure/{self.own(Element, mark='W1')}")
        cell(page, "Dimension lines of W1", "Between columns", 1).click()
        for _ in range(3):
            page.keyboard.press("Shift+ArrowRight")
        expect(page.locator("footer")).to_contain_text(re.compile(r"Selected.*[\d.]+.m[^²].*[\d.]+.m²"))

    def test_find_looks_where_the_cursor_stands_and_a_pasted_note_is_kept(self) -> None:
        element = self.own(Element, mark="PF2")
        page, table = self.go(f"/measure/{element}"), "Dimension lines of PF2"
        height = cell(page, table, "Grid 2/A", 3)
        height.click()
        type_row(page, "0.5")
        saved(page)
        height.click()
        page.keyboard.press("Control+h")
        expect(page.get_by_label("Find", exact=True)).to_be_focused()
        page.keyboard.type("0.50")  # as it is shown; typed it was 0.5
        page.get_by_label("Put instead").fill("0.60")
        page.keyboard.press("Enter")
        expect(page.get_by_text("1 line changed")).to_be_visible()
        expect(height).to_have_text("0.60")
        page.get_by_label("Put instead").press("Escape")
        expect(page.get_by_role("grid", name=table)).to_be_focused()
        cell(page, table, "type or draw", 0).click()
        block = "2\\t1.20\\t0.80\\t0.40\\tupstand at duct\\n1\\t0.90\\t0.80\\t0.40\\tat hatch"
        page.evaluate(f"navigator.clipboard.writeText('{block}')")
        page.keyboard.press("Control+v")
        expect(cell(page, table, "upstand at duct", 4)).to_have_text("0.77")
        expect(cell(page, table, "at hatch", 3)).to_have_text("0.40")
        expect(page.locator("footer")).to_contain_text("2 lines added")

    def test_a_line_deleted_by_a_colleague_says_so_and_names_them(self) -> None:
        other, element = scene.member(self.actor, "editor", "Ilo Marsh"), self.own(Element, mark="GB1")
        line = DimensionLine.select().where(DimensionLine.element == element).first()
        page = self.go(f"/measure/{element}")
        page.get_by_role("grid", name="Dimension lines of GB1").get_by_role("row").nth(1).get_by_role(
            "gridcell"
        ).nth(2).click()
        page.keyboard.type("0.4")
        dimension_lines.delete_line(other, line.id)
        told = page.get_by_role("alert")
        expect(told).to_contain_text("“0.4” is not saved: its line was deleted meanwhile.")
        with self.assertRaisesRegex(Exception, "Ilo Marsh deleted it"):
            dimension_lines.delete_line(self.actor, line.id)

    def test_things_are_called_something_else(self) -> None:
        page = self.go(f"/measure/{self.own(Element, mark='PF2')}")
        page.get_by_role("button", name="Pump house, foundations", exact=True).click()
        page.keyboard.type("Footings")
        page.keyboard.press("Enter")
        expect(page.get_by_role("button", name="Footings", exact=True)).to_be_visible()
        self.assertTrue(
            Location.get_or_none((Location.project == self.project.id) & (Location.name == "Footings"))
        )
        section = self.own(Section, title="Concrete")
        page = self.go(f"/bill?at=section:{section}")
        page.get_by_label("Title of section 2").fill("Concrete work")
        page.keyboard.press("Enter")
        expect(page.get_by_role("grid", name=BILL)).to_contain_text("Concrete work")
        # Esc leaves a name as it was, and it is typed over, not behind.
        page.get_by_label("Title of section 2").fill("Foreman")
        page.keyboard.press("Escape")
        expect(page.get_by_label("Title of section 2")).to_have_value("Concrete work")
        page.get_by_title("Settings and people").click()
        page.get_by_role("dialog").get_by_label("Currency").fill("chf")
        page.keyboard.press("Enter")
        expect(page.locator("footer")).to_contain_text("CHF")
        self.assertEqual(Project.get_by_id(self.project.id).currency, "CHF")

    def test_what_an_element_is_called_reaches_its_item(self) -> None:
        page = self.go("/measure")
        page.get_by_role("button", name="New element in Pump house, ground floor").click()
        page.get_by_label("Mark, as on the drawing").fill("T1")
        page.get_by_label("Description").fill("Tactile paving at steps")
        choose(page.get_by_role("dialog"), "Make-up", "Plain, m²")
        page.get_by_role("button", name="Make it").click()
        table = page.get_by_role("grid", name="Dimension lines of T1")
        expect(table).to_be_focused()
        type_row(page, "2", "1.20", "0.80")
        saved(page)
        page.get_by_role("button", name="Into the bill").click()
        saved(page)
        item = self.own(Item, description="Tactile paving at steps")
        self.assertAlmostEqual(float(Item.get_by_id(item).quantity), 1.92)
        opened = make_up(page)
        expect(opened.get_by_label("What it is")).to_have_value("Tactile paving at steps")

    def test_a_comma_is_read_where_it_can_mean_one_thing_and_asked_about_where_two(self) -> None:
        page, table = self.go(f"/measure/{self.own(Element, mark='PF2')}"), "Dimension lines of PF2"
        width = cell(page, table, "Grid 2/A", 2)
        width.click()
        type_row(page, "1,95")
        saved(page)
        expect(width).to_have_text("1.95")
        expect(cell(page, table, "Grid 2/A", 4)).to_have_text("7.02")  # 4 × 1.80 × 1.95 × 0.50
        width.click()
        type_row(page, "1,950")
        asked = page.get_by_role("dialog", name="Which number is it?")
        expect(asked).to_contain_text("“1,950” can be 1950 or 1.950.")
        page.keyboard.press("Escape")  # left open, it is refused and kept
        expect(page.get_by_role("alert")).to_contain_text("“1,950” can be 1950 or 1.950.")
        expect(width).to_have_text("1,950")
        width.click()
        type_row(page, "1,950")
        asked.get_by_role("button", name="the comma is the decimal sign").click()
        saved(page)
        expect(width).to_have_text("1,95")
        expect(cell(page, table, "Grid 2/A", 4)).to_have_text("7,02")
        # Said once: the next is read that way, and everything stands so.
        width.click()
        type_row(page, "1,951")
        saved(page)
        expect(width).to_have_text("1,951")
        page = self.go(f"/prices/{self.own(Resource, name='Cement')}")
        cell(page, "Quotes for Cement", "Quayside", 1).click()
        type_row(page, "6,35")
        expect(cell(page, "Quotes for Cement", "Quayside", 1)).to_have_text("6,35")
        expect(page.get_by_role("contentinfo")).to_contain_text(re.compile(r"Bill \d{3}.\d{3},\d\d EUR"))

    def test_a_table_wider_than_its_room_keeps_its_first_column(self) -> None:
        page = self.go(f"/ground/trench/{self.own(Element, mark='T1')}")
        page.set_viewport_size({"width": 1100, "height": 800})
        grid = page.get_by_role("grid").first
        first = grid.get_by_role("row").nth(1).get_by_role("gridcell").first
        expect(first).to_have_css("position", "sticky")
        stood = first.bounding_box()
        self.assertGreater(grid.evaluate("(e) => { e.scrollLeft = 300; return e.scrollLeft }"), 50)
        self.assertEqual(first.bounding_box(), stood)
        # And lies over what goes by below it.
        at = "((box) => [box.right - 4, box.y + 9])(e.getBoundingClientRect())"
        self.assertTrue(first.evaluate(f"(e) => document.elementFromPoint(...{at}) === e"))
        page.set_viewport_size({"width": 2560, "height": 800})
        expect(first).to_have_css("position", "relative")

    def test_one_number_shows_the_same_digits_everywhere(self) -> None:
        element = scene.element(self.actor, "A1", "plain-area", what="Paving")
        scene.line(self.actor, element, length="14.975", width="25")  # 374.375, which is 374.38 in the bill
        elements.link_to_bill(self.actor, element)
        page = self.go(f"/measure/{element}")
        for place in (
            page.get_by_role("link", name=re.compile("^A1")),
            page.get_by_role("region", name="Quantities of A1"),
            page.get_by_role("contentinfo"),
            cell(page, "Dimension lines of A1", "14.975", 4),
        ):
            expect(place).to_contain_text("374.38")
        page = self.go("/bill")
        expect(cell(page, "Bill of quantities", re.compile("Paving"), 3)).to_have_text("374.38")

    def test_a_double_click_on_a_section_opens_no_other_rows_list(self) -> None:
        page = self.go("/bill")
        grid = page.get_by_role("grid", name="Bill of quantities")
        cell(page, "Bill of quantities", "Concrete C30/37 in pad footings", 4).click()
        grid.get_by_text("Formwork", exact=True).dblclick()
        page.wait_for_timeout(300)
        expect(page.locator(".n-base-select-menu:visible")).to_have_count(0)

    def test_nothing_of_a_project_shows_in_another(self) -> None:
        page = self.go(f"/measure/{self.own(Element, mark='PF2')}")
        expect(page.get_by_role("complementary", name="Working")).to_contain_text("Concrete in PF2")
        projects.new_project(self.actor.person_id, "Another job", "", "EUR", scene.PRICE_DATE)
        page.get_by_role("link", name="Sand Scale").click()
        page.get_by_role("link", name="Another job").click()
        for stage in ("Measure", "Prices", "Rates", "Bill"):
            page.get_by_role("navigation", name="Stages").get_by_role("link", name=stage).click()
            expect(page.locator("main")).not_to_contain_text(re.compile("Grid 2/A|6.48"))
            expect(page.get_by_role("complementary", name="Working")).not_to_contain_text(
                re.compile("PF2|not in this project")
            )
            expect(page.locator("footer")).not_to_contain_text("PF2")
            expect(page.locator("[data-test=bill-total]")).to_contain_text("0.00")
        expect(page.get_by_role("alert")).to_have_count(0)


class Sheets(DemoCase):
    def test_an_upright_sheet_is_seen_whole_and_the_tool_stays_in_hand(self) -> None:
        size = (2384.0, 3370.0)
        drawing = bringing_in.add_drawing(self.actor, "A0.pdf", scene.pdf(3, size), scene.PRICE_DATE)
        first, *others = (
            Sheet.select().join(Revision).where(Revision.drawing == drawing.id).order_by(Sheet.page)
        )
        element = scene.element(self.actor, "M1", "plain-number")
        page = self.go(f"/measure/{element}?sheet={first.id}")
        page.get_by_role("button", name="Count").click()
        page.get_by_label("Scale, as it is written on the sheet").fill("50")
        page.get_by_text("on all 3 sheets").click()
        page.get_by_label("Scale, as it is written on the sheet").press("Enter")
        saved(page)
        expect(page.locator("[data-test=sheet]")).to_be_focused()
        self.assertEqual({Sheet.get_by_id(s.id).scale_source for s in (first, *others)}, {"1:50, typed"})
        page.get_by_role("button", name="Sheet ▾").click()
        page.get_by_role("button", name="Show the whole sheet").click()
        page.wait_for_timeout(400)
        board = SheetOnScreen(page, size)
        box = page.locator("[data-test=sheet]").bounding_box()
        assert box is not None
        corners = [(60.0, 60.0), (2324.0, 3310.0)]
        for corner in corners:
            x, y = board.at(corner)
            self.assertTrue(
                box["x"] < x < box["x"] + box["width"] and box["y"] < y < box["y"] + box["height"]
            )
        for corner in corners:  # one press of the tool, one figure after the other
            board.click(corner)
            page.keyboard.press("Enter")
            saved(page)
        expect(page.get_by_role("button", name="Count")).to_have_attribute("aria-pressed", "true")
        points = [
            f.geometry["points"][0]
            for f in Figure.select().where(Figure.element == element).order_by(Figure.id)
        ]
        for point, corner in zip(points, corners, strict=True):
            self.assertLess(max(abs(a - b) for a, b in zip(point, corner, strict=True)), 6.0)
        page.keyboard.press("Escape")
        expect(page.get_by_role("button", name="Count")).to_have_attribute("aria-pressed", "false")

    def test_a_stretched_scan_is_set_where_one_measures(self) -> None:
        sheet = scene.sheet(self.actor, None)
        element = scene.element(self.actor, "A1", "plain-area")
        page = self.go(f"/measure/{element}?sheet={sheet.id}")
        page.get_by_role("button", name="no scale").click()
        page.get_by_role("button", name="the scan is stretched").click()
        page.wait_for_timeout(500)
        board = SheetOnScreen(page, (1000.0, 800.0))
        for ends, length in ((((100, 100), (600, 100)), "5"), (((100, 100), (100, 400)), "3.3")):
            for end in ends:
                board.click(end)
            page.get_by_label("Known length").fill(length)
            page.keyboard.press("Enter")
        expect(page.locator(".tools .num")).to_have_text(re.compile(r"1:[\d.]+ across, 1:[\d.]+ up"))
