"""A real task at the measuring desk: a plan with strip footings, a slab and columns, from upload to the PDF of its bill."""

from __future__ import annotations

import io
import re
import tempfile
from pathlib import Path

import pypdfium2
from playwright.sync_api import Page, expect
from reportlab.pdfgen.canvas import Canvas

from sandscale.services.bill import actions as bill
from sandscale.services.keeping.acting import Actor
from sandscale.services.measure import reading as measure_reading
from sandscale.services.measure.actions import elements
from sandscale.store.models import Item, Project
from tests import scene
from tests.browser.desk import (
    ProjectCase,
    SheetOnScreen,
    cell,
    choose,
    lines_read,
    make_up,
    pick,
    saved,
    type_row,
    write_text,
)
from tests.core.test_makeups import SOURCE

MM = 72 / 25.4
WIDE, HIGH = 420 * MM, 297 * MM  # A3
Point = tuple[float, float]


def on(point: Point) -> Point:
    """A point of the plan, in m, on its sheet at 1:50."""
    return ((60 + point[0] * 20) * MM, (60 + point[1] * 20) * MM)


def plan() -> bytes:
    """Strip footings 0.6 wide round 12.0 × 8.0 with a partition at 5.0, a slab inside, six columns; drawn on centre lines."""
    out = io.BytesIO()
    canvas = Canvas(out, pagesize=(WIDE, HIGH), invariant=1)
    for a, b in (
        ((0, 0), (12, 0)),
        ((12, 0), (12, 8)),
        ((12, 8), (0, 8)),
        ((0, 8), (0, 0)),
        ((5, 0), (5, 8)),
    ):
        canvas.line(*on(a), *on(b))
    for x in (2.0, 4.0, 8.0):
        for y in (2.0, 6.0):
            left, low = on((x - 0.2, y - 0.2))
            canvas.rect(left, low, 0.4 * 20 * MM, 0.4 * 20 * MM)
    canvas.drawString(*on((6, -1.5)), "Strip footings SF1 600 × 300")
    canvas.save()
    return out.getvalue()


