"""Every key that the list of keys promises: in a table, on the sheet, and for a figure that is picked."""

from __future__ import annotations

from playwright.sync_api import Locator, Page, expect

from sandscale.services.bill import actions as bill
from sandscale.services.measure import reading as measure_reading
from sandscale.services.sheets import actions as sheets
from sandscale.services.sheets import bringing_in
from sandscale.store.models import DimensionLine, Figure, Item, Revision, Section, Sheet
from tests import scene
from tests.browser.desk import ProjectCase, SheetOnScreen, cell, lines_read, saved
from tests.browser.test_sheet_tools import METRE, SIZE, at, plan

BILL = "Bill of quantities"


class TableKeys(ProjectCase):
    def lines(self, *rows: tuple[str, ...]) -> int:
        element = scene.element(self.actor, "W1", "plain-volume")
        for times, length, width, height, note in rows:
            scene.line(self.actor, element, times, length, width, height, note=note)
        self.go(f"/measure/{element}")
        expect(self.table().get_by_role("row")).to_have_count(1 + len(rows) + 1)
        return element

    def table(self) -> Locator:
        return self.page.get_by_role("grid", name="Dimension lines of W1")

    def notes(self, element: int) -> list[str]:
        return [
            line.note
            for line in DimensionLine.select()
            .where(DimensionLine.element == element)
            .order_by(DimensionLine.position, DimensionLine.id)
        ]

    def test_moving_editing_leaving_and_clearing(self) -> None:
        element = self.lines(
            ("", "4", "1", "0.5", "north"), ("2", "3", "1", "0.5", "south"), ("", "2", "1", "0.5", "east")
        )
        page = self.page
        keys = page.keyboard
        cell(page, "Dimension lines of W1", "north", 1).click()
        # Typed over and left; edited and left; then kept, and the cursor goes down.
        keys.type("9")
        keys.press("Escape")
        expect(cell(page, "Dimension lines of W1", "north", 1)).to_have_text("4.00")
        keys.press("F2")
        keys.press("End")
        keys.type("+1")
        keys.press("Enter")
        saved(page)
        expect(cell(page, "Dimension lines of W1", "north", 1)).to_have_text(
            "4+1"
        )  # a sum stays as it was typed
        expect(page.locator(".quantity").first).to_contain_text("6.50 m³")
        keys.press("Shift+Enter")
        keys.press("End")
        keys.press("ArrowLeft")  # before the last, which tells where a line comes from
        keys.type("north side")
        keys.press("Shift+Tab")
        saved(page)
        # To the first cell of the last line, and back to the first of all.
        keys.press("Control+End")
        keys.press("ArrowUp")
        keys.press("Home")
        keys.type("3")
        keys.press("Tab")
        saved(page)
        expect(cell(page, "Dimension lines of W1", "east", 0)).to_contain_text("3")
        keys.press("Control+Home")
        keys.press("ArrowRight")
        keys.press("Shift+ArrowDown")
        keys.press("Delete")
        saved(page)
        lengths = [
            line.length
            for line in DimensionLine.select()
            .where(DimensionLine.element == element)
            .order_by(DimensionLine.position)
        ]
        self.assertEqual((lengths, self.notes(element)), (["", "", "2"], ["north side", "south", "east"]))
        keys.press("Control+z")
        saved(page)
        lengths = [
            line.length
            for line in DimensionLine.select()
            .where(DimensionLine.element == element)
            .order_by(DimensionLine.position)
        ]
        self.assertEqual(lengths, ["4+1", "3", "2"])

    def test_blocks_filled_copied_moved_and_deleted(self) -> None:
        element = self.lines(
            ("", "4", "1", "0.5", "a"), ("", "3", "2", "0.6", "b"), ("", "2", "3", "0.7", "c")
        )
        page, keys = self.page, self.page.keyboard
        cell(page, "Dimension lines of W1", "0.50", 2).click()
        keys.press("Shift+ArrowRight")
        keys.press("Shift+ArrowDown")
        keys.press("Shift+ArrowDown")
        keys.press("Control+d")
        saved(page)
        rows = DimensionLine.select().where(DimensionLine.element == element).order_by(DimensionLine.position)
        self.assertEqual([(line.width, line.height) for line in rows], [("1", "0.5")] * 3)
        cell(page, "Dimension lines of W1", "a", 5).click()
        keys.press("Alt+ArrowDown")
        saved(page)
        self.assertEqual(self.notes(element), ["b", "a", "c"])
        keys.press("Control+Delete")
        saved(page)
        self.assertEqual(self.notes(element), ["b", "c"])
        # Everything copied, and pasted under itself.
        keys.press("Control+a")
        keys.press("Control+c")
        cell(page, "Dimension lines of W1", "type or draw", 0).click()
        keys.press("Control+v")
        saved(page)
        expect(self.table().get_by_role("row")).to_have_count(1 + 4 + 1)
        self.assertEqual(self.notes(element), ["b", "c", "b", "c"])
        self.assertAlmostEqual(
            measure_reading.element_view(self.actor, element).quantities[0].net, 2 * (3 + 2) * 0.5
        )

    def test_items_and_sections_change_their_places(self) -> None:
        first, second = (scene.id_of(bill.add_section(self.actor, title)) for title in ("Earth", "Concrete"))
        for section, words in ((first, "Strip"), (first, "Dig"), (second, "Blinding")):
            bill.add_item(self.actor, section, {"description": words, "unit": "m³"})
        page, keys = self.page, self.page.keyboard
        self.go("/bill")
        cell(page, BILL, "Strip", 1).click()
        keys.press("Alt+ArrowDown")
        saved(page)
        self.assertEqual(self.order(), {"Earth": ["Dig", "Strip"], "Concrete": ["Blinding"]})
        keys.press("Alt+ArrowDown")
        saved(page)
        self.assertEqual(self.order(), {"Earth": ["Dig"], "Concrete": ["Strip", "Blinding"]})
        expect(cell(page, BILL, "Strip", 0)).to_have_text("2.1")
        keys.press("Alt+ArrowUp")
        saved(page)
        self.assertEqual(self.order(), {"Earth": ["Dig", "Strip"], "Concrete": ["Blinding"]})
        page.get_by_role("complementary", name="Sections").get_by_role("link").filter(
            has_text="Concrete"
        ).click()
        page.get_by_role("button", name="section up").click()
        saved(page)
        self.assertEqual(list(self.order()), ["Concrete", "Earth"])
        page.get_by_label("Title of a new section").fill("Finishes")
        keys.press("Enter")
        saved(page)
        cell(page, BILL, "type a description", 1).click()
        keys.type("Screed")
        keys.press("Tab")
        keys.type("m²")
        keys.press("Enter")
        saved(page)
        self.assertEqual(self.order()["Finishes"], ["Screed"])
        for _ in range(3):  # the unit, the item, the section: undone one by one
            page.evaluate("document.activeElement.blur()")
            keys.press("Control+z")
            saved(page)
        self.assertEqual(list(self.order()), ["Concrete", "Earth"])

    def order(self) -> dict[str, list[str]]:
        sections = (
            Section.select()
            .where(Section.project == self.actor.project_id)
            .order_by(Section.position, Section.id)
        )
        return {s.title: [i.description for i in s.items.order_by(Item.position, Item.id)] for s in sections}


