"""The whole job, as a surveyor does it: from an empty project to the downloaded bill, with the keyboard where there is one."""

from __future__ import annotations

import re
import tempfile
from pathlib import Path

from openpyxl import load_workbook
from playwright.sync_api import Page, expect

from sandscale.demo import plan
from sandscale.demo.drawings import foundation_drawing
from sandscale.services.measure import reading as measure_reading
from sandscale.store.models import Change, Project
from tests import scene
from tests.browser.desk import (
    DeskCase,
    SheetOnScreen,
    cell,
    choose,
    lines_read,
    make_up,
    pick,
    saved,
    type_row,
)

PICTURE = tuple[float, float]


class WholeJob(DeskCase):
    def test_from_an_empty_project_to_the_priced_bill(self) -> None:
        page = self.signed_in_by_hand(scene.email_of(scene.person("Asta Venn")))
        self.make_project(page)
        self.bring_in_and_scale(page)
        self.count_the_footings(page)
        self.measure_the_slab(page)
        self.price_and_build_up(page)
        self.price_the_bill(page)
        self.walk_back(page)
        self.change_and_undo(page)
        self.issue(page)

    def signed_in_by_hand(self, email: str) -> Page:
        page = self.a_page()
        page.goto(self.address)
        page.get_by_label("E-mail address").fill(email)
        page.get_by_label("Password").fill(scene.PASSWORD)
        page.keyboard.press("Enter")
        expect(page.get_by_role("heading", name="Projects", exact=True)).to_be_visible()
        return page

    def make_project(self, page: Page) -> None:
        expect(page.get_by_text("No projects yet")).to_be_visible()
        page.get_by_role("button", name="Make the first one").click()
        page.get_by_label("Name", exact=True).fill("Weir pump house")
        page.get_by_label("Client").fill("Marl Valley Water Board")
        page.get_by_label("Price date").fill("02 Nov 2026")
        page.keyboard.press("Enter")
        page.get_by_role("button", name="Make the project").click()
        expect(page.get_by_text("No drawings yet")).to_be_visible()

    def bring_in_and_scale(self, page: Page) -> None:
        chosen = page.locator("[data-test=drawing-file]")
        chosen.set_input_files(
            {"name": "notes.pdf", "mimeType": "application/pdf", "buffer": b"not a drawing"}
        )
        expect(page.get_by_role("alert")).to_contain_text("“notes.pdf” is not a PDF, DXF, PNG, JPEG or TIFF.")
        chosen.set_input_files(
            {"name": "FW-S-101.pdf", "mimeType": "application/pdf", "buffer": foundation_drawing()}
        )
        expect(page.get_by_text("This sheet has no scale yet")).to_be_visible()
        page.get_by_label("Scale, as it is written on the sheet").fill("0")
        page.keyboard.press("Enter")
        expect(page.get_by_role("alert")).to_contain_text("A scale of 1:0 or less can't be measured at.")
        # By two picks on grids 1 and 2, 9.00 apart.
        lines_read(page)
        sheet = SheetOnScreen(page, plan.SHEET)
        for name in ("1", "2"):
            sheet.click(plan.on_sheet((plan.GRID_X[name], plan.GRID_Y["C"])))
        page.get_by_label("Known length").fill("9")
        page.keyboard.press("Enter")
        picked = page.locator(".desk-head .num")
        # The picks were drawn to the crossings of the grid.
        expect(picked).to_have_text("1:100")
        page.get_by_role("button", name="Scale").click()
        page.get_by_label("Scale, as it is written on the sheet").fill("100")
        page.keyboard.press("Enter")
        expect(picked).to_have_text("1:100")

    def new_element(self, page: Page, mark: str, description: str, recipe: str, place: str = "") -> None:
        page.get_by_role("button", name="New element", exact=True).first.click()
        page.get_by_label("Mark, as on the drawing").fill(mark)
        page.get_by_label("Description").fill(description)
        if place:
            page.get_by_label("Name of the new location").fill(place)
        choose(page, "Make-up", recipe)
        page.get_by_role("button", name="Make it").click()
        expect(page.get_by_role("grid", name=f"Dimension lines of {mark}")).to_be_visible()

    def count_the_footings(self, page: Page) -> None:
        page.get_by_role("link", name="Measure").click()
        self.new_element(page, "PF2", "Pad footing", "Pad footing", "Foundations")
        board = lines_read(page)
        board.focus()
        page.keyboard.press("c")
        sheet = SheetOnScreen(page, plan.SHEET)
        footing = next(f for f in plan.FOOTINGS if f.mark == "PF2")
        for centre in [*footing.centres(), (0.0, 0.0)]:
            sheet.click(plan.on_sheet(centre))
        expect(page.get_by_text("5 counted.")).to_be_visible()
        board.focus()
        page.keyboard.press("Backspace")
        page.keyboard.press("Enter")
        saved(page)
        # The line the count made: its sizes, typed; a wrong one is kept, marked and told.
        line = cell(page, "Dimension lines of PF2", "FW-S-101", 1)
        line.click()
        type_row(page, "abc", "1.80")
        saved(page)
        expect(page.get_by_role("alert")).to_contain_text("“abc” can't be read as length.")
        expect(line).to_have_text("abc")
        line.click()
        type_row(page, "1800mm")
        page.keyboard.press("ArrowRight")
        type_row(page, "0.50")
        saved(page)
        expect(cell(page, "Dimension lines of PF2", "FW-S-101", 4)).to_have_text("6.48")
        for label, amount in (
            ("Concrete", "6.48 m³"),
            ("Formwork to sides", "14.40 m²"),
            ("Blinding", "0.80 m³"),
            ("Bars", "386 kg"),
        ):
            expect(page.locator(".quantity").filter(has_text=label)).to_contain_text(amount)
        page.get_by_role("button", name="Into the bill").click()
        expect(
            page.locator(".quantity").filter(has_text="Bars").get_by_role("button", name="item")
        ).to_be_visible()

    def measure_the_slab(self, page: Page) -> None:
        self.new_element(page, "GS1", "Ground slab", "Plain, m³")
        opened = make_up(page)
        opened.get_by_label("What it is").fill("Concrete in ground slab, 200 thick")
        page.keyboard.press("Tab")
        page.get_by_label("Bill section").fill("Concrete")
        page.keyboard.press("Tab")
        saved(page)
        page.keyboard.press("Escape")
        expect(opened).to_have_count(0)
        board = page.locator("[data-test=sheet]")
        page.get_by_role("button", name="Sheet ▾").click()
        page.get_by_role("button", name="Show the whole sheet").click()
        board.focus()
        for _ in range(2):
            page.keyboard.press("+")
        page.wait_for_timeout(400)
        sheet = SheetOnScreen(page, plan.SHEET, steps=2)
        self.draw(page, sheet, "a", plan.SLAB)
        self.draw(page, sheet, "v", [(30.0, 2.0), (32.0, 2.0), (32.0, 4.0)])
        expect(page.get_by_role("alert")).to_contain_text("The void lies outside every area of GS1.")
        page.keyboard.press("Escape")
        self.draw(page, sheet, "v", plan.SUMP)
        saved(page)
        height = cell(page, "Dimension lines of GS1", "FW-S-101", 3)
        height.click()
        type_row(page, "0.20")
        saved(page)
        # The picks were drawn to the drawing's own corners, so the area is exact.
        expect(page.locator(".quantity b")).to_have_text(f"{(27.8 * 15.2 - 3.6 * 2.4) * 0.2:.2f}")
        page.get_by_role("button", name="Into the bill").click()
        saved(page)

    def draw(self, page: Page, sheet: SheetOnScreen, tool: str, ring: list[PICTURE]) -> None:
        page.locator("[data-test=sheet]").focus()
        page.keyboard.press(tool)
        for corner in ring:
            sheet.click(plan.on_sheet(corner))
        page.locator("[data-test=sheet]").focus()
        page.keyboard.press("Enter")

    def price_and_build_up(self, page: Page) -> None:
        page.get_by_role("link", name="Prices").click()
        for name, kind, unit, price in (
            ("Labourer", "labour", "h", "27.20"),
            ("Cement", "material", "kg", "0.214"),
            ("Aggregate", "material", "m³", "34.00"),
        ):
            page.get_by_role("button", name="New resource").first.click()
            page.get_by_label("Name", exact=True).fill(name)
            choose(page, "Kind", kind)
            choose(page, "Unit it is used in", unit)
            page.get_by_role("button", name="Make it").click()
            cell(page, f"Quotes for {name}", "add a quote", 0).click()
            type_row(page, "Quayside Merchants", price)
            saved(page)
            expect(page.get_by_label("Quotes for " + name)).to_contain_text("used")
        page.get_by_role("link", name="Rates").click()
        self.rate(page, "Mix", "m³", "2.4", [("Labourer", "2"), ("Cement", "365"), ("Aggregate", "1.2")])
        self.rate(page, "Concrete placed", "m³", "3.2", [("Labourer", "3"), ("Mix", "1")])
        # Mix: 2 × 27.20 / 2.4 + 365 × 0.214 + 1.2 × 34 = 141.58; placed: 3 × 27.20 / 3.2 + 141.58 × 1.05 = 174.16.
        cell(page, "Build-up of Concrete placed", "Mix", 4).click()
        type_row(page, "5")
        saved(page)
        expect(cell(page, "Build-up of Concrete placed", "Rate per", 7)).to_have_text("174.16")

    def rate(self, page: Page, name: str, unit: str, output: str, lines: list[tuple[str, str]]) -> None:
        page.get_by_role("button", name="New rate").first.click()
        page.get_by_label("Name", exact=True).fill(name)
        choose(page, "Per", unit)
        page.get_by_role("button", name="Make it").click()
        table = f"Build-up of {name}"
        expect(page.get_by_role("grid", name=table)).to_be_visible()
        page.get_by_label("Output", exact=True).fill(output)
        page.keyboard.press("Tab")
        saved(page)
        for source, quantity in lines:
            pick(page, table, "pick a resource", 0, source)
            cell(page, table, source, 2).click()
            type_row(page, quantity)
            saved(page)

    def price_the_bill(self, page: Page) -> None:
        page.get_by_role("link", name="Bill").click()
        for item in ("Concrete C30/37 in pad footings", "Concrete in ground slab"):
            pick(page, "Bill of quantities", item, 4, "Concrete placed, 174.16")
            expect(cell(page, "Bill of quantities", item, 4)).to_have_text("174.16")
        page.get_by_label("Overheads percent").fill("8.5")
        page.keyboard.press("Tab")
        page.get_by_label("Profit percent").fill("5")
        page.keyboard.press("Tab")
        saved(page)
        expect(cell(page, "Bill of quantities", "Concrete C30/37 in pad footings", 5)).to_have_text(
            "1\u00a0128.56"
        )

    def walk_back(self, page: Page) -> None:
        working = page.get_by_role("complementary", name="Working")
        cell(page, "Bill of quantities", "Concrete C30/37 in pad footings", 5).click()
        expect(working).to_contain_text("6.48 × 174.16")
        working.get_by_role("button", name=re.compile("^Quantity")).click()
        working.get_by_role("button", name=re.compile("^Concrete in PF2")).click()
        expect(page).to_have_url(re.compile(r"/measure/\d+"))
        expect(working).to_contain_text("4 × 1.80 × 1.80 × 0.50")
        working.get_by_role("button", name=re.compile("^Count on FW-S-101")).click()
        expect(page).to_have_url(re.compile(r"at=figure:\d+"))
        expect(working).to_contain_text("Count for PF2")
        expect(page.get_by_role("row").filter(has_text="FW-S-101").first).to_have_class(re.compile("here"))
        page.go_back()
        expect(working).to_contain_text("4 × 1.80 × 1.80 × 0.50")

    def change_and_undo(self, page: Page) -> None:
        total = page.locator("[data-test=bill-total]")
        before = total.inner_text()
        moved = page.locator("[data-test=moved]").inner_text()
        cell(page, "Dimension lines of PF2", "FW-S-101", 2).click()
        page.keyboard.type("2.00")
        page.keyboard.press("Enter")
        saved(page)
        expect(total).not_to_have_text(before)
        self.assertNotEqual(page.locator("[data-test=moved]").inner_text(), moved)
        expect(page.locator("footer")).to_contain_text("PF2: width 1.80 → 2.00")
        page.keyboard.press("Control+z")
        expect(total).to_have_text(before)
        page.keyboard.press("Control+Shift+z")
        expect(total).not_to_have_text(before)
        page.keyboard.press("Control+z")
        expect(total).to_have_text(before)

    def issue(self, page: Page) -> None:
        page.keyboard.press("Control+k")
        page.get_by_placeholder("An element, sheet").fill("issue")
        page.keyboard.press("Enter")
        expect(page.get_by_text("that add nothing yet")).to_be_visible()
        with page.expect_download() as download:
            page.get_by_role("button", name="Bill as XLSX").click()
        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder) / "bill.xlsx"
            download.value.save_as(path)
            formulas, values = load_workbook(path)["Bill"], load_workbook(path, data_only=True)["Bill"]
        rows = {
            row[1].value: (row, [c.value for c in shown])
            for row, shown in zip(formulas.iter_rows(min_row=5), values.iter_rows(min_row=5), strict=True)
        }
        row, shown = rows["Concrete C30/37 in pad footings"]
        self.assertEqual(shown[2:6], ["m³", 6.48, 174.16, 1128.56])
        self.assertRegex(row[3].value, r"^=ROUND\(Dimensions!")
        self.assertRegex(row[4].value, r"^=Rates!")
        slab = rows["Concrete in ground slab, 200 thick"][1]
        self.assertAlmostEqual(slab[5], round(slab[3] * 174.16, 2), places=2)
        items = 1128.56 + slab[5]
        overheads = round(items * 0.085 + 1e-9, 2)
        total = round(items + overheads + round((items + overheads) * 0.05 + 1e-9, 2), 2)
        self.assertAlmostEqual(rows["Total, EUR"][1][5], total, delta=0.011)
        self.assertEqual(
            float(Project.select().order_by(Project.id.desc()).get().bill_total), rows["Total, EUR"][1][5]
        )


