"""Rates, the foot of the bill, checks and histories at the desk, on copies of the demonstration."""

from __future__ import annotations

import re
from decimal import Decimal

from playwright.sync_api import Route, expect

from sandscale.services.bill import reading as bill_reading
from sandscale.services.keeping import checking
from sandscale.services.measure.actions import dimension_lines, elements, makeups
from sandscale.services.rates import reading as rates_reading
from sandscale.store.models import BuildUp, DimensionLine, Element, Item, OwnMakeUp, Project, Resource
from tests import scene
from tests.browser.desk import (
    DemoCase,
    as_text,
    cell,
    choose,
    make_up,
    pick,
    saved,
    text_of,
    type_row,
    write_text,
)
from tests.core.test_makeups import SOURCE

BILL = "Bill of quantities"


class RatesAndBill(DemoCase):
    def test_a_gang_and_a_percentage_are_built_into_a_rate(self) -> None:
        page = self.go("/rates")
        page.get_by_role("button", name="New gang").click()
        page.get_by_label("Name", exact=True).fill("Drainage gang")
        page.keyboard.press("Enter")
        table = "Build-up of Drainage gang"
        for who, number in (("Labourer", "2"), ("Excavator 8 t with driver", "1")):
            pick(page, table, "pick a resource", 0, f"{who},")
            cell(page, table, who, 2).click()
            type_row(page, number)
            saved(page)
        expect(cell(page, table, "Rate per", 7)).to_have_text("112.40")  # 2 × 27.20 + 58.00
        page.get_by_role("link", name=re.compile("^Blockwork 140 in walls")).click()
        table = "Build-up of Blockwork 140 in walls"
        pick(page, table, "pick a resource", 0, "Drainage gang")
        # 112.40 in an hour of 1.9 m²: 54.40 of it labour, 58.00 plant.
        expect(cell(page, table, "Drainage gang", 7)).to_have_text("28.63")
        expect(cell(page, table, "Plant", 7)).to_have_text("32.16")  # 1.63 + 30.53
        pick(page, table, "pick a resource", 0, "a percentage of labour")
        row = page.get_by_role("grid", name=table).get_by_role("row").filter(has_text="% of labour").first
        row.get_by_role("gridcell").nth(2).click()
        type_row(page, "10")
        saved(page)
        # Labour is 50.63 + 28.63 = 79.26; a tenth of it 7.93; 76.43 + 59.16 + 7.93.
        expect(cell(page, table, "Rate per", 7)).to_have_text("143.51")
        self.assertEqual(
            BuildUp.get(
                (BuildUp.project == self.project.id) & (BuildUp.name == "Blockwork 140 in walls")
            ).rate,
            Decimal("143.51"),
        )
        # A gang can't be taken away while a rate draws on it.
        page.get_by_role("link", name=re.compile("^Drainage gang")).click()
        page.get_by_role("button", name="Delete", exact=True).click()
        expect(page.get_by_role("alert")).to_contain_text(
            "“Drainage gang” is a line of “Blockwork 140 in walls”"
        )

    def test_a_rate_reads_a_reference_and_rests_on_a_price_that_is_worked_out(self) -> None:
        page = self.go("/rates")
        page.get_by_role("button", name="New reference").click()
        page.get_by_label("Name", exact=True).fill("Walls by thickness")
        choose(page, "Per", "m²")
        page.get_by_role("button", name="Make it").click()
        saved(page)
        page.get_by_label("What its sizes are").fill("thickness")
        page.keyboard.press("Tab")
        saved(page)
        table = "Sizes of Walls by thickness"
        for size, labour, material in (("150", "31.40", "18.10"), ("200", "38.90", "18.70")):
            cell(page, table, "a size", 0).click()
            type_row(page, size, labour, "", material)
            saved(page)
        expect(cell(page, table, "200", 4)).to_have_text("57.60")
        page.get_by_label("Read it at").fill("175")
        page.keyboard.press("Enter")
        expect(page.locator(".told")).to_contain_text(
            "53.55 EUR/m², labour 35.15 + material 18.40, read at 175 mm, between 150 and 200 mm"
        )
        expect(page.get_by_role("img", name=re.compile("^Costs over sizes"))).to_be_visible()
        page.get_by_label("Read it at").fill("250")
        page.keyboard.press("Enter")
        expect(page.locator(".told")).to_contain_text("65.70 EUR/m²")
        expect(page.locator(".told")).to_contain_text("250 mm lies beyond the sizes known, 150 to 200 mm")
        # A rate draws on it at a size; both its parts are told, and walked.
        page.get_by_role("button", name="New rate").click()
        page.get_by_label("Name", exact=True).fill("Wall 175")
        choose(page, "Per", "m²")
        page.get_by_role("button", name="Make it").click()
        saved(page)
        table = "Build-up of Wall 175"
        pick(page, table, "pick a resource", 0, "Walls by thickness")
        cell(page, table, "Walls by thickness", 4).click()
        type_row(page, "175")
        saved(page)
        expect(cell(page, table, "Rate per", 8)).to_have_text("53.55")
        expect(cell(page, table, "Labour", 8)).to_have_text("35.15")
        cell(page, table, re.compile(r"175 mm(?!,)"), 6).click()
        working = page.get_by_role("complementary", name="Working")
        working.get_by_role("button", name=re.compile("Labour")).first.click()
        expect(working).to_contain_text("31.40 + (38.90 − 31.40) × (175 − 150) / (200 − 150)")
        # The excavator is hired, fuelled and driven: what its fuel costs moves what is dug.
        self.go(f"/prices/{self.own(Resource, name='Excavator 8 t with driver')}")
        form = page.get_by_label("How the price is worked out")
        expect(page.locator(".price .big")).to_have_text("58.00")
        form.get_by_label("Fuel and oil").fill("9")
        page.keyboard.press("Tab")
        saved(page)
        expect(page.locator(".price .big")).to_have_text("60.40")
        choose(page, "Driver is taken from", "typed here")
        saved(page)
        form.get_by_label("Driver", exact=True).fill("29.00")
        page.keyboard.press("Tab")
        saved(page)
        expect(page.locator(".price .big")).to_have_text("58.00")
        expect(page.locator("[data-test=bill-total]")).to_have_text(re.compile(r"316.501\.86"))
        choose(page, "Worked out as", "plant that is owned")
        saved(page)
        expect(page.locator(".price .found")).to_contain_text("“Price new” isn't told yet.")

    def test_sums_stand_apart_and_adjustments_keep_their_order(self) -> None:
        page = self.go("/bill")
        total = page.locator("[data-test=bill-total]")
        expect(total).to_have_text(re.compile(r"316.501\.86"))
        cell(page, BILL, "type a description", 1).click()
        type_row(page, "Telemetry by others")
        saved(page)
        pick(page, BILL, "Telemetry by others", 6, "prime cost sum")
        cell(page, BILL, "Telemetry by others", 5).click()
        type_row(page, "12000")
        saved(page)
        expect(cell(page, BILL, "Telemetry by others", 5)).to_have_text("12\u00a0000.00")
        # 8.5 % and 5 % go on it; contingency is taken on the items without sums, so none of that does.
        expect(total).to_have_text(re.compile(r"330.172\.86"))  # 316 501.86 + 12 000 × 1.085 × 1.05
        page.get_by_label("Name of a new adjustment").fill("Discount")
        page.keyboard.press("Enter")
        choose(page, "Discount is taken on", "of the total after profit")
        page.get_by_label("Discount percent").fill("-2")
        page.keyboard.press("Tab")
        saved(page)
        expect(total).to_have_text(re.compile(r"323.703\.13"))  # 2 % of 323 486.68 less
        page.get_by_role("button", name="Profit later").click()
        expect(total).to_have_text(re.compile(r"323.897\.03"))  # profit is now taken on the contingency too
        page.get_by_role("button", name="Profit later").click()
        expect(page.get_by_role("alert")).to_contain_text("doesn't stand before it")
        page.get_by_role("button", name="Take Profit off").click()
        expect(page.get_by_role("alert")).to_contain_text("Discount is taken on the total after Profit")
        page.get_by_label("Discount percent").fill("two")
        page.keyboard.press("Tab")
        expect(page.get_by_role("alert")).to_contain_text("two")
        expect(total).to_have_text(re.compile(r"323.897\.03"))
        self.assertEqual(bill_reading.bill_view(self.actor).total, Decimal("323897.03"))

    def test_an_item_that_no_one_prices_is_rate_only_and_counts_nothing(self) -> None:
        page = self.go("/bill")
        total = page.locator("[data-test=bill-total]").inner_text()
        cell(page, BILL, "type a description", 1).click()
        type_row(page, "Rock in trenches, extra over", "m³")
        saved(page)
        pick(page, BILL, "Rock in trenches", 6, "rate only")
        expect(cell(page, BILL, "Rock in trenches", 5)).to_have_text("rate only")
        expect(page.locator("[data-test=bill-total]")).to_have_text(total)
        pick(page, BILL, "Rock in trenches", 6, "heading")
        expect(cell(page, BILL, "Rock in trenches", 2)).to_have_text("")


