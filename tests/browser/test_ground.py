"""The ground at the desk: Ferrin Weir's platform and pit from the surveyor's file, its faults decided, to bill items and the proof
package, by mouse and keys; a colleague's edits meanwhile; levels by the other ways."""

from __future__ import annotations

import io
import re
import zipfile
from pathlib import Path
from typing import Any

import numpy as np
from openpyxl import load_workbook
from playwright.sync_api import FilePayload, Locator, Page, expect

from sandscale.demo import plan, site
from sandscale.formats import dxf
from sandscale.formats.levels_in import How
from sandscale.services.bill import reading as bill_reading
from sandscale.services.ground.actions import surveys
from sandscale.services.ground.reading import earthworks as earth_reading
from sandscale.services.ground.reading import levels as level_reading
from sandscale.services.ground.reading.overview import ground_view
from sandscale.store.models import Earthwork, Element, Formation, GroundSurface
from tests import scene
from tests.browser.desk import (
    DemoCase,
    ProjectCase,
    SheetOnScreen,
    cell,
    choose,
    lines_read,
    pick,
    saved,
    type_row,
)
from tests.services.test_ground import flat


class PlanOnScreen:
    """Where places on the ground lie on the screen."""

    def __init__(self, page: Page) -> None:
        self.page, self.plan = page, page.locator("[data-test=plan]")
        expect(self.plan).to_have_attribute("data-box", re.compile(r"\d"))
        page.wait_for_timeout(400)

    def at(self, place: tuple[float, float]) -> tuple[float, float]:
        west, south, east, north = map(float, (self.plan.get_attribute("data-box") or "").split())
        box = self.plan.bounding_box()
        assert box is not None
        return (
            box["x"] + (place[0] - west) / (east - west) * box["width"],
            box["y"] + (north - place[1]) / (north - south) * box["height"],
        )

    def click(self, place: tuple[float, float], times: int = 1) -> None:
        x, y = self.at(place)
        self.page.mouse.move(x + 4, y + 4)
        self.page.mouse.move(x, y)
        self.page.mouse.click(x, y, click_count=times)
        self.page.wait_for_timeout(80)


class GroundCase(ProjectCase):
    """What tests of the ground do."""

    def working(self) -> Locator:
        return self.page.get_by_role("complementary", name="Working")

    def add(self, words: str) -> None:
        self.page.get_by_role("button", name="add ▾").click()
        self.page.get_by_role("button", name=words).click()

    def bring_in(self, name: str, content: bytes) -> None:
        file: FilePayload = {"name": name, "mimeType": "text/csv", "buffer": content}
        self.page.locator("input[data-test=levels-file]").set_input_files(file)

    def worked_out(self, element: int, **entered: str) -> earth_reading.EarthworkView:
        """An earthwork once its job is done, of what was entered."""

        def fresh() -> earth_reading.EarthworkView | None:
            view = earth_reading.earthwork_view(self.actor, element)
            written = all(getattr(view, name) == entry for name, entry in entered.items())
            return view if written and view.state == "fresh" and view.methods else None

        return self.once(fresh)


