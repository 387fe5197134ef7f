"""A route of 10 km at the desk: its sections drawn one after another while a key is held down.

    SANDSCALE_DATABASE=… python -m bench.routes_desk

Told beside the frames of the same page while nothing is pressed.
"""

from __future__ import annotations

import statistics
import time
from itertools import pairwise

from playwright.sync_api import Page, sync_playwright

from sandscale.services.ground.routes import actions
from sandscale.services.keeping import worker
from sandscale.store.database import connected
from tests import scene
from tests.browser.desk import ARGUMENTS, CHROMIUM
from tests.served import Served

from .browser import FRAMES
from .edit import share
from .routes import road

HELD, REPEAT = 300, 1 / 30  # how many times a held key repeats, and every how many seconds
# When each section was on screen, by what it is called.
DRAWN = """() => {
  window.drawn_ = []; window.going_ = true; let last = ''
  const look = (now) => {
    const name = document.querySelector('svg[aria-label^="Section at"]')?.getAttribute('aria-label')
    if (name && name !== last) { window.drawn_.push(now); last = name }
    if (window.going_) requestAnimationFrame(look)
  }
  requestAnimationFrame(look)
}"""


def held(page: Page) -> None:
    """A key held down, as a keyboard repeats it."""
    page.get_by_label("Sections and tables of the route").focus()
    page.evaluate(DRAWN)
    begun = time.perf_counter()
    for n in range(HELD):
        page.keyboard.down("ArrowRight")
        time.sleep(max(begun + (n + 1) * REPEAT - time.perf_counter(), 0))
    took = time.perf_counter() - begun
    page.keyboard.up("ArrowRight")
    page.wait_for_timeout(500)
    times = page.evaluate("() => { window.going_ = false; return window.drawn_ }")
    gaps = [b - a for a, b in pairwise(times)]
    print(
        f"a key held for {took:.1f} s, {HELD / took:.0f} a second: {len(times) - 1} sections drawn, "
        f"{(len(times) - 1) / took:.0f} a second; from one to the next median "
        f"{statistics.median(gaps):.0f} ms, 95 of 100 under {share(gaps, 0.95):.0f}, longest {max(gaps):.0f}"
    )


def main() -> None:
    """All of it."""
    scene.prepare()
    with connected():
        actor = scene.project()
        way, built, _ = road(actor)
        actions.add_row(actor, way, "changes", {"chainage": "0"}, built)
        worker.work_off()
        email = scene.email_of(actor.person_id)
    served = Served(QUIET="1").wait()
    try:
        with sync_playwright() as playwright:
            browser = playwright.chromium.launch(executable_path=CHROMIUM, args=ARGUMENTS)
            page = browser.new_page(viewport={"width": 1280, "height": 800})
            page.goto(served.address)
            page.get_by_label("E-mail address").fill(email)
            page.get_by_label("Password").fill(scene.PASSWORD)
            page.keyboard.press("Enter")
            page.get_by_role("heading", name="Projects", exact=True).wait_for()
            page.goto(f"{served.address}/projects/{actor.project_id}/ground/route/{way}")
            page.locator('svg[aria-label^="Section at"]').wait_for()
            page.wait_for_load_state("networkidle")
            page.evaluate(FRAMES)
            page.wait_for_timeout(2_000)
            frames = page.evaluate("() => { window.going_ = false; return window.frames_ }")[5:]
            print(f"its frames while nothing is pressed: median {statistics.median(frames):.0f} ms")
            held(page)
    finally:
        served.stop()


if __name__ == "__main__":
    main()