class ChecksAndHistories(DemoCase):
    def test_a_check_appears_leads_to_its_place_and_goes_when_it_is_put_right(self) -> None:
        page = self.go("/measure")
        head = page.get_by_role("button", name=re.compile("^Checks"))
        expect(head).to_have_text("Checks none")
        element = self.own(Element, mark="GB1")
        row = Element.get_by_id(element)
        elements.change_element(self.actor, element, row.version, {"inputs": {"cover": "250"}})
        page.reload()
        expect(head).to_have_text(re.compile(r"Checks\s+\d"))
        head.click()
        found = page.get_by_role("dialog", name="Checks").get_by_role("button").filter(has_text="GB1")
        said = [c.says for c in checking.checks(self.actor) if c.target == element]
        self.assertTrue(said)
        found.filter(has_text=said[0][:40]).first.click()
        expect(page).to_have_url(re.compile(rf"/measure/{element}"))
        make_up(page).get_by_label(re.compile("^Cover")).fill("35")
        page.keyboard.press("Tab")
        saved(page)
        expect(head).to_have_text("Checks none")

    def test_a_number_tells_who_changed_it_and_from_what(self) -> None:
        other = scene.member(self.actor, "editor", "Ilo Marsh")
        element = self.own(Element, mark="PF2")
        line = DimensionLine.get(DimensionLine.element == element)
        dimension_lines.change_line(other, line.id, line.version, {"height": "0.60"})
        page = self.go(f"/measure/{element}?at=line:{line.id}")
        working = page.get_by_role("complementary", name="Working")
        working.get_by_role("button", name=re.compile("History")).click()
        expect(working).to_contain_text("Ilo Marsh")
        expect(working).to_contain_text(re.compile(r"height\s+0\.50\s+→\s+0\.60"))

    def test_find_and_replace_is_one_change_and_undone_as_one(self) -> None:
        element = self.own(Element, mark="PF1")
        page = self.go(f"/measure/{element}")
        total = page.locator("[data-test=bill-total]")
        expect(total).to_have_text(re.compile(r"\d"))
        before = total.inner_text()
        cell(page, "Dimension lines of PF1", "Grid", 2).click()
        page.keyboard.press("Control+h")
        expect(page.locator(".in")).to_contain_text("widths")  # where the cursor stands
        page.get_by_label("Find", exact=True).fill("1.40")
        page.get_by_label("Put instead").fill("1.50")
        page.keyboard.press("Enter")
        expect(page.get_by_text("1 line changed")).to_be_visible()
        expect(cell(page, "Dimension lines of PF1", "Grid", 2)).to_have_text("1.50")
        expect(total).not_to_have_text(before)
        page.get_by_label("Find", exact=True).fill("7.77")
        page.keyboard.press("Enter")
        expect(page.get_by_role("alert")).to_contain_text("“7.77” stands in no width here.")
        page.get_by_label("Find", exact=True).fill("1.50")
        page.get_by_label("Put instead").fill("wide")
        page.keyboard.press("Enter")
        expect(page.get_by_role("alert")).to_contain_text("wide")
        page.keyboard.press("Escape")
        page.get_by_role("button", name="Undo").click()
        expect(total).to_have_text(before)

    def test_lines_go_to_another_element_and_a_copied_one_keeps_its_inputs(self) -> None:
        element = self.own(Element, mark="L1")
        page = self.go(f"/measure/{element}")
        expect(cell(page, "Dimension lines of L1", "Doors D1", 1)).to_have_text("1.00")
        page.get_by_role("button", name=re.compile("^Element")).click()
        page.get_by_role("button", name="Copy L1 to a location").click()
        page.get_by_label("Mark").fill("L2")
        page.keyboard.press("Enter")
        expect(page).not_to_have_url(re.compile(rf"/measure/{element}\b"))
        expect(page.get_by_role("grid", name="Dimension lines of L2")).to_contain_text("Windows F1")
        self.assertEqual(
            DimensionLine.select().where(DimensionLine.element == self.own(Element, mark="L2")).count(), 2
        )

    def test_a_make_up_being_written_outlasts_what_a_colleague_changes(self) -> None:
        made = makeups.add_makeup(self.actor, SOURCE)
        page = self.go("/make-ups/kerb-bed")
        as_text(page)
        expect(page.locator(".cm-content")).to_contain_text("0.3 * m")
        mine = SOURCE.replace("0.3 * m", "0.5 * m")
        write_text(page, mine)
        own = OwnMakeUp.get_by_id(made.id)
        makeups.change_makeup(self.actor, own.id, own.version, SOURCE.replace("0.3 * m", "0.4 * m"))
        expect(page.locator("footer")).not_to_contain_text("nothing")
        page.wait_for_timeout(2500)  # longer than the pulse takes to hear of it
        self.assertEqual(text_of(page), mine)
        page.get_by_role("button", name="Prove and keep").click()
        expect(page.get_by_role("dialog")).to_contain_text("changed")
        self.assertIn("0.4 * m", OwnMakeUp.get_by_id(made.id).source)


