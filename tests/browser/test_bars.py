"""Bars at the desk: from a footing drawn on the plan to its schedule, to cutting, to what is to be bought; an engineer's schedule typed
and pasted; rules of one's own."""

from __future__ import annotations

import re
from pathlib import Path

from playwright.sync_api import Locator, expect

from sandscale.demo import plan
from sandscale.services.bars import actions, cuttings
from sandscale.services.bars.views import PlanView
from sandscale.services.measure.actions import elements
from sandscale.store.database import database
from sandscale.store.models import Element, Location, TypedBar
from tests import scene
from tests.browser.desk import DemoCase, SheetOnScreen, cell, choose, lines_read, make_up, saved, type_row

SCHEDULE = "Bending schedule"


class AtTheDesk(DemoCase):
    def working(self) -> Locator:
        return self.page.get_by_role("complementary", name="Working")

    def step(self, words: str) -> None:
        self.working().get_by_role("button", name=re.compile(f"^{words}")).first.click()

    def plan_of(self, size: str) -> PlanView:
        """The plan of a size in the demonstration's cutting, once its job is done."""

        def cut() -> PlanView | None:
            cutting = cuttings.cutting_views(self.actor)[0]
            fresh = cutting.state == "fresh" and cutting.plans
            return next(p for p in cutting.plans if p.size == size) if fresh else None

        return self.once(cut)

    def test_from_the_drawing_to_what_is_to_be_bought(self) -> None:
        before = self.plan_of("16").order[0].number
        page = self.go("/measure")
        page.get_by_role("button", name="New element", exact=True).first.click()
        page.get_by_label("Mark, as on the drawing").fill("PF3")
        choose(page.get_by_role("dialog"), "Make-up", "Pad footing")
        page.get_by_role("button", name="Make it").click()
        expect(page.get_by_role("grid", name="Dimension lines of PF3")).to_be_visible()
        # Five of them, counted on the plan.
        page.get_by_role("button", name="Sheet ▾").click()
        page.get_by_role("button", name="Show the whole sheet").click()
        page.wait_for_timeout(300)
        lines_read(page).focus()
        sheet = SheetOnScreen(page, plan.SHEET)
        page.keyboard.press("c")
        for x in (4.5, 13.5, 22.5):
            sheet.click(plan.on_sheet((x, 3.6)))
        page.keyboard.press("Enter")
        saved(page)
        cell(page, "Dimension lines of PF3", "FW-S-101", 1).click()
        type_row(page, "1.80", "1.80", "0.50")
        saved(page)
        # Its bars stand in the schedule at once: 13 each way of 2.350.
        page.get_by_role("link", name="Bars", exact=True).click()
        expect(page).to_have_url(re.compile("/bars"))  # the list there is another one
        page.get_by_role("link", name=re.compile("^PF3")).click()
        row = page.get_by_role("grid", name=SCHEDULE).get_by_role("row").filter(has_text="PF3")
        expect(row).to_contain_text(re.compile(r"PF3\s*01\s*H16\s*3\s*26\s*78\s*2\.350\s*21"))
        expect(row.get_by_role("img")).to_have_attribute("aria-label", "A 350, B 1\u00a0700, C 350")
        # One spacing changed: the schedule says so, and so do the cutting and the whole bars to buy.
        row.get_by_role("gridcell").nth(6).click()
        expect(self.working().get_by_role("heading", level=2)).to_have_text("Cut length of PF3 01")
        expect(self.working().locator(".value")).to_contain_text("2.350")
        self.step("Figure of PF3")
        expect(page).to_have_url(re.compile(f"/measure/{self.own(Element, mark='PF3')}"))
        expect(self.working().get_by_role("heading", level=2)).to_contain_text("Count for PF3")
        make_up(page).get_by_label(re.compile(r"^Spacing\smm")).fill("100")
        page.keyboard.press("Tab")
        saved(page)
        page.get_by_role("link", name="Bars", exact=True).click()
        page.get_by_role("link", name=re.compile("^PF3")).click()
        expect(row).to_contain_text(re.compile(r"H16\s*3\s*36\s*108\s*2\.350"))  # 18 each way
        after = self.plan_of("16")
        self.assertGreater(after.order[0].number, before)
        row.get_by_role("gridcell").nth(6).click()
        self.step("All bars: H16 to buy")
        expect(page).to_have_url(re.compile("/bars/cutting"))
        expect(self.working().locator(".value")).to_contain_text(f"{after.order[0].number}")
        expect(page.get_by_text(f"H16: {after.order[0].number} bars to buy")).to_be_visible()
        expect(page.get_by_text(f"no plan can need fewer than {after.fewest}").first).to_be_visible()
        self.step("PF3 01")
        expect(page).to_have_url(re.compile(r"/bars\?"))
        self.step("Bars in PF3")
        expect(page).to_have_url(re.compile("/measure/"))
        with page.expect_download() as download:
            page.get_by_role("link", name="Bars", exact=True).click()
            page.get_by_role("button", name="XLSX").click()
        self.assertEqual(Path(download.value.suggested_filename).suffix, ".xlsx")

    def test_an_engineers_schedule_is_typed_and_pasted(self) -> None:
        page = self.go("/bars")
        table = page.get_by_role("grid", name=SCHEDULE)
        page.get_by_text("type a bar").click()
        page.keyboard.type("VC2")
        page.keyboard.press("Tab")
        saved(page)
        row = table.get_by_role("row").filter(has_text="VC2")
        type_row(page, "07", "H16", "2", "13")
        saved(page)
        page.keyboard.type("21")
        expect(page.locator(".n-base-select-option:visible").first).to_contain_text("21")
        page.keyboard.press("Tab")
        saved(page)
        expect(page.get_by_text("Shape 21 needs a leg A. Until then it isn't counted.").first).to_be_visible()
        type_row(page, "350", "1.7 m", "350")
        saved(page)
        expect(row).to_contain_text(re.compile(r"07\s*H16\s*2\s*13\s*26\s*2\.350\s*21"))
        # A leg edited draws the bar anew; one that can't be stays in its cell and says why.
        row.get_by_role("gridcell").nth(10).click()
        page.keyboard.type("1200")
        page.keyboard.press("Enter")
        saved(page)
        expect(row.get_by_role("img")).to_have_attribute("aria-label", "A 350, B 1\u00a0200, C 350")
        row.get_by_role("gridcell").nth(2).click()
        page.keyboard.type("17")
        page.keyboard.press("Enter")
        expect(page.get_by_role("alert").first).to_contain_text("There is no bar of size “17”")
        page.keyboard.press("Escape")
        # Rows out of a spreadsheet: seen with what their columns are taken for, and kept as one change.
        page.get_by_role("button", name="Paste or read rows").click()
        rows = "Member\tMark\tDia\tNo in each\tCode\tLeft\tB\nVC2\t08\t12\t4\t00\t2100\t\nPF1\t09\t12\t1\t00\t900\t\n"
        page.get_by_label("Rows pasted").fill(rows)
        page.get_by_role("button", name="Read these rows").click()
        expect(page.get_by_text("The bars of PF1 come from its make-up.")).to_be_visible()
        choose(page.get_by_role("dialog"), "Column 6 is", "leg A")
        expect(page.get_by_text("Row 2, mark 08")).to_have_count(0)
        page.get_by_role("button", name="Take in 1 bar").click()
        saved(page)
        expect(table.get_by_role("row").filter(has_text="2.100")).to_contain_text(re.compile(r"VC2\s*08"))
        page.get_by_role("button", name="Issue as revision A").click()
        saved(page)
        cell(page, SCHEDULE, "2.100", 4).click()
        type_row(page, "5")
        saved(page)
        expect(page.get_by_role("button", name="1 changed since A")).to_be_visible()

    def test_rules_of_ones_own_move_the_whole_schedule(self) -> None:
        page = self.go("/bars/rules")
        page.get_by_role("button", name="Copy and change").click()
        page.get_by_label("Cut lengths up to").fill("100 mm")
        page.get_by_role("button", name="Prove and keep").click()
        saved(page)
        page.get_by_role("button", name="The project follows it").click()
        saved(page)
        page.get_by_text("Schedule", exact=True).click()
        row = page.get_by_role("grid", name=SCHEDULE).get_by_role("row").filter(has_text="PF2")
        expect(row).to_contain_text("2.400")
        page.get_by_role("button", name="Undo").click()
        expect(row).to_contain_text("2.350")

    def test_what_a_colleague_changes_moves_here(self) -> None:
        other = scene.member(self.actor, "editor", "Ilo Marsh")
        page = self.go("/bars")
        page.get_by_role("link", name=re.compile("^VC1")).click()
        row = (
            page.get_by_role("grid", name=SCHEDULE).get_by_role("row").filter(has_text=re.compile("VC1.*01"))
        )
        expect(row.first).to_contain_text("3.475")
        bar = TypedBar.get_by_id(self.own(TypedBar, mark="01"))
        actions.change_bar(other, bar.id, bar.version, {"legs": {"B": "3000"}})
        expect(row.first).to_contain_text("3.575")
        expect(row.first.get_by_role("img")).to_have_attribute("aria-label", "A 300, B 3\u00a0000, C 300")
        # One bar in another's place, both before this page asks again.
        with database.atomic():
            actions.delete_bar(other, self.own(TypedBar, mark="02"))
            actions.add_bar(other, bar.element_id, {"mark": "88", "size": "16", "legs": {"A": "1800"}})
        members = page.get_by_role("grid", name=SCHEDULE).get_by_role("row").filter(has_text="VC1")
        expect(members.filter(has_text="1.800")).to_contain_text("88")
        # A member that goes takes its lines along, and what is bought follows by itself.
        before = self.plan_of("20").order[0].number
        page.get_by_text("Cutting", exact=True).click()
        expect(page.get_by_text(f"H20: {before} bars to buy")).to_be_visible()
        elements.delete_element(other, self.own(Element, mark="RB1"))
        expect(page.get_by_role("link", name=re.compile("^RB1"))).to_have_count(0)
        after = self.plan_of("20").order[0].number
        self.assertLess(after, before)
        expect(page.get_by_text(f"H20: {after} bars to buy")).to_be_visible()
        expect(page.get_by_text("of the schedule as it was")).to_have_count(0)

    def test_a_shape_of_ones_own_and_pieces_from_before(self) -> None:
        page = self.go("/bars")
        page.get_by_text("type a bar").click()
        type_row(page, "VC1", "19", "16", "1", "2", "99")
        saved(page)
        row = (
            page.get_by_role("grid", name=SCHEDULE)
            .get_by_role("row")
            .filter(has_text=re.compile(r"VC1\s*!?\s*19"))
        )
        expect(page.get_by_text("VC1 19: ").first).to_be_visible()
        corners = page.get_by_label("Corners as x, y in mm")
        corners.fill("0, 0; 0")
        page.keyboard.press("Enter")
        expect(page.get_by_role("alert")).to_contain_text("Corner 2 isn’t two numbers")
        corners.fill("0, 0; 0, 400; 900, 400; 1100, 700")
        page.get_by_role("button", name="Bend it so").click()
        saved(page)
        expect(row).to_contain_text(re.compile(r"H16\s*1\s*2\s*2\s*1\.\d{3}\s*99"))
        # Two pieces from before, each long enough for a column's bar, are cut before any bar is bought.
        before = self.plan_of("20")
        page.get_by_text("Cutting", exact=True).click()
        page.get_by_label("How many pieces").fill("6")
        page.get_by_label("Their length").fill("4.7")
        page.get_by_label("Their size").fill("20")
        page.get_by_role("button", name="Keep", exact=True).click()
        saved(page)
        page.wait_for_function("() => !document.body.textContent.includes('being cut')")
        after = self.plan_of("20")
        self.assertLess(after.order[0].number, before.order[0].number)
        self.assertEqual([(p.stock, p.times) for p in after.patterns if p.kept], [(4.7, 6)])
        expect(page.get_by_text(f"H20: {after.order[0].number} bars to buy")).to_be_visible()
        expect(page.get_by_title("from a piece of 4.700 kept").first).to_be_visible()

    def test_a_member_far_down_stands_amid_its_lines(self) -> None:
        rows = [
            {"member": "VC3", "mark": f"{n:03}", "size": "12", "legs": {"A": f"{1000 + n}"}}
            for n in range(400)
        ]
        last = {"member": "VC4", "mark": "01", "size": "16", "legs": {"A": "4321"}}
        actions.add_bars(self.actor, [*rows, last], self.own(Location, name="Outside"))
        page = self.go("/bars")
        table = page.get_by_role("grid", name=SCHEDULE)
        for member, mark in (("VC3", "000"), ("PF1", "01"), ("VC4", "01")):
            page.get_by_role("link", name=re.compile(f"^{member}")).click()
            row = table.get_by_role("row").filter(has_text=re.compile(rf"{member}\s*{mark}"))
            expect(row.get_by_role("gridcell").nth(1)).to_be_in_viewport(ratio=1)
            expect(row).to_have_class(re.compile("here"))
            expect(self.working().get_by_role("heading", level=2)).to_have_text(
                f"Cut length of {member} {mark}"
            )
        # Only what is in view is read and drawn.
        self.assertLess(table.get_by_role("row").count(), 60)
        table.focus()
        page.keyboard.press("Control+Home")
        expect(table.get_by_role("row").nth(1)).to_contain_text("PF1")
