"""A drawing's revision at the desk: from the file to the bill's difference; a DXF and its layers."""

from __future__ import annotations

import io
import re
from pathlib import Path
from tempfile import TemporaryDirectory

from openpyxl import load_workbook
from playwright.sync_api import expect

from sandscale.demo.drawings import foundation_drawing, services_drawing
from sandscale.services.sheets import reading
from sandscale.store.models import Figure, Sheet
from tests import scene
from tests.browser.desk import DemoCase, saved


class RevisionsAtTheDesk(DemoCase):
    def test_a_plan_in_revision_b_from_the_file_to_the_bills_difference(self) -> None:
        total = scene.total(self.actor)
        page = self.go(f"/sheets/{self.own(Sheet, title='Foundation plan')}")
        page.get_by_role("button", name="Sheet ▾").click()
        page.get_by_role("button", name="Bring in its next revision").click()
        page.get_by_test_id("revision-file").or_(page.locator("[data-test=revision-file]")).set_input_files(
            {"name": "FW-S-101 B.pdf", "mimeType": "application/pdf", "buffer": foundation_drawing("B")}
        )
        # The places that changed, largest first; one key leads to the next, one says it was looked at.
        expect(page).to_have_url(re.compile(r"/sheets/\d+/changes"))
        places = page.get_by_role("region", name="Places that changed")
        expect(places.get_by_role("button")).to_have_count(5)
        expect(places.get_by_role("button").first).to_contain_text("Sump 3600 × 2400 went")
        expect(page.get_by_text("as it lay, by 88% of its lines")).to_be_visible()
        places.focus()
        page.keyboard.press("n")
        expect(page.get_by_text("Place 2 of 5")).to_be_visible()
        expect(places.get_by_role("button").nth(1)).to_contain_text("PF2 1800 → PF2 2200")
        page.keyboard.press("Shift+N")
        page.keyboard.press("l")
        saved(page)
        expect(page.get_by_text("4 left")).to_be_visible()
        expect(page.get_by_text("Place 2 of 5")).to_be_visible()
        page.get_by_text("Both, whole").click()
        page.get_by_text("Changes", exact=True).click()

        # What lies near a change is kept, or put right where it is measured: the void of the sump goes.
        near = page.get_by_role("region", name="Figures near this change")
        expect(near).to_contain_text("PF2")
        checks = page.get_by_role("button", name=re.compile("^Checks"))
        expect(checks).to_have_attribute("title", re.compile("5 want a look"))
        near.get_by_role("button", name="Keep PF2").click()
        saved(page)
        expect(checks).to_have_attribute("title", re.compile("4 want a look"))
        near.get_by_role("button", name="Put right GS1").click()
        expect(page.get_by_text("GS1 lies near a change of the drawing.")).to_be_visible()
        sheet = page.locator("[data-test=sheet]")
        sheet.focus()
        for back in (3, 2):  # to the void's last corner; of three that are left none stays
            for _ in range(back):
                page.keyboard.press("[")
            page.keyboard.press("Delete")
            saved(page)
        expect(page.get_by_text("GS1 lies near a change of the drawing.")).to_have_count(0)
        slab = Figure.get((Figure.project == self.project.id) & (Figure.id << self.figures_of("GS1")))
        self.assertEqual(slab.geometry["voids"], [])
        self.assertNotEqual(scene.total(self.actor), total)

        # The bill tells of what still waits; the difference is told item by item, and goes out as a workbook.
        page.get_by_role("link", name="Bill", exact=True).click()
        beams = page.get_by_role("row").filter(has_text="Concrete C30/37 in ground beams")
        expect(beams.get_by_role("gridcell").first).to_have_attribute("title", re.compile("near a change"))
        revision = reading.drawings(self.actor)[0].revision
        page = self.go(f"/sheets/revision/{revision}")
        moved = page.get_by_role("region", name="Items that moved")
        expect(moved.get_by_role("row").filter(has_text="Concrete C30/37 in ground slabs")).to_contain_text(
            "+1.73"
        )
        expect(page.get_by_text("3 figures near a change to be looked at")).to_be_visible()
        with page.expect_download() as download:
            page.get_by_role("button", name="XLSX").click()
        with TemporaryDirectory() as folder:
            path = Path(folder) / "revision.xlsx"
            download.value.save_as(path)
            book = load_workbook(io.BytesIO(path.read_bytes()))
        told = [row[1].value for row in book.worksheets[0].iter_rows(min_row=5)]
        self.assertIn("Concrete C30/37 in ground slabs", told)
        # The former revision is still there to be seen.
        page = self.go("/sheets")
        page.get_by_role("link", name=re.compile("Foundation plan, rev A")).click()
        expect(page.get_by_role("link", name="Revision B")).to_be_visible()

    def figures_of(self, mark: str) -> list[int]:
        return [f.id for f in Figure.select() if f.project_id == self.project.id and f.element.mark == mark]

    def test_a_dxf_is_drawn_with_progress_its_layers_hidden_and_what_is_no_dxf_told(self) -> None:
        page = self.go("/sheets")
        chooser = page.locator("[data-test=drawing-file]")
        cut = {"name": "cut.dxf", "mimeType": "image/vnd.dxf", "buffer": services_drawing()[:-5000]}
        chooser.set_input_files(cut)
        expect(page.get_by_text("“cut.dxf” ends in the middle: it was cut off.")).to_be_visible()
        whole = {"name": "C-9.dxf", "mimeType": "image/vnd.dxf", "buffer": services_drawing()}
        chooser.set_input_files(whole)
        expect(page.get_by_text("C-9 A, p. 1")).to_be_visible()
        sheet = page.locator("[data-test=sheet]")
        lines = int(sheet.get_attribute("data-lines") or 0)
        page.get_by_role("button", name="Layers 6 of 7").click()
        for name in ("Road", "Words"):
            page.get_by_role("checkbox", name=name, exact=True).click()
        saved(page)
        expect(page.get_by_role("button", name="Layers 4 of 7")).to_be_visible()
        page.wait_for_function(
            f"Number(document.querySelector('[data-test=sheet]').dataset.lines) < {lines or 10**6}"
        )
        page.get_by_role("button", name="Undo").click()
        expect(page.get_by_role("button", name="Layers 5 of 7")).to_be_visible()
