"""Every worked case of prices and rates at the desk, on one path: from an enquiry to a priced bill."""

from __future__ import annotations

import re
from decimal import Decimal

from playwright.sync_api import expect

from sandscale.services.bill import actions as bill
from sandscale.services.prices import actions as prices
from sandscale.services.projects import actions as projects
from sandscale.store.models import Item, Quote, Resource
from tests import scene
from tests.browser.desk import ProjectCase, cell, choose, pick, saved, type_row

BILL = "Bill of quantities"
# What Ferrin Weir's blockwork, concrete and earthworks are made of, as it is in the worked cases.
PRICED = (
    ("Mason", "labour", "h", "34.50"), ("Labourer", "labour", "h", "27.20"), ("Cement", "material", "kg", "0.124"),
    ("Truck, own", "plant", "h", "60.00"), ("Truck, hired", "plant", "h", "70.00"), ("Diesel", "sundries", "l", "1.60"),
    ("Road sweeper", "plant", "h", "80.00"), ("Pump set up", "sundries", "nr", "640.00"), ("Whole", "subcontract", "nr", "100.00"),
)  # fmt: skip


class FromEnquiryToBill(ProjectCase):
    def setUp(self) -> None:
        super().setUp()
        projects.change_project(self.actor, 1, {"working_day": 9.0})
        for each in PRICED:
            scene.resource(self.actor, *each)
        prices.add_resource(self.actor, {"name": "Block 140", "kind": "material", "unit": "nr"})
        section = scene.id_of(bill.add_section(self.actor, "Walls and earth"))
        for words, unit, quantity in (
            ("Blockwork W1", "m²", "200"), ("Concrete", "m³", "50"), ("Haul own", "m³", "6400"),
            ("Haul hired", "m³", "1800"), ("Walls, banded", "m²", "10"), ("Screen wall", "m²", "20"),
        ):  # fmt: skip
            fields = {
                "description": words,
                "unit": unit,
                "typed_quantity": quantity,
                "typed_reason": "sketch",
            }
            bill.add_item(self.actor, section, fields)

    def rate(self, name: str, unit: str, kind: str = "rate") -> str:
        """A new rate, made in its dialog; gives what its table is called."""
        page = self.page
        page.wait_for_load_state("networkidle")  # the list that comes moves the buttons below it
        page.get_by_role("button", name=f"New {kind}").first.click()
        page.get_by_label("Name", exact=True).fill(name)
        if kind != "gang":
            choose(page, "Per", unit)
        page.get_by_role("button", name="Make it").click()
        saved(page)
        return f"Build-up of {name}"

    def line(self, table: str, source: str, quantity: str, basis: str = "") -> None:
        pick(self.page, table, "pick a resource", 0, source)
        named = source.split(",")[0] if source.endswith(",") else source
        if basis:
            pick(self.page, table, named, 1, basis)
        cell(self.page, table, named, 2).click()
        type_row(self.page, quantity)
        saved(self.page)

    def output(self, output: str, hours: str = "") -> None:
        for label, text in (("Output", output), ("Hours of the output", hours)):
            if text:
                self.page.get_by_label(label, exact=True).fill(text)
                self.page.keyboard.press("Tab")
                saved(self.page)

    def comes_to(self, table: str, row: str, value: str, column: int = 7) -> None:
        expect(cell(self.page, table, row, column)).to_have_text(value)

    def priced(self, item: str, rate: str) -> None:
        page = self.go("/bill")
        heads = page.get_by_role("grid", name=BILL).get_by_role("columnheader")
        expect(cell(page, BILL, item, 0)).to_be_visible()  # bands have a column of their own
        pick(page, BILL, item, heads.all_inner_texts().index("Rate"), rate)

    def test_from_the_enquiry_for_blocks_to_the_priced_bill(self) -> None:
        self.blocks_are_asked_for()
        self.blockwork_and_concrete()
        self.references_and_bands()
        self.earthworks()
        page = self.go("/bill")
        # 200 × 71.89, 50 × 50.00, 6,400 × 6.58 and 1,800 × 7.00 with the sweeper, 10 × 78.94, 20 × 53.55.
        found = {i.description: i.amount for i in Item.select().where(Item.project == self.actor.project_id)}
        self.assertEqual(
            {name: str(amount) for name, amount in found.items()},
            {
                "Blockwork W1": "14378.00", "Concrete": "2500.00", "Haul own": "42112.00", "Haul hired": "12600.00",
                "Walls, banded": "789.40", "Screen wall": "1071.00",
            },
        )  # fmt: skip
        expect(page.locator("[data-test=bill-total]")).to_have_text("73\u00a0450.40 EUR")
        # Dearer masons move one rate and one item, and it is told by how much.
        mason = Resource.get((Resource.project == self.actor.project_id) & (Resource.name == "Mason")).id
        page = self.go(f"/prices/{mason}")
        cell(page, "Quotes for Mason", "Test supplier", 1).click()
        type_row(page, "36.40")
        saved(page)
        page.get_by_role("button", name="what it moved").click()
        told = page.get_by_role("dialog", name="What it moved")
        expect(told).to_contain_text("14\u00a0378.00 → 14\u00a0778.00")
        expect(told).to_contain_text("+400.00")
        expect(told).to_contain_text("71.89 → 73.89")

    def blocks_are_asked_for(self) -> None:
        page = self.go("/prices")
        page.get_by_role("link", name=re.compile("^Block 140")).click()
        page.get_by_role("button", name="New enquiry").click()
        dialog = page.get_by_role("dialog", name="New enquiry")
        for name in ("Ostrey", "Quayside", "Marl", "Tern", "Weirside"):  # one in eight answers nothing
            dialog.get_by_label("Name of another supplier").fill(name)
            dialog.get_by_label("E-mail address of another supplier").fill(f"{name.lower()}@test.example")
            dialog.get_by_role("button", name="Add").click()
            saved(page)
            expect(dialog.locator(".n-tag").filter(has_text=name)).to_be_visible()
        dialog.get_by_role("button", name="Make it").click()
        cell(page, "Asked for in enquiry 1", "Block 140", 2).click()
        type_row(page, "2625")
        saved(page)
        page.get_by_role("button", name="Send", exact=True).click()
        saved(page)
        answers = (
            page.get_by_role("grid", name="Answers to enquiry 1").get_by_role("row").filter(has_text="/nr")
        )
        for _ in range(40):  # letters go out by a worker
            page.get_by_role("button", name="Look for answers").click()
            saved(page)
            if answers.count():
                break
            page.wait_for_timeout(250)
        answers.first.get_by_role("gridcell").nth(1).click()
        page.get_by_role("button", name="Take it in").click()
        saved(page)
        # Negotiated down: the quote that came is typed over, by its supplier's letter.
        block = Resource.get((Resource.project == self.actor.project_id) & (Resource.name == "Block 140"))
        quote = Quote.get(Quote.resource == block.id)
        prices.change_quote(
            self.actor,
            quote.id,
            quote.version,
            {"price": Decimal("1.62"), "unit": "nr", "contains": Decimal(1)},
        )
        page = self.go(f"/prices/{block.id}")
        expect(page.locator(".price .big")).to_have_text("1.62")

    def blockwork_and_concrete(self) -> None:
        page = self.go("/rates")
        table = self.rate("Blockwork", "m²")
        self.output("1.9")
        self.line(table, "Mason,", "2")
        self.line(table, "Labourer,", "1")
        self.line(table, "Block 140,", "12.5")
        cell(page, table, "Block 140", 4).click()
        type_row(page, "5")
        saved(page)
        self.comes_to(table, "Labour", "50.63")
        self.comes_to(table, "Material", "21.26")
        self.comes_to(table, "Rate per", "71.89")
        # A nested rate goes in unrounded: 0.124 × 300 kg is 37.20.
        table = self.rate("Cement delivered", "kg")
        self.line(table, "Cement,", "1")
        self.comes_to(table, "Rate per", "0.12")
        table = self.rate("Concrete mixed", "m³")
        self.line(table, "Cement delivered", "300")
        self.comes_to(table, "Rate per", "37.20")
        # What is had once is spread over the 50 m³ billed: 640 / 50.
        self.line(table, "Pump set up,", "1", "had once")
        self.priced("Concrete", "Concrete mixed")
        page = self.go("/rates")
        page.get_by_role("link", name=re.compile("^Concrete mixed")).click()
        self.comes_to(table, "Rate per", "50.00")
        self.priced("Blockwork W1", "Blockwork")
        # Fuel by the day: 160 l × 3 and 90 l over 9 h are 63.33 l in the hour.
        page = self.go("/rates")
        table = self.rate("Fuel", "h")
        self.line(table, "Diesel,", "160 l/day × 3 + 90 l/day", "by day")
        self.comes_to(table, "Diesel", "63.3333", 8)
        # Mark-up on cost and margin on price: 112.00 and 113.64 of 100.
        table = self.rate("Whole thing", "nr")
        self.line(table, "Whole,", "1")
        page.get_by_role("button", name=re.compile("^Mark-up")).click()
        page.get_by_label("Percentage added").fill("12")
        page.keyboard.press("Tab")
        saved(page)
        self.comes_to(table, "Rate per", "112.00")
        choose(page, "What is added to", "price (margin)")
        saved(page)
        self.comes_to(table, "Rate per", "113.64")
        page.keyboard.press("Escape")

    def references_and_bands(self) -> None:
        page = self.go("/rates")
        self.rate("Walls by thickness", "m²", "reference")
        table = "Sizes of Walls by thickness"
        for size, labour, material in (("150", "31.40", "18.10"), ("200", "38.90", "18.70")):
            cell(page, table, "a size", 0).click()
            type_row(page, size, labour, "", material)
            saved(page)
        table = self.rate("Wall 175", "m²")
        pick(page, table, "pick a resource", 0, "Walls by thickness")
        cell(page, table, "Walls by thickness", 4).click()
        type_row(page, "250")
        saved(page)
        self.comes_to(table, "Rate per", "65.70", 8)
        expect(page.get_by_text("250 mm lies beyond the sizes known")).to_be_visible()
        cell(page, table, re.compile(r"250 mm(?!,)"), 4).click()
        type_row(page, "175")
        saved(page)
        self.comes_to(table, "Rate per", "53.55", 8)
        self.priced("Screen wall", "Wall 175")
        # Bands by height: up to 1.5 m as blockwork, above it a cost of its own.
        page = self.go("/rates")
        self.rate("Walls by height", "m²", "banded rate")
        choose(page, "Unit of its sizes", "m")
        saved(page)
        table = "Bands of Walls by height"
        cell(page, table, "a limit", 1).click()
        type_row(page, "1.5")
        saved(page)
        pick(page, table, "no limit", 2, "Blockwork")
        cell(page, table, "a limit", 0).click()
        type_row(page, "1.5", "3")
        saved(page)
        cell(page, table, "1.5", 0).first.wait_for()
        page.get_by_role("grid", name=table).get_by_role("row").nth(2).get_by_role("gridcell").nth(3).click()
        type_row(page, "78.94")
        saved(page)
        cell(page, table, "a limit", 0).click()
        type_row(page, "2")
        expect(page.get_by_role("alert")).to_contain_text("overlap")
        page.keyboard.press("Escape")
        self.priced("Walls, banded", "Walls by height")
        cell(page, BILL, "Walls, banded", 4).click()
        type_row(page, "3.2")
        saved(page)
        expect(cell(page, BILL, "Walls, banded", 5)).to_have_text("no rate")
        page.get_by_role("button", name=re.compile("^Checks")).click()
        expect(page.get_by_role("dialog", name="Checks")).to_contain_text("3.2 m lies outside every band")
        page.keyboard.press("Escape")
        cell(page, BILL, "Walls, banded", 4).click()
        type_row(page, "1.5 m")
        saved(page)
        expect(cell(page, BILL, "Walls, banded", 5)).to_have_text("78.94")

    def earthworks(self) -> None:
        for truck in ("own", "hired"):
            self.go("/rates")
            table = self.rate(f"Haul, {truck} trucks", "m³")
            self.output("10")
            self.line(table, f"Truck, {truck}", "1")
            self.priced(f"Haul {truck}", f"Haul, {truck} trucks")
        page = self.go("/rates")
        page.get_by_role("button", name="New allowance").click()
        page.get_by_label("Name, short").fill("RC1")
        page.keyboard.press("Enter")
        for words, truck in (("own", "own"), ("hired", "hired")):
            page.get_by_role("button", name=f"draw…: hours of {words} trucks").click()
            dialog = page.get_by_role("dialog", name=re.compile("drawn from the project"))
            choose(dialog, "Resource", "Truck", f"Truck, {truck}")
            dialog.locator(".n-base-selection").last.click()
            page.locator(".n-base-select-option:visible").filter(has_text=f"Haul {truck}").click()
            page.keyboard.press("Escape")
            dialog.get_by_role("button", name="Draw it").click()
            saved(page)
            expect(dialog).to_have_count(0)
        page.get_by_role("textbox", name="Heavy haulage lasts").fill("36")
        page.keyboard.press("Tab")
        saved(page)
        expect(page.locator("[data-test=comes-to]")).to_have_text("46.50")
        working = page.get_by_role("complementary", name="Working")
        expect(working).to_contain_text("4 × 3.00 + 23 × 1.50")
        # The sweeper's hours are the allowance's, spread over all that its own trucks haul.
        page.get_by_role("link", name=re.compile("^Haul, own trucks")).click()
        table = "Build-up of Haul, own trucks"
        self.line(table, "Road sweeper,", "1", "had once")
        cell(page, table, "Road sweeper", 2).click()
        page.get_by_label("Take from an element").fill("RC1")
        page.locator(".n-base-select-option:visible").filter(has_text="RC1").click()
        choose(page, "Which quantity", "Road cleaning", "Road cleaning")
        saved(page)
        expect(cell(page, table, "Road sweeper", 2)).to_have_text("↳ 46.50")
        self.comes_to(table, "Rate per", "6.58")
