"""A plan drawn at 1/4 in to the foot, measured in feet from the first click to the bill and its papers."""

from __future__ import annotations

import io
import tempfile
from pathlib import Path

from openpyxl import load_workbook
from playwright.sync_api import Page, expect
from reportlab.pdfgen.canvas import Canvas

from tests import scene
from tests.browser.desk import DeskCase, SheetOnScreen, cell, choose, lines_read, make_up, saved, type_row

PAPER = (2592.0, 1728.0)  # 36 × 24 in
FOOT = 18.0  # a quarter of an inch
CORNERS = [(400.0 + x * FOOT, 400.0 + y * FOOT) for x, y in ((0, 0), (24, 0), (24, 16), (0, 16))]
SLAB, GRID = "Dimension lines of S1", "Bill of quantities"


def quarter_inch_plan() -> bytes:
    out = io.BytesIO()
    canvas = Canvas(out, pagesize=PAPER, invariant=1)
    canvas.rect(*CORNERS[0], 24 * FOOT, 16 * FOOT)
    canvas.rect(40, 40, PAPER[0] - 80, PAPER[1] - 80)
    canvas.showPage()
    canvas.save()
    return out.getvalue()


class Customary(DeskCase):
    def test_a_plan_in_feet_from_the_first_click_to_the_bill(self) -> None:
        page: Page = self.projects_of(scene.email_of(scene.person("Asta Venn")))
        page.get_by_role("button", name="Make the first one").click()
        page.get_by_label("Name", exact=True).fill("Gauge house")
        page.get_by_label("Currency, three letters").fill("USD")
        choose(page, "Unit system", "US", "US customary")
        choose(page, "How numbers are written", "1,234.5")
        page.get_by_role("button", name="Make the project").click()
        page.locator("[data-test=drawing-file]").set_input_files(
            {"name": "A-1.pdf", "mimeType": "application/pdf", "buffer": quarter_inch_plan()}
        )
        scale = page.get_by_label("Scale, as it is written on the sheet")
        scale.fill("1/4 = 1")
        scale.press("Enter")
        expect(page.get_by_role("alert")).to_contain_text("“1/4” in “1/4 = 1” has no unit.")
        scale.fill('1/4" = 1\'-0"')
        scale.press("Enter")
        expect(page.locator(".desk-head .num")).to_have_text('1/4" = 1\'-0"')

        page.get_by_role("link", name="Measure").click()
        page.get_by_role("button", name="New element", exact=True).first.click()
        page.get_by_label("Mark, as on the drawing").fill("S1")
        page.get_by_label("Name of the new location").fill("Ground floor")
        choose(page, "Make-up", "Ground slab")
        page.get_by_role("button", name="Make it").click()
        expect(page.get_by_role("grid", name=SLAB)).to_be_visible()
        board = lines_read(page)
        board.focus()
        page.keyboard.press("a")
        sheet = SheetOnScreen(page, PAPER)
        sheet.click(CORNERS[0])
        sheet.move(CORNERS[2])
        expect(page.get_by_text(" ft at ")).to_be_visible()
        for corner in CORNERS[1:]:
            sheet.click(corner)
        board.focus()
        page.keyboard.press("Enter")
        saved(page)
        page.keyboard.press("Escape")
        expect(cell(page, SLAB, "A-1", 6)).to_contain_text("384.00 ft²")
        # What could be read two ways is asked about.
        thick = cell(page, SLAB, "A-1", 3)
        thick.click()
        type_row(page, "75-0")
        expect(page.get_by_role("alert")).to_contain_text("“75-0” can be 75 ft 0 in, or 75 less 0.")
        thick.click()
        type_row(page, "6in")
        saved(page)
        expect(cell(page, SLAB, "A-1", 4)).to_have_text("7.11")  # 384 ft² × 0.5 ft / 27
        expect(page.get_by_role("columnheader", name="Squared yd³")).to_be_visible()
        cell(page, SLAB, "A-1", 4).click()
        working = page.get_by_role("complementary", name="Working")
        expect(working).to_contain_text("/ 27")
        # Typed lines are in feet; other units say so themselves.
        cell(page, SLAB, "type or draw", 0).click()
        type_row(page, "2", "1,250.5", "2m", "0.5")
        saved(page)
        expect(cell(page, SLAB, "1,250.50", 4)).to_have_text("303.90")  # 2 × 1250.5 × 6.5617 × 0.5 / 27
        cell(page, SLAB, "1,250.50", 0).click()
        page.keyboard.press("Control+Delete")
        expect(page.get_by_role("grid", name=SLAB)).not_to_contain_text("1,250.50")
        asked = make_up(page)
        asked.get_by_label("Sub-base in").fill("4")
        asked.get_by_label("Sub-base in").press("Enter")
        saved(page)
        quantities = page.get_by_role("region", name="Quantities of S1")
        expect(quantities).to_contain_text("4.74")  # 384 / 3 / 27
        page.keyboard.press("Escape")
        page.get_by_role("button", name="Into the bill").click()
        saved(page)
        page.get_by_role("link", name="Bill").click()
        expect(cell(page, GRID, "Granular sub-base 4 in thick", 2)).to_have_text("yd³")
        expect(cell(page, GRID, "Concrete C30/37 in ground slabs", 3)).to_have_text("7.11")
        page.get_by_role("link", name="Issue").click()
        with page.expect_download() as download:
            page.get_by_role("button", name="Bill as XLSX").click()
        with tempfile.TemporaryDirectory() as folder:
            download.value.save_as(Path(folder) / "bill.xlsx")
            book = load_workbook(Path(folder) / "bill.xlsx")
        heads = [str(each.value) for row in book["Dimensions"].iter_rows() for each in row]
        self.assertIn("Concrete yd³", heads)
        self.assertIn("Area ft²", heads)
