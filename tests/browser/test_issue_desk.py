"""What goes out, at the desk: packages issued and held against one another, a form of our own filled, a table
that a spreadsheet reads."""

from __future__ import annotations

import io
import zipfile
from pathlib import Path
from urllib.error import HTTPError
from urllib.request import Request, urlopen

from openpyxl import load_workbook
from playwright.sync_api import Page, expect

from sandscale.services.bill import actions as bill
from sandscale.store.models import Item, OwnForm
from tests import scene
from tests.browser.desk import DemoCase, saved


class IssuedAtTheDesk(DemoCase):
    def issue(self, page: Page, title: str) -> zipfile.ZipFile:
        page.get_by_role("button", name="Issue one").click()
        page.get_by_label("Title of the package").fill(title)
        page.get_by_role("button", name="PDF", exact=True).click()  # none of them but the sheets and the bill
        page.get_by_label("Bill of quantities as PDF").click()
        page.get_by_label("Sheet FW-S-101 A p. 1, measured as PDF").click()
        page.get_by_role("button", name="Issue it").click()
        expect(page.get_by_role("link", name="Take the file")).to_be_visible()
        expect(page.locator(".desk-head")).to_contain_text(title)
        with page.expect_download() as download:
            page.get_by_role("link", name="Take the file").click()
        return zipfile.ZipFile(Path(download.value.path()))

    def test_packages_are_issued_and_held_against_one_another(self) -> None:
        page, footings = self.go("/issue"), self.own(Item, description="Concrete C30/37 in pad footings")
        first = self.issue(page, "Tender")
        self.assertEqual(
            [name.split()[0] + name[-4:] for name in first.namelist()],
            ["01xlsx", "01.pdf", "02.pdf", "00.pdf"],
        )
        was = scene.total(self.actor)
        item = Item.get_by_id(footings)  # of our own bill, not of what was issued
        bill.change_item(self.actor, item.id, item.version, {"typed_rate": "200", "rate_reason": "agreed"})
        self.issue(page, "Addendum")
        page.get_by_label("Beside which package").click()
        page.keyboard.type("Tender")
        page.keyboard.press("Enter")
        table = page.get_by_role("region", name="Packages compared")
        moved = f"{scene.total(self.actor) - was:+,.2f}".replace(",", "\u00a0")
        expect(table).to_contain_text(f"The bill moved by {moved}")
        expect(table.get_by_role("row").filter(has_text="Sheet FW-S-101")).to_contain_text("tells the same")
        table.get_by_role("link", name="item by item").click()
        expect(page.get_by_role("row").filter(has_text="in pad footings")).to_contain_text("rate")

    def test_a_form_is_tied_by_walking_and_filled(self) -> None:
        page = self.go(f"/issue/form/{self.own(OwnForm)}")
        grid = page.get_by_role("application")
        grid.focus()
        for key in ("ArrowDown",) * 8:
            page.keyboard.press(key)
        expect(page.get_by_label("Cell, or name of a range")).to_have_value("Tender!A9")
        page.get_by_role("button", name="Walk to another…").click()
        expect(page.get_by_role("region", name="A cell waits for its number")).to_contain_text("Tender!A9")
        working = page.get_by_role("complementary", name="Working")
        working.get_by_role("button", name="2 Concrete").click()
        working.get_by_role("button", name="2.1 Concrete").click()
        expect(working.get_by_role("heading", level=2)).to_contain_text("pad footings")
        page.get_by_role("button", name="Tie this one").click()
        saved(page)
        expect(page.get_by_role("region", name="Tied cells")).to_contain_text("Tender!A9")
        expect(grid).to_be_focused()
        with page.expect_download() as download:
            page.get_by_role("button", name="Fill it").click()
        sheet = load_workbook(io.BytesIO(Path(download.value.path()).read_bytes()))["Tender"]
        item = Item.get_by_id(self.own(Item, description="Concrete C30/37 in pad footings"))
        self.assertEqual(sheet["A9"].value, float(item.amount))
        self.assertEqual(
            (sheet["B3"].value, sheet["C4"].value), (float(scene.total(self.actor)), "=B4/TenderSum")
        )
        grid.focus()
        page.keyboard.press("Delete")
        saved(page)
        expect(page.get_by_role("region", name="Tied cells")).not_to_contain_text("Tender!A9")
        page.locator("[data-test=form-file]").set_input_files(
            {"name": "x.xlsx", "mimeType": "application/zip", "buffer": b"\xd0\xcf\x11\xe0"}
        )
        expect(page.get_by_role("alert").first).to_contain_text("encrypted")

    def test_a_table_is_read_by_its_address_until_its_key_is_withdrawn(self) -> None:
        page = self.go("/issue/tables")
        page.get_by_label("For whom or what the address is").fill("Client")
        page.keyboard.press("Enter")
        address = page.get_by_label("Address of the table").input_value()
        with urlopen(address) as answer:
            mark, text = answer.headers["ETag"], answer.read().decode("utf-8-sig")
        self.assertIn("Concrete C30/37 in pad footings", text)
        with self.assertRaises(HTTPError) as same:
            urlopen(Request(address, headers={"If-None-Match": mark}))
        self.assertEqual(same.exception.code, 304)
        page.get_by_role("button", name="Withdraw the key of Client").click()
        expect(page.get_by_role("row").filter(has_text="Client")).to_contain_text("withdrawn")
        with self.assertRaises(HTTPError) as gone:
            urlopen(address)
        self.assertEqual(gone.exception.code, 410)
        self.assertIn("The key of this table was withdrawn.", io.TextIOWrapper(gone.exception).read())
