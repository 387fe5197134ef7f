"""Routes at the desk: a service road from its typical section and the plan to bill items, by mouse and keys; and the
demonstration's access road, along its run on the drawing."""

from __future__ import annotations

import re

from playwright.sync_api import expect

from sandscale.services.bill import reading as bill_reading
from sandscale.services.ground.routes import reading
from sandscale.store.models import Element, TypicalSection
from tests.browser.desk import DemoCase, cell, saved, type_row
from tests.browser.test_ground import PlanOnScreen


class RoutesAtTheDesk(DemoCase):
    def put(self, label: str, entry: str) -> None:
        self.page.get_by_label(label, exact=True).fill(entry)
        self.page.keyboard.press("Tab")
        saved(self.page)

    def worked_out(self, element: int) -> reading.RouteView:
        def fresh() -> reading.RouteView | None:
            view = reading.route_view(self.actor, element)
            return view if view.state == "fresh" and view.chainages else None

        return self.once(fresh)

    def tab(self, name: str) -> None:
        strip = self.page.get_by_role("region", name="Sections and tables of the route")
        strip.get_by_role("button", name=name, exact=True).click()

    def type_rows(self, table: str, hint: str, *rows: tuple[str, ...]) -> None:
        for row in rows:
            cell(self.page, table, hint, 0).click()
            type_row(self.page, *row)
            saved(self.page)

    def test_a_service_road_from_its_typical_section_to_the_bill(self) -> None:
        page = self.go("/ground")
        expect(page.get_by_role("link", name=re.compile("^Road, kerbed"))).to_be_visible()
        adds = page.get_by_role("button", name=re.compile("^add"))
        adds.nth(6).click()
        expect(page).to_have_url(re.compile(r"/ground/typical/\d+"))
        # The form draws itself; what can't be says so and loses nothing.
        expect(page.get_by_role("img", name=re.compile("^Road: Surfacing 0.6"))).to_be_visible()
        self.put("Name of the typical section", "Service road")
        self.put("Width of strip 1, right", "2.5")
        expect(page.get_by_role("img", name=re.compile("^Service road: Surfacing 0.5"))).to_be_visible()
        page.get_by_label("Fall of strip 1, right").fill("steep")
        page.keyboard.press("Tab")
        expect(page.get_by_role("alert")).to_contain_text("“steep”")
        self.put("Fall of strip 1, right", "3 %")
        page.get_by_role("button", name="Add a layer").click()
        saved(page)
        self.put("Name of layer 3", "Frost layer")
        self.put("Batter in cut", "1:1")

        # Drawn over the survey; its levels, what is built, its names typed as in a spreadsheet.
        adds.nth(5).click()
        page.get_by_role("dialog").get_by_label("Description").fill("Service road")
        page.keyboard.press("Enter")
        expect(page).to_have_url(re.compile(r"/ground/route/\d+"))
        expect(page.get_by_text("It has no centreline yet.")).to_be_visible()
        element = self.own(Element, mark="R2")
        page.get_by_role("button", name="Draw", exact=True).click()
        ground = PlanOnScreen(page)
        ground.click((2420.0, 5112.0))
        ground.click((2500.0, 5114.0), times=2)
        saved(page)
        expect(page.get_by_role("grid", name="Corners of R2")).to_be_visible()
        self.tab("Long section")
        page.get_by_role("button", name="Draw levels").click()
        drawing = page.get_by_role("img", name=re.compile(r"^Long section from 0\.00 to [78]\d"))
        box = drawing.bounding_box()
        assert box is not None
        for share in (0.3, 0.85):
            page.mouse.move(box["x"] + box["width"] * share, box["y"] + box["height"] / 2)
            page.mouse.click(box["x"] + box["width"] * share, box["y"] + box["height"] / 2)
            saved(page)
        self.tab("Levels")
        self.assertEqual(len(reading.route_view(self.actor, element).levels), 2)
        for column, row, entries in ((0, 1, ("0", "41.10")), (0, 2, ("81", "40.90"))):
            page.get_by_role("grid", name="Levels of R2").get_by_role("row").nth(row).get_by_role(
                "gridcell"
            ).nth(column).click()
            type_row(page, *entries)
            saved(page)
        self.tab("Built")
        cell(page, "Built of R2", "type a chainage", 0).click()
        type_row(page, "0", "Service road")
        saved(page)
        self.tab("What counts as what")
        self.type_rows(
            "What counts as what of R2", "type a name",
            ("Asphalt", "Surfacing", "2.4"), ("Stone", "Base; Frost layer"), ("Slabs", "Paving"),
        )  # fmt: skip
        view = self.worked_out(element)
        self.assertEqual([g.parts for g in view.gathered], [["Surfacing"], ["Base", "Frost layer"]])
        says = next(row.says for row in view.named if row.cells["name"] == "Slabs")
        self.assertIn("but nothing of the route is so named", says)
        cell(page, "What counts as what of R2", "Slabs", 0).click()
        expect(page.get_by_text(says)).to_be_visible()
        page.keyboard.press("Control+Delete")
        saved(page)
        self.tab("Stretches")
        self.type_rows("Stretches of R2", "type a stretch", ("West", "0", "40"), ("East", "40", "75"))

        # Each section drawn, one key to the next, with its row of the table; a layer hidden, the table copied.
        view = self.worked_out(element)
        self.tab("Sections")
        expect(page.get_by_role("img", name=re.compile(r"^Section at 0\.00 m: "))).to_be_visible()
        page.get_by_role("region", name="Sections and tables of the route").focus()
        page.keyboard.press("ArrowRight")
        section = page.get_by_role("img", name=re.compile(r"^Section at 20\.00 m: .*Surfacing 0\.500 m²"))
        expect(section).to_be_visible()
        drawn = section.locator("path.layer").count()
        page.get_by_role("button", name="Base", exact=True).click()
        expect(section.locator("path.layer")).to_have_count(drawn - 1)
        table = page.get_by_role("grid", name="Table of R2 by chainage")
        expect(
            table.get_by_role("row").filter(has_text=re.compile(r"^20\.00")).locator(".active")
        ).to_have_count(1)
        page.get_by_role("button", name="Out ▾").click()
        page.get_by_role("button", name="Copy the table").click()
        expect(page.get_by_text(f"{len(view.chainages)} rows copied")).to_be_visible()
        copied = page.evaluate("() => navigator.clipboard.readText()").split("\n")
        self.assertEqual(len(copied), len(view.chainages) + 1)
        self.assertTrue(copied[0].startswith("Chainage m\tAsphalt m²\tm³\tStone m²"), copied[0])
        self.tab("Haul")
        expect(page.get_by_role("img", name=re.compile("^Mass haul"))).to_be_visible()

        # Into the bill by stretch; a layer thickened moves the item; from the number to the form and back.
        page.get_by_role("button", name="Into the bill ▾").click()
        page.get_by_role("button", name="Each by stretch").click()
        saved(page)
        items = self.items()
        self.assertIn("Stone, West", items)
        beside = page.get_by_role("region", name="What the route comes to")
        beside.get_by_role("button", name=re.compile("^Stone")).click()
        working = page.get_by_role("complementary", name="Working")
        expect(working).to_contain_text("Service road: 3.5 m left and 3.5 m right of the centreline")
        working.get_by_role("button", name=re.compile("^Typical section “Service road”")).first.click()
        expect(page).to_have_url(re.compile(r"/ground/typical/\d+"))
        total = page.locator("[data-test=bill-total]")
        self.put("Thickness of layer 2", "0.25")
        after = self.worked_out(element)
        stone = next(line.net for line in after.lines if line.label == "Stone")
        self.assertGreater(stone, next(line.net for line in view.lines if line.label == "Stone"))
        self.assertGreater(self.items()["Stone, West"], items["Stone, West"])
        expect(total).to_be_visible()

    def items(self) -> dict[str, float]:
        return {
            i.description: float(i.quantity or 0)
            for s in bill_reading.bill_view(self.actor).sections
            for i in s.items
        }

    def test_the_access_road_walks_from_the_bill_to_its_run_on_the_drawing(self) -> None:
        page = self.go("/ground")
        page.get_by_role("link", name=re.compile("^R1")).click()
        expect(page.get_by_role("link", name=re.compile("^R1"))).to_contain_text("240.00")
        road = self.own(Element, mark="R1")
        page = self.go(f"/ground/route/{road}?at=quantity:{road}:named_bituminous_tonnes")
        working = page.get_by_role("complementary", name="Working")
        expect(working).to_contain_text("volume × density")
        # The widening is drawn where it is built, and told in the table.
        strip = page.get_by_role("region", name="Sections and tables of the route")
        strip.focus()
        page.keyboard.press("End")
        expect(page.get_by_role("img", name=re.compile(r"^Section at 240\.00 m"))).to_be_visible()
        page.keyboard.press("Home")
        for _ in range(10):
            page.keyboard.press("ArrowRight")
        expect(
            page.get_by_role("img", name=re.compile(r"^Section at 100\.00 m: .*Wearing 0\.244 m²"))
        ).to_be_visible()
        working.get_by_role("button", name=re.compile("^Centreline, run on FW-C-201")).click()
        expect(page).to_have_url(re.compile(r"/sheets/\d+"))
        # From a shelf: the client's names matched in one action.
        page = self.go(f"/ground/route/{road}")
        self.tab("What counts as what")
        cell(page, "What counts as what of R1", "Kerbs", 0).click()
        page.keyboard.press("Control+Delete")
        saved(page)
        view = self.worked_out(road)
        self.assertEqual(
            [line.label for line in view.lines if line.output == "edge_kerb"], ["Kerb, along it"]
        )
        # A strip of one side renamed keeps the layers of both: they lie under its new name, and under the other's.
        page = self.go(f"/ground/typical/{self.own(TypicalSection, name='Road, widened')}")
        drawn = page.get_by_role("img", name=re.compile(r"^Road, widened: Wearing 0\.24"))
        expect(drawn).to_be_visible()
        self.put("Name of strip 1, left", "Lane")
        for name in ("Lane", "Carriageway"):
            expect(page.locator("section.layer").first.get_by_role("checkbox", name=name)).to_be_checked()
        expect(drawn).to_be_visible()