class SheetKeys(ProjectCase):
    def setUp(self) -> None:
        super().setUp()
        drawing = bringing_in.add_drawing(self.actor, "T-01.pdf", plan(), scene.PRICE_DATE)
        self.sheet = Sheet.select().join(Revision).where(Revision.drawing == drawing.id).get()
        sheets.set_scale_by_ratio(self.actor, self.sheet.id, self.sheet.version, "100")
        self.element = scene.element(self.actor, "A1", "plain-area")
        self.figure = scene.area(
            self.actor, self.sheet.id, self.element, [at(2, 2), at(6, 2), at(6, 5), at(2, 5)]
        )

    def picked(self) -> SheetOnScreen:
        page: Page = self.page
        self.go(f"/measure/{self.element}?sheet={self.sheet.id}")
        lines_read(page)
        page.get_by_role("button", name="Sheet ▾").click()
        page.get_by_role("button", name="Show the whole sheet").click()
        page.wait_for_timeout(300)
        sheet = SheetOnScreen(page, SIZE)
        sheet.click(at(4, 3.4))
        lines_read(page).focus()
        return sheet

    def corners(self) -> list[tuple[float, float]]:
        return [
            ((c[0] - 150) / METRE, (c[1] - 120) / METRE)
            for c in Figure.get_by_id(self.figure).geometry["outline"]
        ]

    def net(self) -> float:
        return float(measure_reading.element_view(self.actor, self.element).quantities[0].net)

    def test_corners_are_moved_put_in_and_taken_out(self) -> None:
        self.assertAlmostEqual(self.net(), 12)
        sheet = self.picked()
        keys = self.page.keyboard
        keys.press("]")  # the first corner
        keys.press("ArrowLeft")
        saved(self.page)
        moved = self.corners()
        self.assertLess(moved[0][0], 2)
        self.assertGreater(self.net(), 12)
        self.assertEqual([(round(x, 6), round(y, 6)) for x, y in moved[1:]], [(6, 2), (6, 5), (2, 5)])
        keys.press("Control+z")
        saved(self.page)
        self.assertAlmostEqual(self.net(), 12)
        # The middle of the first side becomes a corner when it is moved; that corner is taken out again.
        sheet = self.picked()
        keys.press("]")
        keys.press("]")
        keys.press("Shift+ArrowDown")
        saved(self.page)
        self.assertEqual(len(self.corners()), 5)
        self.assertGreater(self.net(), 12)
        keys.press("]")
        keys.press("Delete")
        saved(self.page)
        self.assertEqual(len(self.corners()), 4)
        # Alt and a click take one out as well; a triangle keeps its three.
        sheet = self.picked()
        x, y = sheet.at(at(6, 5))
        keys.down("Alt")
        self.page.mouse.click(x, y)
        keys.up("Alt")
        saved(self.page)
        self.assertAlmostEqual(self.net(), 6)

    def test_it_is_moved_by_a_typed_length_copied_to_bays_and_deleted(self) -> None:
        sheet = self.picked()
        keys = self.page.keyboard
        keys.press("m")
        sheet.click(at(2, 2))
        keys.type("3@0")
        keys.press("Enter")
        saved(self.page)
        self.assertEqual(
            [(round(x, 4), round(y, 4)) for x, y in self.corners()], [(5, 2), (9, 2), (9, 5), (5, 5)]
        )
        lines_read(self.page).focus()
        keys.press("d")
        sheet.click(at(5, 2))
        keys.type("4.5@90")
        keys.press("Enter")
        self.page.get_by_label("Number of copies").fill("2")
        keys.press("Enter")
        saved(self.page)
        self.assertAlmostEqual(self.net(), 36)
        self.assertEqual(DimensionLine.select().where(DimensionLine.element == self.element).count(), 3)
        self.page.evaluate("document.activeElement.blur()")
        keys.press("Control+z")
        saved(self.page)
        self.assertAlmostEqual(self.net(), 12)
        sheet = SheetOnScreen(self.page, SIZE)
        self.page.keyboard.press("Escape")
        sheet.click(at(7, 3.4))
        lines_read(self.page).focus()
        keys.press("Delete")
        saved(self.page)
        self.assertEqual(Figure.select().where(Figure.element == self.element).count(), 0)
        self.assertEqual(DimensionLine.select().where(DimensionLine.element == self.element).count(), 0)

    def test_the_view_is_zoomed_and_moved_by_keys(self) -> None:
        sheet = self.picked()
        board = lines_read(self.page)
        keys = self.page.keyboard
        # Twice in and a step to the right: what is picked there then lies elsewhere on the screen.
        keys.press("Escape")
        for key in ("+", "+", "-", "+"):
            keys.press(key)
            self.page.wait_for_timeout(200)
        zoomed = SheetOnScreen(self.page, SIZE, steps=2)
        self.assertGreater(zoomed.scale, sheet.scale * 1.9)
        keys.press("r")
        zoomed.click(at(10, 9))
        zoomed.click(at(12, 9))
        keys.press("Escape")
        keys.press("Escape")
        expect(board).to_be_visible()
        self.assertEqual(DimensionLine.select().where(DimensionLine.element == self.element).count(), 1)
