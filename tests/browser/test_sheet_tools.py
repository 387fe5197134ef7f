"""Every tool of the sheet, by mouse and by typed lengths; a stretched scan, and a detail at a scale of its own."""

from __future__ import annotations

import io
import math

from playwright.sync_api import Page, expect
from reportlab.pdfgen.canvas import Canvas

from sandscale.services.measure import reading as measure_reading
from sandscale.services.sheets import actions as sheets
from sandscale.services.sheets import bringing_in
from sandscale.store.models import DimensionLine, Figure, Revision, Sheet
from tests import scene
from tests.browser.desk import ProjectCase, SheetOnScreen, lines_read, saved
from tests.formats.test_hostile_drawings import tiling

SIZE = (1000.0, 800.0)
METRE = 72 / 0.0254 / 100  # sheet units to a metre at 1:100
Point = tuple[float, float]


def at(x: float, y: float) -> Point:
    """A place of the plan, in m, on its sheet."""
    return 150 + x * METRE, 120 + y * METRE


def plan() -> bytes:
    """A frame of 24 × 18 m, and in a corner a detail of a 1 m square drawn at 1:20."""
    out = io.BytesIO()
    canvas = Canvas(out, pagesize=SIZE, invariant=1)
    canvas.rect(*at(0, 0), 24 * METRE, 18 * METRE)
    canvas.rect(*at(18, 12), 5 * METRE, 5 * METRE)
    canvas.save()
    return out.getvalue()


