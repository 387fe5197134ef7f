"""A resource priced on every basis, its quotes typed as they come, and what the screen says of those that look wrong."""

from __future__ import annotations

import re
from decimal import Decimal

from playwright.sync_api import Page, expect

from sandscale.services.bill import actions as bill
from sandscale.services.bill import reading as bill_reading
from sandscale.store.models import BuildUp, Item, Resource
from tests import scene
from tests.browser.desk import DemoCase, ProjectCase, cell, choose, pick, saved, type_row


class Prices(ProjectCase):
    def setUp(self) -> None:
        super().setUp()
        self.go("/prices")

    def resource(self, page: Page, name: str, kind: str, unit: str) -> str:
        page.get_by_role("button", name="New resource").first.click()
        dialog = page.get_by_role("dialog", name="New resource")
        dialog.get_by_label("Name").fill(name)
        choose(dialog, "Kind", kind)
        choose(dialog, "Unit it is used in", unit)
        dialog.get_by_role("button", name="Make it").click()
        saved(page)
        return f"Quotes for {name}"

    def quote(self, page: Page, table: str, supplier: str, *more: str) -> None:
        cell(page, table, "add a quote", 0).click()
        type_row(page, supplier, *more)
        saved(page)

    def test_a_price_by_every_basis_moves_the_rate_and_the_bill(self) -> None:
        page = self.page
        table = self.resource(page, "Washed sand", "material", "m³")
        expect(page.get_by_text("no price", exact=True).first).to_be_visible()
        # Sold by the tonne: each holds so many m³; one is lapsed before the project's price date.
        self.quote(page, table, "Marl pits", "18.00", "t", "0.6")
        self.quote(page, table, "Weir gravel", "33.00", "m³", "1")
        self.quote(page, table, "Old quay", "21.00", "m³", "1")
        cell(page, table, "Old quay", 5).click()
        type_row(page, "2026-09-01", "2026-10-01")
        saved(page)
        expect(cell(page, table, "Old quay", 4)).to_contain_text("lapsed")
        expect(cell(page, table, "Marl pits", 4)).to_contain_text("30.00")
        self.quote(page, table, "Sill quarry", "45.00", "m³", "1")
        big = page.locator(".price .big")
        for chosen, price in (
            ("lowest valid quote", "30.00"),
            ("mean of valid quotes", "36.00"),
            ("median of valid quotes", "33.00"),
            ("latest valid quote", "45.00"),
        ):
            choose(page, "Price basis", chosen)
            saved(page)
            expect(big).to_have_text(price)
        choose(page, "Price basis", "chosen quote")
        saved(page)
        choose(page, "Chosen quote", "Weir gravel")
        saved(page)
        expect(big).to_have_text("33.00")
        expect(cell(page, table, "Weir gravel", 4)).to_contain_text("used")
        # The bill follows at once: a rate of a tenth of a m³ on 200 m².
        own = Resource.get((Resource.project == self.actor.project_id) & (Resource.name == "Washed sand"))
        rate = scene.build_up(self.actor, "Blinding sand", "m²", [{"resource": own.id, "quantity": "0.1"}])
        section = scene.id_of(bill.add_section(self.actor, "Sand"))
        made = scene.id_of(
            bill.add_item(
                self.actor,
                section,
                {"description": "Blinding", "unit": "m²", "typed_quantity": "200", "typed_reason": "sketch"},
            )
        )
        item = Item.get_by_id(made)
        bill.change_item(self.actor, made, item.version, {"build_up": rate})
        page.reload()
        expect(page.locator("[data-test=bill-total]")).to_contain_text("660.00")
        cell(page, table, "Weir gravel", 1).click()
        type_row(page, "34.5")
        saved(page)
        expect(page.locator("[data-test=bill-total]")).to_contain_text("690.00")
        # A resource that a rate draws on isn't deleted.
        page.get_by_role("button", name="Delete", exact=True).click()
        expect(page.get_by_role("alert")).to_contain_text("Blinding sand")
        self.assertEqual(bill_reading.bill_view(self.actor).total, Decimal("690.00"))

    def test_from_an_enquiry_and_a_list_to_the_bill(self) -> None:
        page = self.page
        table = self.resource(page, "Cement", "material", "kg")
        resource = Resource.get((Resource.project == self.actor.project_id) & (Resource.name == "Cement"))
        rate = scene.build_up(self.actor, "Mix", "m³", [{"resource": resource.id, "quantity": "300"}])
        section = scene.id_of(bill.add_section(self.actor, "Mixes"))
        fields = {"description": "Mix", "unit": "m³", "typed_quantity": "20", "typed_reason": "sketch"}
        item = Item.get_by_id(scene.id_of(bill.add_item(self.actor, section, fields)))
        bill.change_item(self.actor, item.id, item.version, {"build_up": rate})
        # Asked for what the bill needs, of two suppliers who weren't known.
        page.get_by_role("button", name="New enquiry").click()
        dialog = page.get_by_role("dialog", name="New enquiry")
        for name in ("Quayside", "Marl"):
            dialog.get_by_label("Name of another supplier").fill(name)
            dialog.get_by_label("E-mail address of another supplier").fill(f"{name.lower()}@test.example")
            dialog.get_by_role("button", name="Add").click()
            saved(page)
            expect(dialog.locator(".n-tag").filter(has_text=name)).to_be_visible()
        dialog.get_by_role("button", name="Make it").click()
        asked = page.get_by_role("grid", name="Asked for in enquiry 1")
        expect(asked.get_by_role("row").filter(has_text="Cement")).to_contain_text("6\u00a0000")
        cell(page, "Asked for in enquiry 1", "Cement", 2).click()
        type_row(page, "7500")
        saved(page)
        page.get_by_role("button", name="Send", exact=True).click()
        saved(page)
        answers = (
            page.get_by_role("grid", name="Answers to enquiry 1").get_by_role("row").filter(has_text="/kg")
        )
        expect(page.get_by_text(re.compile("2 waited for")).or_(answers.first)).to_be_visible()
        for _ in range(40):  # letters go out by a worker
            page.get_by_role("button", name="Look for answers").click()
            saved(page)
            if answers.count():
                break
            page.wait_for_timeout(250)
        answers.first.get_by_role("gridcell").nth(1).click()
        page.get_by_role("button", name="Take it in").click()
        saved(page)
        expect(answers.first).to_contain_text("taken in")
        page.get_by_role("button", name="Its quote of Cement").click()
        expect(page.locator(".price .big")).not_to_have_text("no price")
        self.assertAlmostEqual(scene.total(self.actor), Resource.get_by_id(resource.id).price * 6000, delta=1)
        # A list that is pasted: seen, its columns put right, and taken in at one press.
        page.get_by_role("button", name="Quotes of a list").click()
        dialog = page.get_by_role("dialog", name="Quotes of a list")
        dialog.get_by_label("Whose list it is").fill("Tern")
        dialog.get_by_label("Rows pasted").fill(
            "Goods\tSold by\tPrice\tx\nCement\tpallet of 60 bags of 25 kg\t150.00\t2026-12-31\nSteel\tt\t\t"
        )
        dialog.get_by_role("button", name="Read these rows").click()
        expect(dialog.get_by_text("Row 3, Steel: It has no price.")).to_be_visible()
        choose(dialog, "Column 4 is", "valid to")
        dialog.get_by_role("button", name="Take in 1 quote").click()
        saved(page)
        expect(page.get_by_role("dialog")).to_have_count(0)
        choose(page, "Price basis", "lowest valid quote")
        saved(page)
        expect(cell(page, table, "Tern", 3)).to_have_text("1\u00a0500")
        expect(page.locator("[data-test=bill-total]")).to_contain_text("600.00")
        # A norm it lies outside of is told, and prices where it is chosen.
        page.get_by_label("Own norm").fill("0.18 to 0.22")
        page.keyboard.press("Enter")
        saved(page)
        expect(page.locator(".price .found").first).to_have_text(
            "The quote of Tern is outside the own norm of 0.18 to 0.22."
        )
        choose(page, "Price basis", "own norm")
        saved(page)
        expect(page.locator("[data-test=bill-total]")).to_contain_text("1\u00a0200.00")

    def test_quotes_that_look_wrong_are_told_and_bad_cells_keep_what_was_typed(self) -> None:
        page = self.page
        table = self.resource(page, "Cement", "material", "kg")
        for supplier, price in (("Ashby", "0.20"), ("Brook", "0.21"), ("Crane", "0.22"), ("Dunmore", "2.10")):
            self.quote(page, table, supplier, price, "kg", "1")
        expect(page.locator(".price .found").first).to_contain_text("Dunmore")
        expect(page.get_by_role("button", name=re.compile("^Checks"))).to_have_text(
            re.compile(r"Checks\s+\d")
        )
        cell(page, table, "Dunmore", 1).click()
        page.keyboard.type("twenty one")
        page.keyboard.press("Enter")
        expect(page.get_by_role("alert")).to_contain_text("“twenty one” is no number")
        expect(cell(page, table, "Dunmore", 1)).to_have_text("twenty one")  # a refused cell keeps its text
        cell(page, table, "Dunmore", 1).click()
        type_row(page, "0.21")
        saved(page)
        expect(page.locator(".price .found")).to_have_count(0)
        expect(page.get_by_role("button", name=re.compile("^Checks"))).to_have_text("Checks none")
        # A bag of 25 kg at 5.10 is 0.204 for a kg; the source stays with its quote.
        cell(page, table, "Dunmore", 2).click()
        type_row(page, "bag", "25")
        cell(page, table, "Dunmore", 1).click()
        type_row(page, "5.1")
        saved(page)
        expect(cell(page, table, "Dunmore", 4)).to_contain_text("0.204")
        page.get_by_placeholder("quotation number, e-mail, price list").fill("letter of 3 October")
        page.keyboard.press("Tab")
        saved(page)
        cell(page, table, "Ashby", 1).click()
        expect(page.get_by_placeholder("quotation number, e-mail, price list")).to_have_value("")
        cell(page, table, "Dunmore", 1).click()
        expect(page.get_by_placeholder("quotation number, e-mail, price list")).to_have_value(
            "letter of 3 October"
        )

    def test_a_resource_is_found_as_one_types(self) -> None:
        page = self.page
        for name, kind, unit in (
            ("Mason", "labour", "h"),
            ("Mixer 300 l", "plant", "h"),
            ("Masonry sand", "material", "m³"),
        ):
            self.resource(page, name, kind, unit)
        links = page.get_by_role("complementary", name="Resources").get_by_role("link")
        expect(links).to_have_count(3)
        page.get_by_label("Find a resource").fill("mason")
        expect(links).to_have_count(2)
        page.get_by_label("Find a resource").fill("crane")
        expect(page.get_by_text("Nothing by that name.")).to_be_visible()
        page.get_by_label("Find a resource").fill("")
        links.filter(has_text="Mixer").click()
        expect(page.get_by_role("grid", name="Quotes for Mixer 300 l")).to_be_visible()