class MeasuringDesk(ProjectCase):
    name = "Valve house"

    def setUp(self) -> None:
        super().setUp()
        self.go("/sheets")

    def test_from_upload_to_pdf_by_mouse_and_by_keys(self) -> None:
        page = self.page
        self.bring_in(page)
        self.strip_footings(page)
        self.slab_and_columns(page)
        self.walls_from_a_spreadsheet(page)
        self.price_and_print(page)

    def bring_in(self, page: Page) -> None:
        page.locator("[data-test=drawing-file]").set_input_files(
            {"name": "VH-01.pdf", "mimeType": "application/pdf", "buffer": plan()}
        )
        page.get_by_label("Scale, as it is written on the sheet").fill("50")
        page.keyboard.press("Enter")
        saved(page)
        lines_read(page)
        # A second known length, a transposed digit: told at once, and among the checks; then the right one.
        for length, told in (("8.12", "12.000 m: 47.8% too long"), ("12", None)):
            page.get_by_role("button", name="Prove").click()
            sheet = SheetOnScreen(page, (WIDE, HIGH))
            sheet.click(on((0, 0)))
            sheet.click(on((12, 0)))
            page.get_by_label("Known length").fill(length)
            page.keyboard.press("Enter")
            saved(page)
            if told:
                page.get_by_role("button", name=re.compile("^Checks")).click()
                expect(page.get_by_role("dialog", name="Checks")).to_contain_text(told)
                page.keyboard.press("Escape")
        # The proof stands above the sheet, not over the work.
        told = page.locator(".desk-head").get_by_text("0.00 % off").bounding_box()
        over = page.locator("[data-test=sheet]").bounding_box()
        assert told and over
        self.assertLessEqual(told["y"] + told["height"], over["y"])
        expect(page.get_by_role("button", name=re.compile("^Checks"))).to_contain_text("none")
        page.get_by_role("button", name="Sheet ▾").click()
        page.get_by_label("Find words on the sheet").fill("sf1 600")
        page.keyboard.press("Enter")
        expect(page.get_by_text("1 of 1")).to_be_visible()

    def new_element(self, page: Page, mark: str, makeup: str, place: str = "") -> None:
        page.get_by_role("button", name="New element", exact=True).first.click()
        page.get_by_label("Mark, as on the drawing").fill(mark)
        if place:
            page.get_by_label("Name of the new location").fill(place)
        choose(page.get_by_role("dialog"), "Make-up", makeup)
        page.get_by_role("button", name="Make it").click()
        expect(page.get_by_role("grid", name=f"Dimension lines of {mark}")).to_be_visible()

    def whole(self, page: Page) -> SheetOnScreen:
        page.get_by_role("button", name="Sheet ▾").click()
        page.get_by_role("button", name="Show the whole sheet").click()
        page.wait_for_timeout(300)
        lines_read(page).focus()
        return SheetOnScreen(page, (WIDE, HIGH))

    def strip_footings(self, page: Page) -> None:
        page.get_by_role("link", name="Measure").click()
        self.new_element(page, "SF1", "Strip footing", "Substructure")
        # All round by following the drawn lines: the way from one corner to the one across is the shorter, so in two steps.
        sheet = self.whole(page)
        page.keyboard.press("r")
        sheet.click(on((0, 0)))
        page.keyboard.press("f")
        # Before a pick, the way it would take is drawn and told: 20 m round the corner, not 14.42 across.
        sheet.move(on((12, 8)))
        expect(page.locator("p.hint")).to_contain_text("20.00 m along the drawn lines")
        for corner in ((12, 0), (12, 8), (0, 8), (0, 0)):
            sheet.click(on(corner))
        saved(page)
        table = "Dimension lines of SF1"
        expect(cell(page, table, "VH-01", 1)).to_have_text("40.00")
        # The partition without the mouse: from the run's own corner by typed lengths, the pointer moved by arrows.
        lines_read(page).focus()
        page.keyboard.press("r")
        sheet.move(on((5, 0)))
        page.keyboard.press("p")
        page.keyboard.type("8@90")
        page.keyboard.press("Enter")
        page.keyboard.press("Enter")
        expect(cell(page, table, "8.00 m", 1)).to_have_text("8.00")
        for row in ("40.00 m", "8.00 m"):
            cell(page, table, row, 2).click()
            type_row(page, "0.60", "300mm")
            saved(page)
        # The partition runs into the strip at both ends: found, told, and taken off when it is said so.
        expect(page.get_by_text("2 T junctions are drawn where runs of SF1 meet")).to_be_visible()
        page.get_by_role("button", name="Leave as it is").click()
        saved(page)
        make_up(page).get_by_label(re.compile("^Dig")).fill("1.2")
        page.keyboard.press("Tab")
        saved(page)
        told = page.locator(".quantity")
        # 48 × 0.6 × 0.3; the trench 48 × (0.6 + 2 × 0.1 + 2 × 0.3), 1.0 deep and 0.2 below.
        for label, amount in (
            ("Concrete", "8.64 m³"),
            ("Excavation 0 to 1 m", "67.20 m³"),
            ("Excavation 1 to 2 m", "13.44 m³"),
        ):
            expect(told.filter(has_text=label).first).to_contain_text(amount)

    def slab_and_columns(self, page: Page) -> None:
        self.new_element(page, "S1", "Ground slab")
        sheet = self.whole(page)
        page.keyboard.press("b")
        sheet.click(on((0, 0)))
        sheet.click(on((12, 8)))
        saved(page)
        sheet = self.whole(page)
        page.keyboard.press("v")
        for corner in ((1.8, 1.8), (4.2, 1.8), (4.2, 6.2), (1.8, 6.2)):
            sheet.click(on(corner))
        page.keyboard.press("Enter")
        saved(page)
        cell(page, "Dimension lines of S1", "VH-01", 3).click()
        type_row(page, "0.15")
        saved(page)
        expect(page.locator(".quantity").first).to_contain_text(f"{(96 - 2.4 * 4.4) * 0.15:.2f} m³")
        # One column counted, then moved along to two more bays.
        self.new_element(page, "C1", "Column, rectangular")
        sheet = self.whole(page)
        page.keyboard.press("c")
        sheet.click(on((2, 2)))
        page.keyboard.press("Enter")
        saved(page)
        lines_read(page).focus()
        page.keyboard.press("d")
        sheet = SheetOnScreen(page, (WIDE, HIGH))
        sheet.click(on((1.8, 1.8)))
        sheet.click(on((3.8, 1.8)))
        page.get_by_label("Number of copies").fill("2")
        page.keyboard.press("Enter")
        saved(page)
        expect(page.get_by_role("grid", name="Dimension lines of C1").get_by_role("row")).to_have_count(
            1 + 3 + 1
        )
        page.keyboard.press("Control+z")
        expect(page.get_by_role("grid", name="Dimension lines of C1").get_by_role("row")).to_have_count(
            1 + 1 + 1
        )

    def walls_from_a_spreadsheet(self, page: Page) -> None:
        self.new_element(page, "W1", "Blockwork")
        # Times, length, width, height, squared, note; quoted and of two lines, as a spreadsheet puts them.
        block = '2\t12.00\t\t2.80\t\t"outer, ""long"""\n2\t8.00\t\t2.80\t\t"outer,\nshort"\nddt 3\t0.90\t\t2.10\t\tdoors\n'
        cell(page, "Dimension lines of W1", "type or draw", 0).click()
        page.evaluate("text => navigator.clipboard.writeText(text)", block)
        page.keyboard.press("Control+v")
        grid = page.get_by_role("grid", name="Dimension lines of W1")
        expect(grid.get_by_role("row")).to_have_count(1 + 3 + 1)
        # 2 × 12 × 2.8 + 2 × 8 × 2.8 − 3 × 0.9 × 2.1.
        expect(page.locator(".quantity").first).to_contain_text("106.33 m²")
        expect(grid.get_by_role("row").nth(1)).to_contain_text('outer, "long"')
        page.keyboard.press("Control+h")
        choose(page, "Field", "notes")
        page.get_by_label("Find", exact=True).fill("outer")
        page.get_by_label("Put instead").fill("facing")
        page.keyboard.press("Enter")
        expect(page.get_by_text("2 lines changed")).to_be_visible()
        expect(grid.get_by_role("row").nth(2)).to_contain_text("facing, short")
        cell(page, "Dimension lines of W1", "doors", 0).click()
        page.keyboard.press("Alt+ArrowUp")
        expect(grid.get_by_role("row").nth(2)).to_contain_text("doors")
        page.get_by_role("button", name="Into the bill").click()
        saved(page)

    def price_and_print(self, page: Page) -> None:
        element = measure_reading.elements(self.actor).elements[0]
        elements.link_to_bill(self.actor, element.id)
        rate = scene.build_up(
            self.actor,
            "Placed",
            "m³",
            [{"resource": scene.resource(self.actor, "Ready mix", "material", "m³", "110.00")}],
        )
        item = Item.get(
            (Item.project == self.actor.project_id)
            & Item.description.contains("strip footings")
            & (Item.unit == "m³")
        )
        bill.change_item(self.actor, item.id, item.version, {"build_up": rate})
        page.get_by_role("link", name="Bill").click()
        cell(page, "Bill of quantities", "type a description", 1).click()
        type_row(page, "Testing of the formation")
        saved(page)
        pick(page, "Bill of quantities", "Testing of the formation", 6, "provisional sum")
        cell(page, "Bill of quantities", "Testing of the formation", 5).click()
        type_row(page, "1250")
        saved(page)
        page.get_by_label("Name of a new adjustment").fill("Contingency")
        page.keyboard.press("Enter")
        page.get_by_label("Contingency percent").fill("10")
        page.keyboard.press("Tab")
        choose(page, "Contingency is taken on", "of the items without sums")
        saved(page)
        total = 8.64 * 110 * 1.1 + 1250
        expect(page.locator("[data-test=bill-total]")).to_contain_text(f"{total:,.2f}".replace(",", "\u00a0"))
        page.get_by_role("link", name="Issue").click()
        text = self.pdf(page, "Bill as PDF")
        for words in (
            "Valve house",
            "Testing of the formation (provisional sum)",
            "Collection",
            "950.40",
            f"{total:,.2f}".replace(",", " "),
        ):
            self.assertIn(words, text)
        self.assertIn("facing, short", self.pdf(page, "Dimension sheets as PDF"))

    def pdf(self, page: Page, name: str) -> str:
        with page.expect_download() as download:
            page.get_by_role("button", name=name).click()
        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder) / "out.pdf"
            download.value.save_as(path)
            document = pypdfium2.PdfDocument(path.read_bytes())
            return "\n".join(page.get_textpage().get_text_range() for page in document).replace("\u00a0", " ")