class TwoPeople(DeskCase):
    def test_a_clash_is_shown_with_both_values_and_decided(self) -> None:
        owner = scene.project()
        editor = scene.member(owner, "editor")
        element, _ = scene.pf2(owner)
        one, two = (self.page_of(scene.email_of(p.person_id)) for p in (owner, editor))
        table = "Dimension lines of PF2"
        one.route("**/pulse?*", lambda route: route.abort())  # so that one doesn't hear of it before typing
        for page in (one, two):
            page.goto(f"{self.address}/projects/{owner.project_id}/measure/{element}")
            expect(cell(page, table, "typed", 2)).to_have_text("1.80")
        cell(two, table, "typed", 2).click()
        type_row(two, "2.00")
        saved(two)
        cell(one, table, "typed", 2).click()
        type_row(one, "2.40")
        dialog = one.get_by_role("dialog")
        expect(dialog).to_contain_text("Test Person changed this dimension line while you were typing.")
        expect(dialog.get_by_role("row").filter(has_text="width")).to_contain_text(re.compile(r"2.00\s*2.40"))
        # Left open, the cell keeps what was typed, and says why it isn't written; asked again, theirs stands in its place.
        one.keyboard.press("Escape")
        expect(dialog).not_to_be_visible()
        expect(cell(one, table, "typed", 2)).to_have_text("2.40")
        expect(one.get_by_role("alert")).to_contain_text("changed this dimension line while")
        cell(one, table, "typed", 2).click()
        one.keyboard.press("F2")
        one.keyboard.press("Enter")
        dialog.get_by_role("button", name="Keep theirs").click()
        expect(cell(one, table, "typed", 2)).to_have_text("2.00")
        expect(one.get_by_role("alert")).to_have_count(0)
        # Mine written over it: both see it, and the bill counts it.
        cell(two, table, "typed", 3).click()
        type_row(two, "0.60")
        saved(two)
        cell(one, table, "typed", 3).click()
        type_row(one, "0.70")
        dialog.get_by_role("button", name="Write mine over it").click()
        expect(one.get_by_role("grid", name=table)).to_be_focused()
        expect(cell(one, table, "typed", 3)).to_have_text("0.70")
        expect(cell(two, table, "typed", 3)).to_have_text("0.70")
        expect(two.locator(".quantity b").first).to_have_text("10.08")  # 4 × 1.80 × 2.00 × 0.70

    def test_each_sees_what_the_other_did_without_asking(self) -> None:
        owner = scene.project()
        editor = scene.member(owner, "editor")
        element, _ = scene.pf2(owner)
        one, two = (self.page_of(scene.email_of(p.person_id)) for p in (owner, editor))
        for page in (one, two):
            page.goto(f"{self.address}/projects/{owner.project_id}/measure/{element}")
            expect(cell(page, "Dimension lines of PF2", "typed", 2)).to_have_text("1.80")
        one.wait_for_timeout(1500)
        cell(two, "Dimension lines of PF2", "typed", 2).click()
        type_row(two, "2.00")
        saved(two)
        expect(cell(one, "Dimension lines of PF2", "typed", 2)).to_have_text("2.00")
        expect(one.locator("footer")).to_contain_text("PF2: width 1.80 → 2.00")

    def test_a_viewer_sees_all_and_can_type_nothing(self) -> None:
        owner = scene.project()
        element, _ = scene.pf2(owner)
        page = self.page_of(scene.email_of(scene.member(owner, "viewer").person_id))
        page.goto(f"{self.address}/projects/{owner.project_id}/measure/{element}")
        cell(page, "Dimension lines of PF2", "typed", 2).click()
        page.keyboard.type("9")
        expect(page.locator("td input")).to_have_count(0)
        expect(page.get_by_role("button", name="New element")).to_have_count(0)
        expect(page.get_by_role("complementary", name="Working")).to_contain_text("4 × 1.80 × 1.80 × 0.50")


