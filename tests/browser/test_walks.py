"""Every number is walked: from an amount in the bill to the dated quote and to the drawing, and all the way back; and rates nested and refused."""

from __future__ import annotations

import re
from decimal import Decimal

from playwright.sync_api import Locator, Page, expect

from sandscale.services.rates import reading as rates_reading
from sandscale.store.models import BuildUp, Element, Item
from tests.browser.desk import DemoCase, cell, choose, pick, saved, type_row

BILL = "Bill of quantities"


class Walks(DemoCase):
    def working(self) -> Locator:
        return self.page.get_by_role("complementary", name="Working")

    def step(self, words: str) -> None:
        """Go on in the working to what is named so."""
        self.working().get_by_role("button", name=re.compile(f"^{words}")).first.click()

    def head(self, words: str) -> None:
        expect(self.working().get_by_role("heading", level=2)).to_contain_text(re.compile(words))

    def test_from_an_amount_to_its_quote_and_back(self) -> None:
        page = self.go("/bill")
        row = "Blockwork 140"
        cell(page, BILL, row, 5).click()
        amount = cell(page, BILL, row, 5).inner_text()
        expect(self.working().locator(".value")).to_contain_text(amount)
        self.step("Blockwork 140 in walls")
        expect(page).to_have_url(re.compile("/rates/"))
        self.head("Blockwork 140 in walls")
        self.step("Block 390")
        expect(page).to_have_url(re.compile("/prices/"))
        expect(page.get_by_label("Name of the resource")).to_have_value("Block 390 × 190 × 140")
        quote = (
            page.get_by_role("grid", name="Quotes for Block 390 × 190 × 140")
            .get_by_role("row")
            .filter(has_text="used")
            .first
        )
        quote.get_by_role("gridcell").nth(1).click()
        self.head("^Quote of")
        # And back: to the resource, the rate, the item.
        self.step("Block 390")
        self.head("Block 390")
        self.step("Blockwork 140 in walls")
        expect(page).to_have_url(re.compile("/rates/"))
        self.head("Blockwork 140 in walls")
        self.step("6.1 Blockwork 140")
        expect(page).to_have_url(re.compile("/bill"))
        expect(self.working().locator(".value")).to_contain_text(amount)
        page.go_back()
        expect(page).to_have_url(re.compile("/rates/"))

    def test_from_an_amount_to_the_drawing_and_back(self) -> None:
        page = self.go("/bill")
        item = Item.get(
            (Item.project == self.project.id) & Item.description.contains("ground slab") & (Item.unit == "m³")
        )
        cell(page, BILL, item.description, 5).click()
        self.step("Quantity")
        self.head("^Quantity")
        self.step("Concrete in GS1")
        expect(page).to_have_url(re.compile("/measure/"))
        self.step("Area on FW-S-101")
        expect(page.locator("[data-test=sheet]")).to_be_visible()
        self.head("^Area for GS1")
        element = Element.get((Element.project == self.project.id) & (Element.mark == "GS1"))
        expect(page).to_have_url(re.compile(rf"/measure/{element.id}"))
        expect(page.get_by_role("grid", name="Dimension lines of GS1").locator("tr.here")).to_have_count(1)
        self.step("Line of GS1")
        self.step("Concrete in GS1")
        self.step("2.4 Concrete")
        expect(page).to_have_url(re.compile("/bill"))

    def test_the_working_folds_away_and_stays_so(self) -> None:
        page: Page = self.go("/bill")
        cell(page, BILL, "Blockwork 140", 5).click()
        page.get_by_role("button", name="›").last.click()
        expect(self.working().get_by_role("heading", level=2)).to_have_count(0)
        page.get_by_role("link", name="Rates").click()
        expect(self.working().get_by_role("heading", level=2)).to_have_count(0)
        self.working().get_by_role("button").first.click()
        expect(self.working().get_by_role("heading", level=2)).to_have_count(1)


class Rates(DemoCase):
    def test_a_rate_nests_another_and_never_itself(self) -> None:
        page = self.go("/rates")
        for name in ("Mortar bed", "Paving on mortar"):
            page.get_by_role("button", name="New rate").first.click()
            page.get_by_label("Name", exact=True).fill(name)
            choose(page, "Per", "m²")
            page.get_by_role("button", name="Make it").click()
            saved(page)
        table = "Build-up of Paving on mortar"
        pick(page, table, "pick a resource", 0, "Labourer,")
        saved(page)
        page.get_by_label("Output", exact=True).fill("4")
        page.keyboard.press("Tab")
        saved(page)
        expect(cell(page, table, "Rate per", 7)).to_have_text("6.80")  # 27.20 in an hour of 4 m²
        pick(page, table, "pick a resource", 0, "Mortar bed")
        saved(page)
        page.get_by_role("link", name=re.compile("^Mortar bed")).click()
        bed = "Build-up of Mortar bed"
        pick(page, bed, "pick a resource", 0, "Labourer,")
        saved(page)
        pick(page, bed, "Labourer", 1, "per unit")
        cell(page, bed, "Labourer", 2).click()
        type_row(page, "0.25", "10")
        saved(page)
        expect(cell(page, bed, "Rate per", 7)).to_have_text("7.48")  # 0.25 h + 10 % at 27.20
        # Round in a circle: refused with the way round.
        pick(page, bed, "pick a resource", 0, "Paving on mortar")
        expect(page.get_by_role("alert")).to_contain_text(
            re.compile("Mortar bed.*Paving on mortar|Paving on mortar.*Mortar bed")
        )
        page.get_by_role("link", name=re.compile("^Paving on mortar")).click()
        expect(cell(page, table, "Rate per", 7)).to_have_text("14.28")
        cell(page, table, "Mortar bed", 2).click()
        page.keyboard.press("Control+Delete")
        saved(page)
        expect(cell(page, table, "Rate per", 7)).to_have_text("6.80")
        page.get_by_label("Output", exact=True).fill("0")
        page.keyboard.press("Tab")
        expect(page.get_by_role("alert")).to_be_visible()
        expect(page.get_by_label("Output", exact=True)).to_have_value("0")  # what was typed is kept
        row = BuildUp.get((BuildUp.project == self.project.id) & (BuildUp.name == "Paving on mortar"))
        self.assertEqual(row.rate, Decimal("6.80"))
        self.assertEqual(len(rates_reading.build_up_view(self.actor, row.id).lines), 1)