class NewSite(GroundCase):
    name = "Weir works"

    def setUp(self) -> None:
        super().setUp()
        scene.location(self.actor, "Site")

    def test_from_the_survey_file_to_items_and_the_proof(self) -> None:
        page = self.go("/ground")
        page.get_by_role("button", name="Bring levels in").click()
        # A file that is none says so; the right one is shown before anything is kept.
        self.bring_in("empty.csv", b"")
        expect(page.get_by_role("alert")).to_contain_text("“empty.csv” is empty")
        self.bring_in(site.FILE, site.survey_file())
        seen = page.get_by_role("table", name="First rows of the file")
        expect(seen.get_by_role("row").nth(1)).to_contain_text("2400.000")
        for column, role in ((2, "easting"), (3, "northing"), (4, "level"), (5, "code")):
            expect(seen.get_by_label(f"Column {column} is")).to_be_attached()
            expect(seen.locator("th").nth(column - 1)).to_contain_text(role)
        self.assertEqual(ground_view(self.actor).surveys, [])
        page.get_by_role("button", name=re.compile("^Take in 569 levels")).click()
        expect(page).to_have_url(re.compile(r"/ground/survey/\d+"))
        expect(page.get_by_text("of 569 levels used")).to_be_visible()

        # What looks wrong is decided by kind, and by place in the table.
        doubts = page.get_by_role("region", name="What looks wrong")
        expect(doubts).to_contain_text("Out of line")
        survey = ground_view(self.actor).surveys[0].id
        table = f"Levels of {site.FILE.removesuffix('.csv')}"
        lost = next(
            d
            for d in level_reading.level_page(self.actor, survey, 0, 99, "spike").levels
            if 0 < (d.level or 0) < 9
        )
        cell(page, table, str(lost.row), 1).click()
        page.keyboard.type(f"4{lost.level:.3f}")
        page.keyboard.press("Enter")
        saved(page)
        expect(page.get_by_text("Out of line: 1 put right.")).to_be_visible()
        for kind, does in (
            ("Level of 0", "leave all out"),
            ("No level", "leave all out"),
            ("Out of line", "keep all"),
        ):
            doubts.locator(".doubt").filter(has_text=kind).get_by_role("button", name=does).click()
            saved(page)
        row = level_reading.level_page(self.actor, survey, 0, 9, "conflict").levels[0].row
        pick(page, table, str(row), 3, "leave out")
        expect(page.get_by_role("link", name=re.compile("^FW-survey.*565"))).to_be_visible()
        self.assertEqual(level_reading.survey_view(self.actor, survey).undecided, 0)

        # A platform drawn over the surface by mouse, brought to a level by keys.
        page.get_by_role("link", name=re.compile(r"^FW-survey-2026-10.*40\.\d\d–46")).click()
        expect(page.get_by_text("Plan area").first).to_be_visible()
        page.get_by_role("button", name="add", exact=True).nth(1).click()
        page.get_by_label("Description").fill("Platform")
        page.keyboard.press("Enter")
        expect(page).to_have_url(re.compile(r"/ground/earthwork/\d+"))
        expect(page.get_by_text("What the ground is brought to isn't said yet.")).to_be_visible()
        page.get_by_role("button", name="Draw a platform").click()
        ground = PlanOnScreen(page)
        for corner in site.PLATFORM[:-1]:
            ground.click(corner)
        ground.click(site.PLATFORM[-1], times=2)
        saved(page)
        element = self.own(Element, mark="E1")
        page.get_by_label("Level of formation 1").fill(site.PLATFORM_LEVEL)
        page.keyboard.press("Tab")
        saved(page)
        page.get_by_label("Batter in cut, such as 1:2").fill("steep")
        page.keyboard.press("Tab")
        expect(page.get_by_role("alert")).to_contain_text("“steep”")
        for label, entry in (("Batter in cut, such as 1:2", "1:1.5"), ("Batter in fill, such as 1:2", "1:2")):
            page.get_by_label(label).fill(entry)
            page.keyboard.press("Tab")
            saved(page)
        page.get_by_role("button", name="Add a class").click()
        saved(page)
        made = self.worked_out(element)
        self.assertAlmostEqual(made.floor or 0, 48 * 32, delta=40)  # as near as a hand draws it
        page.reload()

        # Sections and squares, one key to the next; each number has its working.
        strip = page.get_by_role("region", name=re.compile("^Sections and squares"))
        expect(strip).to_contain_text(re.compile(r"Row \d+ of \d+"))
        first = strip.locator("b").first.inner_text()
        strip.focus()
        page.keyboard.press("ArrowRight")
        expect(strip.locator("b").first).not_to_have_text(first)
        expect(self.working().get_by_role("heading", level=2)).to_contain_text("of E1, cut")
        page.get_by_role("button", name="Squares").click()
        strip.focus()
        page.keyboard.press("ArrowRight")
        page.keyboard.press("ArrowRight")
        expect(self.working().get_by_role("heading", level=2)).to_contain_text("of the square at")
        expect(strip.get_by_role("table").last).to_be_visible()
        page.get_by_label("Spacing of the grid").fill("4")
        page.keyboard.press("Tab")
        saved(page)
        finer = self.worked_out(element, spacing="4")
        self.assertLess(abs(finer.methods[1].off or 0), abs(made.methods[1].off or 99))
        expect(page.get_by_role("table", name="Methods side by side")).to_contain_text(
            f"{finer.methods[1].off:.1f}".replace("-", "−")
        )

        # Where cut and fill balance is found, and taken by one action.
        page.get_by_role("button", name="Where it balances").click()
        page.get_by_role("button", name=re.compile(r"^Balance at 4\d\.\d\d")).click()
        expect(page.get_by_label("Level of the formation")).not_to_have_value(site.PLATFORM_LEVEL)
        saved(page)
        level = float(Formation.get(Formation.project == self.project.id).level)
        balanced = self.worked_out(element)
        self.assertAlmostEqual((balanced.cut or 0) * 0.9, balanced.fill or 0, delta=2)
        page.get_by_label("Level of the formation").fill(site.PLATFORM_LEVEL)
        page.keyboard.press("Enter")
        saved(page)
        self.assertNotAlmostEqual(level, 42.6, places=2)
        final = self.worked_out(element)

        # Into the bill by depth; from an item one walks back to the file.
        page.get_by_role("button", name="Into the bill ▾").click()
        page.get_by_role("button", name="Digging by depth").click()
        saved(page)
        page.get_by_role("link", name="Bill", exact=True).click()
        deep = cell(page, "Bill of quantities", "ordinary material, 0 to 1 m deep", 3)
        own = final.shares[-1]
        expect(deep).to_have_text(re.compile(f"{own.bands[0].value:,.2f}".replace(",", ".")))
        deep.click()
        for step, url in (
            ("Ordinary digging", "/ground/earthwork/"), ("Ground, FW-survey", "/ground/surface/"), ("FW-survey", "/ground/survey/"),
        ):  # fmt: skip
            self.working().get_by_role("button", name=re.compile(f"^{step}")).first.click()
            expect(page).to_have_url(re.compile(url))
        expect(self.working().locator(".value")).to_contain_text("565")

        # The proof, with what was decided.
        page.get_by_role("link", name=re.compile("^E1")).click()
        page.get_by_role("button", name="Proof").click()
        with page.expect_download() as download:
            page.get_by_role("button", name="Make the package").click()
        package = zipfile.ZipFile(Path(download.value.path()))
        names = {Path(n).suffix: n for n in package.namelist()}
        self.assertEqual(set(names), {".pdf", ".xlsx", ".dxf"})
        book = load_workbook(io.BytesIO(package.read(names[".xlsx"])))
        told = "\n".join(str(row[0]) for row in book["Summary"].iter_rows(values_only=True))
        self.assertIn("Level of 0: all 1 left out.", told)
        self.assertIn("zero line", dxf.read_levels(package.read(names[".dxf"]), "proof.dxf").layers)

    def test_levels_pasted_drawn_in_layers_and_typed(self) -> None:
        page = self.go("/ground")
        self.add("From a file, or pasted")
        page.get_by_label("Rows pasted").fill(
            "N\tE\tH\n" + "\n".join(f"{y}\t{x}\t{10 + x / 10}" for x in (0, 10, 20) for y in (0, 10))
        )
        page.get_by_role("button", name="Read these rows").click()
        expect(page.get_by_text("6 ground levels")).to_be_visible()
        choose(page, "Column 1 is", "easting")  # and the other is none then
        expect(page.get_by_text("No column is north")).to_be_visible()
        choose(page, "Column 2 is", "northing")
        page.get_by_role("button", name="Take in 6 levels").click()
        expect(page.get_by_text("of 6 levels used")).to_be_visible()
        self.assertEqual(ground_view(self.actor).surveys[-1].number, 6)
        # A drawing: what is ground, what is formation, what bounds them is told layer by layer.
        drawing = dxf.write_dxf(
            lines={
                "edge": [ring(40)],
                "ground": [ring(40, 10.0)],
                "design": [ring(20, 9.0)],
            }
        )
        self.add("From a file, or pasted")
        self.bring_in("site.dxf", drawing)
        parts = page.get_by_role("table", name="Parts of the file")
        expect(parts).to_contain_text("design")
        choose(page, "edge is", "boundary")
        expect(page.get_by_text(re.compile(r"\d+ formation levels")).first).to_be_visible()
        page.get_by_role("button", name=re.compile("^Take in")).click()
        expect(page).to_have_url(re.compile(r"/ground/survey/\d+"))
        expect(page.get_by_role("link", name=re.compile("^site, formation 9.00"))).to_be_visible()
        names = [s.name for s in ground_view(self.actor).surfaces]
        self.assertEqual(names[-2:], ["site", "site, formation"])
        # Typed one by one, as into a spreadsheet.
        self.add("Typed one by one")
        page.get_by_label("Name", exact=True).fill("Trial holes")
        page.keyboard.press("Enter")
        expect(page.get_by_text("of 0 levels used, typed")).to_be_visible()
        page.get_by_text("type a le").first.click()
        for row in (("0", "0", "9.5"), ("10", "0", "9.4"), ("5", "8+1", "9.1")):
            page.keyboard.type(row[0])
            page.keyboard.press("Tab")
            saved(page)
            type_row(page, row[1], row[2])
            saved(page)
            page.get_by_text("type a le").first.click()
        expect(page.get_by_role("link", name=re.compile("^Trial holes 9.10–9.50"))).to_be_visible()

    def test_what_an_instrument_sent_is_looked_at_and_taken_in(self) -> None:
        page = self.go("/ground")
        self.add("From a file, or pasted")
        choose(page, "File of the survey feed", "stockpile-003.csv", "stockpile-003.csv")
        expect(page.get_by_text("82 ground levels")).to_be_visible()
        page.get_by_role("button", name="Take in 82 levels").click()
        expect(page.get_by_text("from the survey feed")).to_be_visible()
        doubts = page.get_by_role("region", name="What looks wrong")
        for kind in ("No level", "Out of line", "Repeated"):
            expect(doubts).to_contain_text(kind)
        # What looks wrong is gone through by keys, and taken back by undo.
        survey = ground_view(self.actor).surveys[-1]
        before = survey.undecided
        doubts.locator(".doubt").filter(has_text="Out of line").get_by_role(
            "button", name="leave all out"
        ).click()
        saved(page)
        self.once(lambda: ground_view(self.actor).surveys[-1].undecided < before or None)
        page.get_by_role("button", name="Undo").click()
        saved(page)
        self.once(lambda: ground_view(self.actor).surveys[-1].undecided == before or None)

    def test_what_is_asked_of_an_earthwork_by_keys(self) -> None:
        """A box of 20 m × 20 m, a metre deep in flat ground, whose numbers are known, asked field by field."""
        surveys.take_in(self.actor, "flat.csv", flat(10), How())
        page = self.go("/ground")
        expect(page.get_by_role("link", name=re.compile(r"^flat 10\.00–10\.00"))).to_be_visible()
        page.get_by_role("button", name="add", exact=True).nth(1).click()
        page.get_by_label("Description").fill("Pit")
        page.keyboard.press("Enter")
        expect(page).to_have_url(re.compile(r"/ground/earthwork/\d+"))
        element = self.own(Element, mark="E1")

        def put(label: str, entry: str) -> None:
            page.get_by_label(label, exact=True).fill(entry)
            page.keyboard.press("Tab")
            saved(page)

        def corners(of: str, *places: tuple[float, float]) -> None:
            page.get_by_title(f"Type the corners of {of}").click()
            page.get_by_role("textbox", name=f"Corners of {of}").fill(
                "\n".join(f"{east}\t{north}" for east, north in places)
            )
            page.get_by_role("button", name="Take these corners").click()

        page.get_by_role("button", name="Add one by figures").click()
        saved(page)
        put("Level of formation 1", "9")
        # A ring that crosses itself is refused where it is; what stood before stands.
        corners("formation 1", (10, 10), (30, 30), (30, 10), (10, 30))
        expect(page.get_by_role("alert")).to_contain_text("crosses itself")
        expect(page.get_by_text("the whole ground")).to_be_visible()
        corners("formation 1", (10, 10), (30, 10), (30, 30), (10, 30))
        saved(page)
        expect(page.get_by_text("4 corners, 400.00 m²")).to_be_visible()
        self.assertAlmostEqual(self.worked_out(element).cut or 0, 400)
        # Topsoil first; a soft layer below formation, filled up again; the rest is ordinary.
        page.get_by_role("button", name="Add a class").click()
        saved(page)
        put("Thickness of Topsoil", "0.2")
        page.get_by_role("button", name="Add a class").click()
        saved(page)
        put("Name of class Existing paving", "Soft clay")
        choose(page, "How Soft clay is taken", "dug below formation")
        saved(page)
        put("Thickness of Soft clay", "0.5")
        corners("Soft clay", (10, 10), (20, 10), (20, 30), (10, 30))
        saved(page)
        view = self.worked_out(element)
        self.assertEqual(
            {s.name: round(s.volume, 6) for s in view.shares},
            {"Topsoil": 80, "Soft clay": 100, "Ordinary digging": 320},
        )
        self.assertAlmostEqual(view.filled or 0, 100)
        page.get_by_role("button", name="Working ›").click()
        shares = page.get_by_role("region", name="What the earthwork comes to")
        expect(shares.get_by_role("button", name=re.compile("^Fill"))).to_contain_text("100.00")
        page.get_by_role("button", name="Formation, classes").click()
        # A stage drawn by mouse, its corners then put right by typing.
        ground = PlanOnScreen(page)
        page.get_by_role("button", name="Draw a stage").click()
        for corner in ((9.0, 9.0), (19.0, 9.0), (19.0, 31.0)):
            ground.click(corner)
        ground.click((9.0, 31.0), times=2)
        saved(page)
        put("Name of stage Stage 1", "West half")
        corners("West half", (0, 0), (20, 0), (20, 40), (0, 40))
        saved(page)
        view = self.worked_out(element)
        ordinary = next(s for s in view.shares if s.key == "ordinary")
        self.assertEqual(
            {s.name: round(s.value, 6) for s in ordinary.stages}, {"West half": 160, "in no stage": 160}
        )
        # Batters and a bench make it larger; cleared, it is as before.
        put("Batter in cut, such as 1:2", "1:1")
        put("Height between benches in cut", "0.5")
        put("Width of benches in cut", "1")
        self.assertGreater(self.worked_out(element).cut or 0, 350)
        for label in (
            "Batter in cut, such as 1:2",
            "Height between benches in cut",
            "Width of benches in cut",
        ):
            put(label, "")
        self.assertAlmostEqual(self.worked_out(element).cut or 0, 320)
        put("Limits of depth bands", "0; 0,5")  # a comma is this project's decimal sign
        put("Load of a lorry", "12")
        ordinary = next(s for s in self.worked_out(element).shares if s.key == "ordinary")
        self.assertEqual([round(b.value, 6) for b in ordinary.bands], [200, 120])  # below the stripped ground
        put("Bulking factor", "zero")
        expect(page.get_by_role("alert")).to_contain_text("zero")
        # Across, anywhere.
        page.get_by_role("button", name="Working ›").click()
        page.get_by_role("button", name="Across", exact=True).click()
        ground = PlanOnScreen(page)
        ground.click((12.0, 20.0))
        ground.click((28.0, 20.0))
        page.keyboard.press("Enter")
        expect(page.get_by_role("region", name=re.compile("^Sections and squares"))).to_contain_text(
            re.compile(r"cut 12\.80 m²")
        )
        # Another line is drawn by the same press.
        page.get_by_role("button", name="Across", exact=True).click()
        ground.click((16.0, 20.0))
        ground.click((28.0, 20.0))
        page.keyboard.press("Enter")
        expect(page.get_by_role("region", name=re.compile("^Sections and squares"))).not_to_contain_text(
            "12.80"
        )
        # Into the bill, each by stage.
        page.get_by_role("button", name="Into the bill ▾").click()
        page.get_by_role("button", name="Each by stage").click()
        saved(page)
        told = [i.description for s in bill_reading.bill_view(self.actor).sections for i in s.items]
        self.assertTrue(any("West half" in each for each in told), told)


