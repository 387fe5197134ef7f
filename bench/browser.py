"""How the desk feels in a browser: frames of a crowded A0 sheet and of a long dimension sheet, and the first
load.

    SANDSCALE_DATABASE=… python -m bench.browser

Headless Chromium draws in software here; a screen with a graphics card is faster. Frames are told beside
those of an empty page.
"""

from __future__ import annotations

import gzip
import statistics
import time
from collections.abc import Callable
from datetime import date
from pathlib import Path

from playwright.sync_api import Page, sync_playwright

from sandscale.services.keeping import worker
from sandscale.services.keeping.acting import Actor
from sandscale.services.measure.actions import elements
from sandscale.services.projects import actions as projects
from sandscale.services.sheets import actions as sheets
from sandscale.services.sheets import bringing_in
from sandscale.store.database import connect, connected, database, migrate
from sandscale.store.models import DimensionLine, Figure, Revision, Sheet
from tests.served import Served

from .desk import a0
from .large_project import person

FIGURES, LINES = 2_000, 4_000
DIST = Path(__file__).parents[1] / "frontend" / "dist"
FRAMES = """() => { window.frames_ = []; let last = performance.now(); window.going_ = true;
  const tick = (now) => {
    window.frames_.push(now - last); last = now; if (window.going_) requestAnimationFrame(tick) };
  requestAnimationFrame(tick) }"""


def crowded() -> tuple[Actor, int, int]:
    """A project with an A0 sheet of 20,000 lines and 2,000 areas, and an element of 4,000 lines."""
    project = projects.new_project(person(), "Bench A0", "", "EUR", date(2026, 11, 2))
    actor = Actor(person(), project.id, "owner")
    bringing_in.add_drawing(actor, "A0.pdf", a0(), date(2026, 11, 2))
    sheet = Sheet.select().join(Revision).where(Sheet.project == project.id).get()
    sheets.set_scale_by_ratio(actor, sheet.id, sheet.version, "100")
    place = elements.add_location(actor, "All").id or 0
    areas = elements.add_element(actor, place, "S1", "plain-area").id or 0
    long = elements.add_element(actor, place, "L1", "plain-volume").id or 0
    with database.atomic():
        for n in range(FIGURES):
            x, y = 40 + (n % 50) * 64, 40 + (n // 50) * 56
            ring = [[x, y], [x + 50, y], [x + 50, y + 40], [x + 25, y + 48], [x, y + 40]]
            figure = Figure.create(
                project=project.id,
                sheet=sheet.id,
                element=areas,
                kind="area",
                geometry={"outline": ring, "voids": [], "depths": []},
            )
            DimensionLine.create(project=project.id, element=areas, position=n, figure=figure.id)
        rows = [
            {
                "project": project.id,
                "element": long,
                "position": n,
                "length": "2.4",
                "width": "1.2",
                "height": "0.5",
                "note": f"Grid {n}",
            }
            for n in range(LINES)
        ]
        for start in range(0, LINES, 1000):
            DimensionLine.insert_many(rows[start : start + 1000]).execute()
    worker.work_off()
    return actor, areas, long


def frames(page: Page, act: Callable[[], None]) -> str:
    page.evaluate(FRAMES)
    act()
    page.evaluate("() => { window.going_ = false }")
    found = sorted(page.evaluate("() => window.frames_.slice(2)"))
    return (
        f"median {statistics.median(found):.0f} ms, 95 of 100 under {found[int(len(found) * 0.95)]:.0f} "
        f"ms, longest {found[-1]:.0f} ms, {len(found)} frames"
    )


def pan_and_zoom(page: Page) -> None:
    box = page.locator("[data-test=sheet]").bounding_box()
    assert box is not None
    x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
    for turn in range(4):
        page.mouse.move(x, y)
        page.mouse.down()
        for step in range(30):
            page.mouse.move(x + (step - 15) * 6 * (1 if turn % 2 else -1), y + step * 2)
            page.wait_for_timeout(8)
        page.mouse.up()
        for _ in range(6):
            page.mouse.wheel(0, -120 if turn < 2 else 120)
            page.wait_for_timeout(60)


def scroll(page: Page) -> None:
    page.get_by_role("grid").hover()
    for _ in range(80):
        page.mouse.wheel(0, 400)
        page.wait_for_timeout(25)


def first_load(page: Page, address: str) -> None:
    sizes: dict[str, int] = {}
    page.on(
        "response",
        lambda answer: (
            sizes.update({answer.url.split("/")[-1]: len(gzip.compress(answer.body()))})
            if answer.url.endswith(".js")
            else None
        ),
    )
    begun = time.perf_counter()
    page.goto(address)
    page.get_by_label("Password").wait_for()
    print(
        f"first screen: {(time.perf_counter() - begun) * 1000:.0f} ms, {sum(sizes.values()) / 1024:.0f} "
        f"kB of JavaScript gzipped in {len(sizes)} files"
    )


def main() -> None:
    connect()
    migrate()
    with connected():
        actor, areas, long = crowded()
    served = Served().wait()
    address = served.address
    try:
        with sync_playwright() as playwright:
            browser = playwright.chromium.launch(
                executable_path="/usr/bin/chromium-headless-shell", args=["--no-sandbox", "--disable-gpu"]
            )
            page = browser.new_page(viewport={"width": 1280, "height": 800})
            first_load(page, address)
            page.get_by_label("E-mail address").fill("bench@sandhall.example")
            page.get_by_label("Password").fill("bench-password")
            page.keyboard.press("Enter")
            page.get_by_role("heading", name="Projects").wait_for()
            print(f"frames of an idle page: {frames(page, lambda: page.wait_for_timeout(1500))}")
            base = f"{address}/projects/{actor.project_id}"
            begun = time.perf_counter()
            page.goto(f"{base}/measure/{areas}")
            page.locator("[data-test=sheet][data-lines='20000']").wait_for(timeout=30_000)
            print(
                "an A0 sheet with 20,000 lines and 2,000 figures opened, its lines to snap to: "
                f"{(time.perf_counter() - begun) * 1000:.0f} ms"
            )
            page.wait_for_timeout(2000)
            print(f"frames while it is panned and zoomed: {frames(page, lambda: pan_and_zoom(page))}")
            begun = time.perf_counter()
            page.goto(f"{base}/measure/{long}")
            page.get_by_role("grid").get_by_text("Grid 3", exact=True).wait_for(timeout=30_000)
            print(f"an element of 4,000 lines opened: {(time.perf_counter() - begun) * 1000:.0f} ms")
            page.wait_for_timeout(3000)
            print(f"frames while its lines are scrolled: {frames(page, lambda: scroll(page))}")
            browser.close()
    finally:
        served.stop()


if __name__ == "__main__":
    main()
