"""Ordering at the desk: what the bill needs chosen, ordered of its suppliers, sent, and noted as it comes."""

from __future__ import annotations

import re

from playwright.sync_api import expect

from sandscale.services.order import reading
from sandscale.store.models import PurchaseOrder, Resource
from tests.browser.desk import DemoCase, saved


class OrdersAtTheDesk(DemoCase):
    def test_from_what_the_bill_needs_to_what_came(self) -> None:
        page = self.go("/order")
        row = page.get_by_role("row").filter(has_text="Kerb 150 × 300")
        expect(row).to_contain_text("493")
        row.get_by_role("checkbox").click()
        page.get_by_role("button", name="Order them").click()
        saved(page)
        number = page.get_by_label("Number of Kerb 150 × 300")
        expect(number).to_have_value("493")
        number.fill("-1")
        page.keyboard.press("Tab")
        expect(page.get_by_role("alert").filter(has_text="can't be ordered").first).to_be_visible()
        number.fill("500")
        page.keyboard.press("Enter")
        saved(page)
        expect(page.get_by_role("row").filter(has_text="Together")).to_contain_text("4\u00a0700.00")
        page.get_by_role("button", name="Send it").click()
        saved(page)
        expect(number).to_be_disabled()
        page.get_by_role("button", name="some came").click()
        page.get_by_label("How many of Kerb 150 × 300 came").fill("200")
        page.keyboard.press("Enter")
        saved(page)
        expect(page.get_by_role("row").filter(has_text="Kerb 150 × 300")).to_contain_text("part delivered")
        # The need is walked to the item that has it; what is ordered stands quiet among what isn't.
        page.get_by_role("button", name="Kerb 150 × 300", exact=True).click()
        working = page.get_by_role("complementary", name="Working")
        expect(working).to_contain_text("net 478.42 m")
        page.get_by_role("link", name=re.compile("What to buy")).click()
        page.get_by_role("button", name="still to order").click()
        expect(page.get_by_role("row").filter(has_text="Kerb 150 × 300")).to_have_count(0)
        page.get_by_role("button", name="ordered", exact=True).click()
        expect(page.get_by_role("row").filter(has_text="Kerb 150 × 300")).to_contain_text("200 came")
        with page.expect_download() as download:
            page.get_by_role("button", name="as XLSX").click()
        self.assertTrue(download.value.suggested_filename.endswith("What to buy.xlsx"))
        kerb = self.own(Resource, name="Kerb 150 × 300")
        told = next(r for r in reading.ordering_view(self.actor).resources if r.resource == kerb)
        self.assertEqual((told.ordered, told.delivered, told.state), (500, 200, "part delivered"))
        self.assertEqual(PurchaseOrder.select().where(PurchaseOrder.project == self.project.id).count(), 3)