class BillAtWork(DemoCase):
    def test_items_are_found_by_number_of_what_draws_on_what(self) -> None:
        """From an item to its element and back again by keys alone."""
        item = self.own(Item, description="Concrete C30/37 in columns")
        page = self.go(f"/bill?at=item-quantity:{item}")
        working = page.get_by_role("complementary", name="Working")
        working.get_by_role("button", name=re.compile("^Concrete in C1")).focus()
        page.keyboard.press("Enter")
        expect(page).to_have_url(re.compile(rf"/measure/{self.own(Element, mark='C1')}"))
        expect(working).to_contain_text("10 × 0.40 × 0.40 × 3.60")
        page.go_back()
        expect(page).to_have_url(re.compile(f"at=item-quantity:{item}"))

    def test_of_two_answers_the_later_one_stands_though_it_comes_in_first(self) -> None:
        page = self.go("/bill")
        total = page.locator("[data-test=bill-total]")
        expect(page.get_by_label("Contingency percent")).to_have_value("2.5")
        held: list[Route] = []
        page.route("**/adjustments/*", lambda route: route.continue_() if held else held.append(route))
        page.get_by_label("Contingency percent").fill("7")
        page.keyboard.press("Tab")
        page.wait_for_timeout(300)
        answer = held[0].fetch()
        with page.expect_response("**/adjustments/*"):
            choose(page, "Contingency is taken on", "of the total so far")
        page.wait_for_timeout(500)
        held[0].fulfill(response=answer)
        saved(page)
        after = Project.get_by_id(self.project.id).bill_total
        expect(total).to_have_text(f"{after:,.2f} EUR".replace(",", "\u00a0"))
        expect(page.locator(".adjustment").last).to_contain_text("of the total so far")

    def test_a_viewer_is_offered_no_change(self) -> None:
        viewer = scene.member(self.actor, "viewer", "Guest Reader")
        page = self.page_of(scene.email_of(viewer.person_id))
        for path, gone in (
            ("/bill", "Add"),
            ("/rates", "New gang"),
            ("/prices", "New resource"),
            ("/measure", "New element"),
            ("/make-ups", "Start empty"),
        ):
            page.goto(f"{self.address}/projects/{self.project.id}{path}")
            expect(page.locator("[data-test=bill-total]")).to_have_text(re.compile(r"\d"))
            expect(page.get_by_role("button", name=gone, exact=True)).to_have_count(0)
        self.assertEqual(
            rates_reading.build_up_view(self.actor, self.own(BuildUp, name="Slab power floated")).rate,
            Decimal("1.42"),
        )
        self.assertEqual(Project.get_by_id(self.project.id).bill_total, Decimal("316501.86"))