class Typing(DeskCase):
    def test_nothing_typed_is_lost_when_the_server_is_slower_than_the_typist(self) -> None:
        owner = scene.project()
        element = scene.element(owner, "K1", "plain-volume")
        page = self.page_of(scene.email_of(owner.person_id))
        page.goto(f"{self.address}/projects/{owner.project_id}/measure/{element}")
        cell(page, "Dimension lines of K1", "type or draw", 0).click()
        network = page.context.new_cdp_session(page)
        network.send(
            "Network.emulateNetworkConditions",
            {"offline": False, "latency": 250, "downloadThroughput": -1, "uploadThroughput": -1},
        )
        typed = [
            ("2", "10.0", "0.60", "0.30", "first run"),
            ("3/4/", "5.25", "0.60", "0.30", "second"),
            ("", "1.5", "0.75", "250mm", "third"),
        ]
        for row in typed:
            for text in row:
                for letter in text:
                    page.keyboard.press("Space" if letter == " " else letter)
                    page.wait_for_timeout(35)
                page.keyboard.press("Tab")
            page.keyboard.press("Enter")
            page.wait_for_timeout(60)
        saved(page)
        kept = [
            (line.times, line.length, line.width, line.height, line.note)
            for line in measure_reading.element_view(owner, element).lines
        ]
        self.assertEqual(kept, typed)

    def test_the_screen_says_when_the_server_is_away_keeps_what_was_typed_and_recovers_by_itself(
        self,
    ) -> None:
        owner = scene.project()
        element, _ = scene.pf2(owner)
        page = self.page_of(scene.email_of(owner.person_id))
        page.goto(f"{self.address}/projects/{owner.project_id}/measure/{element}")
        width = cell(page, "Dimension lines of PF2", "typed", 2)
        expect(width).to_have_text("1.80")
        page.route("**/api/**", lambda route: route.abort())
        expect(page.get_by_role("status").filter(has_text="no server")).to_be_visible()
        width.click()
        type_row(page, "2.00")
        expect(page.get_by_role("alert").first).to_contain_text(
            "The server can’t be reached. What you typed is kept"
        )
        expect(width).to_have_text("2.00")
        page.unroute("**/api/**")
        saved(page)
        width.click()
        page.keyboard.press("F2")
        page.keyboard.press("Enter")
        saved(page)
        expect(page.locator(".quantity b").first).to_have_text("7.20")

    def test_a_block_from_a_spreadsheet_is_pasted_copied_filled_and_deleted(self) -> None:
        owner = scene.project()
        element = scene.element(owner, "K1", "plain-volume")
        page = self.page_of(scene.email_of(owner.person_id))
        page.goto(f"{self.address}/projects/{owner.project_id}/measure/{element}")
        grid = page.get_by_role("grid", name="Dimension lines of K1")
        cell(page, "Dimension lines of K1", "type or draw", 0).click()
        type_row(page, "2", "10.0", "0.60", "0.30", "first run")
        page.keyboard.press("Enter")
        cell(page, "Dimension lines of K1", "first run", 1).click()
        saved(page)
        expect(cell(page, "Dimension lines of K1", "first run", 4)).to_have_text("3.60")
        cell(page, "Dimension lines of K1", "type or draw", 0).click()
        text = "3\t5\t0.6\t0.3\nddt 1\t2\t0.6\t0.3\n"
        page.evaluate("text => navigator.clipboard.writeText(text)", text)
        page.keyboard.press("Control+v")
        expect(grid.get_by_role("row")).to_have_count(1 + 3 + 1)
        self.assertEqual(
            Change.select().where(Change.project == owner.project_id).order_by(Change.id.desc()).get().label,
            "K1: 2 lines added",
        )
        expect(page.locator(".quantity b")).to_have_text("5.94")  # 3.60 + 2.70 − 0.36
        cell(page, "Dimension lines of K1", "first run", 5).click()
        page.keyboard.press("Shift+ArrowDown")
        page.keyboard.press("Control+d")
        expect(grid.get_by_role("row").filter(has_text="first run")).to_have_count(2)
        page.keyboard.press("Home")
        page.keyboard.press("Shift+ArrowRight")
        page.keyboard.press("Control+c")
        self.assertEqual(page.evaluate("() => navigator.clipboard.readText()"), "3\t5")
        page.keyboard.press("Control+Delete")
        expect(grid.get_by_role("row")).to_have_count(1 + 2 + 1)
        expect(page.locator(".quantity b")).to_have_text("3.24")
