"""Bills at the desk: a client's workbook received, matched and priced, and given back; our own bill's rates typed and
composed; issued, compared, brought together, reported."""

from __future__ import annotations

import io
import re
from decimal import Decimal

from openpyxl import load_workbook
from playwright.sync_api import FilePayload, Locator, Page, expect

from sandscale.demo.bills import client_bill
from sandscale.services.bill import reading
from sandscale.services.bill.received import MEDIA_TYPE
from sandscale.store.models import Bill
from tests.browser.desk import DemoCase, cell, choose, saved, type_row

BILL = "Bill of quantities"


def does(page: Page, menu: str, words: str) -> None:
    page.get_by_role("button", name=menu).click()
    page.get_by_role("button", name=words).click()


class BillsAtTheDesk(DemoCase):
    def total(self) -> Locator:
        return self.page.locator("[data-test=bill-total]")

    def rows(self, words: str) -> Locator:
        return self.page.get_by_role("row").filter(has_text=words)

    def test_from_a_received_workbook_to_the_priced_one(self) -> None:
        page = self.go("/bill")
        does(page, "Bills", "Receive a client")
        file: FilePayload = {"name": "Tank.xlsx", "mimeType": MEDIA_TYPE, "buffer": client_bill()}
        page.locator("input[data-test=bill-file]").set_input_files(file)
        # A column taken for another is put right by hand, and back.
        choose(page, "Column 4 of Bill 1 Structure is", "left out")
        expect(
            page.get_by_text("It has no quantity, so it is taken for its rate only.").first
        ).to_be_visible()
        choose(page, "Column 4 of Bill 1 Structure is", "quantity")
        expect(page.get_by_text("for its rate only")).to_have_count(0)
        page.get_by_role("button", name="Take in 13 items of 2 sheets").click()
        expect(cell(page, BILL, "Concrete C30/37 in ground slabs", 4)).to_have_text("no rate")
        expect(cell(page, BILL, "Concrete C30/37 in ground slabs", 0)).to_have_text("2.01")
        does(page, "Look at it", "Items to be matched")
        page.get_by_role("button", name="Price 9 as chosen").click()
        saved(page)
        expect(page.get_by_role("button", name=re.compile("as chosen"))).to_have_count(0)
        does(page, "Look at it", "Its items")
        expect(cell(page, BILL, "Concrete C30/37 in ground slabs", 4)).to_have_text("200.09")
        # What isn't measured or priced yet is typed, with its reason.
        cell(page, BILL, "Waterstop 250 wide", 4).click()
        page.get_by_role("button", name="type a rate").click()
        page.get_by_label("Typed rate", exact=True).fill("14.60")
        page.keyboard.press("Tab")
        page.keyboard.type("quotation of Tern Supplies")
        page.keyboard.press("Enter")
        saved(page)
        expect(cell(page, BILL, "Waterstop 250 wide", 5)).to_have_text("1\u00a0080.40")
        cell(page, BILL, "Testing the tank", 5).click()
        type_row(page, "950")
        saved(page)
        with page.expect_download() as download:
            page.get_by_role("button", name="Give it back priced").click()
        with open(download.value.path(), "rb") as made:
            book = load_workbook(io.BytesIO(made.read()))
        self.assertEqual(download.value.suggested_filename, "Tank priced.xlsx")
        sheet = book["Bill 1 Structure"]
        self.assertEqual(
            (sheet["E11"].value, sheet["E16"].value, sheet["F16"].value), (200.09, 14.6, "=ROUND(D16*E16,2)")
        )
        self.assertEqual(book["Bill 2 Pipes and general"]["E9"].value, 950)
        self.assertEqual(book["Terms"].sheet_state, "hidden")
        # Our own bill's total is as it was; a reload shows the same of theirs.
        expect(self.total()).to_have_text(re.compile(r"316.501\.86"))
        page.reload()
        expect(cell(page, BILL, "Waterstop 250 wide", 5)).to_have_text("1\u00a0080.40")
        # A workbook that is none is told so, and nothing is lost.
        does(page, "Bills", "Receive a client")
        page.locator("input[data-test=bill-file]").set_input_files(
            {**file, "buffer": b"\xd0\xcf\x11\xe0 locked"}
        )
        expect(page.get_by_role("alert").filter(has_text="encrypted").first).to_be_visible()

    def test_a_block_from_a_spreadsheet_and_a_bill_in_the_exchange_format(self) -> None:
        page = self.go("/bill")
        page.get_by_placeholder("A new section").fill("Fences")
        page.keyboard.press("Enter")
        saved(page)
        self.rows("type a description").first.get_by_role("gridcell").nth(1).click()
        block = "Fence of mesh\\tm\\t12\\t31.50\\nBlock wall\\tm²\\t4\\tBlockwork 140 in walls"
        page.evaluate(f"navigator.clipboard.writeText('{block}')")
        page.keyboard.press("Control+v")
        expect(cell(page, BILL, "Fence of mesh", 4)).to_have_text("✎ 31.50")
        expect(cell(page, BILL, "Fence of mesh", 5)).to_have_text("378.00")
        expect(cell(page, BILL, "Block wall", 4)).to_have_text(re.compile(r"^\d"))
        with page.expect_download() as download:
            does(page, "Bills", "As GAEB DA XML")
        path = download.value.path()
        page = self.go("/bill")
        does(page, "Bills", "Receive a client")
        file = {"name": "back.x84", "mimeType": "application/xml", "buffer": path.read_bytes()}
        page.locator("[data-test=bill-file]").set_input_files(file)
        page.get_by_label("Title of the bill").fill("Back")
        page.keyboard.press("Enter")
        expect(page).to_have_url(re.compile(r"bill=\d+"))
        expect(cell(page, BILL, "Fence of mesh", 5)).to_have_text("378.00")
        number = (
            self.rows("Fence of mesh").get_by_role("gridcell").first
        )  # in its own numbers, none of them cut
        self.assertTrue(number.evaluate("cell => cell.scrollWidth <= cell.clientWidth"))

    def test_our_own_bill_composed_issued_compared_brought_together_and_reported(self) -> None:
        page = self.go("/bill")
        slab = "Concrete C30/37 in ground slabs"
        does(page, "Bills", "Issue our own bill")
        page.get_by_label("Title of the issued bill").fill("Tender")
        page.get_by_role("button", name="Issue it").click()
        expect(page.get_by_text("type a description")).to_have_count(0)
        choose(page, "Which bill", "Bill of quantities")
        # A rate composed of several, with how many of each.
        cell(page, BILL, slab, 4).click()
        page.get_by_role("button", name="compose of several").click()
        choose(page, "Another rate in it", "Slab power floated", "Slab power floated")
        saved(page)
        expect(cell(page, BILL, slab, 4)).to_have_text("Σ 201.51")  # 200.0935 + 1.4178
        page.get_by_label("m² of Slab power floated in one m³").fill("5")
        page.keyboard.press("Enter")
        saved(page)
        expect(cell(page, BILL, slab, 4)).to_have_text("Σ 207.17")
        working = page.get_by_role("complementary", name="Working")
        expect(working).to_contain_text("sum of its parts, rounded once")
        # How long the work lasts moves what goes by time.
        page.get_by_label("How long the work lasts").fill("30")
        page.keyboard.press("Enter")
        saved(page)
        expect(cell(page, BILL, "Site office", 5)).to_have_text("7\u00a0350.00")
        # An item dragged goes where it is dropped; the sections' sums follow.
        self.rows("Site office").first.get_by_role("gridcell").first.drag_to(self.rows("Pump plinth").first)
        saved(page)
        own = reading.bill_items(self.actor, 0, 400)
        self.assertEqual([i.ref for i in own if i.description.startswith("Site office")], ["10.1"])
        does(page, "Look at it", "Beside another bill")
        expect(page.get_by_text(re.compile(r"otherwise"))).to_be_visible()
        expect(self.rows(slab)).to_contain_text("200.09")
        expect(self.rows(slab)).to_contain_text("207.17")
        does(page, "Look at it", "By location")
        expect(page.get_by_text("By kind of cost")).to_be_visible()
        page.locator(".by .n-base-selection").click()
        page.locator(".n-base-select-option:visible").filter(has_text="location").click()
        page.keyboard.press("Escape")
        expect(page.get_by_text("Pump house, foundations", exact=True)).to_be_visible()
        told = reading.bill_outline(self.actor).total
        whole = page.get_by_role("row").filter(has_text=re.compile("^\\s*Whole"))
        for at in range(3):
            expect(whole.nth(at)).to_contain_text(f"{told:,.2f}".replace(",", "\u00a0"))
        with page.expect_download() as download:
            page.get_by_role("button", name="as XLSX").click()
        self.assertTrue(download.value.suggested_filename.endswith("report.xlsx"))
        does(page, "Look at it", "What makes most")
        expect(page.get_by_text(re.compile(r"\d+ of \d+ items make 8\d % of the money"))).to_be_visible()
        # The Water Board's bill brought into ours: a choice for what both have.
        theirs = Bill.get((Bill.project == self.project.id) & (Bill.kind == "received"))
        self.go(f"/bill?bill={theirs.id}")
        before = reading.bill_outline(self.actor).items_total
        does(page, "Bills", "Bring one bill into another")
        expect(page.get_by_text(re.compile("items are new"))).to_be_visible()
        page.get_by_role("button", name="the sum", exact=True).first.click()
        page.get_by_role("button", name="Bring it in").click()
        saved(page)
        after = reading.bill_outline(self.actor)
        self.assertGreater(after.items_total, before)
        page.get_by_role("button", name="Undo").click()
        expect(self.total()).to_have_text(re.compile(f"{told:,.2f}".replace(",", ".")))
        saved(page)
        self.assertEqual(reading.bill_outline(self.actor).items_total, before)
        self.assertNotEqual(before, Decimal(0))
