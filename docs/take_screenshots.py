"""Take the screenshots anew from a running demonstration: PYTHONPATH=. python docs/take_screenshots.py
[address]."""

from __future__ import annotations

import re
import sys
from pathlib import Path

from playwright.sync_api import Page, sync_playwright

from sandscale.demo.drawings import foundation_drawing
from sandscale.demo.project import PASSWORD, PEOPLE

VIEWS = {
    "sheets": "/projects/1/sheets/4",
    "measure": "/projects/1/measure/2?at=quantity:2:concrete",
    "make-ups": "/projects/1/make-ups/strip-footing",
    "bars": "/projects/1/bars?member=9",
    "cutting": "/projects/1/bars/cutting",
    "earthwork": "/projects/1/ground/earthwork/11",
    "trenches": "/projects/1/ground/trench/13",
    "route": "/projects/1/ground/route/14?at=quantity:14:named_bituminous",
    "prices": "/projects/1/prices/21?at=resource:21",
    "enquiry": "/projects/1/prices/enquiry/1",
    "rates": "/projects/1/rates/15?at=build-up-line:49",
    "reference": "/projects/1/rates/31",
    "allowance": "/projects/1/rates/allowance/15",
    "bill": "/projects/1/bill?at=item-quantity:1",
    "received": "/projects/1/bill?bill=2",
    "order": "/projects/1/order?at=need:1",
    "trials": "/projects/1/measure/2?at=line:2",
    "issue": "/projects/1/issue/package/new",
    "revision": "/projects/1/sheets/1",
}


def put_into_trial(page: Page, label: str, value: str, name: str) -> None:
    page.get_by_role("button", name="Try another value").click()
    page.get_by_label(label).fill(value)
    page.keyboard.press("Enter")
    page.get_by_label("Name of the trial").fill(name)
    page.keyboard.press("Enter")
    page.get_by_role("region", name="Trials").wait_for()


def revise(page: Page) -> None:
    page.get_by_role("button", name=re.compile("^Sheet")).click()
    page.get_by_role("button", name="Bring in its next revision").click()
    plan = {"name": "FW-S-101 B.pdf", "mimeType": "application/pdf", "buffer": foundation_drawing("B")}
    page.locator("[data-test=revision-file]").set_input_files(plan)
    page.wait_for_url(re.compile("/changes"))
    page.get_by_role("button", name=re.compile("^Next")).click()


def main() -> None:
    address = sys.argv[1] if len(sys.argv) > 1 else "http://127.0.0.1:8610"
    folder = Path(__file__).parent / "screenshots"
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(
            executable_path="/usr/bin/chromium-headless-shell", args=["--no-sandbox", "--disable-gpu"]
        )
        page = browser.new_page(viewport={"width": 1280, "height": 800})
        page.goto(address)
        page.get_by_label("E-mail address").fill(PEOPLE[0][1])
        page.get_by_label("Password").fill(PASSWORD)
        page.keyboard.press("Enter")
        page.get_by_role("heading", name="Projects").wait_for()
        for name, path in VIEWS.items():
            page.goto(address + path)
            page.wait_for_load_state("networkidle")
            page.wait_for_timeout(800)
            if name == "make-ups":
                page.get_by_role("tab", name=re.compile("^It gives")).click()
                page.get_by_role("button", name=re.compile("^Concrete")).first.click()
            if name == "route":
                page.get_by_role("region", name="Sections and tables of the route").focus()
                for _ in range(10):
                    page.keyboard.press("ArrowRight")
            if name == "enquiry" and page.get_by_role("button", name="Send", exact=True).count():
                page.get_by_role("button", name="Send", exact=True).click()
                page.wait_for_timeout(14_000)  # letters go out, suppliers answer one after another
                page.get_by_role("button", name="Look for answers").click()
            if name == "reference":
                page.get_by_label("Read it at").fill("175")
                page.keyboard.press("Enter")
            if name == "trenches":
                page.get_by_role("button", name="Sections", exact=True).click()
            if name == "trials":
                put_into_trial(page, "Try for length of PF2, line 1", "2.10", "Larger footings")
                page.goto(f"{address}/projects/1/prices")
                page.get_by_role("link", name=re.compile("^Cement")).click()
                put_into_trial(page, "Try for price of Cement, Quayside Merchants", "4.90", "Cheaper cement")
            if name == "issue":
                page.get_by_label("Title of the package").fill("Tender, first issue")
                page.get_by_role("button", name="Issue it").click()
                page.get_by_role("link", name="Take the file").wait_for(timeout=90_000)
            if name == "sheets":
                page.get_by_role("button", name=re.compile("^Layers")).click()
            if name == "revision":
                revise(page)
            page.wait_for_timeout(800)
            page.screenshot(path=folder / f"{name}.png")
        browser.close()


if __name__ == "__main__":
    main()