class GroundOfTheDemonstration(GroundCase, DemoCase):
    def test_a_level_changed_moves_the_bill_while_a_colleague_types(self) -> None:
        element = self.own(Element, mark="E1")
        page = self.go(f"/ground/earthwork/{element}")
        expect(page.get_by_role("table", name="Methods side by side")).to_contain_text("billed")
        total = page.locator("[data-test=bill-total]")
        before = total.inner_text()
        colleague = self.page_of(scene.email_of(scene.member(self.actor, "editor").person_id))
        colleague.goto(f"{self.address}/projects/{self.project.id}/ground/earthwork/{element}")
        methods = colleague.get_by_role("table", name="Methods side by side")
        was = methods.get_by_role("row").nth(1).inner_text()
        page.get_by_label("Level of the formation").fill("43.10")
        page.keyboard.press("Enter")
        saved(page)
        expect(total).not_to_have_text(before)
        expect(methods.get_by_role("row").nth(1)).not_to_have_text(was)
        # Undone, it comes back, in both.
        page.get_by_role("button", name="Undo").click()
        expect(total).to_have_text(before)
        expect(methods.get_by_role("row").nth(1)).to_have_text(was)
        # Another method is billed, and says so.
        page.get_by_role("row", name=re.compile("^Contour areas")).get_by_role(
            "button", name="bill this"
        ).click()
        saved(page)
        expect(total).not_to_have_text(before)
        self.worked_out(element)
        self.assertEqual(Earthwork.get(Earthwork.element == element).method, "contour areas")

    def test_a_surface_is_bounded_looked_along_and_taken_out(self) -> None:
        surface = self.own(GroundSurface, name="Ground")
        page = self.go(f"/ground/surface/{surface}")
        ground = PlanOnScreen(page)
        page.get_by_role("button", name="Profile along a line").click()
        ground.click((2410, 5150))
        ground.click((2550, 5150), times=2)
        expect(page.get_by_role("img", name=re.compile("^Profile"))).to_be_visible()
        expect(page.get_by_text(re.compile(r"1(39|40)\.\d\d m")).first).to_be_visible()
        x, y = ground.at((2480, 5110))
        page.mouse.move(x, y)
        expect(page.get_by_text(re.compile(r"level 4\d\.\d{3}"))).to_be_visible()
        page.get_by_role("button", name="Hole", exact=True).click()
        for corner in ((2420, 5190), (2440, 5190)):
            ground.click(corner)
        ground.click((2440, 5205), times=2)
        saved(page)
        expect(page.get_by_text("Hole, 3 corners")).to_be_visible()
        expect(page.locator(".made dd").nth(2)).to_contain_text(re.compile(r"17.\d{3}\.\d\d"))
        page.get_by_role("button", name="Delete this hole").click()
        saved(page)
        expect(page.get_by_text("Hole, 3 corners")).to_have_count(0)
        page.get_by_label("Interval of contours").fill("0.25")
        page.keyboard.press("Tab")
        for words, suffix in (
            ("LandXML", ".xml"),
            ("GeoJSON", ".geojson"),
            ("DXF, triangles", ".dxf"),
            ("CSV of its levels", ".csv"),
        ):
            page.get_by_role("button", name="Out ▾").click()
            with page.expect_download() as download:
                page.get_by_role("button", name=words).click()
            self.assertEqual(Path(download.value.suggested_filename).suffix, suffix)

    def test_levels_are_picked_off_a_scaled_sheet(self) -> None:
        page = self.go("/ground")
        self.add("Picked off a sheet")
        page.get_by_label("Name", exact=True).fill("Spots")
        choose(page, "Sheet the levels are picked off", "FW-S-101 p. 1", "Foundation plan")
        page.get_by_role("button", name="Add", exact=True).click()
        expect(page.get_by_text("Click known point 1 of 2.")).to_be_visible()
        lines_read(page)
        page.get_by_role("button", name="Two known points").click()
        page.wait_for_timeout(300)
        for _ in range(2):  # nearer, so that a pixel is a few centimetres
            page.keyboard.press("+")
            page.wait_for_timeout(200)
        sheet = SheetOnScreen(page, plan.SHEET, steps=2)
        # The outer corners of the ground beam, to which the pointer is drawn.
        for at, east in ((-0.2, "2459.8"), (27.2, "2487.2")):
            sheet.click(plan.on_sheet((at, -0.2)))
            page.get_by_label("Easting of the known point").fill(east)
            page.get_by_label("Northing of the known point").fill("5149.8")
            page.keyboard.press("Enter")
        saved(page)
        expect(page.get_by_text("Click a spot level.")).to_be_visible()
        for place, level in (((-0.2, 14.6), "42.10"), ((27.2, 14.6), "42.30"), ((9.0, -3.0), "41.90")):
            sheet.click(plan.on_sheet(place))
            page.get_by_label("Level picked").fill(level)
            page.keyboard.press("Enter")
            saved(page)
        expect(page.get_by_text("3 levels, 0 contours")).to_be_visible()
        page.get_by_role("button", name="Contours").click()
        for at in ((0.0, 7.2), (18.0, 7.2)):
            sheet.click(plan.on_sheet(at))
        page.keyboard.press("Enter")
        page.get_by_label("Level picked").fill("42")
        page.keyboard.press("Enter")
        saved(page)
        expect(page.get_by_text("3 levels, 1 contours")).to_be_visible()
        survey = ground_view(self.actor).surveys[-1]
        page.wait_for_timeout(600)
        first = level_reading.level_page(self.actor, survey.id, 0, 5).levels[0]
        self.assertAlmostEqual(first.east or 0, 2459.8, delta=0.02)
        self.assertAlmostEqual(first.north or 0, 5164.6, delta=0.02)

    def test_a_viewer_is_offered_no_change(self) -> None:
        viewer = scene.member(self.actor, "viewer")
        page = self.page_of(scene.email_of(viewer.person_id))
        for path in (
            f"earthwork/{self.own(Element, mark='E1')}",
            f"surface/{self.own(GroundSurface, name='Ground')}",
        ):
            page.goto(f"{self.address}/projects/{self.project.id}/ground/{path}")
            page.locator("[data-test=plan]").wait_for()
            for words in ("add", "add ▾", "bill this", "Into the bill ▾", "Boundary", "Delete"):
                expect(page.get_by_role("button", name=words, exact=True)).to_have_count(0)
        self.assertTrue(bill_reading.bill_view(self.actor).total)


def ring(side: float, *level: float) -> Any:
    """A square from the origin, at a level where one is given."""
    corners = [(0, 0, *level), (side, 0, *level), (side, side, *level), (0, side, *level), (0, 0, *level)]
    return np.array(corners, dtype=float)
