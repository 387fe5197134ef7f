"""Another value tried in the working column, put into trials, held beside one another, kept and undone."""

from __future__ import annotations

from playwright.sync_api import expect

from sandscale.services.measure.actions import dimension_lines
from sandscale.store.models import DimensionLine, Element, Resource
from tests import scene
from tests.browser.desk import DemoCase, saved

LINE = "PF2, line 1"


class TrialsAtTheDesk(DemoCase):
    def test_a_value_is_tried_put_into_a_trial_refused_and_kept(self) -> None:
        was = scene.total(self.actor)
        element = self.own(Element, mark="PF2")
        line = DimensionLine.get(DimensionLine.element == element)
        page = self.go(f"/measure/{element}?at=line:{line.id}")
        working = page.get_by_role("complementary", name="Working")
        working.get_by_role("button", name="Try another value").click()
        tried = page.get_by_label(f"Try for length of {LINE}")
        tried.fill("two")
        page.keyboard.press("Enter")
        effect = working.get_by_role("status")
        expect(effect).to_contain_text("can't be read")
        expect(effect.get_by_role("button", name="Write it")).to_be_disabled()
        tried.fill("2.10")
        page.keyboard.press("Enter")
        expect(effect).to_contain_text("Nothing is written yet.")
        expect(effect).to_contain_text("Concrete C30/37 in pad footings")
        self.assertEqual(scene.total(self.actor), was)
        page.get_by_label("Name of the trial").fill("Larger footings")
        page.keyboard.press("Enter")
        expect(page.get_by_role("region", name="Trials")).to_contain_text(f"{LINE}, length")
        # A price beside it, in a trial of its own.
        page = self.go(f"/prices/{self.own(Resource, name='Cement')}")
        working = page.get_by_role("complementary", name="Working")
        working.get_by_role("button", name="Try another value").click()
        page.get_by_label("Try for price of Cement, Quayside Merchants").fill("4.90")
        page.keyboard.press("Enter")
        page.get_by_label("Name of the trial").fill("Cheaper cement")
        page.keyboard.press("Enter")
        region = page.get_by_role("region", name="Trials")
        expect(region.get_by_role("row").filter(has_text="in pad footings")).to_contain_text("+")
        expect(region.get_by_role("columnheader", name="Larger footings")).to_be_visible()
        # Somebody changes the line meanwhile: both values are told, and nothing is written over.
        dimension_lines.change_line(self.actor, line.id, line.version, {"length": "1.90"})
        page.get_by_role("button", name="Keep Larger footings").click()
        dialog = page.get_by_role("dialog")
        expect(dialog).to_contain_text("1.90")
        expect(dialog).to_contain_text("2.10")
        page.keyboard.press("Escape")
        page.get_by_role("button", name="Larger footings", exact=True).click()
        page.get_by_role("button", name="Let it stand on what is there now").click()
        saved(page)
        stands = scene.total(self.actor)
        page.get_by_role("button", name="Keep Larger footings").click()
        saved(page)
        expect(page.get_by_role("button", name="Keep Larger footings")).to_have_count(0)
        self.assertEqual(DimensionLine.get_by_id(line.id).length, "2.10")
        page.get_by_role("button", name="Undo").click()
        expect(page.get_by_role("button", name="Keep Larger footings")).to_be_visible()
        self.assertEqual(scene.total(self.actor), stands)