class Shelf(ProjectCase):
    name = "First"

    def test_a_make_up_goes_from_project_to_project_by_a_shelf_and_moves_on(self) -> None:
        actor, page = self.actor, self.go("/make-ups")
        page.get_by_role("button", name="Start empty").click()
        write_text(page, SOURCE)
        page.get_by_role("button", name="Prove and keep").click()
        expect(page.get_by_role("link", name="Kerb bed")).to_be_visible()
        page.get_by_label("Name of a new shelf").fill("Marl Valley roads")
        page.keyboard.press("Enter")
        choose(page, "Put on a shelf", "Marl Valley roads")
        second = Actor(
            actor.person_id,
            scene.projects.new_project(actor.person_id, "Second", "", "EUR", scene.PRICE_DATE).id,
            "owner",
        )
        page.goto(f"{self.address}/projects/{second.project_id}/make-ups")
        page.get_by_role("button", name="Marl Valley roads").click()
        page.get_by_role("button", name="take", exact=True).click()
        expect(page).to_have_url(re.compile("/make-ups/kerb-bed$"))
        element = scene.element(second, "K1", "kerb-bed")
        scene.line(second, element, length="10")
        # The first project changes it and puts it on the shelf again; the second is told, sees what it would move, takes it.
        self.go("/make-ups/kerb-bed")
        write_text(page, SOURCE.replace("0.3 * m", "0.4 * m"))
        page.get_by_role("button", name="Prove and keep").click()
        saved(page)
        expect(page.get_by_role("button", name="Prove and keep")).to_be_disabled()
        choose(page, "Put on a shelf", "Marl Valley roads")
        saved(page)
        page.goto(f"{self.address}/projects/{second.project_id}/make-ups/kerb-bed")
        expect(page.get_by_text("has moved on to number 2; this project has 1.")).to_be_visible()
        page.locator(".newer").get_by_role("button", name="What it would move").click()
        expect(page.locator(".effect .moved")).to_contain_text("0.45 → 0.60 m³")
        page.get_by_role("button", name="Take it").click()
        saved(page)
        self.assertAlmostEqual(measure_reading.element_view(second, element).quantities[0].net, 0.6)
        self.assertEqual(Project.get_by_id(actor.project_id).name, "First")
