"""A dimension line that takes its measure from another element, such as kerb along a route, and follows it."""

from __future__ import annotations

from playwright.sync_api import expect

from sandscale.services.measure.actions import dimension_lines
from sandscale.store.models import DimensionLine
from tests import scene
from tests.browser.desk import DeskCase, cell, choose, saved


class TakenLine(DeskCase):
    def test_a_line_is_taken_from_another_element_follows_it_and_is_let_go(self) -> None:
        actor = scene.project("Valve house")
        slab, membrane = (scene.element(actor, mark, "plain-area") for mark in ("GS1", "M1"))
        line = scene.line(actor, slab, "", "5.00", "4.00")
        page = self.page_of(scene.email_of(actor.person_id))
        home = f"{self.address}/projects/{actor.project_id}/measure"
        page.goto(f"{home}/{membrane}")
        sheet = "Dimension lines of M1"
        expect(page.get_by_role("grid", name=sheet)).to_be_visible()

        # By keys: the menu, the element, its quantity; a new line holds it, and the cursor stands there.
        page.get_by_role("button", name="Element ▾").press("Enter")
        page.get_by_role("button", name="Take a line from another element").press("Enter")
        expect(page.get_by_text("A new line", exact=True)).to_be_visible()
        expect(page.get_by_label("Take from an element")).to_be_focused()
        choose(page, "Take from an element", "GS1", "GS1")
        choose(page, "Which quantity", "Net", "Net, 20.00 m²")
        saved(page)
        expect(cell(page, sheet, "taken from Net in GS1", 4)).to_have_text("20.00")
        expect(page.get_by_role("grid", name=sheet)).to_be_focused()
        expect(page.locator(".quantity b").first).to_have_text("20.00")

        # One change, undone as one.
        page.keyboard.press("Control+z")
        expect(page.get_by_role("grid", name=sheet)).not_to_contain_text("taken from")
        self.assertEqual(DimensionLine.select().where(DimensionLine.element == membrane).count(), 0)
        page.keyboard.press("Control+Shift+z")
        expect(cell(page, sheet, "taken from Net in GS1", 4)).to_have_text("20.00")

        # What it is taken from changes: the line follows.
        row = DimensionLine.get_by_id(line)
        dimension_lines.change_line(actor, line, row.version, {"length": "6.00"})
        expect(cell(page, sheet, "taken from Net in GS1", 4)).to_have_text("24.00")
        expect(page.locator(".quantity b").first).to_have_text("24.00")

        # It can't be taken from what is taken from it; it is let go where it stands.
        page.goto(f"{home}/{slab}?at=line:{line}")
        expect(page.get_by_role("grid", name="Dimension lines of GS1")).to_be_visible()
        page.get_by_role("button", name="Element ▾").click()
        page.get_by_role("button", name="Take a line from another element").click()
        expect(page.get_by_text("Line 1", exact=True)).to_be_visible()
        choose(page, "Take from an element", "M1", "M1")
        choose(page, "Which quantity", "Net", "Net, 24.00 m²")
        expect(page.get_by_role("alert")).to_contain_text("M1 is itself taken from GS1.")
        page.goto(f"{home}/{membrane}")
        cell(page, sheet, "taken from Net in GS1", 0).click()
        page.get_by_role("button", name="Element ▾").click()
        page.get_by_role("button", name="Take a line from another element").click()
        expect(page.get_by_text("is taken from Net in GS1, and follows it")).to_be_visible()
        page.get_by_role("button", name="No longer").click()
        saved(page)
        expect(cell(page, sheet, "typed", 4)).to_have_text("0.00")
        page.keyboard.press("Control+z")
        expect(cell(page, sheet, "taken from Net in GS1", 4)).to_have_text("24.00")
