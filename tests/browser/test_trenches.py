"""Trenches at the desk: the rising main from kind and plan to bill items, by mouse and keys; what is wrong with a run."""

from __future__ import annotations

import math
import re
from itertools import pairwise

from playwright.sync_api import Page, expect

from sandscale.demo import site
from sandscale.services.bill import reading as bill_reading
from sandscale.services.ground.trenches import reading
from sandscale.store.models import (
    Drawing,
    Element,
    Figure,
    GroundSurface,
    Revision,
    Sheet,
    TrenchKind,
    TrenchNetwork,
)
from tests import scene
from tests.browser.desk import DemoCase, SheetOnScreen, cell, choose, lines_read, saved, type_row
from tests.browser.test_ground import PlanOnScreen


class TrenchesAtTheDesk(DemoCase):
    def put(self, label: str, entry: str) -> None:
        self.page.get_by_label(label, exact=True).fill(entry)
        self.page.keyboard.press("Tab")
        saved(self.page)

    def worked_out(self, element: int) -> reading.NetworkView:
        def fresh() -> reading.NetworkView | None:
            view = reading.network_view(self.actor, element)
            return view if view.state == "fresh" else None

        return self.once(fresh)

    def add(self, group: int) -> None:
        """The “add” of a group of the list: surfaces, earthworks, trenches, kinds."""
        self.page.get_by_role("button", name="add", exact=True).nth(group).click()

    def test_a_storm_sewer_from_its_kind_to_the_bill(self) -> None:
        page = self.go("/ground")
        expect(page.get_by_role("link", name=re.compile("^Rising main DN 200"))).to_be_visible()
        self.add(3)
        expect(page).to_have_url(re.compile(r"/ground/trench-kind/\d+"))
        drawing = page.get_by_role("img", name=re.compile("^Pipe in granular bed: dug"))
        expect(drawing).to_be_visible()
        before = drawing.get_attribute("aria-label")
        self.put("Name of the kind", "Storm sewer")
        self.put("Bore of the pipe", "300 mm")
        self.put("Wall of the pipe", "0.03")
        expect(page.get_by_role("img", name=re.compile("^Storm sewer: dug"))).not_to_have_attribute(
            "aria-label", before or ""
        )
        self.put("Flattest fall", "1:200")
        page.get_by_label("Width of the bottom").fill("wide")
        page.keyboard.press("Tab")
        expect(page.get_by_role("alert")).to_contain_text("“wide”")
        self.put("Width of the bottom", "0.9")
        page.get_by_role("button", name="Add a course").click()
        saved(page)
        kind = self.own(TrenchKind, name="Storm sewer")

        # Drawn over the survey, then laid at one fall; length and fall are told.
        self.add(2)
        page.get_by_role("dialog").get_by_label("Description").fill("Storm sewer")
        page.keyboard.press("Enter")
        expect(page).to_have_url(re.compile(r"/ground/trench/\d+"))
        expect(page.get_by_text("It has no runs yet.")).to_be_visible()
        element = self.own(Element, mark="T2")
        choose(page, "What the trenches are dug from", "Ground")
        page.get_by_role("button", name="Draw runs").click()
        ground = PlanOnScreen(page)
        for corner in ((2420.0, 5112.0), (2460.0, 5112.0)):
            ground.click(corner)
        ground.click((2500.0, 5118.0), times=2)
        saved(page)
        runs = reading.network_view(self.actor, element).runs
        self.assertEqual([(r.begins, r.ends) for r in runs], [("N1", "N2"), ("N2", "N3")])
        for row in (re.compile("^N1"), re.compile("^N2")):
            cell(page, "Runs of T2", row, 4).click()
            page.keyboard.press("F2")
            page.keyboard.type("Storm")
            page.keyboard.press("Enter")
            saved(page)
        self.assertEqual({r.kind for r in reading.network_view(self.actor, element).runs}, {kind})
        page.get_by_role("button", name="Lay at one fall").click()
        page.get_by_label("First invert").fill("39.20")
        page.get_by_label("Last invert").fill("38.60")
        page.keyboard.press("Tab")
        page.get_by_role("button", name="Lay", exact=True).click()
        saved(page)
        view = self.worked_out(element)
        self.assertAlmostEqual(view.runs[0].fall or 0, 0.6 / sum(self.whole(view)), places=4)
        fall = f"{(view.runs[0].fall or 0) * 100:.2f} %"
        expect(cell(page, "Runs of T2", re.compile("^N1"), 6)).to_have_text(re.compile(fall))

        # A manhole typed on a node takes its pit off the trench.
        page.get_by_role("button", name="Nodes", exact=True).click()
        cell(page, "Nodes of T2", "N2", 6).click()
        page.keyboard.type("1.2")
        page.keyboard.press("Enter")
        saved(page)
        with_pit = self.worked_out(element)
        self.assertLess(with_pit.length or 0, view.length or 0)

        # Looked along and across, one key to the next, into the next run.
        page.get_by_role("button", name="Long section", exact=True).click()
        expect(
            page.get_by_role("img", name=re.compile(rf"^Long section, 8\d\.\d\d m: N1–N2 falls {fall}"))
        ).to_be_visible()
        page.get_by_role("button", name="Sections", exact=True).click()
        strip = page.get_by_role("region", name="Runs, nodes and sections")
        expect(strip).to_contain_text("N2–N3")
        strip.focus()
        page.keyboard.press("ArrowLeft")
        expect(
            page.get_by_role("img", name=re.compile(r"^N1–N2 at [\d.]+ m: dug [\d.]+ m², Bed"))
        ).to_be_visible()
        page.keyboard.press("ArrowLeft")
        page.wait_for_timeout(300)
        for _ in range(2):
            page.keyboard.press("ArrowRight")
            page.wait_for_timeout(300)
        expect(page.get_by_role("img", name=re.compile("^N2–N3 at"))).to_be_visible()

        # Into the bill by depth; from an item to the run, its kind, and back to the form.
        page.get_by_role("button", name="Into the bill ▾").click()
        page.get_by_role("button", name="Digging by depth").click()
        saved(page)
        made = self.worked_out(element)
        billed = {i.description for s in bill_reading.bill_view(self.actor).sections for i in s.items}
        self.assertIn("Pipe DN 150 laid in trench", billed)
        beside = page.get_by_role("region", name="What the trenches come to")
        beside.get_by_role("button", name=re.compile("^Trenches dug")).click()
        working = page.get_by_role("complementary", name="Working")
        expect(working).to_contain_text("Storm sewer: DN 150, bottom 0.9 m")
        total = page.locator("[data-test=bill-total]")
        was = total.inner_text()
        working.get_by_role("button", name=re.compile("^Kind “Storm sewer”")).first.click()
        expect(page).to_have_url(re.compile(rf"/ground/trench-kind/{kind}"))
        self.put("Width of the bottom", "1.3")
        expect(total).not_to_have_text(was)
        wider = self.worked_out(element)
        self.assertGreater(wider.dug or 0, (made.dug or 0) * 1.3)
        page.get_by_role("button", name="Undo").click()
        saved(page)
        expect(total).to_have_text(was)

    def whole(self, view: reading.NetworkView) -> list[float]:
        """From node to node, of each run."""
        places = {n.name: (n.x or 0, n.y or 0) for n in view.nodes}
        return [
            ((places[r.ends][0] - places[r.begins][0]) ** 2 + (places[r.ends][1] - places[r.begins][1]) ** 2)
            ** 0.5
            for r in view.runs
        ]

    def test_typed_without_a_surface_and_what_is_wrong_told_at_its_run(self) -> None:
        page = self.go("/ground")
        self.add(2)
        page.get_by_role("dialog").get_by_label("Description").fill("Cable trench")
        choose(page, "Surface that is the ground", "Ground")
        page.keyboard.press("Tab")
        page.get_by_role("button", name="Add the trenches").click()
        expect(page).to_have_url(re.compile(r"/ground/trench/\d+"))
        element = self.own(Element, mark="T2")
        choose(page, "What the trenches are dug from", "typed levels")
        saved(page)
        page.get_by_role("button", name="Nodes", exact=True).click()
        page.get_by_text("type a node").click()
        for name, east in (("A", "0"), ("B", "40")):
            type_row(page, name, east, "0", "10")
            saved(page)
            page.keyboard.press("Enter")
            page.get_by_text("type a node").click()
        page.get_by_role("button", name="Runs", exact=True).click()
        page.get_by_text("type a run").click()
        type_row(page, "A", "B", "8.2", "9.6")
        saved(page)
        view = self.worked_out(element)
        self.assertEqual([(n.name, n.level) for n in view.nodes], [("A", 10), ("B", 10)])
        self.assertAlmostEqual(view.length or 0, 40)
        said = page.locator(".desk-says").filter(
            has_text="m of cover at 40.00; Rising main DN 200 asks for 0.90 m"
        )
        cell(page, "Runs of T2", "A", 2).click()
        expect(said.first).to_be_visible()
        # A node that isn't there: the run says so, and the number is put right by typing.
        cell(page, "Runs of T2", "A", 1).click()
        page.keyboard.type("C")
        page.keyboard.press("Enter")
        saved(page)
        cell(page, "Runs of T2", "A", 1).click()
        expect(
            page.locator(".desk-says")
            .filter(has_text="names node C, which there isn't. It is not counted.")
            .first
        ).to_be_visible()
        page.get_by_role("button", name="Undo").click()
        saved(page)
        self.assertAlmostEqual(self.worked_out(element).length or 0, 40)
        page.get_by_role("button", name="Bands, soil ▾").click()
        page.get_by_label("Bulking factor").fill("0")
        page.keyboard.press("Tab")
        expect(page.get_by_role("alert")).to_contain_text("must be above zero")

        # Drawn on a sheet whose place on the ground is known: a run for every leg, from there along.
        drawing = self.own(Drawing, number="FW-C-201")
        sheet = Sheet.select().join(Revision).where(Revision.drawing == drawing).get()
        self.go(f"/measure/{element}?sheet={sheet.id}")
        lines_read(page)
        page.get_by_role("button", name="Sheet ▾").click()
        page.get_by_role("button", name="Show the whole sheet").click()
        page.wait_for_timeout(300)
        lines_read(page).focus()
        page.keyboard.press("r")
        on_sheet = SheetOnScreen(page, (sheet.width, sheet.height))
        for place in ((0.30, 0.62), (0.42, 0.62), (0.42, 0.72)):
            on_sheet.click((place[0] * sheet.width, place[1] * sheet.height))
        page.keyboard.press("Enter")
        saved(page)
        nodes = self.worked_out(element).nodes[2:]
        drawn = Figure.get(Figure.element == element).geometry["corners"]
        legs = [math.dist(p, q) * (sheet.metres_per_unit or 0) for p, q in pairwise(drawn)]
        self.assertEqual((len(legs), len(nodes)), (2, 3))
        for leg, (a, b) in zip(legs, pairwise(nodes), strict=True):
            self.assertAlmostEqual(math.hypot(b.x - a.x, b.y - a.y), leg, places=3)

    def test_the_demonstrations_rising_main_and_a_viewer(self) -> None:
        main = self.own(Element, mark="T1")
        view = self.worked_out(main)
        self.assertEqual(round(sum(self.whole(view)), 6), 310)
        self.assertEqual((view.says, [r.says for r in view.runs if r.says]), ([], []))
        beds = {line.label: line.net for line in view.lines}
        self.assertGreater(min(beds["Gravel bed, laid"], beds["Sand bed, laid"]), 10)
        self.assertEqual(len(site.MAIN), len(view.nodes))
        viewer = scene.member(self.actor, "viewer")
        page: Page = self.page_of(scene.email_of(viewer.person_id))
        surface = self.own(GroundSurface, name="Ground")
        self.assertEqual(TrenchNetwork.get(TrenchNetwork.element == main).ground_id, surface)
        for path in (f"trench/{main}", f"trench-kind/{self.own(TrenchKind, name='Rising main DN 200')}"):
            page.goto(f"{self.address}/projects/{self.project.id}/ground/{path}")
            page.locator(".desk-head").wait_for()
            for words in (
                "add",
                "Draw runs",
                "Into the bill ▾",
                "In the bill ▾",
                "Delete",
                "Add a layer",
                "Lay at one fall",
            ):
                expect(page.get_by_role("button", name=words, exact=True)).to_have_count(0)