class ByKeys(DemoCase):
    def test_a_resource_is_made_priced_and_put_into_a_rate_without_the_pointer(self) -> None:
        page = self.go("/prices")
        page.get_by_role("button", name="New resource").first.click()
        page.keyboard.type("Crane driver")
        page.keyboard.press("Tab")
        page.keyboard.type("lab")  # typed over the list: it opens, and finds
        expect(page.locator(".n-base-select-option:visible")).to_have_text("labour")
        page.keyboard.press("Enter")
        page.keyboard.press("Tab")
        page.keyboard.press("Tab")
        page.keyboard.press("Enter")
        quotes = page.get_by_role("grid", name="Quotes for Crane driver")
        expect(quotes).to_be_focused()
        type_row(page, "Hall", "41.5", "", "", "1 nov 2026")
        saved(page)
        expect(quotes).to_contain_text("01 Nov 26")
        expect(quotes.get_by_role("columnheader", name="per h")).to_be_visible()
        page = self.go(f"/rates/{self.own(BuildUp, name='Blockwork 140 in walls')}")
        table = "Build-up of Blockwork 140 in walls"
        pick(page, table, "Masons' gang", 0, "Crane")
        expect(cell(page, table, "Crane driver", 5)).to_have_text("41.50")
        cell(page, table, "Crane driver", 11).click()
        type_row(page, "by hired crane")
        saved(page)
        page.keyboard.press("Control+z")
        page.keyboard.press("Control+z")
        expect(cell(page, table, "Masons' gang", 0)).to_be_visible()
