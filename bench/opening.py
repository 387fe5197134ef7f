"""How long each stage of the demonstration takes to open with nothing kept by the browser, by the page's own
clock, beside the sign-in page in the same run.

    SANDSCALE_DATABASE=… python -m bench.opening [how often]
"""

from __future__ import annotations

import statistics
import sys
from typing import Any

from playwright.sync_api import Browser, sync_playwright

from sandscale.demo.project import PASSWORD, PEOPLE
from sandscale.demo.project import main as demonstration
from sandscale.services.keeping import worker
from sandscale.settings import DEMONSTRATION
from sandscale.store.database import connected
from tests.served import Served

# What stands once a stage is open, and in what.
STAGES = {
    "/sheets/1": ("Foundation plan", "canvas"), "/measure/2": ("Grid 2/A", "[role=grid]"),
    "/prices/10": ("used", "[role=grid]"), "/rates/15": ("Net rate", "[role=grid]"),
    "/bill": ("Amount EUR", "[role=grid]"), "/issue": ("Every item", "body"),
    "/make-ups/lintel": ("Tried on", "body"),
}  # fmt: skip
PATIENCE = 500  # looks, 40 ms apart
WATCH = """([text, place]) => {
  const look = () => document.querySelector(place) && document.body?.textContent.includes(text)
    ? requestAnimationFrame(() => { window.opened_ = performance.now() }) : setTimeout(look, 16);
  look() }"""


def opened(browser: Browser, state: Any, address: str, what: tuple[str, str], times: int) -> list[float]:
    """Milliseconds from asking for a page until it stands, in a browser that has kept nothing."""
    found = []
    for _ in range(times):
        context = browser.new_context(viewport={"width": 1280, "height": 800}, storage_state=state)
        page = context.new_page()
        page.add_init_script(f"({WATCH})({list(what)!r})")
        page.goto(address, wait_until="commit")
        for _ in range(PATIENCE):
            page.wait_for_timeout(40)
            if at := page.evaluate("window.opened_ || 0"):
                break
        else:
            raise SystemExit(f"{page.url} never showed “{what[0]}”.")
        found.append(float(at))
        context.close()
    return found


def main() -> None:
    times = int(sys.argv[1]) if len(sys.argv) > 1 else 7
    demonstration()
    with connected():
        worker.work_off()
    served = Served(**{DEMONSTRATION: "1"}).wait()
    try:
        with sync_playwright() as playwright:
            browser = playwright.chromium.launch(
                executable_path="/usr/bin/chromium-headless-shell", args=["--no-sandbox", "--disable-gpu"]
            )
            page = browser.new_page()
            page.goto(served.address)
            page.get_by_label("E-mail address").fill(PEOPLE[0][1])
            page.get_by_label("Password").fill(PASSWORD)
            page.keyboard.press("Enter")
            page.wait_for_url(lambda url: "/sign-in" not in url)
            state = page.context.storage_state()
            sign_in = statistics.median(
                opened(browser, None, f"{served.address}/sign-in", ("Password", "body"), times)
            )
            print(f"sign-in: median {sign_in:.0f} ms")
            for path, what in STAGES.items():
                taken = opened(browser, state, f"{served.address}/projects/1{path}", what, times)
                middle = statistics.median(taken)
                ratio = f"{middle / sign_in:.1f} × sign-in"
                print(f"{path}: median {middle:.0f} ms, worst {max(taken):.0f}, {ratio}")
            browser.close()
    finally:
        served.stop()


if __name__ == "__main__":
    main()