class SheetTools(ProjectCase):
    def setUp(self) -> None:
        super().setUp()
        drawing = bringing_in.add_drawing(self.actor, "T-01.pdf", plan(), scene.PRICE_DATE)
        self.sheet = Sheet.select().join(Revision).where(Revision.drawing == drawing.id).get()

    def scaled(self) -> None:
        sheets.set_scale_by_ratio(self.actor, self.sheet.id, self.sheet.version, "100")

    def desk(self, element: int) -> SheetOnScreen:
        """The sheet at an element, all of it in view, with the keys on it."""
        page = self.page
        self.go(f"/measure/{element}?sheet={self.sheet.id}")
        return self.whole(page)

    def whole(self, page: Page) -> SheetOnScreen:
        lines_read(page)
        page.get_by_role("button", name="Sheet ▾").click()
        page.get_by_role("button", name="Show the whole sheet").click()
        page.wait_for_timeout(300)
        lines_read(page).focus()
        return SheetOnScreen(page, SIZE)

    def lines(self, element: int) -> int:
        return DimensionLine.select().where(DimensionLine.element == element).count()

    def net(self, element: int) -> float:
        return float(measure_reading.element_view(self.actor, element).quantities[0].net)

    def test_areas_by_circle_box_arc_and_corners(self) -> None:
        self.scaled()
        element = scene.element(self.actor, "A1", "plain-area")
        page, sheet = self.page, self.desk(element)
        page.keyboard.press("i")
        sheet.click(at(4, 4))
        page.keyboard.type("1.5")
        page.keyboard.press("Enter")
        saved(page)
        expect(page.locator(".quantity").first).to_contain_text("7.07 m²")
        self.assertAlmostEqual(self.net(element), math.pi * 1.5**2, places=6)
        # A box by its diagonal: 3 by 4.
        sheet = self.whole(page)
        page.keyboard.press("b")
        sheet.click(at(8, 2))
        page.keyboard.type(f"5@{math.degrees(math.atan2(4, 3)):.9f}")
        page.keyboard.press("Enter")
        saved(page)
        self.assertAlmostEqual(self.net(element), math.pi * 1.5**2 + 12, places=5)
        # Half a disc: a straight side typed, then a curve through a point back to the start.
        sheet = self.whole(page)
        page.keyboard.press("a")
        sheet.click(at(3, 10))
        page.keyboard.type("4m@0")
        page.keyboard.press("Enter")
        page.keyboard.press("u")
        sheet.click(at(5, 12))
        sheet.click(at(3, 10))
        page.keyboard.press("Enter")
        saved(page)
        arc = Figure.select().order_by(Figure.id.desc()).get()
        self.assertEqual(sum(1 for corner in arc.geometry["outline"] if len(corner) > 2 and corner[2]), 1)
        self.assertAlmostEqual(
            self.net(element), math.pi * 1.5**2 + 12 + math.pi * 2, delta=0.15
        )  # the pointer stops at whole pixels
        # What can't be measured is refused with the place, and nothing is kept of it.
        before = self.lines(element)
        sheet = self.whole(page)
        page.keyboard.press("a")
        for corner in ((14, 2), (17, 5), (17, 2), (14, 5)):
            sheet.click(at(*corner))
        page.keyboard.press("Enter")
        expect(page.get_by_role("alert")).to_contain_text("The outline of the area crosses itself")
        self.assertEqual(self.lines(element), before)

    def test_a_void_stays_inside_its_area_and_follows_it_into_the_history(self) -> None:
        self.scaled()
        element = scene.element(self.actor, "A2", "plain-area")
        page, sheet = self.page, self.desk(element)
        page.keyboard.press("b")
        sheet.click(at(0, 0))  # both corners are drawn, so they are met exactly
        sheet.click(at(24, 18))
        saved(page)
        self.assertAlmostEqual(self.net(element), 24 * 18, places=3)
        sheet = self.whole(page)
        page.keyboard.press("v")
        for corner in ((18, 12), (23, 12), (23, 17), (18, 17)):
            sheet.click(at(*corner))
        page.keyboard.press("Enter")
        saved(page)
        self.assertAlmostEqual(self.net(element), 24 * 18 - 25, places=3)
        sheet = self.whole(page)
        page.keyboard.press("v")
        for corner in ((22, 4), (26, 4), (26, 6), (22, 6)):
            sheet.click(at(*corner))
        page.keyboard.press("Enter")
        expect(page.get_by_role("alert")).to_contain_text("outside every area of A2")
        page.get_by_role("button", name="Sheet ▾").focus()
        page.keyboard.press("Control+z")
        saved(page)
        self.assertAlmostEqual(self.net(element), 24 * 18, places=3)
        page.keyboard.press("Control+Shift+z")
        saved(page)
        self.assertAlmostEqual(self.net(element), 24 * 18 - 25, places=3)

    def test_counts_and_runs_take_back_and_leave(self) -> None:
        self.scaled()
        number, run = (
            scene.element(self.actor, "N1", "plain-number"),
            scene.element(self.actor, "R1", "plain-length"),
        )
        page, sheet = self.page, self.desk(number)
        page.keyboard.press("c")
        for x in (2, 5, 8):
            sheet.click(at(x, 3))
        page.keyboard.press("Backspace")
        expect(page.get_by_text("2 counted.")).to_be_visible()
        page.keyboard.press("Enter")
        saved(page)
        self.assertEqual(self.net(number), 2)
        sheet = self.desk(run)
        page.keyboard.press("r")
        sheet.click(at(2, 2))
        page.keyboard.type("17'-8\"")
        page.keyboard.press("Enter")  # towards the pointer, which hasn't moved: the length is what counts
        page.keyboard.type("5x")
        page.keyboard.press("Enter")
        expect(page.get_by_text("“5x” is no length.")).to_be_visible()
        page.keyboard.type("2@90")
        page.keyboard.press("Enter")
        page.keyboard.press("Enter")
        saved(page)
        self.assertAlmostEqual(self.net(run), 17 * 0.3048 + 8 * 0.0254 + 2, places=6)
        before = self.lines(run)
        sheet = self.whole(page)
        page.keyboard.press("r")
        sheet.click(at(4, 6))
        sheet.click(at(9, 6))
        page.keyboard.press("Escape")
        expect(page.get_by_text("Click along the run.")).to_be_visible()
        page.keyboard.press("Escape")
        expect(page.get_by_text("Click along the run.")).to_be_hidden()
        self.assertEqual(self.lines(run), before)

    def test_a_sheet_that_takes_too_long_to_draw_says_so_and_others_are_drawn(self) -> None:
        heavy = bringing_in.add_drawing(self.actor, "T-02.pdf", tiling(), scene.PRICE_DATE)
        sheet = Sheet.select().join(Revision).where(Revision.drawing == heavy.id).get()
        self.go(f"/sheets/{sheet.id}")
        said = self.page.locator("[data-test=unreadable]")
        # Of a processor's time, which lasts longer while others work.
        expect(said).to_contain_text("takes more than 5 seconds")
        self.go(f"/sheets/{self.sheet.id}")
        lines_read(self.page)
        expect(said).to_have_count(0)

    def test_a_stretched_scan_measures_true_both_ways(self) -> None:
        page = self.page
        self.go(f"/sheets/{self.sheet.id}")
        lines_read(page)
        bar = page.get_by_role("group", name="Scale of the sheet")
        expect(bar).to_contain_text("This sheet has no scale yet")
        bar.get_by_label("Scale, as it is written on the sheet").fill("nought")
        page.keyboard.press("Enter")
        expect(page.get_by_role("alert")).to_contain_text("nought")
        bar.get_by_role("button", name="the scan is stretched").click()
        # Drawn 24 × 18, told to be 12 across and 18 up.
        sheet = SheetOnScreen(page, SIZE)
        for ends, length, go in ((((0, 0), (24, 0)), "12", "Go on"), (((0, 0), (0, 18)), "18 m", "Set")):
            for end in ends:
                sheet.click(at(*end))
            bar.get_by_label("Known length").fill(length)
            bar.get_by_role("button", name=go).click()
        saved(page)
        expect(page.locator(".desk-head")).to_contain_text("1:50 across, 1:100 up")
        element = scene.element(self.actor, "A3", "plain-area")
        sheet = self.desk(element)
        page.keyboard.press("b")
        sheet.click(at(0, 0))
        sheet.click(at(24, 18))
        saved(page)
        self.assertAlmostEqual(self.net(element), 12 * 18, delta=1e-3)

    def test_a_detail_has_a_scale_of_its_own_until_it_is_taken_off(self) -> None:
        self.scaled()
        page = self.page
        self.go(f"/sheets/{self.sheet.id}")
        lines_read(page)
        page.get_by_role("button", name="Detail").click()
        sheet = SheetOnScreen(page, SIZE)
        sheet.click(at(17, 11))
        sheet.click(at(23.7, 17.7))
        bar = page.get_by_role("group", name="Scale of the sheet")
        bar.get_by_label("Scale of the detail").fill("20")
        page.keyboard.press("Enter")
        saved(page)
        element = scene.element(self.actor, "A4", "plain-area")
        sheet = self.desk(element)
        page.keyboard.press("b")
        sheet.click(at(18, 12))
        sheet.click(at(23, 17))
        saved(page)
        self.assertAlmostEqual(self.net(element), 1.0, places=4)
        self.go(f"/sheets/{self.sheet.id}")
        lines_read(page)
        page.get_by_role("button", name="Detail").click()
        bar.get_by_role("button", name="take off").click()
        saved(page)
        self.assertAlmostEqual(self.net(element), 25.0, places=3)
